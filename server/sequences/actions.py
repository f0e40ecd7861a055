"""Making sequences, turning them on, and carrying runs through them."""

from collections.abc import Iterable
from collections.abc import Sequence as Sequence_
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

import structlog
from django.db import transaction

from core.deciding import EnterSequence, LeaveSequence
from core.documents import Finding
from core.sequences import (
    Lane,
    RunState,
    SendStep,
    SequenceDocument,
    advance,
    check_sequence,
    differences,
)
from server.mail.actions import check as check_message
from server.mail.models import Message, Send
from server.people.models import Subscriber
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.among import among
from server.workspaces.causes import caused_by
from server.workspaces.documents import (
    discard_draft,
    draft_to_turn_on,
    make_live,
    revision_numbered,
    save_draft,
)
from server.workspaces.errors import Refused
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.names import free_name

from .facts import catalogue_of, document_of_revision
from .jobs import ADVANCE_DUE
from .models import Run, Sequence, SequenceRevision
from .people import persons_by_id
from .progress import Progress

log = structlog.get_logger("yalla.sequences")


@changes("made the sequence “{name}”")
def make_sequence(workspace: Workspace, name: str, member: Member | None = None) -> Sequence:
    """Make a sequence with one empty lane, as a draft."""
    name = free_name(Sequence.objects.of(workspace), name, "sequence")
    with transaction.atomic():
        row = Sequence(workspace=workspace, name=name[:80], created_at=clock.now(workspace))
        row.save(force_insert=True)
        save_sequence_draft(row, SequenceDocument(lanes=(Lane(id="a", name="A"),)), 0, member)
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


