"""Making sources, turning their routes on, taking a submission in, and the sample."""

import secrets
from dataclasses import dataclass, field
from datetime import datetime
from functools import lru_cache
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils.text import slugify

from core.cleaning import clean, cleaned
from core.decision import Decision, SubmissionFacts, context_answers
from core.documents import Finding, Problem
from core.folding import folded, near_miss
from core.forms import Answers, Form, Question
from core.reading import ReadLine
from core.route_changes import broken_by
from core.route_check import check_route
from core.route_difference import differences
from core.route_document import OWN_KINDS, RouteDocument, SendNow
from core.routes import decide, read_address, submitted_address
from core.values import read_email
from server.mail.actions import check as check_message
from server.mail.models import Message
from server.people.actions import find_by_address
from server.people.locks import person_key
from server.people.models import Field
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.documents import (
    discard_draft,
    draft_of,
    draft_to_turn_on,
    live_of,
    make_live,
    revision_numbered,
    save_draft,
)
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace

from .arrivals import store
from .facts import full_catalogue, people_of
from .models import RouteRevision, Source, Submission, Watch
from .open_forms import OpenForm, forget
from .sealing import new_signing_secret, sealed
from .seen import seen_names


@changes("made the source “{name}”")
def make_source(
    workspace: Workspace,
    name: str,
    member: Member | None = None,
    key: str = "",
    kind: Source.Kind = Source.Kind.FORM,
) -> Source:
    """Make a source, as a draft; a form asks for the address, mapped."""
    name = " ".join(name.split())
    if not name:
        raise refuse("no_name", "name", "It needs a name.", "Write what it is for.")
    if Source.objects.of(workspace).filter(name__iexact=name).exists():
        raise refuse(
            "exists", "name", f"There is a source named “{name}” already.", "Choose another name."
        )
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
    name = " ".join(name.split())[:80]
    if not name:
        raise refuse("no_name", "name", "It needs a name.", "Write what it is for.")
    others = Source.objects.of(source.workspace).filter(name__iexact=name).exclude(pk=source.pk)
    if others.exists():
        raise refuse(
            "exists", "name", f"There is a source named “{name}” already.", "Choose another name."
        )
    source.name = name
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
    revisions = source.revisions.all()
    shown: RouteRevision = draft_of(revisions) or live_of(revisions)  # type: ignore[assignment]
    return shown


def check(source: Source, document: RouteDocument) -> tuple[Finding, ...]:
    """Pre-flight of a route, and what the change of a live form breaks."""
    catalogue = full_catalogue(source.workspace)
    seen = () if source.kind == Source.Kind.FORM else seen_names(source)
    found = check_route(document, catalogue, source.kind, seen)  # type: ignore[arg-type]
    found += _check_messages(source.workspace, document)
    live = live_of(source.revisions.all()) if source.kind == Source.Kind.FORM else None
    if live is None:
        return found
    return (*found, *broken_by(route_of_revision(str(live.pk)), document))


def _check_messages(workspace: Workspace, document: RouteDocument) -> tuple[Finding, ...]:
    """What is wrong with the messages that rules send, each at its rule."""
    sent = {
        rule.action.message: rule.id
        for rule in document.then
        if rule.on and isinstance(rule.action, SendNow) and rule.action.message
    }
    rows = Message.objects.of(workspace).filter(pk__in=sent).select_related("workspace")
    return tuple(
        finding.model_copy(update={"place": sent[str(row.pk)]})
        for row in rows
        for finding in check_message(row)
    )


def changes_of(source: Source, before: RouteRevision | None, after: RouteRevision) -> list[str]:
    """What a revision of the route has different from another, in sentences."""
    if before is None or before.pk == after.pk:
        return []
    return _differences(before, RouteDocument.model_validate(after.document), source)


def differences_from_stored(source: Source, document: RouteDocument) -> list[str]:
    """What a document has different from the sheet as it is stored, in sentences."""
    return _differences(shown_revision(source), document, source)


