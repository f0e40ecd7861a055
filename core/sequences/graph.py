"""Which step can follow which: for circles without time, and for jumps that lead back."""

from collections.abc import Iterator

from .document import Lane, SequenceDocument
from .ways import Way

Place = tuple[str, int]
"""A lane and the number of a step in it; the number of its steps stands for its end."""


def place_of(sequence: SequenceDocument, lane_id: str, step_id: str | None) -> Place | None:
    """Where a step (None: the first one) stands in a lane; None where one of them is gone."""
    lane = sequence.lane(lane_id)
    if lane is None:
        return None
    if step_id is None:
        return lane.id, 0
    number = sequence.number_of(lane.id, step_id)
    return None if number is None else (lane.id, number)


def target_of(sequence: SequenceDocument, way: Way, lane: Lane, number: int) -> Place | None:
    """Where a way out of a step leads; None: out of the sequence."""
    match way.to:
        case "on":
            return lane.id, number + 1
        case "end":
            return None
        case "lane":
            return place_of(sequence, way.lane or "", way.step)


def _next(sequence: SequenceDocument, place: Place) -> Iterator[Place]:
    lane = sequence.lane(place[0])
    if lane is None:
        return
    if place[1] >= len(lane.steps):
        found = target_of(sequence, lane.then, lane, place[1] - 1) if lane.then.to != "on" else None
        if found:
            yield found
        return
    step = lane.steps[place[1]]
    ways = [one.way for one in step.branches()] or [Way()]
    for way in ways:
        found = target_of(sequence, way, lane, place[1])
        if found:
            yield found


def reaches(sequence: SequenceDocument, start: Place, end: Place) -> bool:
    """Whether a run at `start` may come to `end` later."""
    seen: set[Place] = set()
    open_ = [start]
    while open_:
        place = open_.pop()
        if place == end:
            return True
        if place not in seen:
            seen.add(place)
            open_ += _next(sequence, place)
    return False


def places_without_end(sequence: SequenceDocument) -> set[Place]:
    """The places from which no way leads out of the sequence, however long one goes on: neither the end of a
    lane nor a step, neither a goal nor a condition by which people leave."""
    if sequence.leaving.when is not None or any(one.then.to == "end" for one in sequence.goals):
        return set()
    places = {(lane.id, number) for lane in sequence.lanes for number in range(len(lane.steps) + 1)}
    by_goal = [place_of(sequence, one.then.lane or "", one.then.step) for one in sequence.goals]
    before: dict[Place, set[Place]] = {}
    for place in places:
        for after in (*_next(sequence, place), *(one for one in by_goal if one)):
            before.setdefault(after, set()).add(place)
    open_ = [place for place in places if _leads_out(sequence, place)]
    ending: set[Place] = set()
    while open_:
        place = open_.pop()
        if place not in ending:
            ending.add(place)
            open_ += before.get(place, ())
    return places - ending


def _leads_out(sequence: SequenceDocument, place: Place) -> bool:
    """Whether the run may end at this very place."""
    lane = sequence.lane(place[0])
    if lane is None:
        return True
    if place[1] >= len(lane.steps):
        ways = [lane.then]
        if lane.then.to == "on":
            return True
    else:
        ways = [one.way for one in lane.steps[place[1]].branches()]
    return any(target_of(sequence, way, lane, place[1]) is None for way in ways)


def circles_without_time(sequence: SequenceDocument) -> Iterator[Place]:
    """A place of each circle that takes no time to go round."""
    done: set[Place] = set()

    def walk(start: Place) -> Iterator[Place]:
        path: list[Place] = [start]
        branches = [_timeless(sequence, start)]
        while branches:
            found = next(branches[-1], None)
            if found is None:
                branches.pop()
                done.add(path.pop())
            elif found in path:
                yield found
            elif found not in done:
                path.append(found)
                branches.append(_timeless(sequence, found))

    for lane in sequence.lanes:
        for number in range(len(lane.steps) + 1):
            if (lane.id, number) not in done:
                yield from walk((lane.id, number))


def _timeless(sequence: SequenceDocument, place: Place) -> Iterator[Place]:
    lane = sequence.lane(place[0])
    if lane and place[1] < len(lane.steps) and lane.steps[place[1]].takes_time:
        return
    yield from _next(sequence, place)


def places_reached(sequence: SequenceDocument, entries: Iterator[str]) -> set[Place]:
    """Every place that somebody may come to, who enters by the lanes named."""
    seen: set[Place] = set()
    open_: list[Place] = [(lane, 0) for lane in entries]
    while open_:
        place = open_.pop()
        if place not in seen:
            seen.add(place)
            open_ += _next(sequence, place)
    return seen
