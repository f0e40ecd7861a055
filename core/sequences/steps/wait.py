"""Wait for a duration."""

from collections.abc import Iterator, Mapping
from typing import Literal

from ...delivering import Duration, Settled, after
from ...documents import Finding
from ...people import Catalogue
from ..journey import Walk
from .base import LaneStep, StepCheck


class WaitStep(LaneStep):
    """Wait for a duration."""

    kind: Literal["wait"] = "wait"
    duration: Duration

    @property
    def takes_time(self) -> bool:
        """Unless it waits for no time at all."""
        return self.duration.amount > 0

    def due(self, walk: Walk) -> Settled:
        """So long after it came, in the person's zone."""
        return Settled(at=after(walk.moment, self.duration, walk.zone))

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """Something comes after it."""
        yield from self.nothing_follows(at)

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """wait 2 days"""
        return f"wait {self.duration}"
