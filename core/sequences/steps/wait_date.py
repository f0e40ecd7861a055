"""Wait until some days before or after a date of the person's."""

from collections.abc import Iterator, Mapping
from datetime import datetime, time, timedelta
from typing import Literal

from pydantic import Field

from ...delivering import Settled, date_moments
from ...documents import Finding
from ...people import Catalogue
from ..journey import Walk
from ..ways import ON, Way
from .base import Branch, LaneStep, StepCheck

_EVER = timedelta(days=366 * 120)


class WaitDateStep(LaneStep):
    """Wait until so many days after a date field (before it where negative), at a clock time where
    the person is; `otherwise` where the date is missing or that moment has passed."""

    kind: Literal["wait_date"] = "wait_date"
    field: str | None = None
    days: int = Field(default=0, ge=-3650, le=3650)
    at: time = time(9)
    yearly: bool = False
    """Whether the next return of the date counts, whatever its year."""
    otherwise: Way = ON

    def due(self, walk: Walk) -> Settled:
        """That moment; now, where there is none to come."""
        return Settled(at=self._moment(walk, walk.moment) or walk.moment)

    def seen_anew(self, walk: Walk) -> Settled | None:
        """The date may have changed, or be gone."""
        came, due = walk.run.came_at, walk.run.due_at
        if came is None or due is None or due <= came:
            return None
        return Settled(at=self._moment(walk, came) or walk.moment)

    def _moment(self, walk: Walk, since: datetime) -> datetime | None:
        """The first such moment at `since` or later."""
        moments = date_moments(
            self._stored(walk),
            days=self.days,
            clock=self.at,
            yearly=self.yearly,
            zone=walk.zone,
            since=since - timedelta(seconds=1),
            until=since + (timedelta(days=800) if self.yearly else _EVER),
        )
        return min(moments, default=None)

    def _stored(self, walk: Walk) -> str:
        target = walk.journey.catalogue.fields.get(self.field or "")
        return str(walk.person.values.get(target.key) or "") if target else ""

    def go(self, walk: Walk) -> str:
        """By the date where it has one to wait for; otherwise where there was none to come."""
        came = walk.run.came_at
        moment = self._moment(walk, came) if came else None
        return "date" if moment is not None and moment <= walk.now else "otherwise"

    def branches(self) -> tuple[Branch, ...]:
        """Once the date has come, and otherwise."""
        return Branch("date", "the date came"), Branch(
            "otherwise", "no date, or past", self.otherwise
        )

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """It has to be a date."""
        target = at.catalogue.fields.get(self.field or "")
        if target is None or target.type != "date":
            yield self.unfinished("No date field is chosen to wait for.", "Choose a date field.")
        yield from self.nothing_follows(at)

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """wait until 3 days before Visit date, at 10:00"""
        return f"wait until {date_in_words(self.days, self.field, catalogue)}, at {self.at:%H:%M}"


def date_in_words(days: int, field: str | None, catalogue: Catalogue) -> str:
    """3 days before Visit date"""
    target = catalogue.fields.get(field or "")
    label = target.label if target else "a date that is not chosen"
    if days == 0:
        return f"the day of {label}"
    count = "1 day" if abs(days) == 1 else f"{abs(days)} days"
    return f"{count} {'before' if days < 0 else 'after'} {label}"
