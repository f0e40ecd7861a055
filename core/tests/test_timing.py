"""Waits against python-dateutil, an independent implementation, and RFC 5545's own words."""

from datetime import UTC, datetime
from unittest import TestCase
from zoneinfo import ZoneInfo

from dateutil import tz
from dateutil.relativedelta import relativedelta
from hypothesis import given
from hypothesis import strategies as st

from core.delivering import Duration, after

# Zones with odd days: half-hour offsets and half-hour daylight saving, a skipped day, the
# southern hemisphere, a change at midnight, one without any change.
ZONES = [
    "Europe/London",
    "America/New_York",
    "Australia/Lord_Howe",
    "Asia/Kathmandu",
    "Pacific/Apia",
    "America/Santiago",
    "Africa/Cairo",
    "Asia/Tokyo",
]


class Waits(TestCase):
    @given(
        # dateutil knows no changes of clocks after 2037.
        st.datetimes(datetime(2005, 1, 1), datetime(2029, 1, 1)),
        st.sampled_from(ZONES),
        st.integers(0, 400),
        st.sampled_from(["minutes", "hours", "days", "weeks"]),
    )
    def test_the_same_as_dateutil(
        self, moment: datetime, zone: str, amount: int, unit: str
    ) -> None:
        start = moment.replace(tzinfo=UTC)
        got = after(
            start, Duration.model_validate({"amount": amount, "unit": unit}), ZoneInfo(zone)
        )
        if unit in ("minutes", "hours") or amount == 0:
            expected = start + relativedelta(**{unit: amount})  # type: ignore[arg-type]
        else:
            local = start.astimezone(tz.gettz(zone)).replace(tzinfo=None)
            shifted = local + relativedelta(**{unit: amount})  # type: ignore[arg-type]
            wall = shifted.replace(tzinfo=tz.gettz(zone), fold=0)
            expected = tz.resolve_imaginary(wall).astimezone(tz.UTC)
        self.assertEqual(got, expected)

    def test_a_day_is_the_same_clock_time(self) -> None:
        # RFC 5545 3.3.6: a nominal day across a change of offset is not 24 hours.
        london = ZoneInfo("Europe/London")
        evening = datetime(2026, 3, 28, 19, 0, tzinfo=london)
        self.assertEqual(
            after(evening, Duration(amount=1, unit="days"), london),
            datetime(2026, 3, 29, 19, 0, tzinfo=london),
        )
        passed = after(evening, Duration(amount=1, unit="days"), london) - evening.astimezone(UTC)
        self.assertEqual(passed.total_seconds(), 23 * 3600)

    def test_hours_are_exact(self) -> None:
        london = ZoneInfo("Europe/London")
        evening = datetime(2026, 3, 28, 19, 0, tzinfo=london)
        later = after(evening, Duration(amount=24, unit="hours"), london)
        self.assertEqual(later.astimezone(london).hour, 20)

    def test_a_time_that_does_not_exist_is_read_with_the_offset_before(self) -> None:
        # RFC 5545 3.3.5: 2007-03-11 02:30 in New York means 03:30 EDT.
        new_york = ZoneInfo("America/New_York")
        start = datetime(2007, 3, 10, 2, 30, tzinfo=new_york)
        self.assertEqual(
            after(start, Duration(amount=1, unit="days"), new_york),
            datetime(2007, 3, 11, 7, 30, tzinfo=UTC),
        )

    def test_a_time_that_exists_twice_is_the_first(self) -> None:
        # RFC 5545 3.3.5: 2007-11-04 01:30 in New York means 01:30 EDT (UTC-4).
        new_york = ZoneInfo("America/New_York")
        start = datetime(2007, 11, 3, 1, 30, tzinfo=new_york)
        self.assertEqual(
            after(start, Duration(amount=1, unit="days"), new_york),
            datetime(2007, 11, 4, 5, 30, tzinfo=UTC),
        )
