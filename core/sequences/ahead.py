"""What will go out to somebody: all their runs together on an imagined clock, by `advance` alone."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

from ..delivering import Move, NoTimeFits
from ..documents import value
from ..people import Person
from .advance import Circle, advance
from .document import SequenceDocument
from .effects import SendMessage
from .journey import Journey, RunState

_MOST = 400
"""Times that one person's runs are looked at: a year of daily steps."""


@value
class Coming:
    """An email that will go out, if nothing happens meanwhile."""

    sequence: str
    step: str
    message: str
    at: datetime
    asked_for: bool
    moves: tuple[Move, ...] = ()


@dataclass(frozen=True)
class UnderWay:
    """A run that goes on, with the document and what it looks at."""

    run: RunState
    document: SequenceDocument
    journey: Journey


@value
class Altered:
    """What another document would alter for an email."""

    message: str
    before: int = 0
    """How many would get it, and how many then."""
    after: int = 0
    at_another_time: int = 0
    """How many would get it all the same, at another time."""


def altered(ways: Iterable[tuple[Sequence[Coming], Sequence[Coming]]]) -> tuple[Altered, ...]:
    """What becomes of the emails of people, each as it would be and as it would be then; only what differs,
    the greatest difference first."""
    found: dict[str, Altered] = {}
    for before, after in ways:
        for message in {one.message for one in (*before, *after)}:
            was = [one.at for one in before if one.message == message]
            then = [one.at for one in after if one.message == message]
            if was == then:
                continue
            line = found.setdefault(message, Altered(message=message))
            found[message] = replace(
                line,
                before=line.before + len(was),
                after=line.after + len(then),
                at_another_time=line.at_another_time
                + sum(1 for one, other in zip(was, then, strict=False) if one != other),
            )
    ordered = sorted(found.values(), key=lambda one: (-abs(one.after - one.before), one.message))
    return tuple(ordered)


WEEKS = 4
"""How far back what is expected looks."""


def expected_by_day(counts: Mapping[date, int], first: date, days: int) -> dict[date, int]:
    """How many of something that comes from outside a day will bring: the mean of the same weekday over
    the last weeks before `first`, which are all in `counts` (common practice: a seasonal mean)."""
    found = {}
    for n in range(days):
        day = first + timedelta(days=n)
        same = [first - timedelta(days=7 * back - n % 7) for back in range(1, WEEKS + 1)]
        found[day] = round(sum(counts.get(one, 0) for one in same) / WEEKS)
    return found


def ahead_of(
    person: Person, runs: Sequence[UnderWay], now: datetime, until: datetime
) -> tuple[Coming, ...]:
    """The emails that go out to `person` by all their runs together, after `now` and up to `until`, in
    their order. The gap between two emails counts over all of them; of two that are due together that of
    the higher priority goes first."""
    states = [one.run for one in runs]
    found: list[Coming] = []
    moment = now
    for _ in range(_MOST):
        due = [
            (state.due_at or now, -runs[n].document.priority, n)
            for n, state in enumerate(states)
            if state.ended is None and (state.due_at or now) <= until
        ]
        if not due:
            break
        at, _, n = min(due)
        moment = max(moment, at)
        before, one = states[n], runs[n]
        try:
            result = advance(before, one.document, person, moment, one.journey)
        except (NoTimeFits, Circle):
            states[n] = replace(before, ended="step_gone")
            continue
        moved = before.moved
        for effect in result.effects:
            if isinstance(effect, SendMessage):
                found.append(
                    Coming(
                        sequence=one.journey.sequence_id,
                        step=effect.step,
                        message=effect.message,
                        at=effect.at,
                        asked_for=bool(effect.act),
                        moves=moved if effect.step == before.step else (),
                    )
                )
        states[n], person = result.run, result.person
        if result.run.due_at is not None and result.run.due_at <= moment and result.run == before:
            # Nothing has changed: it would be looked at for ever.
            states[n] = replace(result.run, due_at=moment + timedelta(hours=6))
    return tuple(one for one in found if one.at <= until)
