"""The least that storing rows can cost: COPY of the very rows, into tables with the same indexes."""

import time

from django.db import connection

ROUTED = (
    "submissions_submission",
    "people_subscriber",
    "people_tagging",
    "people_membership",
    "people_evidence",
    "people_fact",
    "sequences_run",
    "sequences_visit",
    "mail_send",
)
"""The tables that routing leaves rows in."""


def copy_seconds(tables: tuple[str, ...] = ROUTED) -> float:
    """Seconds to COPY all rows of these tables into empty ones like them."""
    seconds = 0.0
    with connection.cursor() as cursor:
        for table in tables:
            cursor.execute("DROP TABLE IF EXISTS bench_floor")
            cursor.execute(f"CREATE TABLE bench_floor (LIKE {table} INCLUDING ALL)")
            with cursor.copy(f"COPY (SELECT * FROM {table}) TO STDOUT") as out:
                rows = list(out)
            started = time.monotonic()
            with cursor.copy("COPY bench_floor FROM STDIN") as into:
                for one in rows:
                    into.write(one)
            seconds += time.monotonic() - started
        cursor.execute("DROP TABLE bench_floor")
    return seconds


def size_of(tables: tuple[str, ...] = ROUTED) -> int:
    """Bytes of these tables with their indexes."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT sum(pg_total_relation_size(coalesce(relid, t::regclass))) "
            "FROM unnest(%s::text[]) AS t LEFT JOIN LATERAL pg_partition_tree(t::regclass) ON true",
            [list(tables)],
        )
        return int(cursor.fetchone()[0])
