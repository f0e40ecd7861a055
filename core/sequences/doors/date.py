"""A date of somebody's comes near, or has passed."""

from collections.abc import Iterator
from datetime import datetime, time
from typing import Literal
from zoneinfo import ZoneInfo

from pydantic import Field

from ...delivering import date_moments
from ...documents import Finding
from ...people import Catalogue
from ..steps import date_in_words
from .base import BaseDoor, DoorCheck


class DateDoor(BaseDoor):
    """So many days after a date field (before it where negative), at a clock time where the person
    is; once, or every year. 29 February is the 28th in other years."""

    kind: Literal["date"] = "date"
    field: str | None = None
    days: int = Field(default=0, ge=-366, le=3650)
    at: time = time(9)
    yearly: bool = False

    def moments(
        self, stored: str, zone: ZoneInfo, since: datetime, until: datetime
    ) -> Iterator[datetime]:
        """When somebody with this date comes in, after `since` and up to `until`."""
        yield from date_moments(
            stored,
            days=self.days,
            clock=self.at,
            yearly=self.yearly,
            zone=zone,
            since=since,
            until=until,
        )

    def check(self, at: DoorCheck) -> Iterator[Finding]:
        """It has to be a date; every year needs another answer than once only."""
        yield from super().check(at)
        target = at.catalogue.fields.get(self.field or "")
        if target is None or target.type != "date":
            yield self.unfinished("No date field is chosen for this door.", "Choose a date field.")

    def named(self, catalogue: Catalogue) -> str:
        """3 days before Visit date, at 09:00"""
        each = ", every year" if self.yearly else ""
        return f"{date_in_words(self.days, self.field, catalogue)}, at {self.at:%H:%M}{each}"
