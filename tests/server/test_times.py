"""Times as they come out of PostgreSQL."""

from datetime import UTC, datetime, timedelta

from django.db import connection
from django.db.backends.postgresql.base import TIMESTAMPTZ_OID
from hypothesis import example, given
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as GeneratedCase
from psycopg.pq import Format

_PARTS = ("year", "month", "day", "hour", "minute")


class Times(GeneratedCase):
    @given(st.datetimes(datetime(1, 1, 2), datetime(9999, 12, 30)))
    @example(datetime(2024, 2, 29, 23, 59, 59, 999_999))
    @example(datetime(1582, 10, 10))
    def test_a_time_is_the_one_that_postgresql_takes_apart(self, naive: datetime) -> None:
        parts = ", ".join(f"extract({one} from t at time zone 'UTC')::int" for one in _PARTS)
        with connection.cursor() as cursor:
            cursor.execute(
                f"SELECT t, {parts}, extract(microseconds from t)::int "
                "FROM (SELECT %s::timestamptz AS t) AS one",
                [f"{naive.isoformat()}+00:00"],
            )
            found, year, month, day, hour, minute, microseconds = cursor.fetchone()
        self.assertIs(found.tzinfo, UTC)
        begun = datetime(year, month, day, hour, minute, tzinfo=UTC)
        self.assertEqual(found, begun + timedelta(microseconds=microseconds))
        self.assertEqual(found.replace(tzinfo=None), naive)

    def test_none_is_none_and_the_compiled_loader_is_there(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute("SELECT NULL::timestamptz")
            self.assertEqual(cursor.fetchone(), (None,))
        assert connection.connection is not None
        loader = connection.connection.adapters.get_loader(TIMESTAMPTZ_OID, Format.TEXT)
        self.assertEqual(loader.__module__, "server.config.times")
