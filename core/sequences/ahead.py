"""What will go out to somebody: all their runs together on an imagined clock, by `advance` alone."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from ..documents import value
from ..people import Person
from .advance import Circle, advance
from .document import SequenceDocument
from .effects import SendMessage
from .journey import Journey, RunState
from .sending import Move, NoTimeFits

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
            states[n] = before.model_copy(update={"ended": "step_gone"})
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
                        asked_for=effect.at_once,
                        moves=moved if effect.step == before.step else (),
                    )
                )
        states[n], person = result.run, result.person
        if result.run.due_at is not None and result.run.due_at <= moment and result.run == before:
            # Nothing has changed: it would be looked at for ever.
            states[n] = result.run.model_copy(update={"due_at": moment + timedelta(hours=6)})
    return tuple(one for one in found if one.at <= until)
