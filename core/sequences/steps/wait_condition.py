"""Wait until a condition holds, at the most so long."""

from collections.abc import Iterator, Mapping
from datetime import datetime, timedelta
from typing import Literal

from ...conditions import Group, say
from ...deciding import check_condition
from ...delivering import Duration, Settled, after
from ...documents import Finding
from ...people import Catalogue
from ..journey import Walk
from ..ways import ON, Way
from .base import Branch, LaneStep, StepCheck

_LOOK_AGAIN = timedelta(hours=6)
"""A condition may come true as time passes, with nothing that happens to the person."""


class WaitConditionStep(LaneStep):
    """Wait until a condition holds for the person, at the most so long; then which way."""

    kind: Literal["wait_condition"] = "wait_condition"
    when: Group = Group()
    at_most: Duration = Duration(amount=7, unit="days")
    held: Way = ON
    otherwise: Way = ON

    @property
    def takes_time(self) -> bool:
        """Whoever it holds for already goes on at once."""
        return False

    def due(self, walk: Walk) -> Settled:
        """When it is looked at next: by then at the latest, whatever happens."""
        return Settled(at=min(self._last(walk), walk.now + _LOOK_AGAIN))

    def seen_anew(self, walk: Walk) -> Settled | None:
        """Looked at again later, as long as it does not hold."""
        due = walk.run.due_at
        return None if due is None or due > walk.now else self.due(walk)

    def is_over(self, walk: Walk) -> bool:
        """As soon as it holds, or so long has passed."""
        if walk.fits(self.when, walk.moment):
            return True
        last = self._last(walk)
        if walk.now >= last:
            # The look that is late was due before the time was up.
            walk.moment = max(walk.moment, last)
            return True
        if not walk.fits(self.when):
            return False
        # It came to hold after the run came here, if only by minutes.
        walk.moment = walk.now
        return True

    def _last(self, walk: Walk) -> datetime:
        return after(walk.run.came_at or walk.moment, self.at_most, walk.zone)

    def go(self, walk: Walk) -> str:
        """By what the condition is then."""
        return "held" if walk.fits(self.when, walk.moment) else "otherwise"

    def branches(self) -> tuple[Branch, ...]:
        """It came to hold, or did not within the time."""
        return Branch("held", "it holds", self.held), Branch(
            "otherwise", f"not within {self.at_most}", self.otherwise
        )

    def conditions(self) -> Iterator[Group]:
        """What it waits for."""
        yield self.when

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """There is something to wait for."""
        yield from check_condition(self.when, self.id, "wait", at.catalogue, at.unknown)
        if self.held.to == self.otherwise.to == "on":
            yield from self.nothing_follows(at)

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """wait until has the tag visited, at most 7 days"""
        return f"wait until {say(self.when, catalogue)}, at most {self.at_most}"
