"""Making, changing and removing audiences."""

from django.db import transaction

from core.audiences import AudienceDocument, audience_changes, check_audience
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.documents import (
    discard_draft,
    draft_to_turn_on,
    make_live,
    revision_numbered,
    save_draft,
    shown_of,
)
from server.workspaces.errors import Refused
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.names import free_name

from .models import Audience, AudienceRevision
from .users import refuse_used


@changes("made the audience “{name}”")
def make_audience(
    workspace: Workspace, name: str, document: AudienceDocument, member: Member | None
) -> Audience:
    """Make an audience, live at once: it does nothing by itself."""
    name = free_name(Audience.objects.of(workspace), name, "audience")
    now = clock.now(workspace)
    with transaction.atomic():
        row = Audience(workspace=workspace, name=name)
        row.save(force_insert=True)
        AudienceRevision.everywhere.create(
            workspace=workspace,
            audience=row,
            state=AudienceRevision.State.LIVE,
            number=1,
            document=document.model_dump(mode="json"),
            author=member,
            saved_at=now,
            live_at=now,
        )
    return row


@changes("changed the draft of the audience “{audience.name}”")
def save_audience(
    audience: Audience, document: AudienceDocument, based_on: int | None, member: Member | None
) -> AudienceRevision:
    """Save the draft."""
    return save_draft(
        audience.revisions.all(),
        {"audience": audience},
        audience.workspace,
        document,
        based_on,
        member,
    )


@changes("turned on the changes of the audience “{audience.name}”", kind="turned_on")
def turn_on(
    audience: Audience, member: Member | None, note: str = "", based_on: int | None = None
) -> AudienceRevision:
    """Make the draft what the audience asks from now on, if pre-flight finds nothing that stops it."""
    with transaction.atomic():
        row = Audience.everywhere.select_for_update().get(pk=audience.pk)
        row.workspace = audience.workspace
        draft = draft_to_turn_on(row.revisions.all(), based_on, member)
        refuse_unready(AudienceDocument.model_validate(draft.document), row.workspace)
        draft.edits += 1
        made: AudienceRevision = make_live(
            row.revisions.all(), draft, row.workspace, member, note[:300]
        )
        Audience.everywhere.filter(pk=row.pk).update(people=None, counted_at=None)
        return made


def refuse_unready(document: AudienceDocument, workspace: Workspace) -> None:
    """Refuse what pre-flight stops: it would hold other people than was meant."""
    found = check_audience(document, full_catalogue(workspace))
    stopping = tuple(one for one in found if one.stops)
    if stopping:
        raise Refused("Pre-flight found problems to fix first.", stopping)


@changes("discarded the draft of the audience “{audience.name}”")
def discard(
    audience: Audience, member: Member | None, based_on: int | None = None
) -> AudienceRevision:
    """Throw the draft away."""
    live: AudienceRevision = discard_draft(audience.revisions.all(), based_on, member)
    return live


@changes("restored revision {number} of the audience “{audience.name}” as a draft")
def restore_revision(
    audience: Audience, number: int, member: Member | None, based_on: int | None = None
) -> AudienceRevision:
    """Make an earlier revision the draft."""
    one, _ = revision_numbered(audience.revisions.all(), number)
    return save_audience(audience, AudienceDocument.model_validate(one.document), based_on, member)


@changes("renamed the audience “{audience.name}” to “{name}”")
def rename(audience: Audience, name: str) -> Audience:
    """Give it another name."""
    audience.name = free_name(
        Audience.objects.of(audience.workspace), name, "audience", besides=audience
    )
    audience.save(update_fields=["name"])
    return audience


@changes("deleted the audience “{audience.name}”")
def remove(audience: Audience) -> None:
    """Delete it with its revisions, where nothing names it; nobody's data goes, since it holds none."""
    refuse_used(audience.workspace, str(audience.pk), audience.name)
    audience.delete()


def changes_of(
    audience: Audience, before: AudienceRevision | None, after: AudienceRevision
) -> list[str]:
    """What a revision has different from another, in sentences."""
    if before is None or before.pk == after.pk:
        return []
    return _differences(audience, before, AudienceDocument.model_validate(after.document))


def differences_from_stored(audience: Audience, document: AudienceDocument) -> list[str]:
    """What a document has different from the audience as it is stored, in sentences."""
    return _differences(audience, shown_of(audience.revisions.all()), document)


def _differences(
    audience: Audience, before: AudienceRevision, after: AudienceDocument
) -> list[str]:
    old = AudienceDocument.model_validate(before.document)
    return list(audience_changes(old, after, full_catalogue(audience.workspace)))
