"""How a run goes on: one call takes it as far as it can go at `now`."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from ..delivering import Duration, after, barrier, has_left
from ..people import Person
from .document import Goal, Lane, SequenceDocument
from .effects import CameTo, Ended, EndReason, ReachedGoal, RunEffect, WentOn
from .graph import Place, place_of, reaches, target_of
from .journey import Journey, RunState, Walk
from .steps import LaneStep, WaitStep
from .ways import Way

LATE = timedelta(minutes=15)
"""A wait counts from the moment the one before it was due, so that a slow worker does not
shift a series; a run later than this (a pause, a stop) counts from when it really went on,
so that what was missed does not arrive all at once."""
_MOST_STEPS = 2000


class Circle(Exception):
    """A run went round without time, which pre-flight keeps from being turned on."""

    def __init__(self) -> None:
        super().__init__("the steps lead round in a circle without a wait")


@dataclass(frozen=True)
class Advanced:
    """The run and the person as they stand now, and what should happen."""

    run: RunState
    effects: tuple[RunEffect, ...]
    person: Person


def begin(
    sequence: SequenceDocument, lane: Lane, person: Person, now: datetime, journey: Journey
) -> RunState:
    """A run that has not come to its first step; goals that hold already do not count for it."""
    walk = _walk(RunState(lane=lane.id), sequence, person, now, journey)
    held = tuple(one.id for one in sequence.goals if not one.event and walk.fits(one.when))
    return RunState(lane=lane.id, goals=held, act=journey.act)


def advance(
    run: RunState, sequence: SequenceDocument, person: Person, now: datetime, journey: Journey
) -> Advanced:
    """Take `run` as far as it can go at `now` (aware).

    A run that has not begun has no step. Its step must be one of `sequence`; the caller
    finds the one that remains (`step_that_remains`) when the sequence has changed. Raises
    NoTimeFits where an email fits nowhere, and Circle.
    """
    if run.ended:
        return Advanced(run=run, effects=(), person=person)
    walk = _walk(run, sequence, person, now, journey)
    place = place_of(sequence, run.lane, run.step)
    if place is None:
        return _ended(walk, "step_gone")
    # Without a time at which it came, it has only been put there.
    arrived = run.step is not None and run.due_at is not None and run.came_at is not None
    for _ in range(_MOST_STEPS):
        found = _goal_reached(walk, sequence)
        if found is not None:
            if _leads_back(walk, sequence, found):
                _count_goal(walk, found, stays=True)
                continue
            place, arrived = _by_goal(walk, sequence, found), False
            if place is None:
                return _ended(walk, "goal")
            continue
        place = _down_to_a_step(walk, sequence, place)
        if place is None:
            return _ended(walk, "finished")
        lane = sequence.lane(place[0])
        assert lane is not None
        step = lane.steps[place[1]]
        reason = _reason_to_leave(walk, step, sequence)
        if reason:
            return _ended(walk, reason)
        if not arrived:
            _come_to(walk, lane, step)
        if not _goes_on(walk, step, arrived=arrived):
            return Advanced(run=walk.run, effects=tuple(walk.effects), person=walk.person)
        branch = step.go(walk)
        if _answers_no_more(walk, step):
            walk.run = replace(walk.run, act="")
        walk.effects.append(WentOn(step=step.id, at=walk.moment, lap=walk.run.lap, way=branch))
        if branch == "stops":
            return _ended(walk, "stopped")
        way = next((one.way for one in step.branches() if one.id == branch), Way())
        target = target_of(sequence, way, lane, place[1])
        if target is None:
            # A place that is gone ends the run too, but says so.
            return _ended(walk, "finished" if way.to == "end" else "step_gone")
        if way.to == "lane":
            _change_lane(walk, sequence, place, target)
        place, arrived = target, False
    raise Circle


def _answers_no_more(walk: Walk, step: LaneStep) -> bool:
    """Whether what comes after a step answers no act of the person's any more."""
    return bool(walk.run.act) and (step.takes_time or bool(step.branches()) or step.promised(walk))


def goal_after_the_end(
    run: RunState, sequence: SequenceDocument, person: Person, now: datetime, journey: Journey
) -> Goal | None:
    """The goal that somebody has reached whose run went through to its end, within the days in which it
    counts: it is for the figures alone."""
    if run.ended != "finished":
        return None
    walk = _walk(run, sequence, person, now, journey)
    found = _goal_reached(walk, sequence)
    return found if found is not None and found.within_days is not None else None


def due_after_late_email(
    wait: WaitStep, came_at: datetime, sent_at: datetime | None, zone: ZoneInfo
) -> datetime | None:
    """When a wait is over whose email before went out late, since it was held: it counts from then.

    None: the email was in time, so the wait goes on as it was.
    """
    if sent_at is None or sent_at - came_at <= LATE:
        return None
    return after(sent_at, wait.duration, zone)


def _walk(
    run: RunState, sequence: SequenceDocument, person: Person, now: datetime, journey: Journey
) -> Walk:
    times = sequence.times if sequence.times is not None else journey.times
    return Walk(run, person, now, journey, times)


