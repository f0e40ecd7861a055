"""When marketing may go: sending hours, quiet dates, the gap, against dateutil and `holidays`."""

from datetime import UTC, date, datetime, time, timedelta
from unittest import TestCase
from zoneinfo import ZoneInfo

import holidays
from dateutil import rrule, tz
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from core.delivering import (
    Duration,
    NoTimeFits,
    SendingTimes,
    after,
    clock_times_between,
    date_moments,
    next_clock_time,
    settle,
)
from core.tests.test_timing import ZONES

LONDON = ZoneInfo("Europe/London")
OFFICE = SendingTimes(weekdays=(1, 2, 3, 4, 5), begins=time(9), ends=time(17))
moments = st.datetimes(datetime(2010, 1, 1), datetime(2034, 1, 1)).map(
    lambda one: one.replace(tzinfo=UTC)
)
zones = st.sampled_from(ZONES)
clocks = st.times().map(lambda one: one.replace(second=0, microsecond=0))


@st.composite
def sending_times(draw: st.DrawFn) -> SendingTimes:
    """Hours that are open for at least two hours on at least one day, and some quiet dates."""
    begins = draw(st.integers(0, 21))
    ends = draw(st.integers(begins + 2, 24))
    quiet = draw(st.lists(st.dates(date(2009, 12, 1), date(2034, 3, 1)), max_size=6))
    return SendingTimes(
        weekdays=tuple(draw(st.sets(st.integers(1, 7), min_size=1))),
        begins=time(begins) if begins else None,
        ends=time(ends) if ends < 24 else None,
        quiet_dates=tuple(quiet),
        quiet_yearly=tuple(draw(st.sets(st.sampled_from(["12-25", "12-26", "01-01", "02-29"])))),
        holidays_of=draw(st.sampled_from(["", "GB", "DE", "JP"])),
    )


def local(text: str, zone: ZoneInfo = LONDON) -> datetime:
    return datetime.fromisoformat(text).replace(tzinfo=zone)


class Settling(TestCase):
    @given(moments, zones, sending_times(), st.none() | st.integers(-20, 10), st.integers(0, 9))
    def test_never_earlier_always_inside_hours_never_on_a_quiet_date_never_in_the_gap(
        self, wanted: datetime, name: str, times: SendingTimes, since: int | None, days: int
    ) -> None:
        zone = ZoneInfo(name)
        last = None if since is None else wanted + timedelta(days=since)
        gap = Duration(amount=days, unit="days")
        got = settle(wanted, times, zone, last=last, gap=gap)
        self.assertGreaterEqual(got.at, wanted)
        self.assertLessEqual(got.at - wanted, timedelta(days=60))
        # The local time as another implementation has it.
        wall = got.at.astimezone(tz.gettz(name)).replace(tzinfo=None)
        self.assertIn(wall.isoweekday(), times.weekdays)
        self.assertGreaterEqual(wall.time(), times.begins or time(0))
        if times.ends:
            self.assertLess(wall.time(), times.ends)
        self.assertNotIn(wall.date(), times.quiet_dates)
        for one in times.quiet_yearly:
            kept = "02-28" if one == "02-29" and wall.year % 4 else one
            self.assertNotEqual(f"{wall:%m-%d}", kept)
        if times.holidays_of:
            self.assertNotIn(wall.date(), holidays.country_holidays(times.holidays_of))
        if last is not None and days:
            self.assertGreaterEqual(got.at, after(last, gap, zone))

    @given(moments, zones, sending_times())
    def test_each_move_begins_where_the_one_before_ended(
        self, wanted: datetime, name: str, times: SendingTimes
    ) -> None:
        got = settle(wanted, times, ZoneInfo(name))
        at = wanted
        for move in got.moves:
            self.assertEqual(move.wanted, at)
            self.assertGreater(move.to, at)
            self.assertTrue(move.why)
            at = move.to
        self.assertEqual(at, got.at)
        self.assertEqual(settle(got.at, times, ZoneInfo(name)).moves, ())

    def test_monday_to_friday_nine_to_five_where_the_person_is(self) -> None:
        # Common practice. 18 December 2026 is a Friday.
        cases = [
            ("2026-12-18T21:14", "2026-12-21T09:00"),
            ("2026-12-18T16:59", "2026-12-18T16:59"),
            ("2026-12-18T17:00", "2026-12-21T09:00"),
            ("2026-12-21T08:59", "2026-12-21T09:00"),
        ]
        for zone in (LONDON, ZoneInfo("America/New_York"), ZoneInfo("Asia/Kathmandu")):
            for wanted, expected in cases:
                got = settle(local(wanted, zone), OFFICE, zone)
                self.assertEqual(got.at, local(expected, zone))
                self.assertEqual(
                    {one.by for one in got.moves}, set() if wanted == expected else {"hours"}
                )

    def test_what_falls_on_christmas_day_goes_the_day_after_at_the_same_time(self) -> None:
        # Common practice.
        times = SendingTimes(quiet_yearly=("12-25",))
        got = settle(local("2026-12-25T09:41"), times, LONDON)
        self.assertEqual(got.at, local("2026-12-26T09:41"))
        self.assertEqual([(one.by, one.why) for one in got.moves], [("quiet_date", "a quiet date")])

    def test_public_holidays_say_their_names(self) -> None:
        # England's bank holidays of 2026: 25 December, and 28 December for Boxing Day (gov.uk).
        times = SendingTimes(weekdays=(1, 2, 3, 4, 5), holidays_of="GB")
        got = settle(local("2026-12-25T10:00"), times, LONDON)
        self.assertEqual(got.moves[0].why, "Christmas Day")
        self.assertGreaterEqual(got.at, local("2026-12-28T00:00"))

    def test_a_gap_keeps_the_clock_time(self) -> None:
        last = local("2026-10-24T18:30")
        got = settle(
            local("2026-10-25T09:00"),
            SendingTimes(),
            LONDON,
            last=last,
            gap=Duration(amount=1, unit="days"),
        )
        # Across the end of summer time: a day is the same clock time (RFC 5545 3.3.6).
        self.assertEqual(got.at, local("2026-10-25T18:30"))
        self.assertEqual(got.moves[0].why, "at most one email every day")

    def test_where_nothing_fits_it_says_so(self) -> None:
        never = SendingTimes(
            quiet_dates=tuple(date(2026, 1, 1) + timedelta(days=n) for n in range(400))
        )
        with self.assertRaises(NoTimeFits):
            settle(local("2026-01-10T09:00"), never, LONDON)
        with self.assertRaises(NoTimeFits):
            settle(local("2026-01-10T09:00"), SendingTimes(weekdays=()), LONDON)
        far = Duration(amount=90, unit="days")
        with self.assertRaises(NoTimeFits):
            settle(
                local("2026-01-10T09:00"),
                SendingTimes(),
                LONDON,
                last=local("2026-01-10T08:00"),
                gap=far,
            )

    def test_what_cannot_be_meant_is_refused(self) -> None:
        for bad in (
            {"weekdays": [8]},
            {"begins": "17:00", "ends": "09:00"},
            {"quiet_yearly": ["13-40"]},
            {"holidays_of": "XX"},
        ):
            with self.assertRaises(ValidationError):
                SendingTimes.model_validate(bad)


