"""Tables in parts, one for each month: rows are in the part of the month in which they were made,
which their UUIDv7 tells, so that a row's own key stays its only key.

What is written lands at one end, in small indexes, and a month that is over is never vacuumed
again. A part stands ready for each of the next months; what finds none lands in the rest, and
moves to its part once that is made.
"""

from datetime import UTC, date, datetime
from uuid import UUID

from django.db import connection, transaction
from psycopg import sql

AHEAD = 3
"""Months that are made before they come."""


def make_months(
    table: str, first: UUID | str | None = None, today: date | None = None
) -> list[str]:
    """Make the parts of a table that are missing, from the month of the row `first` (None: from this
    month) to some months ahead; their names."""
    today = today or datetime.now(UTC).date()
    month = (_month_of(UUID(str(first))) if first else today).replace(day=1)
    made = []
    for _ in range(_months_between(month, today) + AHEAD + 1):
        name = f"{table}_{month:%Y_%m}"
        if _make(table, name, month, _next(month)):
            made.append(name)
        month = _next(month)
    return made


def is_parted(table: str) -> bool:
    """Whether the table is there, and in parts."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT relkind = 'p' FROM pg_class WHERE oid = to_regclass(%s)", [table])
        row = cursor.fetchone()
    return bool(row and row[0])


def bound(month: date) -> UUID:
    """The least UUIDv7 of a month that begins in UTC (RFC 9562, 5.7: 48 bits of milliseconds)."""
    begins = datetime(month.year, month.month, 1, tzinfo=UTC)
    return UUID(int=int(begins.timestamp() * 1000) << 80)


def bound_at(moment: datetime) -> UUID:
    """The least UUIDv7 of a moment."""
    return UUID(int=int(moment.timestamp() * 1000) << 80)


def _month_of(pk: UUID) -> date:
    return datetime.fromtimestamp((pk.int >> 80) / 1000, UTC).date()


def _months_between(first: date, last: date) -> int:
    return max(0, (last.year - first.year) * 12 + last.month - first.month)


def _next(month: date) -> date:
    return date(month.year + month.month // 12, month.month % 12 + 1, 1)


@transaction.atomic
def _make(table: str, name: str, begins: date, ends: date) -> bool:
    """By a function that belongs to the owner of the tables, since the role that serves can make none."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT to_regclass(%s) IS NOT NULL", [name])
        if cursor.fetchone()[0]:
            return False
        low, high = str(bound(begins)), str(bound(ends))
        cursor.execute("SELECT to_regprocedure('make_part(text, text, uuid, uuid)') IS NOT NULL")
        if cursor.fetchone()[0]:
            cursor.execute("SELECT make_part(%s, %s, %s, %s)", [table, name, low, high])
            return True
        # In migrations of before there was a function, which the owner carries out.
        names = {
            "table": sql.Identifier(table),
            "part": sql.Identifier(name),
            "rest": sql.Identifier(f"{table}_rest"),
            "low": sql.Literal(low),
            "high": sql.Literal(high),
        }
        for statement in _STATEMENTS:
            cursor.execute(sql.SQL(statement).format(**names))
    return True


_STATEMENTS = (
    "CREATE TEMPORARY TABLE moving ON COMMIT DROP AS "
    "SELECT * FROM {rest} WHERE id >= {low} AND id < {high}",
    "DELETE FROM {rest} WHERE id >= {low} AND id < {high}",
    "CREATE TABLE {part} PARTITION OF {table} FOR VALUES FROM ({low}) TO ({high})",
    "INSERT INTO {table} SELECT * FROM moving",
    "DROP TABLE moving",
)
