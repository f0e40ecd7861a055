"""Showing signals to doors and runs: whoever a door has opened for comes in, and runs that wait for
what has happened go on, or end, at once."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import timedelta
from uuid import UUID

import structlog
from django.db import InterfaceError, OperationalError, transaction
from django.db.models import Q, QuerySet

from core.conditions import Circumstances
from core.deciding import EnterSequence
from core.documents import Because
from core.people import Catalogue, Person
from core.sequences import Door, entrance, goal_after_the_end
from core.sequences import Signal as CoreSignal
from server.people.locks import people_by_key, retried, try_keys
from server.people.models import Subscriber
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.copying import update_all
from server.workspaces.models import Workspace

from .entering import enter_all, open_runs
from .facts import catalogue_of
from .going_on import move_runs
from .journeys import base_journey, journey_of, looks_back
from .listening import ANY, LiveSequence, live_sequences, moves_runs
from .models import Run, Signal
from .models import Sequence as SequenceRow
from .moving import TRIES, state_of_run
from .people import persons_by_id
from .step_effects import Entering

_AT_ONCE = 200
_AGAIN = timedelta(seconds=30)
log = structlog.get_logger("yalla.sequences")


def show_signals(workspace: Workspace) -> int:
    """Show all signals of a workspace, batch by batch; how many. Those of people whom another worker
    has in hand stay for the next time."""
    count = 0
    while True:
        # What stands in it may be turned on or off meanwhile.
        fresh = Workspace.objects.get(pk=workspace.pk)
        shown = _show_some(fresh)
        count += shown
        if not shown:
            return count


def _show_some(workspace: Workspace) -> int:
    """Show a batch. Where one of it fails, each is shown alone, and that one is tried again later."""
    try:
        return _show_batch(workspace, None)
    except (OperationalError, InterfaceError):
        raise
    except Exception:
        log.exception("signals failed", workspace=str(workspace.pk))
    waiting = _waiting(workspace).order_by("pk").values_list("pk", flat=True)[:_AT_ONCE]
    return sum(_show_alone(workspace, pk) for pk in list(waiting))


def _waiting(workspace: Workspace) -> QuerySet[Signal]:
    now = clock.now(workspace)
    rows: QuerySet[Signal] = Signal.objects.of(workspace)
    return rows.filter(Q(retry_at=None) | Q(retry_at__lte=now))


def _show_alone(workspace: Workspace, pk: UUID) -> int:
    try:
        return _show_batch(workspace, pk)
    except (OperationalError, InterfaceError):
        raise
    except Exception as error:
        log.exception("signal failed", signal=str(pk))
        _note_failure(workspace, pk, type(error).__name__)
        return 1


@retried
def _note_failure(workspace: Workspace, pk: UUID, why: str) -> None:
    """It is tried again later; after some tries it is a snag, and let go."""
    with transaction.atomic():
        row = Signal.objects.of(workspace).select_for_update().filter(pk=pk).first()
        if row is None:
            return
        row.tries += 1
        if row.tries < TRIES:
            row.retry_at = clock.now(workspace) + _AGAIN * 2 ** (row.tries - 1)
            row.save(update_fields=["tries", "retry_at"])
            return
        report(
            workspace,
            Snag.About.SEQUENCE,
            f"signal/{row.kind}/{row.about}/{why}"[:120],
            f"Sequences could not follow something that happened to somebody ({row.kind}): {why}.",
            "The server's log has the reason. Add the person to the sequence by hand if it matters.",
            {"person": str(row.subscriber_id)},
        )
        row.delete()


@retried
def _show_batch(workspace: Workspace, only: UUID | None) -> int:
    with transaction.atomic():
        rows = _waiting(workspace).order_by("pk").select_for_update(skip_locked=True)
        signals = list(rows.filter(pk=only) if only else rows[:_AT_ONCE])
        if not signals:
            return 0
        ids = {one.subscriber_id for one in signals}
        keys = dict(
            Subscriber.objects.of(workspace)
            .filter(among("pk", ids))
            .values_list("address_key", "pk")
        )
        free = {keys[key] for key in try_keys(workspace.pk, keys)} if keys else set()
        mine = [one for one in signals if one.subscriber_id in free]
        if mine:
            # Nobody has the locks, so what a merge moved meanwhile has been moved.
            people = people_by_key(
                workspace, [key for key, pk in keys.items() if pk in free], alone=True
            )
            _show(workspace, mine, {one.pk: one for one in people.values()})
            Signal.objects.of(workspace).filter(among("pk", [one.pk for one in mine])).delete()
        return len(mine)


def _show(workspace: Workspace, signals: Sequence[Signal], people: dict[UUID, Subscriber]) -> None:
    sequences = live_sequences(workspace)
    catalogue, now = catalogue_of(workspace), clock.now(workspace)
    back = any(looks_back(one.document) for one in sequences)
    persons = persons_by_id(workspace, people, history=back)
    entering: list[Entering] = []
    for signal in signals:
        subscriber = people.get(signal.subscriber_id)
        if subscriber is None:
            continue
        heard = CoreSignal(kind=signal.kind, about=signal.about, state=signal.state, act=signal.act)
        for one in sequences:
            for door in one.document.doors:
                if door.opens_for(heard, catalogue):
                    person = persons[subscriber.pk]
                    found = by_door(
                        workspace, one, door, subscriber, person, catalogue, act=signal.act
                    )
                    entering += found
                    if found:
                        persons[subscriber.pk] = entered(person, one.id)
    if entering:
        enter_all(workspace, entering, now)
    _move_touched(workspace, signals, sequences, catalogue)


def by_door(
    workspace: Workspace,
    sequence: LiveSequence,
    door: Door,
    subscriber: Subscriber,
    person: Person,
    catalogue: Catalogue,
    member: str | None = None,
    *,
    act: str = "",
) -> list[Entering]:
    """Somebody for whom a door has opened, as they come in; empty where they do not. `act`: the act of
    their own that opened it."""
    seen = Circumstances(now=clock.now(workspace), zone=workspace.time_zone)
    found = entrance(
        sequence.document,
        door,
        person,
        seen,
        catalogue,
        was_in=sequence.id in person.entered,
        act=act,
    )
    if found.refused is not None or found.lane is None:
        return []
    because = Because(
        kind="member" if member else "step",
        sentence=f"{sequence.name}: {door.named(catalogue)}",
        sequence_id=sequence.id,
        sequence_name=sequence.name,
        member=member,
    )
    was_in = sequence.id in person.entered
    effect = EnterSequence(
        sequence=sequence.id,
        name=sequence.name,
        lane=found.lane.id,
        again=found.again if was_in else "once_only",
        door=found.door,
        act=found.act,
        because=because,
    )
    return [Entering(subscriber, effect, [])]


def member_because(sequence: SequenceRow, member: str) -> Because:
    """The cause of what a member does to a run."""
    return Because(
        kind="member",
        sentence=f"sequence {sequence.name}",
        sequence_id=str(sequence.pk),
        sequence_name=sequence.name,
        member=member,
    )


def entered(person: Person, sequence: str) -> Person:
    """The person, who is in a sequence now."""
    return replace(
        person,
        entered=person.entered | {sequence},
        under_way=person.under_way | {sequence},
    )


def _move_touched(
    workspace: Workspace,
    signals: Iterable[Signal],
    sequences: Sequence[LiveSequence],
    catalogue: Catalogue,
) -> None:
    """Take on the runs, due or not, that may go on or end by what has happened to their people."""
    heard = {one.id: frozenset(moves_runs(one.document, catalogue)) for one in sequences}
    touched: dict[UUID, set[str]] = {}
    for signal in signals:
        for sequence, listens in heard.items():
            if (signal.kind, signal.about) in listens or (signal.kind, ANY) in listens:
                touched.setdefault(signal.subscriber_id, set()).add(sequence)
    if not touched:
        return
    _count_late_goals(workspace, touched, sequences)
    paused = {one.id for one in sequences if one.paused}
    runs = [
        run
        for run in open_runs(workspace, touched)
        if str(run.sequence_id) in touched[run.subscriber_id] - paused
    ]
    if runs:
        move_runs(runs)


def _count_late_goals(
    workspace: Workspace, touched: dict[UUID, set[str]], sequences: Sequence[LiveSequence]
) -> None:
    """Note the goals that people reach whose runs went through to the end, while they still count."""
    documents = {one.id: one.document for one in sequences}
    counting = {
        key for key, one in documents.items() if any(goal.within_days for goal in one.goals)
    }
    runs = [
        run
        for run in Run.objects.of(workspace)
        .filter(among("subscriber", touched), sequence__in=counting, ended="finished", goal="")
        .select_related("sequence", "cause")
        if str(run.sequence_id) in touched[run.subscriber_id]
    ]
    if not runs:
        return
    persons = persons_by_id(workspace, {run.subscriber_id for run in runs}, history=True)
    base, now = base_journey(workspace), clock.now(workspace)
    reached = []
    for run in runs:
        document, person = documents[str(run.sequence_id)], persons[run.subscriber_id]
        state = state_of_run(run)
        goal = goal_after_the_end(state, document, person, now, journey_of(run, base))
        if goal is not None:
            run.goal, run.goal_at = goal.id, now
            reached.append(run)
    update_all(reached, ("goal", "goal_at"))
