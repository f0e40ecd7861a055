"""When things happen: exact and nominal durations, and the sentence for a wait.

RFC 5545 3.3.6: hours and minutes are exact, days and weeks nominal: the same clock time
in the person's zone. 3.3.5: a local time that does not exist is read with the offset
before the gap; one that exists twice is the first of the two.
"""

from datetime import UTC, datetime, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from pydantic import Field

from ..documents import Frozen

WaitUnit = Literal["minutes", "hours", "days", "weeks"]


class Duration(Frozen):
    """An amount of time as a specialist says it."""

    amount: int = Field(ge=0, le=3650)
    unit: WaitUnit

    def __str__(self) -> str:
        return f"{self.amount} {self.unit[:-1] if self.amount == 1 else self.unit}"


def after_gap(wanted: datetime, last: datetime | None, days: int, zone: ZoneInfo) -> datetime:
    """When an email wanted at `wanted` may go to somebody who gets at most one in `days` days,
    the last at `last` (None: none yet): the same clock time, so many days after it."""
    if last is None or days <= 0:
        return wanted
    return max(wanted, after(last, Duration(amount=days, unit="days"), zone))


def after(start: datetime, duration: Duration, zone: ZoneInfo) -> datetime:
    """The moment `duration` after `start` (aware) for a person in `zone`, in UTC."""
    match duration.unit:
        case "minutes":
            return start.astimezone(UTC) + timedelta(minutes=duration.amount)
        case "hours":
            return start.astimezone(UTC) + timedelta(hours=duration.amount)
        case "days":
            days = duration.amount
        case "weeks":
            days = 7 * duration.amount
    if days == 0:
        return start.astimezone(UTC)
    wall = start.astimezone(zone).replace(tzinfo=None) + timedelta(days=days)
    # fold=0 is the first of two, and the offset before a gap (PEP 495).
    return wall.replace(tzinfo=zone, fold=0).astimezone(UTC)
