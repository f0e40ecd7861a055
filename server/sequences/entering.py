"""People who come into sequences, by whatever door, and who leave them: many at once."""

from collections.abc import Iterable, Mapping
from collections.abc import Sequence as Sequence_
from datetime import datetime, timedelta
from uuid import UUID

import structlog
from django.db import transaction
from django.db.models import Count, Max, Q

from core.deciding import EnterSequence, LeaveSequence
from core.delivering import sources_of
from core.documents import Because
from core.people import Person
from core.sequences import Lane, SequenceDocument
from server.mail.life import withdraw
from server.mail.models import Send
from server.people.at_hand import prefetch_relations
from server.people.models import Subscriber
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.causes import caused_by
from server.workspaces.models import Workspace

from .facts import document_of_revision
from .jobs import ADVANCE_DUE
from .journeys import base_journey, changes_lists, journey_of, looks_back, with_their_rows
from .models import Run, Sequence, SequenceRevision
from .moving import take_on
from .people import persons_by_id
from .progress import Progress
from .step_effects import Afterwards, Entering

log = structlog.get_logger("yalla.sequences")

_OFTEN, _WITHIN = 20, timedelta(hours=1)
"""Whoever has entered a sequence so often within so long goes round in a circle of sequences."""
_Entry = tuple[UUID, UUID]
"""A person and a sequence."""


def enter_all(
    workspace: Workspace,
    entering: Sequence_[Entering],
    at: datetime,
    *,
    begins: bool = True,
    persons: Mapping[UUID, Person] | None = None,
) -> None:
    """Start runs and take their first steps; in few statements, however many they are.

    The caller holds the transaction and the locks of the people, whose new state is stored, and has
    decided by which door each of them comes in. Without `begins` a worker takes the first steps.
    `persons`: the people as they are, with all that the sequences look at, where they have been read.
    """
    wanted = {one.effect.sequence for one in entering}
    revisions = SequenceRevision.objects.of(workspace).filter(
        sequence__in=wanted, state=SequenceRevision.State.LIVE
    )
    live = {str(one.sequence_id): one for one in revisions.select_related("sequence")}
    coming = [(one, found) for one in entering if (found := _way_in(one, live)) is not None]
    if not coming:
        return
    progress = Progress()
    numbers = _numbers(workspace, [(one, way[0]) for one, way in coming], at)
    _end_before(workspace, coming, progress, at)
    moves = begins and any(way[0].sequence.state == Sequence.State.LIVE for _, way in coming)
    back = any(looks_back(way[1]) for _, way in coming)
    people = {one.subscriber.pk: one.subscriber for one, _ in coming}
    if moves and any(changes_lists(way[1]) for _, way in coming):
        prefetch_relations(people.values(), tags=False)
    if persons is None:
        persons = persons_by_id(workspace, people, history=back) if moves else {}
    persons = dict(persons)
    base = base_journey(workspace)
    for one, (revision, document, lane, door) in coming:
        number = numbers.get((one.subscriber.pk, revision.sequence_id), 1)
        if not number:
            continue
        numbers[one.subscriber.pk, revision.sequence_id] = number + 1
        run = Run(
            workspace=workspace,
            sequence=revision.sequence,
            subscriber=one.subscriber,
            revision=revision,
            number=number,
            door=door,
            act=_act(one.effect, persons.get(one.subscriber.pk), document),
            lane=lane.id,
            due_at=at,
            entered_at=at,
            answers=one.answers,
            **caused_by(workspace.pk, one.effect.because),
        )
        progress.enter(run, one.effect.name, lane.name, one.effect.because)
        if moves and revision.sequence.state == Sequence.State.LIVE:
            persons[one.subscriber.pk] = take_on(
                progress,
                run,
                revision,
                document,
                persons[one.subscriber.pk],
                journey_of(run, base),
                at,
            )
    follow(workspace, progress.write(), at)
    if not begins:
        transaction.on_commit(lambda: ADVANCE_DUE.defer(workspace_id=str(workspace.pk)))


def _act(effect: EnterSequence, person: Person | None, document: SequenceDocument) -> str:
    """The act of somebody's own that what is promised answers. What a replay starts they asked for before:
    not so where they have left since, or their address is suppressed."""
    if effect.because.replay_id is None or not effect.act:
        return effect.act
    if person is None or person.suppressed or person.left_all_at is not None:
        return ""
    may = person.membership(document.list or "") in ("none", "pending", "subscribed")
    return effect.act if may else ""


_WayIn = tuple[SequenceRevision, SequenceDocument, Lane, str]


def _way_in(one: Entering, live: dict[str, SequenceRevision]) -> _WayIn | None:
    """The live revision, its document, the lane and the id of the door that somebody comes in by."""
    revision = live.get(one.effect.sequence)
    if revision is None:
        return None
    document = document_of_revision(str(revision.pk))
    lane = document.lane(one.effect.lane)
    if lane is None:
        return None
    door = one.effect.door
    if not door and one.effect.because.kind == "route":
        by_route = document.route_door(lane.id)
        door = by_route.id if by_route else ""
    return revision, document, lane, door


