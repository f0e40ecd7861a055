"""Making sequences, their drafts and revisions, turning them on, pausing and resuming."""

from collections.abc import Mapping
from datetime import timedelta

from django.db import connection, transaction
from django.db.models import QuerySet

from core.documents import Finding
from core.messages import Counts, counts_of
from core.sequences import (
    Lane,
    ListReaders,
    SendStep,
    SequenceDocument,
    Surroundings,
    Way,
    check_sequence,
    differences,
    followed,
    start_named,
)
from server.mail.counting import house_counts
from server.mail.deciding import gap_of, times_of
from server.mail.models import Message, live_document
from server.mail.preflight import check_live as check_message
from server.people.models import Membership
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.documents import (
    discard_draft,
    draft_to_turn_on,
    make_live,
    revision_numbered,
    save_draft,
)
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.names import free_name

from .facts import catalogue_of
from .jobs import ADVANCE_DUE
from .models import Run, Sequence, SequenceRevision, shown_document
from .starters import started_lanes


@changes("made the sequence “{name}”")
def make_sequence(
    workspace: Workspace, name: str, member: Member | None = None, start: str = ""
) -> Sequence:
    """Make a sequence as a draft: with one empty lane, or from one to begin from (`STARTS`)."""
    document = start_named(start) if start else SequenceDocument(lanes=(Lane(id="a", name="A"),))
    if document is None:
        raise refuse("no_start", "start", "There is no such sequence to begin from.", "Choose one.")
    name = free_name(Sequence.objects.of(workspace), name, "sequence")
    with transaction.atomic():
        row = Sequence(workspace=workspace, name=name[:80], created_at=clock.now(workspace))
        row.save(force_insert=True)
        save_sequence_draft(row, document, 0, member)
    return row


@changes("changed the draft of the sequence “{sequence.name}”")
def save_sequence_draft(
    sequence: Sequence, document: SequenceDocument, based_on: int | None, member: Member | None
) -> SequenceRevision:
    """Save the draft of a sequence."""
    with transaction.atomic():
        draft = save_draft(
            sequence.revisions.all(),
            {"sequence": sequence},
            sequence.workspace,
            document,
            based_on,
            member,
        )
        catalogue_changed(sequence.workspace)
        return draft


def check(
    workspace: Workspace, document: SequenceDocument, own_id: str = ""
) -> tuple[Finding, ...]:
    """Pre-flight of a sequence."""
    catalogue = catalogue_of(workspace)
    used = {step.message for step in document.steps if isinstance(step, SendStep) and step.message}
    messages = {
        str(one.pk): check_message(one)
        for one in Message.objects.of(workspace).filter(pk__in=used).select_related("workspace")
    }
    first = document.lanes[0].id if document.lanes else ""
    around = Surroundings(
        catalogue,
        messages,
        workspace.sender_address,
        workspace.postal_address,
        own_id,
        times=times_of(workspace),
        gap=gap_of(workspace),
        today=clock.now(workspace).date(),
        started_at=started_lanes(workspace, own_id, first) if own_id else None,
        readers=_readers(workspace, document),
        counts=_counts(workspace, document),
    )
    return check_sequence(document, around)


def _counts(workspace: Workspace, document: SequenceDocument) -> Mapping[str, Counts]:
    """What is counted of the messages whose clicks and opens the sequence looks at."""
    house = house_counts(workspace)
    looked_at = {message for _, _, message in followed(document)}
    known = catalogue_of(workspace).messages.keys()
    rows = Message.objects.of(workspace).filter(pk__in=looked_at & known)
    return {"": house, **{str(one.pk): counts_of(live_document(one), house) for one in rows}}


def _readers(workspace: Workspace, document: SequenceDocument) -> ListReaders | None:
    """How many people are on the list of a sequence, and of how many the time zone is known."""
    if document.list is None or document.list not in catalogue_of(workspace).lists:
        return None
    rows = Membership.objects.of(workspace).filter(list=document.list, state="subscribed")
    known = rows.exclude(subscriber__time_zone="")
    return ListReaders(
        people=rows.count(),
        # Whether there is anybody is what matters: one is enough.
        with_zone=int(known.exists()),
        workspace_zone=workspace.time_zone,
        asks_zone=workspace.asks_zone,
    )


def changes_of(
    sequence: Sequence, before: SequenceRevision | None, after: SequenceRevision
) -> list[str]:
    """What a revision of the sequence has different from another, in sentences."""
    if before is None or before.pk == after.pk:
        return []
    old = SequenceDocument.model_validate(before.document)
    new = SequenceDocument.model_validate(after.document)
    return list(differences(old, new, catalogue_of(sequence.workspace)))


def differences_from_stored(sequence: Sequence, document: SequenceDocument) -> list[str]:
    """What a document has different from the sequence as it is stored, in sentences."""
    return list(differences(shown_document(sequence), document, catalogue_of(sequence.workspace)))


@changes("discarded the draft of the sequence “{sequence.name}”")
def discard(
    sequence: Sequence, member: Member | None, based_on: int | None = None
) -> SequenceRevision:
    """Go back to what is live."""
    live: SequenceRevision = discard_draft(sequence.revisions.all(), based_on, member)
    catalogue_changed(sequence.workspace)
    return live


