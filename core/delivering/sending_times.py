"""When a marketing email may go: sending hours, quiet dates and the gap between two emails.

All in the person's time zone. An email that is wanted at another time moves, and each move says
what moved it, from when to when.
"""

from collections.abc import Mapping, Sequence
from datetime import date, datetime, time, timedelta
from functools import cached_property, lru_cache
from typing import Literal
from zoneinfo import ZoneInfo

import holidays
from pydantic import Field, field_validator, model_validator

from ..documents import Frozen, value
from .timing import Duration, after, at_clock, at_wall, date_in_year, next_clock_time

FURTHEST = timedelta(days=60)
"""An email that fits nowhere within so long is a problem, and is not sent."""
_MOST_MOVES = 400
_YEAR = 366
MovedBy = Literal["gap", "quiet_date", "hours", "limit", "retry"]
_ALL_DAYS = (1, 2, 3, 4, 5, 6, 7)


class SendingTimes(Frozen):
    """When emails go out, in the person's time zone: weekdays (1 is Monday), hours, quiet dates."""

    weekdays: tuple[int, ...] = _ALL_DAYS
    begins: time | None = None
    ends: time | None = None
    """Of the day's hours: from the first, until just before the second; None: the day's end."""
    quiet_dates: tuple[date, ...] = Field(default=(), max_length=400)
    quiet_yearly: tuple[str, ...] = Field(default=(), max_length=100)
    """Dates of every year, as MM-DD."""
    holidays_of: str = ""
    """The country (ISO 3166 alpha-2) whose public holidays are quiet; empty: none."""

    @field_validator("weekdays")
    @classmethod
    def _weekdays(cls, days: tuple[int, ...]) -> tuple[int, ...]:
        if any(day not in _ALL_DAYS for day in days):
            raise ValueError("weekdays go from 1 (Monday) to 7 (Sunday)")
        return tuple(sorted(set(days)))

    @field_validator("quiet_yearly")
    @classmethod
    def _yearly(cls, days: tuple[str, ...]) -> tuple[str, ...]:
        if any(date_in_year(f"--{day}", 2024) is None for day in days):
            raise ValueError("a yearly date is written MM-DD")
        return days

    @field_validator("holidays_of")
    @classmethod
    def _country(cls, country: str) -> str:
        if country and country not in holidays.list_supported_countries():
            raise ValueError("the public holidays of this country are not known")
        return country

    @model_validator(mode="after")
    def _hours(self) -> "SendingTimes":
        if self.begins and self.ends and self.begins >= self.ends:
            raise ValueError("the sending hours end before they begin")
        return self

    @cached_property
    def always(self) -> bool:
        """Whether emails may go at any time."""
        return self == SendingTimes()

    def why_quiet(self, day: date) -> str:
        """Why nothing goes out on a date; empty where it is no quiet date."""
        if day in self.quiet_dates:
            return "a quiet date"
        if any(date_in_year(f"--{one}", day.year) == day for one in self.quiet_yearly):
            return "a quiet date"
        if self.holidays_of:
            return _holidays(self.holidays_of, day.year).get(day, "")
        return ""

    def in_hours(self, wall: datetime) -> bool:
        """Whether a local time lies in the sending hours, whatever the date."""
        clock = wall.time()
        late_enough = self.begins is None or clock >= self.begins
        early_enough = self.ends is None or clock < self.ends
        return wall.isoweekday() in self.weekdays and late_enough and early_enough


def holiday_countries() -> tuple[str, ...]:
    """The countries (ISO 3166 alpha-2) whose public holidays are known."""
    return tuple(sorted(one for one in holidays.list_supported_countries() if len(one) == 2))


class Move(Frozen):
    """One move of an email to a later moment: what moved it, from when to when (aware)."""

    by: MovedBy
    why: str
    wanted: datetime
    to: datetime


@value
class Bound:
    """Nothing goes before `until` (aware): a limit of the hour, or the pause after a failed try."""

    by: MovedBy
    why: str
    until: datetime


@value
class Settled:
    """When an email goes, and what moved it there."""

    at: datetime
    moves: tuple[Move, ...] = ()


class NoTimeFits(Exception):
    """No time within 60 days fits the sending hours, quiet dates and the gap together."""

    def __init__(self) -> None:
        super().__init__(
            "no time within 60 days fits the sending hours, quiet dates and the gap between emails"
        )


