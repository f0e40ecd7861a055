"""Wait for a duration."""

from collections.abc import Iterator
from datetime import datetime
from typing import Literal
from zoneinfo import ZoneInfo

from ...documents import Finding
from ...people import Catalogue
from ..timing import Duration, after
from .base import LaneStep, StepCheck


class WaitStep(LaneStep):
    """Wait for a duration."""

    kind: Literal["wait"] = "wait"
    duration: Duration

    def due(self, came_at: datetime, zone: ZoneInfo) -> datetime:
        """So long after it came, in the person's zone."""
        return after(came_at, self.duration, zone)

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """Something comes after it."""
        if at.is_last:
            yield Finding(
                code="wait_at_end",
                place=self.id,
                sentence="The lane ends with a wait that nothing follows.",
                fix="Remove it, or add what comes after.",
                stops=False,
            )

    def describe(self, catalogue: Catalogue) -> str:
        """wait 2 days"""
        return f"wait {self.duration}"
