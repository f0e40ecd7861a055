"""Storing a submission and the job that routes it: one statement, so both or neither.

A statement costs one way to the database and back where a transaction of two costs four;
posts of the public are the one place where that is worth the SQL.
"""

from collections.abc import Iterable, Sequence
from functools import cache
from uuid import UUID

from django.db import connection
from procrastinate.contrib.django.models import ProcrastinateJob

from server.workspaces.copying import update_all, values_of

from .jobs import ROUTE
from .models import Submission

_DEFER = """
WITH kept AS ({insert})
SELECT procrastinate_defer_jobs_v1(
    ARRAY[ROW(%s, %s, 0, NULL, %s || id, jsonb_build_object('submission_id', id), NULL)
          ::procrastinate_job_to_defer_v1])
FROM kept
"""


def store(submission: Submission) -> bool:
    """Store a submission, which may be a plain row, with its job; False if its idempotency key is stored
    already. One that is held has no job until it is let through."""
    values = values_of(submission, Submission)
    with connection.cursor() as cursor:
        if submission.state == Submission.State.HELD:
            cursor.execute(_insert(), values)
        else:
            cursor.execute(_defer(), (*values, ROUTE.queue, ROUTE.name, ROUTE.lock))
        return cursor.fetchone() is not None


@cache
def _insert() -> str:
    """Always the same: to have Django compile it takes as long as PostgreSQL takes for it."""
    quote = connection.ops.quote_name
    columns = [quote(str(one.column)) for one in Submission._meta.concrete_fields]
    return (
        f"INSERT INTO {quote(Submission._meta.db_table)} ({', '.join(columns)}) "
        f"VALUES ({', '.join(['%s'] * len(columns))}) ON CONFLICT DO NOTHING RETURNING id"
    )


@cache
def _defer() -> str:
    return _DEFER.format(insert=_insert())


def store_outcomes(submissions: Sequence[Submission]) -> None:
    """Store what became of submissions."""
    update_all(submissions, ("subscriber", "revision", "decision", "routed_at", "state", "snag"))


def defer_again(submissions: Iterable[UUID]) -> None:
    """Have submissions that were stopped routed again, in the caller's transaction."""
    ids = list(submissions)
    take_jobs(ids)
    for pk in ids:
        job = ROUTE.configured(queueing_lock=f"{ROUTE.lock}{pk}")
        job.defer(submission_id=str(pk))


def take_jobs(submissions: Iterable[UUID]) -> None:
    """Withdraw the waiting jobs of submissions that the caller routes in this transaction."""
    locks = [f"{ROUTE.lock}{pk}" for pk in submissions]
    # Jobs that procrastinate shows to Django can only be read.
    jobs = ProcrastinateJob.objects.filter(status="todo", queueing_lock__in=locks)
    jobs._raw_delete(jobs.db)
