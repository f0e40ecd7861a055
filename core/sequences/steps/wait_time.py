"""Wait until a clock time on one of some weekdays."""

from collections.abc import Iterator, Mapping
from datetime import time
from typing import Annotated, Literal

from pydantic import Field

from ...delivering import Settled, next_clock_time, weekdays_in_words
from ...documents import Finding
from ...people import Catalogue
from ..journey import Walk
from .base import LaneStep, StepCheck

Weekday = Annotated[int, Field(ge=1, le=7)]


class WaitTimeStep(LaneStep):
    """Wait until it is so late on one of these weekdays (1 is Monday; none: any day), where the
    person is. Somebody who comes at that very moment goes on at once."""

    kind: Literal["wait_time"] = "wait_time"
    weekdays: tuple[Weekday, ...] = ()
    at: time = time(9)

    def due(self, walk: Walk) -> Settled:
        """The next such moment in the person's zone."""
        return Settled(at=next_clock_time(walk.moment, self.weekdays, self.at, walk.zone))

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """Something comes after it."""
        yield from self.nothing_follows(at)

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """wait until Tuesday at 10:00"""
        days = f"{weekdays_in_words(self.weekdays)} " if self.weekdays else ""
        return f"wait until {days}at {self.at:%H:%M}".replace("  ", " ")