def _down_to_a_step(walk: Walk, sequence: SequenceDocument, place: Place) -> Place | None:
    """The place, or the one that follows where it is the end of a lane; None: the run ends."""
    seen: set[str] = set()
    while True:
        lane = sequence.lane(place[0])
        if lane is None:
            return None
        if place[1] < len(lane.steps):
            return place
        if lane.then.to != "lane" or lane.id in seen:
            return None
        seen.add(lane.id)
        found = target_of(sequence, lane.then, lane, place[1])
        if found is None:
            return None
        _change_lane(walk, sequence, place, found)
        place = found


def _come_to(walk: Walk, lane: Lane, step: LaneStep) -> None:
    """The run comes to a step at the walk's moment."""
    run = walk.run
    # A step may look at when it was come to.
    walk.run = run.at(lane.id, step.id, walk.moment, run.due_at)
    walk.effects.append(CameTo(step=step.id, at=walk.moment, lap=run.lap))
    settled = step.due(walk)
    walk.run = run.at(lane.id, step.id, walk.moment, settled.at, settled.moves)


def _goes_on(walk: Walk, step: LaneStep, *, arrived: bool) -> bool:
    """Whether the run goes on from the step where it stands; the walk's moment is when. `arrived`:
    it has stood there since an earlier walk."""
    due = walk.run.due_at
    assert due is not None
    if due <= walk.now:
        walk.moment = due if walk.now - due <= LATE else walk.now
    if step.is_over(walk):
        return True
    anew = step.seen_anew(walk) if arrived else None
    if anew is not None:
        moved = walk.run.moved + anew.moves
        walk.run = replace(walk.run, due_at=anew.at, moved=moved)
        due = anew.at
        walk.moment = max(walk.moment, min(due, walk.now))
    return due <= walk.now


def _change_lane(walk: Walk, sequence: SequenceDocument, place: Place, target: Place) -> None:
    """What is reached by a jump answers no act any more; one that may come back here again makes what
    follows another visit of its steps."""
    again = reaches(sequence, target, place)
    if again or walk.run.act:
        walk.run = replace(walk.run, act="", lap=walk.run.lap + (1 if again else 0))


def _goal_reached(walk: Walk, sequence: SequenceDocument) -> Goal | None:
    """The first goal that is reached by now and was not before."""
    for goal in sequence.goals:
        if goal.id not in walk.run.goals and _is_reached(goal, walk):
            return goal
    return None


def _is_reached(goal: Goal, walk: Walk) -> bool:
    entered = walk.journey.entered_at
    if goal.within_days is not None and entered is not None:
        last = after(entered, Duration(amount=goal.within_days, unit="days"), walk.zone)
        if walk.now > last:
            return False
    if not goal.event:
        return goal.when is not None and walk.fits(goal.when)
    return any(
        one.what == "event"
        and one.about == goal.event
        and one.at <= walk.now
        and (entered is None or one.at >= entered)
        for one in walk.person.happened
    )


def _by_goal(walk: Walk, sequence: SequenceDocument, goal: Goal) -> Place | None:
    """Where a goal that is reached leads; None: the run ends."""
    run = walk.run
    walk.moment = walk.now
    _count_goal(walk, goal, stays=False)
    if run.step is not None and run.due_at is not None:
        walk.effects.append(WentOn(step=run.step, at=walk.now, lap=run.lap, way="goal"))
    if goal.then.to != "lane":
        return None
    target = place_of(sequence, goal.then.lane or "", goal.then.step)
    here = place_of(sequence, run.lane, run.step)
    if target is not None and here is not None:
        _change_lane(walk, sequence, here, target)
    return target


def _count_goal(walk: Walk, goal: Goal, *, stays: bool) -> None:
    name = goal.name or goal.event
    walk.effects.append(ReachedGoal(goal=goal.id, name=name, at=walk.now, stays=stays))
    walk.run = replace(walk.run, goals=(*walk.run.goals, goal.id))


def _leads_back(walk: Walk, sequence: SequenceDocument, goal: Goal) -> bool:
    """Whether a goal would move the run to what it has passed, which it may only where it says so."""
    if goal.then.to != "lane" or goal.may_lead_back or walk.run.step is None:
        return False
    target = place_of(sequence, goal.then.lane or "", goal.then.step)
    here = place_of(sequence, walk.run.lane, walk.run.step)
    return target is not None and here is not None and reaches(sequence, target, here)


def _reason_to_leave(walk: Walk, step: LaneStep, sequence: SequenceDocument) -> EndReason | None:
    """Whether the person leaves before `step`: checked before every step."""
    if step.promised(walk):
        return None
    if sequence.leaving.when is not None and walk.fits(sequence.leaving.when):
        return "excluded"
    door = sequence.door(walk.journey.door) if walk.journey.door else None
    if door is not None and not door.stays and not walk.fits(door.only):
        return "no_longer_fits"
    if sequence.list is None:
        # Its emails are refused when they are queued; pre-flight does not let it be turned on.
        return None
    state = walk.person.membership(sequence.list)
    if not step.needs_list(walk):
        return "unsubscribed" if has_left(state) else None
    barred = barrier(False, sequence.list, state, walk.person.suppressed)
    return None if barred == "no_list" else barred


def _ended(walk: Walk, reason: EndReason) -> Advanced:
    run = replace(walk.run, ended=reason, due_at=None, moved=())
    effects = (*walk.effects, Ended(reason=reason, at=walk.moment))
    return Advanced(run=run, effects=effects, person=walk.person)
