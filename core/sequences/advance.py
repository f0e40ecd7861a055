"""How a run goes on: one call takes it as far as it can go at `now`."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from ..documents import Frozen
from ..people import Person, may_be_sent_marketing
from .document import SequenceDocument
from .effects import CameTo, Ended, EndReason, RunEffect, WentOn
from .steps import LaneStep, WaitStep
from .timing import after

LATE = timedelta(minutes=15)
"""A wait counts from the moment the one before it was due, so that a slow worker does not
shift a series; a run later than this (a pause, a stop) counts from when it really went on,
so that what was missed does not arrive all at once."""


class RunState(Frozen):
    """Where a run stands: at `step` since `came_at`, to go on at `due_at`."""

    lane: str
    step: str | None = None
    due_at: datetime | None = None
    ended: EndReason | None = None


class Advanced(Frozen):
    """The run as it stands now, and what should happen."""

    run: RunState
    effects: tuple[RunEffect, ...]


def advance(run: RunState, sequence: SequenceDocument, person: Person, now: datetime) -> Advanced:
    """Take `run` as far as it can go at `now` (aware).

    A run that has not begun has no step. Its step must be one of `sequence`; the caller
    finds the one that remains (`step_that_remains`) when the sequence has changed.
    """
    effects: list[RunEffect] = []
    lane = sequence.lane(run.lane)
    if run.ended or lane is None:
        return (
            _end(run, effects, "step_gone", now) if not run.ended else Advanced(run=run, effects=())
        )
    steps = list(lane.steps)
    ids = [step.id for step in steps]
    position = ids.index(run.step) if run.step in ids else 0
    moment = now
    arrived = run.step in ids and run.due_at is not None
    while position < len(steps):
        step = steps[position]
        reason = _reason_to_leave(step, sequence, person)
        if reason:
            return _end(run, effects, reason, moment)
        if not arrived:
            effects.append(CameTo(step=step.id, at=moment))
            due = step.due(moment, ZoneInfo(person.time_zone))
            run = run.model_copy(update={"step": step.id, "due_at": due})
        if run.due_at is not None and run.due_at > now:
            return Advanced(run=run, effects=tuple(effects))
        if isinstance(step, WaitStep) and run.due_at is not None:
            moment = run.due_at if now - run.due_at <= LATE else now
        effects += step.effects(moment)
        effects.append(WentOn(step=step.id, at=moment))
        position += 1
        arrived = False
    return _end(run, effects, "finished", moment)


def due_after_late_email(
    wait: WaitStep, came_at: datetime, sent_at: datetime | None, zone: ZoneInfo
) -> datetime | None:
    """When a wait is over whose email before went out late, since it was held: it counts from then.

    None: the email was in time, so the wait goes on as it was.
    """
    if sent_at is None or sent_at - came_at <= LATE:
        return None
    return after(sent_at, wait.duration, zone)


def _reason_to_leave(
    step: LaneStep, sequence: SequenceDocument, person: Person
) -> EndReason | None:
    """Whether the person leaves before `step`: checked before every step."""
    if sequence.list is None or not step.needs_list:
        return None
    state = person.membership(sequence.list)
    if may_be_sent_marketing(state):
        return None
    return "not_on_list" if state in ("none", "pending") else "unsubscribed"


def _end(run: RunState, effects: list[RunEffect], reason: EndReason, at: datetime) -> Advanced:
    ended = run.model_copy(update={"ended": reason, "due_at": None})
    return Advanced(run=ended, effects=(*effects, Ended(reason=reason, at=at)))