def check(workspace: Workspace, document: SequenceDocument) -> tuple[Finding, ...]:
    """Pre-flight of a sequence."""
    catalogue = catalogue_of(workspace)
    used = {
        step.message
        for lane in document.lanes
        for step in lane.steps
        if isinstance(step, SendStep) and step.message
    }
    messages = {
        str(one.pk): check_message(one)
        for one in Message.objects.of(workspace).filter(pk__in=used).select_related("workspace")
    }
    return check_sequence(
        document, catalogue, messages, workspace.sender_address, workspace.postal_address
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


@changes("turned on the sequence “{sequence.name}”, revision {result.number}")
def turn_on(
    sequence: Sequence, member: Member | None, note_text: str = "", based_on: int | None = None
) -> SequenceRevision:
    """Make the draft that the member has seen live, if pre-flight finds nothing that stops it."""
    with transaction.atomic():
        draft = draft_to_turn_on(sequence.revisions.all(), based_on, member)
        findings = check(sequence.workspace, SequenceDocument.model_validate(draft.document))
        stopping = tuple(one for one in findings if one.stops)
        if stopping:
            raise Refused("Pre-flight found problems to fix first.", stopping)
        live = make_live(sequence.revisions.all(), draft, sequence.workspace, member, note_text)
        # What is paused stays paused, whatever changes are turned on.
        if sequence.state == Sequence.State.DRAFT:
            sequence.state = Sequence.State.LIVE
            sequence.save(update_fields=["state"])
        catalogue_changed(sequence.workspace)
        if sequence.state == Sequence.State.LIVE:
            ADVANCE_DUE.defer(workspace_id=str(sequence.workspace_id))
        return live


@changes("paused the sequence “{sequence.name}”")
def pause(sequence: Sequence) -> None:
    """Nobody goes on until it is resumed; people still come in, and wait at the first step."""
    if sequence.state == Sequence.State.LIVE:
        sequence.state = Sequence.State.PAUSED
        sequence.save(update_fields=["state"])


@changes("resumed the sequence “{sequence.name}”")
def resume(sequence: Sequence) -> None:
    """Go on; what was due meanwhile is due now."""
    if sequence.state == Sequence.State.PAUSED:
        with transaction.atomic():
            sequence.state = Sequence.State.LIVE
            sequence.save(update_fields=["state"])
            ADVANCE_DUE.defer(workspace_id=str(sequence.workspace_id))


@dataclass(frozen=True)
class Entering:
    """Somebody who is to enter a sequence, and with which answers."""

    subscriber: Subscriber
    effect: EnterSequence
    answers: list[Any]


def enter_all(workspace: Workspace, entering: Sequence_[Entering], at: datetime) -> None:
    """Start runs, once only for each person, and take their first steps; in few statements, however
    many they are.

    The caller holds the transaction and the locks of the people, whose new state is stored, and has
    decided that none of them has been in the sequence.
    """
    wanted = {one.effect.sequence for one in entering}
    revisions = SequenceRevision.objects.of(workspace).filter(
        sequence__in=wanted, state=SequenceRevision.State.LIVE
    )
    live = {str(one.sequence_id): one for one in revisions.select_related("sequence")}
    moves = any(one.sequence.state == Sequence.State.LIVE for one in live.values())
    people = {one.subscriber.pk for one in entering}
    persons = persons_by_id(workspace, people, history=False) if moves else {}
    progress = Progress()
    for one in entering:
        revision = live.get(one.effect.sequence)
        document = document_of_revision(str(revision.pk)) if revision else None
        lane = document.lane(one.effect.lane) if document else None
        if revision is None or document is None or lane is None:
            continue
        run = Run(
            workspace=workspace,
            sequence=revision.sequence,
            subscriber=one.subscriber,
            revision=revision,
            lane=lane.id,
            due_at=at,
            entered_at=at,
            answers=one.answers,
            **caused_by(workspace.pk, one.effect.because),
        )
        progress.enter(run, one.effect.name, lane.name, one.effect.because)
        if revision.sequence.state == Sequence.State.LIVE:
            begins = RunState(lane=lane.id)
            result = advance(begins, document, persons[one.subscriber.pk], at)
            progress.move(run, result, document)
    progress.write()


def leave_sequences_of_lists(workspace: Workspace, left: Iterable[tuple[Subscriber, str]]) -> None:
    """End at once the runs whose emails belong to lists that people (first) have left (second).

    What is queued is withdrawn, but what a person asked for just now still goes out. The caller
    has locked the people.
    """
    lists: dict[UUID, set[str]] = {}
    for subscriber, one in left:
        lists.setdefault(subscriber.pk, set()).add(one)
    if not lists:
        return
    at = clock.now(workspace)
    with transaction.atomic():
        runs = _open_runs(workspace, lists)
        revisions = SequenceRevision.objects.of(workspace).filter(
            sequence__in={run.sequence_id for run in runs}, state=SequenceRevision.State.LIVE
        )
        live = dict(revisions.values_list("sequence", "pk"))
        progress = Progress()
        for run in runs:
            document = document_of_revision(str(live.get(run.sequence_id, run.revision_id)))
            if document.list in lists[run.subscriber_id]:
                progress.end(run, "unsubscribed", at)
        progress.write()
        queued = Send.objects.of(workspace).filter(
            among("subscriber", lists), state=Send.State.QUEUED, asked_for=False
        )
        withdrawn = [
            pk
            for pk, person, one in queued.values_list("pk", "subscriber", "list")
            if one and str(one) in lists[person]
        ]
        _withdraw(withdrawn, "unsubscribed before it was due")


def leave_all(
    workspace: Workspace, leaving: Sequence_[tuple[Subscriber, LeaveSequence]], at: datetime
) -> None:
    """End people's runs in sequences because a rule says so; the caller holds the transaction."""
    wanted = {(one.pk, effect.sequence): effect for one, effect in leaving}
    progress = Progress()
    ended = []
    for run in _open_runs(workspace, {one.pk for one, _ in leaving}):
        effect = wanted.get((run.subscriber_id, str(run.sequence_id)))
        if effect is not None:
            progress.end(run, "stopped", at, effect.because)
            ended.append(str(run.pk))
    progress.write()
    queued = Send.objects.of(workspace).filter(
        among("subscriber", {one.pk for one, _ in leaving}),
        by_run__in=ended,
        state=Send.State.QUEUED,
        asked_for=False,
    )
    _withdraw(
        list(queued.values_list("pk", flat=True)) if ended else [],
        "a rule ended the sequence before it was due",
    )


def _open_runs(workspace: Workspace, people: Iterable[UUID]) -> list[Run]:
    """The runs of these people that have not ended, locked."""
    runs = Run.objects.of(workspace).select_for_update(of=("self",)).filter(ended_at=None)
    found = runs.filter(among("subscriber", people)).select_related("sequence", "subscriber")
    return list(found.order_by("pk"))


def _withdraw(sends: list[UUID], why: str) -> None:
    if sends:
        rows = Send.everywhere.filter(among("pk", sends), state=Send.State.QUEUED)
        rows.update(state=Send.State.WITHDRAWN, reply=why)
