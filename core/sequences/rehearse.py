"""Rehearsal: a person's way through a sequence on an imagined clock, by the very rules that run live."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from ..delivering import Duration, Move, NoTimeFits, after
from ..documents import Frozen
from ..people import Happening, MembershipState, Person
from .advance import Circle, advance, begin
from .document import SequenceDocument
from .effects import Acted, CameTo, Ended, ReachedGoal, SendMessage, WentOn
from .graph import place_of, places_without_end
from .journey import Journey

FURTHEST = timedelta(days=800)
_MOST_ENTRIES = 3000


class Assumption(Frozen):
    """Something that is assumed to happen so long after the entry."""

    kind: Literal["confirms", "leaves_list", "event", "tag", "no_tag", "field"]
    about: str = ""
    """Name of the event, id of the tag, key of the field; the list is the sequence's."""
    value: str = ""
    """Of a field: what it becomes."""
    after: Duration


class Entry(Frozen):
    """One line of a rehearsal: what happens, when (aware), and why."""

    kind: Literal["enters", "sends", "waits", "goes", "acts", "goal", "ends", "assumed", "stuck"]
    at: datetime
    lane: str = ""
    step: str = ""
    message: str = ""
    """Of an email: its id."""
    says: str = ""
    """A branch, what an action did, a goal, why it ends."""
    until: datetime | None = None
    """Of a wait: when it is over."""
    moved: tuple[Move, ...] = ()
    """Of an email: what moved it."""


class Rehearsal(Frozen):
    """The whole way of one person."""

    entries: tuple[Entry, ...]
    cut: bool = False
    """Whether it goes on after what is shown."""
    endless: bool = False
    """Whether no way leads out from where it is then."""


def rehearse(
    sequence: SequenceDocument,
    lane_id: str | None,
    person: Person,
    start: datetime,
    journey: Journey,
    assumptions: Sequence[Assumption] = (),
    until: datetime | None = None,
) -> Rehearsal:
    """The way of `person` who enters a lane at `start`, by `advance` alone; nothing is sent or stored.

    `assumptions` happen to the person on the way. It ends at `until`, or once the run has ended.
    """
    lane = sequence.lane(lane_id)
    if lane is None:
        return Rehearsal(entries=())
    last = min(until or start + FURTHEST, start + FURTHEST)
    zone = ZoneInfo(person.time_zone)
    events = sorted(
        ((after(start, one.after, zone), one) for one in assumptions),
        key=lambda pair: pair[0],
    )
    entries = [Entry(kind="enters", at=start, lane=lane.id)]
    now = start
    while events and events[0][0] <= now:
        person = _assumed(entries, events.pop(0), person, sequence)
    run = begin(sequence, lane, person, now, journey)
    while len(entries) < _MOST_ENTRIES:
        try:
            result = advance(run, sequence, person, now, journey)
        except (NoTimeFits, Circle) as problem:
            entries.append(Entry(kind="stuck", at=now, lane=run.lane, says=str(problem)))
            return Rehearsal(entries=tuple(entries))
        entries += _entries(result.effects, sequence, run.moved)
        run, person = result.run, result.person
        if run.ended is not None or run.due_at is None:
            return Rehearsal(entries=tuple(entries))
        coming = min(run.due_at, events[0][0]) if events else run.due_at
        if coming > last:
            break
        now = max(now, coming)
        while events and events[0][0] <= now:
            person = _assumed(entries, events.pop(0), person, sequence)
    if run.step is not None and run.due_at is not None:
        entries.append(_waiting(run.lane, run.step, run.came_at or now, run.due_at, run.moved))
    place = place_of(sequence, run.lane, run.step)
    endless = place in places_without_end(sequence)
    return Rehearsal(entries=tuple(entries), cut=True, endless=endless)


def _entries(
    effects: Sequence[object], sequence: SequenceDocument, moved: tuple[Move, ...]
) -> Iterator[Entry]:
    came: dict[str, datetime] = {}
    for effect in effects:
        match effect:
            case CameTo(step=step, at=at):
                came[step] = at
                moved = ()
            case SendMessage():
                yield Entry(
                    kind="sends",
                    at=effect.at,
                    lane=_lane(sequence, effect.step),
                    step=effect.step,
                    message=effect.message,
                    moved=moved,
                )
            case Acted():
                yield Entry(
                    kind="acts",
                    at=effect.at,
                    lane=_lane(sequence, effect.step),
                    step=effect.step,
                    says=effect.sentence,
                )
            case WentOn(way="goal"):
                pass
            case WentOn(way=way) if way:
                yield Entry(
                    kind="goes",
                    at=effect.at,
                    lane=_lane(sequence, effect.step),
                    step=effect.step,
                    says=way,
                )
            case WentOn(step=step, at=at):
                found = next((one for one in sequence.steps if one.id == step), None)
                if found is not None and found.kind.startswith("wait"):
                    lane = _lane(sequence, step)
                    yield _waiting(lane, step, came.get(step, at), at, ())
            case ReachedGoal():
                yield Entry(kind="goal", at=effect.at, says=effect.name)
            case Ended():
                yield Entry(kind="ends", at=effect.at, says=effect.reason)


def _waiting(
    lane: str, step: str, since: datetime, until: datetime, moved: tuple[Move, ...]
) -> Entry:
    return Entry(kind="waits", at=since, lane=lane, step=step, until=until, moved=moved)


def _lane(sequence: SequenceDocument, step: str) -> str:
    lane = sequence.lane_of(step)
    return lane.id if lane else ""


def _assumed(
    entries: list[Entry],
    event: tuple[datetime, Assumption],
    person: Person,
    sequence: SequenceDocument,
) -> Person:
    at, one = event
    entries.append(Entry(kind="assumed", at=at, says=f"{one.kind}:{one.about}"))
    match one.kind:
        case "confirms" | "leaves_list":
            state: MembershipState = "subscribed" if one.kind == "confirms" else "unsubscribed"
            return replace(person, memberships={**person.memberships, sequence.list or "": state})
        case "event":
            happened = Happening(what="event", about=one.about, at=at)
            return replace(person, happened=(*person.happened, happened))
        case "tag":
            return replace(person, tags=person.tags | {one.about})
        case "no_tag":
            return replace(person, tags=person.tags - {one.about})
        case "field":
            return replace(person, values={**person.values, one.about: one.value})