@lru_cache(maxsize=256)
def _holidays(country: str, year: int) -> Mapping[date, str]:
    """The public holidays of a country in a year, with their names."""
    languages = holidays.country_holidays(country).supported_languages
    english = next((one for one in languages if one.startswith("en")), None)
    return dict(holidays.country_holidays(country, years=year, language=english))


def settle(
    wanted: datetime,
    times: SendingTimes,
    zone: ZoneInfo,
    *,
    last: datetime | None = None,
    gap: Duration | None = None,
    bounds: Sequence[Bound] = (),
) -> Settled:
    """When a marketing email that is wanted at `wanted` (aware) may go.

    `last`: when the person was last sent marketing; `gap`: what has to lie between two; `bounds`: what
    keeps it back besides. A moment on a quiet date moves to the same clock time on the next date that is
    not quiet, then to the hours, until nothing moves it any more. Raises NoTimeFits where that is never
    within 60 days.
    """
    moves: list[Move] = []
    at = wanted
    after_last = _gap_bound(last, gap, zone)
    kept_back = (*bounds, after_last) if after_last else tuple(bounds)
    while True:
        move = _next_move(at, times, zone, kept_back)
        if move is None:
            return Settled(at=at, moves=tuple(moves))
        if move.to - wanted > FURTHEST or len(moves) >= _MOST_MOVES:
            raise NoTimeFits
        moves.append(move)
        at = move.to


def longer_gap(gap: Duration | None, days: int) -> Duration | None:
    """The longer of the workspace's gap between two emails and the days that a person asked for."""
    if days and (gap is None or _days(gap) < days):
        return Duration(amount=days, unit="days")
    return gap if gap is not None and gap.amount else None


def never_fits(times: SendingTimes, gap: Duration | None, today: date) -> date | None:
    """A date within the next year on which an email that has to keep the gap would find no time to go;
    None: each finds one. Settings that have such a date are refused where they are made."""
    zone = ZoneInfo("UTC")
    clock = times.begins or time(0)
    for day in range(_YEAR):
        wanted = at_clock(today + timedelta(days=day), clock, zone)
        try:
            settle(wanted, times, zone, last=wanted, gap=gap)
        except NoTimeFits:
            return wanted.date()
    return None


def _days(gap: Duration) -> float:
    return gap.amount * {"minutes": 1 / 1440, "hours": 1 / 24, "days": 1, "weeks": 7}[gap.unit]


def _gap_bound(last: datetime | None, gap: Duration | None, zone: ZoneInfo) -> Bound | None:
    if last is None or gap is None or not gap.amount:
        return None
    why = f"at most one email every {gap if gap.amount > 1 else gap.unit[:-1]}"
    return Bound(by="gap", why=why, until=after(last, gap, zone))


def _next_move(
    at: datetime, times: SendingTimes, zone: ZoneInfo, bounds: Sequence[Bound]
) -> Move | None:
    for bound in bounds:
        if at < bound.until:
            return Move(by=bound.by, why=bound.why, wanted=at, to=bound.until)
    if times.always:
        return None
    wall = at.astimezone(zone).replace(tzinfo=None)
    quiet = times.why_quiet(wall.date())
    if quiet:
        day = wall
        while times.why_quiet(day.date()):
            day += timedelta(days=1)
            if day - wall > FURTHEST:
                raise NoTimeFits
        return Move(by="quiet_date", why=quiet, wanted=at, to=max(at, at_wall(day, zone)))
    if not times.in_hours(wall):
        return Move(by="hours", why="sending hours", wanted=at, to=_opening(at, times, zone))
    return None


def _opening(at: datetime, times: SendingTimes, zone: ZoneInfo) -> datetime:
    """The next moment after `at` at which the sending hours begin."""
    if not times.weekdays:
        raise NoTimeFits
    begins = times.begins or time(0)
    opening = next_clock_time(at, times.weekdays, begins, zone)
    if opening == at:
        # The clock jumps over the hours of this day.
        day = at.astimezone(zone).date() + timedelta(days=1)
        opening = next_clock_time(at_clock(day, time(0), zone), times.weekdays, begins, zone)
    return opening