def _differences(before: RouteRevision, new: RouteDocument, source: Source) -> list[str]:
    old = RouteDocument.model_validate(before.document)
    return list(differences(old, new, full_catalogue(source.workspace)))


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


@changes("turned on “{source.name}”, revision {result.number}")
def turn_on(
    source: Source, member: Member | None, note: str = "", based_on: int | None = None
) -> RouteRevision:
    """Make the draft that the member has seen live, if pre-flight finds nothing that stops it."""
    with transaction.atomic():
        draft = draft_to_turn_on(source.revisions.all(), based_on, member)
        findings = check(source, RouteDocument.model_validate(draft.document))
        stopping = tuple(one for one in findings if one.stops)
        if stopping:
            raise Refused("Pre-flight found problems to fix first.", stopping)
        live = make_live(source.revisions.all(), draft, source.workspace, member, note)
        # What is paused stays paused, whatever changes are turned on.
        if source.state == Source.State.DRAFT:
            source.state = Source.State.LIVE
            source.save(update_fields=["state"])
        forget(source)
        return live


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
        return _settled(revision_id)
    except RouteRevision.DoesNotExist:
        draft = RouteRevision.everywhere.get(pk=revision_id)
        return RouteDocument.model_validate(draft.document)


@lru_cache(maxsize=512)
def _settled(revision_id: str) -> RouteDocument:
    settled = RouteRevision.everywhere.exclude(state=RouteRevision.State.DRAFT)
    return RouteDocument.model_validate(settled.get(pk=revision_id).document)


DRAFT_TRY = "a try: this source is not turned on yet"
"""Of what comes to a draft: kept to learn its names, shown, and never routed."""


@dataclass(frozen=True)
class Arrival:
    """A submission as it came, with what names it once for its source (`rendering`)."""

    revision_id: str
    """The revision that the visitor was shown."""
    answers: Answers
    rendering: str
    context: dict[str, Any] = field(default_factory=dict)
    signs: dict[str, Any] = field(default_factory=dict)
    visitor: str = ""
    raw: bytes | None = None
    raw_type: str = ""
    held: str = ""
    """Why it is kept and not routed, until a member lets it through."""


def receive(opened: OpenForm, arrival: Arrival) -> Submission | None:
    """Store a submission with the job that routes it, both or neither.

    A second one of the same `rendering` (a double click, a reload, a row that was seen, a
    call that is repeated) stores nothing and gives None.
    """
    submission = Submission(
        workspace_id=opened.workspace_id,
        source_id=opened.source_id,
        shown_id=arrival.revision_id,
        person_key=_whose(opened, arrival),
        answers=[[clean(name), clean(text)] for name, text in arrival.answers],
        context=cleaned(arrival.context),
        signs=cleaned(arrival.signs),
        visitor=arrival.visitor,
        raw=arrival.raw,
        raw_type=clean(arrival.raw_type),
        rendering=arrival.rendering,
        received_at=opened.now(),
        is_test=opened.is_try,
    )
    held = arrival.held or (DRAFT_TRY if opened.is_draft else "")
    if held:
        submission.state, submission.held_because = Submission.State.HELD, held[:200]
    return submission if store(submission) else None


def _whose(opened: OpenForm, arrival: Arrival) -> str:
    """The key of the person as the sheet shown reads their address; empty where it reads none."""
    route = route_of_revision(arrival.revision_id)
    context = context_answers(arrival.context, opened.source_name, None)
    address = read_address(route, (*arrival.answers, *context), opened.email_field)
    return person_key(address, opened.is_try) if address else ""


def near_address(opened: OpenForm, route: RouteDocument, answers: Answers) -> str:
    """Of an own form or webhook without an address by its map: the sentence that says under which
    other name an address did come; empty where none did."""
    line = next((one for one in route.read_as if one.field == opened.email_field), None)
    wanted = line.question if line else ""
    with_address = [
        name for name, text in answers if isinstance(read_email(text), str) and "@" in text
    ]
    if not with_address:
        return ""
    meant = near_miss(wanted, with_address) or with_address[0]
    return f"No address came as “{wanted or 'email'}”, but “{meant}” holds one. Fix the map, then let it through."


