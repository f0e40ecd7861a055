"""Rows that wait for a job: a job each, and found again where the job was lost.

A job can be lost when its worker dies at its last try, or when somebody removes it by hand. What
it was for must not wait for ever without a word; so each room looks, every minute, for rows that
have waited a while and have no job, and gives them one.
"""

import contextlib
from collections.abc import Iterable
from datetime import timedelta
from typing import Any
from uuid import UUID

from django.db import connection, transaction
from django.db.models import QuerySet
from procrastinate.exceptions import AlreadyEnqueued

WAITS = timedelta(minutes=10)
"""How long a row waits before it is looked at: longer than every ordinary delay."""
_MOST = 500
_WITH_JOB = """
SELECT queueing_lock FROM procrastinate_jobs
WHERE queueing_lock = ANY(%s) AND status IN ('todo', 'doing')
"""


def without_job(rows: QuerySet[Any], prefix: str) -> list[UUID]:
    """Ids of those of the rows (the oldest) that have no job with the lock `prefix` + id."""
    ids = list(rows.order_by("pk").values_list("pk", flat=True)[:_MOST])
    with connection.cursor() as cursor:
        cursor.execute(_WITH_JOB, [[f"{prefix}{pk}" for pk in ids]])
        there = {lock for (lock,) in cursor.fetchall()}
    return [pk for pk in ids if f"{prefix}{pk}" not in there]


def defer_new(task: Any, lock: str, arguments: dict[str, str]) -> None:
    """Defer the first job of a row that was just made, which can have none yet."""
    task.configure(queueing_lock=lock, lock=lock).defer(**arguments)


def defer_once(
    task: Any, lock: str, arguments: dict[str, str], after: timedelta | None = None
) -> None:
    """Defer a job, unless one with the same lock waits already; in the caller's transaction.

    Of two jobs with one lock only one runs at a time.
    """
    options: dict[str, Any] = {"lock": lock}
    if after:
        options["schedule_in"] = {"seconds": int(after.total_seconds())}
    with contextlib.suppress(AlreadyEnqueued), transaction.atomic():
        task.configure(queueing_lock=lock, **options).defer(**arguments)


def defer_lost(task: Any, rows: QuerySet[Any], prefix: str, argument: str) -> int:
    """Give the rows that have lost their job another one; how many."""
    lost: Iterable[UUID] = without_job(rows, prefix)
    count = 0
    for pk in lost:
        defer_once(task, f"{prefix}{pk}", {argument: str(pk)})
        count += 1
    return count
