"""What happens to runs, of many people, collected first and written in few statements."""

from dataclasses import dataclass
from datetime import datetime
from operator import attrgetter
from typing import Any, cast
from uuid import UUID

from django.db import connection

from core.deciding import (
    AskToConfirm,
    Effect,
    EnterSequence,
    Handoff,
    LeaveSequence,
    Subscribe,
    TellMembers,
)
from core.documents import Because, Problem
from core.sequences import (
    Acted,
    Advanced,
    CameTo,
    Ended,
    EndReason,
    Move,
    ReachedGoal,
    RunState,
    SendMessage,
    SequenceDocument,
    WentOn,
)
from server.mail.confirming import Asking, ask_to_confirm
from server.mail.models import Send
from server.mail.outbox import Outbox
from server.people.actions import apply_effects, fact
from server.people.ledger import Ledger
from server.people.models import Fact, Subscriber
from server.people.trail import store_facts
from server.services.outbox import Handoffs
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces.among import among
from server.workspaces.arrays import array
from server.workspaces.copying import plain, store_all, update_all
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_each

from .jobs import TELL_MEMBER
from .models import Run, Visit

_MOVED = (
    "door",
    "lane",
    "step",
    "came_at",
    "due_at",
    "moved",
    "lap",
    "goals",
    "goal",
    "goal_at",
    "revision",
    "ended",
    "ended_at",
    "tries",
    "retry_at",
)
_WENT_ON = """
UPDATE sequences_visit AS row SET went_on_at = fresh.at, way = fresh.way
FROM unnest(%s::uuid[], %s::text[], %s::int[], %s::timestamptz[], %s::text[])
    AS fresh (run, step, lap, at, way)
WHERE row.run_id = fresh.run AND row.step = fresh.step AND row.lap = fresh.lap
"""
_VISIT = """
INSERT INTO sequences_visit
    (id, workspace_id, run_id, sequence_id, step, lap, came_at, went_on_at, way)
SELECT fresh.id, run.workspace_id, run.id, run.sequence_id, step_, lap_, came, went, way_
FROM unnest(%s::uuid[], %s::uuid[], %s::text[], %s::int[], %s::timestamptz[], %s::timestamptz[],
    %s::text[]) AS fresh (id, run, step_, lap_, came, went, way_)
JOIN sequences_run AS run ON run.id = fresh.run
ON CONFLICT (run_id, step, lap) DO NOTHING
"""
_VISITS = (
    "id",
    "run_id",
    "step",
    "lap",
    "came_at",
    "went_on_at",
    "way",
)
_columns_of_visit = attrgetter(*_VISITS)


@dataclass(frozen=True)
class Entering:
    """Somebody who is to enter a sequence, and with which answers."""

    subscriber: Subscriber
    effect: EnterSequence
    answers: list[Any]


@dataclass(frozen=True)
class Afterwards:
    """What steps set going besides their own people's rows: other sequences, and lists left."""

    entering: list[Entering]
    leaving: list[tuple[Subscriber, LeaveSequence]]
    left: list[tuple[Subscriber, str]]


def state_of_run(run: Run) -> RunState:
    """Where a run stands, for the core."""
    return RunState(
        lane=run.lane,
        step=run.step,
        came_at=run.came_at,
        due_at=run.due_at if run.step else None,
        moved=tuple(Move.model_validate(one) for one in run.moved) if run.moved else (),
        lap=run.lap,
        goals=tuple(run.goals),
        ended=cast(EndReason | None, run.ended or None),
    )


