"""When things are due: exact and nominal durations, clock times of weekdays, and dates of fields.

RFC 5545 3.3.6: hours and minutes are exact, days and weeks nominal: the same clock time
in the person's zone. 3.3.5: a local time that does not exist is read with the offset
before the gap; one that exists twice is the first of the two.
"""

from collections.abc import Iterator
from datetime import UTC, date, datetime, time, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from pydantic import Field

from ..documents import Frozen

WaitUnit = Literal["minutes", "hours", "days", "weeks"]
WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
_DAY = timedelta(days=1)


class Duration(Frozen):
    """An amount of time as a specialist says it."""

    amount: int = Field(ge=0, le=3650)
    unit: WaitUnit

    def __str__(self) -> str:
        return f"{self.amount} {self.unit[:-1] if self.amount == 1 else self.unit}"


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
    return at_wall(wall, zone)


def at_wall(wall: datetime, zone: ZoneInfo) -> datetime:
    """The moment, in UTC, at which a clock in `zone` shows `wall` (naive)."""
    # fold=0 is the first of two, and the offset before a gap (PEP 495).
    return wall.replace(tzinfo=zone, fold=0).astimezone(UTC)


def at_clock(day: date, clock: time, zone: ZoneInfo) -> datetime:
    """The moment, in UTC, of a clock time on a date in `zone`."""
    return at_wall(datetime.combine(day, clock), zone)


def next_clock_time(
    start: datetime, weekdays: tuple[int, ...], clock: time, zone: ZoneInfo
) -> datetime:
    """The first moment at `start` or later when it is `clock` on one of the `weekdays` (1 is
    Monday; none: any day) in `zone`, in UTC."""
    day = start.astimezone(zone).date() - _DAY
    while True:
        # A clock time in a gap may belong to the day before: the first that is late enough.
        moment = at_clock(day, clock, zone)
        if moment >= start and (not weekdays or day.isoweekday() in weekdays):
            return moment
        day += _DAY


def clock_times_between(
    since: datetime, until: datetime, weekdays: tuple[int, ...], clock: time, zone: ZoneInfo
) -> Iterator[datetime]:
    """Every such moment after `since`, up to and including `until`."""
    moment = next_clock_time(since, weekdays, clock, zone)
    while moment <= until:
        if moment > since:
            yield moment
        moment = next_clock_time(moment + timedelta(seconds=1), weekdays, clock, zone)


def date_in_year(stored: str, year: int) -> date | None:
    """A stored date (ISO 8601; "--MM-DD" where no year is known) in another year.

    29 February is kept on the 28th in a year that has none, so that nobody is left out.
    """
    month, day = _month_and_day(stored) or (0, 0)
    if (month, day) == (2, 29) and not _is_leap(year):
        day = 28
    try:
        return date(year, month, day)
    except ValueError:
        return None


def stored_date(stored: str) -> date | None:
    """A date as a field keeps it, with its year; None where there is none."""
    try:
        return date.fromisoformat(stored)
    except ValueError:
        return None


def date_moments(
    stored: str,
    *,
    days: int,
    clock: time,
    yearly: bool,
    zone: ZoneInfo,
    since: datetime,
    until: datetime,
) -> Iterator[datetime]:
    """The moments, after `since` and up to `until`, that lie `days` days after a stored date (before
    it where negative) at a clock time; in its own year, or in every year.

    Somebody without a year has a date in every year, and none where only its own year counts.
    """
    if not yearly:
        day = stored_date(stored)
        dates = [day] if day else []
    else:
        years = range((since - _DAY).year - 1, (until + _DAY).year + 2)
        dates = [one for year in years if (one := date_in_year(stored, year))]
    for day in dates:
        try:
            moment = at_clock(day + timedelta(days=days), clock, zone)
        except OverflowError:
            continue
        if since < moment <= until:
            yield moment


def _month_and_day(stored: str) -> tuple[int, int] | None:
    text = stored.removeprefix("--") if stored.startswith("--") else stored[5:]
    month, dash, day = text.partition("-")
    ok = dash and month.isdigit() and day.isdigit()
    return (int(month), int(day)) if ok else None


def _is_leap(year: int) -> bool:
    return year % 4 == 0 and (year % 100 != 0 or year % 400 == 0)


def weekdays_in_words(weekdays: tuple[int, ...]) -> str:
    """Days of the week as people say them: Monday to Friday, or each by its name."""
    days = sorted(set(weekdays))
    if not days or len(days) == 7:
        return "every day"
    names = [WEEKDAYS[day - 1] for day in days]
    if len(days) > 2 and days == list(range(days[0], days[-1] + 1)):
        return f"{names[0]} to {names[-1]}"
    return " and ".join(filter(None, [", ".join(names[:-1]), names[-1]]))