def _numbers(
    workspace: Workspace, entering: Sequence_[tuple[Entering, SequenceRevision]], at: datetime
) -> dict[_Entry, int]:
    """The number of the run of those who have been in the sequence before; 0: too often of late."""
    again = {
        (one.subscriber.pk, revision.sequence_id): (one, revision)
        for one, revision in entering
        if one.effect.again != "once_only"
    }
    if not again:
        return {}
    runs = Run.objects.of(workspace).filter(
        among("subscriber", {pk for pk, _ in again}), sequence__in={pk for _, pk in again}
    )
    counted = runs.values_list("subscriber", "sequence").annotate(
        last=Max("number"), lately=Count("pk", filter=Q(entered_at__gt=at - _WITHIN))
    )
    numbers: dict[_Entry, int] = {}
    for person, sequence, last, lately in counted.order_by():
        numbers[person, sequence] = last + 1
        if lately >= _OFTEN and (person, sequence) in again:
            numbers[person, sequence] = 0
            _too_often(workspace, *again[person, sequence])
    return numbers


def _too_often(workspace: Workspace, one: Entering, revision: SequenceRevision) -> None:
    report(
        workspace,
        Snag.About.SEQUENCE,
        f"circle/{revision.sequence_id}",
        f"{revision.sequence.name}: somebody entered it {_OFTEN} times within an hour, and was not "
        "let in again.",
        "Look for two sequences that start each other, and give one of the doors a condition.",
        {"sequence": str(revision.sequence_id), "person": str(one.subscriber.pk)},
    )


def _end_before(
    workspace: Workspace,
    coming: Sequence_[tuple[Entering, _WayIn]],
    progress: Progress,
    at: datetime,
) -> None:
    """End the runs that a new one takes the place of: their own that starts over, and others that
    the sequence takes over from."""
    over: set[_Entry] = set()
    taken: dict[UUID, set[str] | None] = {}
    for one, (revision, document, _, _) in coming:
        person, leaving = one.subscriber.pk, document.leaving
        if one.effect.again == "start_over":
            over.add((person, revision.sequence_id))
        if leaving.takes_over == "all":
            taken[person] = None
        elif leaving.takes_over == "these" and taken.get(person, set()) is not None:
            taken.setdefault(person, set()).update(leaving.these)  # type: ignore[union-attr]
    if not over and not taken:
        return
    _withdraw_of_ended(workspace, over, progress)
    entered = {(one.subscriber.pk, way[0].sequence_id) for one, way in coming}
    for run in open_runs(workspace, {pk for pk, _ in over} | taken.keys()):
        entry = (run.subscriber_id, run.sequence_id)
        if entry in over:
            progress.end(run, "started_over", at)
        elif entry not in entered and run.subscriber_id in taken:
            these = taken[run.subscriber_id]
            if these is None or str(run.sequence_id) in these:
                progress.end(run, "taken_over", at)


def _withdraw_of_ended(workspace: Workspace, over: set[_Entry], progress: Progress) -> None:
    """Somebody who starts over gets nothing any more of the runs that have ended before."""
    if not over:
        return
    ended = Run.objects.of(workspace).filter(
        among("subscriber", {pk for pk, _ in over}),
        sequence__in={pk for _, pk in over},
        ended_at__isnull=False,
    )
    for run in ended.only("pk", "subscriber", "sequence"):
        if (run.subscriber_id, run.sequence_id) in over:
            progress.withdraw_emails(run, "started_over")


def follow(workspace: Workspace, after: Afterwards, at: datetime) -> None:
    """What steps set going besides: runs of other sequences, which a worker begins, and lists left."""
    if after.leaving:
        leave_all(workspace, after.leaving, at)
    if after.left:
        leave_sequences_of_lists(workspace, after.left)
    if after.entering:
        enter_all(workspace, after.entering, at, begins=False)


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
        runs = open_runs(workspace, lists)
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
            among("subscriber", lists), state__in=sources_of("withdrawn", "rules"), asked_for=False
        )
        withdrawn = [
            pk
            for pk, person, one in queued.values_list("pk", "subscriber", "list")
            if one and str(one) in lists[person]
        ]
        if withdrawn:
            withdraw(
                Send.everywhere.filter(among("pk", withdrawn)), "unsubscribed before it was due"
            )


def leave_all(
    workspace: Workspace, leaving: Sequence_[tuple[Subscriber, LeaveSequence]], at: datetime
) -> None:
    """End people's runs in sequences because a rule says so; the caller holds the transaction."""
    wanted = {(one.pk, effect.sequence): effect for one, effect in leaving}
    progress = Progress()
    for run in open_runs(workspace, {one.pk for one, _ in leaving}):
        effect = wanted.get((run.subscriber_id, str(run.sequence_id)))
        if effect is not None:
            progress.end(run, "stopped", at, effect.because)
    progress.write()


def take_out(workspace: Workspace, runs: Iterable[Run], because: Because) -> int:
    """End runs because a member says so; the caller has locked the people. How many."""
    at = clock.now(workspace)
    progress = Progress()
    count = 0
    for run in runs:
        progress.end(run, "member", at, because)
        count += 1
    progress.write()
    return count


def open_runs(workspace: Workspace, people: Iterable[UUID]) -> list[Run]:
    """The runs of these people that have not ended, locked."""
    runs = Run.objects.of(workspace).select_for_update(of=("self",)).filter(ended_at=None)
    return with_their_rows(runs.filter(among("subscriber", people)).order_by("pk"))