class Progress:
    """Rows of many runs; `write` stores them all, in the caller's transaction. The caller has locked
    the people."""

    def __init__(self) -> None:
        self.outbox = Outbox()
        self._handoffs = Handoffs()
        self._new: list[Run] = []
        self._moved: dict[UUID, Run] = {}
        self._visits: list[Any] = []
        self._went_on: list[tuple[UUID, str, int, datetime, str]] = []
        self._withdrawn: dict[UUID, tuple[UUID, str]] = {}
        """Runs whose emails are withdrawn: whose they are, and why."""
        self._ledger = Ledger()
        self._entering: list[Entering] = []
        self._leaving: list[tuple[Subscriber, LeaveSequence]] = []
        self._left_lists: list[tuple[Subscriber, str]] = []
        self._asking: dict[UUID, tuple[Workspace, list[tuple[Asking, datetime]]]] = {}
        self._told: list[dict[str, str]] = []
        self._problems: dict[tuple[UUID, str, str], list[tuple[Run, Problem]]] = {}
        self._facts: list[Any] = []
        self._replayed: list[tuple[Run, SendMessage, SequenceDocument]] = []

    def enter(self, run: Run, name: str, lane: str, because: Because) -> None:
        """A run that begins."""
        self._new.append(run)
        what = {"sequence": name, "id": str(run.sequence_id), "lane": lane}
        entered = fact(run.subscriber, Fact.Kind.ENTERED, what, because, run.entered_at)
        self._facts.append(entered)

    def move(self, run: Run, result: Advanced, document: SequenceDocument) -> None:
        """A run goes as far as `result` says."""
        visits: dict[tuple[str, int], Any] = {}
        for effect in result.effects:
            match effect:
                case CameTo(step=step, at=at, lap=lap):
                    visits[step, lap] = plain(Visit)(
                        workspace_id=run.workspace_id,
                        run_id=run.pk,
                        sequence_id=run.sequence_id,
                        step=step,
                        lap=lap,
                        came_at=at,
                    )
                case WentOn(step=step, lap=lap) if (step, lap) in visits:
                    visits[step, lap].went_on_at = effect.at
                    visits[step, lap].way = effect.way
                case WentOn():
                    gone = (run.pk, effect.step, effect.lap, effect.at, effect.way)
                    self._went_on.append(gone)
                case SendMessage() if run.by_replay:
                    self._replayed.append((run, effect, document))
                case SendMessage():
                    self._send(run, effect, document)
                case Acted():
                    self._act(run, effect)
                case ReachedGoal():
                    self._reach(run, effect)
                case Ended(reason=reason, at=at):
                    run.ended, run.ended_at = reason, at
                    self._left(run, reason, at, because_of(run, result.run.step))
        self._visits += visits.values()
        state = result.run
        run.lane, run.step, run.came_at = state.lane, state.step, state.came_at
        run.due_at, run.lap, run.goals = state.due_at, state.lap, list(state.goals)
        run.moved = [one.model_dump(mode="json") for one in state.moved]
        run.tries, run.retry_at = 0, None
        self._changed(run)

    def end(self, run: Run, reason: str, at: datetime, because: Because | None = None) -> None:
        """A run ends where it stands, and what is queued of it is withdrawn."""
        run.ended, run.ended_at, run.due_at, run.moved = reason, at, None, []
        why = _WHY_WITHDRAWN.get(reason, "its run ended before it was due")
        self._withdrawn[run.pk] = (run.subscriber_id, why)
        self._left(run, reason, at, because or because_of(run, run.step))
        self._changed(run)

    def write(self) -> Afterwards:
        """Store everything; what is left to do with sequences and lists besides."""
        self._withdraw()
        self._send_unless_sent()
        self._ledger.write()
        store_all(self._new)
        update_all(list(self._moved.values()), _MOVED)
        self._store_visits()
        if self._went_on:
            with connection.cursor() as cursor:
                cursor.execute(_WENT_ON, [array(one) for one in zip(*self._went_on, strict=True)])
        store_facts(self._facts)
        self.outbox.write()
        self._handoffs.write()
        for workspace, asking in self._asking.values():
            ask_to_confirm(workspace, [one for one, _ in asking], asking[0][1])
        defer_each(TELL_MEMBER, self._told)
        self._report()
        after = Afterwards(self._entering, self._leaving, self._left_lists)
        self.__init__()  # type: ignore[misc]
        return after

    def _act(self, run: Run, acted: Acted) -> None:
        """What a step does to the person, as a rule does."""
        person = run.subscriber
        apply_effects(self._ledger, person, acted.effects, {}, acted.at)
        for effect in acted.effects:
            self._follow(run, effect, acted.at)
            if isinstance(effect, Handoff):
                origin = f"step/{run.pk}/{acted.step}/{run.lap}"
                self._handoffs.add(person, effect, origin, acted.at, run.answers)
        for problem in acted.problems:
            self._problems.setdefault((run.sequence_id, acted.step, problem.code), []).append(
                (run, problem)
            )

    def _follow(self, run: Run, effect: Effect, at: datetime) -> None:
        person = run.subscriber
        match effect:
            case EnterSequence():
                self._entering.append(Entering(person, effect, run.answers))
            case LeaveSequence():
                self._leaving.append((person, effect))
            case Subscribe(to="unsubscribed" | "none"):
                self._left_lists.append((person, effect.list))
            case AskToConfirm():
                asking = self._asking.setdefault(run.workspace_id, (run.workspace, []))
                asking[1].append((Asking(person, effect.list, effect.because), at))
            case TellMembers():
                self._told += [
                    {
                        "sequence_id": str(run.sequence_id),
                        "person_id": str(person.pk),
                        "run_id": str(run.pk),
                        "member_id": member,
                    }
                    for member in effect.members
                ]

    def _reach(self, run: Run, effect: ReachedGoal) -> None:
        if not run.goal:
            run.goal, run.goal_at = effect.goal, effect.at
        self._withdrawn[run.pk] = (run.subscriber_id, "a goal was reached before it was due")
        what = {"sequence": run.sequence.name, "id": str(run.sequence_id), "goal": effect.name}
        because = because_of(run, run.step)
        self._facts.append(fact(run.subscriber, Fact.Kind.GOAL, what, because, effect.at))

    def _withdraw(self) -> None:
        """Emails of runs that have ended or jumped, queued or held: not what was asked for."""
        by_why: dict[str, dict[UUID, UUID]] = {}
        for run, (person, why) in self._withdrawn.items():
            by_why.setdefault(why, {})[run] = person
        for why, runs in by_why.items():
            waiting = Send.everywhere.filter(
                # The people too: by them they are found, and not among all that was ever sent.
                among("subscriber", set(runs.values())),
                among("by_run", runs),
                state__in=(Send.State.QUEUED, Send.State.HELD),
                asked_for=False,
            )
            waiting.update(state=Send.State.WITHDRAWN, reply=why, snag=None)

    def _report(self) -> None:
        """A snag for each thing that a step could not do, in one order."""
        for (sequence, step, code), found in sorted(
            self._problems.items(), key=lambda one: str(one[0])
        ):
            run, problem = found[0]
            report(
                run.workspace,
                Snag.About.SEQUENCE,
                f"act/{sequence}/{step}/{code}",
                f"{run.sequence.name}: {problem.sentence}",
                problem.fix or "Change the step in the sequence.",
                {"sequence": str(sequence), "step": step, "person": str(run.subscriber_id)},
                len(found),
            )

    def _store_visits(self) -> None:
        """A step that a run has come to before in this lap keeps the visit that it has."""
        if self._visits:
            rows = [_columns_of_visit(one) for one in self._visits]
            columns = [array(one) for one in zip(*rows, strict=True)]
            with connection.cursor() as cursor:
                cursor.execute(_VISIT, columns)

    def _changed(self, run: Run) -> None:
        if not run._state.adding:
            self._moved[run.pk] = run

    def _left(self, run: Run, reason: str, at: datetime, because: Because) -> None:
        what = {"sequence": run.sequence.name, "id": str(run.sequence_id), "why": reason}
        self._facts.append(fact(run.subscriber, Fact.Kind.LEFT, what, because, at))

    def _send(self, run: Run, effect: SendMessage, document: SequenceDocument) -> None:
        self.outbox.add(
            run.subscriber,
            effect.message,
            document.list,
            f"run/{run.pk}/{effect.step}/{effect.lap}",
            because_of(run, effect.step),
            effect.at,
            asked_for=effect.at_once,
            answers=run.answers,
            holds=effect.holds,
        )

    def _send_unless_sent(self) -> None:
        """A replay started these runs: nobody is sent again what they have been sent before."""
        if not self._replayed:
            return
        theirs = Send.everywhere.filter(
            subscriber__in={run.subscriber_id for run, _, _ in self._replayed},
            message__in={effect.message for _, effect, _ in self._replayed},
        ).exclude(state=Send.State.WITHDRAWN)
        sent = {(one, str(message)) for one, message in theirs.values_list("subscriber", "message")}
        for run, effect, document in self._replayed:
            if (run.subscriber_id, effect.message) not in sent:
                self._send(run, effect, document)


def because_of(run: Run, step: str | None) -> Because:
    """The cause of what a run does at a step."""
    return Because(
        kind="step",
        sentence=f"sequence {run.sequence.name}",
        sequence_id=str(run.sequence_id),
        sequence_name=run.sequence.name,
        run_id=str(run.pk),
        step_id=step,
    )


_WHY_WITHDRAWN = {
    "unsubscribed": "unsubscribed before it was due",
    "stopped": "a rule ended the sequence before it was due",
    "started_over": "they entered the sequence anew before it was due",
    "taken_over": "another sequence took over before it was due",
    "member": "a member took them out before it was due",
}