def report_refused(opened: OpenForm, problem: Problem) -> None:
    """Count a post that was refused, so that its source's members learn of it too."""
    workspace = Workspace.objects.get(pk=opened.workspace_id)
    report(
        workspace,
        Snag.About.SHEET,
        f"{opened.source_id}/refused/{problem.code}",
        f"{opened.source_name}: a visitor's post was not taken: {problem.sentence} They were told.",
        problem.fix,
        {"source": str(opened.source_id)},
    )


def address_problem(opened: OpenForm, route: RouteDocument, answers: Answers) -> dict[str, Problem]:
    """Of an own form: the question whose answer gives no address, and why."""
    catalogue = full_catalogue(Workspace.objects.get(pk=opened.workspace_id))
    address = submitted_address(route, answers, catalogue)
    if isinstance(address, str):
        return {}
    line = next((one for one in route.read_as if one.id == address.place), None)
    if line is None:
        return {}
    return {line.question: address.model_copy(update={"place": line.question})}


def sample(
    source: Source,
    document: RouteDocument,
    answers: Answers,
    context: dict[str, Any],
    now: datetime,
) -> Decision:
    """What `document` would make of `answers`, by the very rules that will run; nothing is kept."""
    catalogue = full_catalogue(source.workspace)
    facts = SubmissionFacts(
        source_id=str(source.pk),
        source_name=source.name,
        answers=answers,
        context=context_answers(context, source.name, now),
        own=source.kind in OWN_KINDS,
    )
    address = submitted_address(document, facts.everything, catalogue)
    subscriber = find_by_address(source.workspace, address) if isinstance(address, str) else None
    found = people_of([subscriber] if subscriber else [], source.workspace, history=True)
    person = found[subscriber.pk] if subscriber else None
    return decide(facts, document, person, catalogue, now)


def address_of(source: Source) -> str:
    """Where submissions of this source are sent, if they are sent at all."""
    if source.kind == Source.Kind.WEBHOOK:
        return f"{settings.PUBLIC_ADDRESS}/hook/{source.key}"
    return f"{settings.PUBLIC_ADDRESS}/f/{source.key}"


@changes("sent a test through “{source.name}”")
def send_test(source: Source, answers: Answers, member: Member) -> Submission:
    """Send the sample the whole way, to the member's own inbox, as a test that never counts."""
    revision = shown_revision(source)
    route = RouteDocument.model_validate(revision.document)
    emails = {
        name
        for line in route.read_as
        if (target := full_catalogue(source.workspace).fields.get(line.field or ""))
        and target.type == "email"
        for name in (line.question, *line.also)
    }
    if not emails:
        raise refuse(
            "email_not_mapped",
            "read_as",
            "No question is mapped to the email address, so a test would reach nobody.",
            "Map the question that asks for the address to the field Email.",
        )
    own = tuple((name, text) for name, text in answers if name not in emails)
    submission = Submission(
        workspace=source.workspace,
        source=source,
        shown=revision,
        person_key=person_key(member.user.email, is_test=True),
        answers=[[name, member.user.email] for name in sorted(emails)] + [list(one) for one in own],
        context={"page": "tried on the sheet"},
        rendering=f"test/{secrets.token_urlsafe(12)}",
        received_at=clock.now(source.workspace),
        is_test=True,
    )
    store(submission)
    return submission


def submission_facts(
    submission: Submission, source: Source, revision: int | None, stated: str | None = None
) -> SubmissionFacts:
    """A submission of a source, for the core."""
    return SubmissionFacts(
        source_id=str(source.pk),
        source_name=source.name,
        submission_id=str(submission.pk),
        revision=revision,
        received=submission.received_at,
        browser_zone=str(submission.context.get("zone", "")),
        answers=tuple((name, text) for name, text in submission.answers),
        context=context_answers(submission.context, source.name, submission.received_at),
        own=source.kind in OWN_KINDS,
        stated_consent=stated,
    )
