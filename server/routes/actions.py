"""Pre-flight of a route, what a draft changes, and turning it on."""

from django.db import transaction

from core.checking import broken_by, check_route, differences
from core.deciding import RouteDocument, SendNow
from core.documents import Finding
from core.sources import KINDS
from server.mail.models import Message
from server.mail.preflight import check_live as check_message
from server.sources.actions import route_of_revision, shown_revision
from server.sources.catalogue import full_catalogue
from server.sources.models import RouteRevision, Source
from server.sources.open_forms import forget
from server.submissions.seen import seen_names
from server.workspaces.documents import (
    draft_to_turn_on,
    live_of,
    make_live,
)
from server.workspaces.errors import Refused
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace


def check(source: Source, document: RouteDocument) -> tuple[Finding, ...]:
    """Pre-flight of a route, and what the change of a live form breaks."""
    catalogue = full_catalogue(source.workspace)
    seen = () if KINDS[source.kind].asks else seen_names(source)
    found = check_route(document, catalogue, source.kind, seen)  # type: ignore[arg-type]
    found += _check_messages(source.workspace, document)
    live = live_of(source.revisions.all()) if KINDS[source.kind].asks else None
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


@changes("turned on “{source.name}”, revision {result.number}", kind="turned_on")
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