class ClockTimes(TestCase):
    @given(moments, zones, st.sets(st.integers(1, 7)), clocks)
    def test_the_next_one_as_dateutil_finds_it(
        self, start: datetime, name: str, days: set[int], clock: time
    ) -> None:
        got = next_clock_time(start, tuple(days), clock, ZoneInfo(name))
        zone = tz.gettz(name)
        wall = start.astimezone(zone).replace(tzinfo=None) - timedelta(days=2)
        rule = rrule.rrule(
            rrule.DAILY,
            dtstart=wall.replace(hour=clock.hour, minute=clock.minute, second=0, microsecond=0),
            byweekday=[one - 1 for one in days] or None,
            count=20 if days else 5,
        )
        found = [
            tz.resolve_imaginary(one.replace(tzinfo=zone, fold=0)).astimezone(tz.UTC)
            for one in rule
        ]
        self.assertEqual(got, min(one for one in found if one >= start))

    def test_all_between_two_moments(self) -> None:
        since, until = local("2026-03-27T08:30"), local("2026-04-03T08:30")
        found = list(clock_times_between(since, until, (1, 5), time(8, 30), LONDON))
        self.assertEqual(found, [local("2026-03-30T08:30"), local("2026-04-03T08:30")])


class Dates(TestCase):
    def moments(self, stored: str, since: str, until: str, **more: object) -> list[datetime]:
        rule = {"days": 0, "clock": time(9), "yearly": False, "zone": LONDON, **more}
        return list(date_moments(stored, since=local(since), until=local(until), **rule))  # type: ignore[arg-type]

    def test_days_before_and_after(self) -> None:
        for days, expected in (
            (-3, "2026-06-07T09:00"),
            (0, "2026-06-10T09:00"),
            (1, "2026-06-11T09:00"),
        ):
            found = self.moments("2026-06-10", "2026-01-01T00:00", "2027-01-01T00:00", days=days)
            self.assertEqual(found, [local(expected)])

    def test_only_those_between(self) -> None:
        self.assertEqual(self.moments("2026-06-10", "2026-06-10T09:00", "2027-01-01T00:00"), [])
        self.assertEqual(self.moments("2026-06-10", "2026-06-01T09:00", "2026-06-10T08:59"), [])

    def test_every_year_and_29_february(self) -> None:
        # A stated rule: the 28th in years that have no 29 February.
        found = self.moments("1988-02-29", "2026-01-01T00:00", "2029-01-01T00:00", yearly=True)
        self.assertEqual(
            found,
            [local("2026-02-28T09:00"), local("2027-02-28T09:00"), local("2028-02-29T09:00")],
        )

    def test_three_days_before_new_year_lies_in_the_year_before(self) -> None:
        found = self.moments(
            "1990-01-02", "2026-12-01T00:00", "2027-02-01T00:00", yearly=True, days=-3
        )
        self.assertEqual(found, [local("2026-12-30T09:00")])

    def test_without_a_year(self) -> None:
        # ISO 8601:2000 5.2.1.3 d: --MM-DD, which vCard (RFC 6350 4.3.1) keeps for birthdays.
        at = ("2026-01-01T00:00", "2027-01-01T00:00")
        self.assertEqual(self.moments("--05-14", *at, yearly=True), [local("2026-05-14T09:00")])
        self.assertEqual(self.moments("--05-14", *at), [])

    def test_what_is_no_date_has_no_moment(self) -> None:
        at = ("2026-01-01T00:00", "2027-01-01T00:00")
        for stored in ("", "soon", "2026-02-31", "--13-01", "--", "2026"):
            self.assertEqual(self.moments(stored, *at), [], stored)
            self.assertEqual(self.moments(stored, *at, yearly=True), [], stored)