@changes("made revision {number} of the sequence “{sequence.name}” the draft again")
def go_back(
    sequence: Sequence, number: int, member: Member | None, based_on: int | None = None
) -> SequenceRevision:
    """Make a past revision the draft again, in place of the draft that the member has seen."""
    past, _ = revision_numbered(sequence.revisions.all(), number)
    document = SequenceDocument.model_validate(past.document)
    return save_sequence_draft(sequence, document, based_on, member)


@changes("turned on the sequence “{sequence.name}”, revision {result.number}", kind="turned_on")
def turn_on(
    sequence: Sequence,
    member: Member | None,
    note_text: str = "",
    based_on: int | None = None,
    removed: Mapping[str, Way] | None = None,
) -> SequenceRevision:
    """Make the draft that the member has seen live, if pre-flight finds nothing that stops it.

    `removed`: what becomes of those who stand at a step that the draft no longer has; where it says
    nothing, they come to the next one that remains of their lane.
    """
    with transaction.atomic():
        draft = draft_to_turn_on(sequence.revisions.all(), based_on, member)
        findings = check(
            sequence.workspace,
            SequenceDocument.model_validate(draft.document),
            str(sequence.pk),
        )
        stopping = tuple(one for one in findings if one.stops)
        if stopping:
            raise Refused("Pre-flight found problems to fix first.", stopping)
        live = make_live(sequence.revisions.all(), draft, sequence.workspace, member, note_text)
        if removed:
            _lead_on(sequence, live, removed)
        # What is paused stays paused, whatever changes are turned on.
        if sequence.state == Sequence.State.DRAFT:
            sequence.state = Sequence.State.LIVE
            sequence.save(update_fields=["state"])
        catalogue_changed(sequence.workspace)
        if sequence.state == Sequence.State.LIVE:
            ADVANCE_DUE.defer(workspace_id=str(sequence.workspace_id))
        return live


def _lead_on(sequence: Sequence, live: SequenceRevision, removed: Mapping[str, Way]) -> None:
    """Lead those on who stand at removed steps, to a named step or out."""
    document = SequenceDocument.model_validate(live.document)
    now = clock.now(sequence.workspace)
    remain = {step.id for step in document.steps}
    for step, way in removed.items():
        if step in remain or way.to == "on":
            continue
        there = Run.objects.of(sequence.workspace).filter(
            sequence=sequence, ended_at=None, step=step
        )
        if way.to == "end":
            # Their own turn ends them, since their step and its lane are gone for them.
            there.update(lane="", due_at=now, came_at=None, revision=live, snag=None)
            continue
        lane = document.lane(way.lane or "")
        wanted = way.step or (lane.steps[0].id if lane and lane.steps else None)
        if lane is None or wanted not in remain:
            raise refuse("step_gone", step, "The step to go on at is gone.", "Choose another one.")
        there.update(lane=lane.id, step=wanted, due_at=now, came_at=None, revision=live)


def due_while_paused(sequence: Sequence) -> int:
    """How many runs have come to be due while the sequence was paused."""
    return overdue(sequence).count()


def overdue(sequence: Sequence) -> QuerySet[Run]:
    """The runs that are due by now."""
    now = clock.now(sequence.workspace)
    runs: QuerySet[Run] = Run.objects.of(sequence.workspace).filter(
        sequence=sequence, ended_at=None, due_at__lte=now, snag=None
    )
    return runs


_SPREAD = """
UPDATE sequences_run AS run SET due_at = %s + one.place * make_interval(secs => %s)
FROM (
    SELECT id, (row_number() OVER (ORDER BY due_at, id) - 1)::float / count(*) OVER () AS place
    FROM sequences_run
    WHERE sequence_id = %s AND ended_at IS NULL AND due_at <= %s AND snag_id IS NULL
) AS one WHERE run.id = one.id
"""


def _spread(sequence: Sequence, over: timedelta) -> None:
    """Make what is due by now due one after the other, the longest due first."""
    now = clock.now(sequence.workspace)
    with connection.cursor() as cursor:
        cursor.execute(_SPREAD, [now, over.total_seconds(), sequence.pk, now])


@changes("paused the sequence “{sequence.name}”")
def pause(sequence: Sequence) -> None:
    """Nobody goes on until it is resumed; people still come in, and wait at the first step."""
    if sequence.state == Sequence.State.LIVE:
        with transaction.atomic():
            sequence.state = Sequence.State.PAUSED
            sequence.save(update_fields=["state"])
            catalogue_changed(sequence.workspace)


@changes("resumed the sequence “{sequence.name}”")
def resume(sequence: Sequence, spread_hours: int = 0) -> None:
    """Go on; what was due meanwhile is due now, or one after the other over so many hours."""
    if sequence.state == Sequence.State.PAUSED:
        with transaction.atomic():
            if spread_hours:
                _spread(sequence, timedelta(hours=spread_hours))
            sequence.state = Sequence.State.LIVE
            sequence.save(update_fields=["state"])
            catalogue_changed(sequence.workspace)
            ADVANCE_DUE.defer(workspace_id=str(sequence.workspace_id))
