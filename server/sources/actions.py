"""Making sources, and the drafts of their routes."""

import secrets
from functools import lru_cache

from django.conf import settings
from django.db import transaction
from django.utils.text import slugify

from core.deciding import RouteDocument
from core.documents import folded
from core.reading import Form, Question, ReadLine
from server.people.models import Field
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.documents import (
    discard_draft,
    revision_numbered,
    save_draft,
    shown_of,
)
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.names import free_name
from server.workspaces.sealing import new_signing_secret, sealed

from .models import RouteRevision, Source, Watch
from .open_forms import forget


@changes("made the source “{name}”")
def make_source(
    workspace: Workspace,
    name: str,
    member: Member | None = None,
    key: str = "",
    kind: Source.Kind = Source.Kind.FORM,
) -> Source:
    """Make a source, as a draft; a form asks for the address, mapped."""
    name = free_name(Source.objects.of(workspace), name, "source")
    with transaction.atomic():
        source = Source(
            workspace=workspace,
            name=name[:80],
            kind=kind,
            key=key or _public_key(name, kind),
            created_at=clock.now(workspace),
        )
        if kind == Source.Kind.WEBHOOK:
            source.secret = sealed(new_signing_secret())
        source.save(force_insert=True)
        if kind == Source.Kind.SHEET:
            Watch(workspace=workspace, source=source).save(force_insert=True)
        save_route_draft(source, _first_draft(workspace, name, kind), 0, member)
        catalogue_changed(workspace)
    return source


@changes("renamed the source “{source.name}” to “{name}”")
def rename_source(source: Source, name: str) -> None:
    """Give a source another name; what is known of the past keeps the old one."""
    source.name = free_name(Source.objects.of(source.workspace), name, "source", besides=source)
    source.save(update_fields=["name"])
    catalogue_changed(source.workspace)
    forget(source)


@changes("changed how calls of “{source.name}” are signed")
def set_signed(source: Source, signed: bool) -> None:
    """Give a webhook a new signing secret, or let it take calls that are not signed."""
    source.secret = sealed(new_signing_secret()) if signed else ""
    source.save(update_fields=["secret"])


def _public_key(name: str, kind: Source.Kind) -> str:
    """Readable, and for a webhook also secret: 128 bits that nobody guesses."""
    readable = slugify(folded(name))[:40].strip("-") or "form"
    return f"{readable}-{secrets.token_hex(16 if kind == Source.Kind.WEBHOOK else 4)}"


def _first_draft(workspace: Workspace, name: str, kind: Source.Kind) -> RouteDocument:
    """An address is the least that a form asks; the rest is the specialist's to say."""
    if kind != Source.Kind.FORM:
        return RouteDocument()
    email = Field.objects.of(workspace).get(key="email")
    question = Question(id="q1", name="email", type="email", label="Email", required=True)
    return RouteDocument(
        form=Form(title=name, button="Send it to me", questions=(question,)),
        read_as=(ReadLine(id="r1", question="email", field=str(email.pk)),),
    )


@changes("changed the draft of “{source.name}”")
def save_route_draft(
    source: Source, document: RouteDocument, based_on: int | None, member: Member | None
) -> RouteRevision:
    """Save the draft of a route."""
    return save_draft(
        source.revisions.all(), {"source": source}, source.workspace, document, based_on, member
    )


def shown_revision(source: Source) -> RouteRevision:
    """What the sheet shows: the draft, or the live revision where there is none."""
    shown: RouteRevision = shown_of(source.revisions.all())
    return shown


@changes("discarded the draft of “{source.name}”")
def discard(source: Source, member: Member | None, based_on: int | None = None) -> RouteRevision:
    """Go back to what is live."""
    live: RouteRevision = discard_draft(source.revisions.all(), based_on, member)
    return live


@changes("made revision {number} of “{source.name}” the draft again")
def go_back(
    source: Source, number: int, member: Member | None, based_on: int | None = None
) -> RouteRevision:
    """Make a past revision the draft again, in place of the draft that the member has seen."""
    past, _ = revision_numbered(source.revisions.all(), number)
    document = RouteDocument.model_validate(past.document)
    return save_route_draft(source, document, based_on, member)


@changes("paused “{source.name}”")
def pause(source: Source) -> None:
    """Close the form; what came in already is still routed."""
    if source.state == Source.State.LIVE:
        source.state = Source.State.PAUSED
        source.save(update_fields=["state"])
        forget(source)


@changes("opened “{source.name}” again")
def resume(source: Source) -> None:
    """Open the form again."""
    if source.state == Source.State.PAUSED:
        source.state = Source.State.LIVE
        source.save(update_fields=["state"])
        forget(source)


def route_of_revision(revision_id: str) -> RouteDocument:
    """The document of a revision; kept in memory once it has been live and never changes."""
    try:
        return _unchanging(revision_id)
    except RouteRevision.DoesNotExist:
        draft = RouteRevision.everywhere.get(pk=revision_id)
        return RouteDocument.model_validate(draft.document)


@lru_cache(maxsize=512)
def _unchanging(revision_id: str) -> RouteDocument:
    final = RouteRevision.everywhere.exclude(state=RouteRevision.State.DRAFT)
    return RouteDocument.model_validate(final.get(pk=revision_id).document)


def address_of(source: Source) -> str:
    """Where submissions of this source are sent, if they are sent at all."""
    if source.kind == Source.Kind.WEBHOOK:
        return f"{settings.PUBLIC_ADDRESS}/hook/{source.key}"
    return f"{settings.PUBLIC_ADDRESS}/f/{source.key}"
