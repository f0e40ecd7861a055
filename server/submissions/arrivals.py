"""Storing a submission and the job that routes it: one statement, so both or neither.

A statement costs one way to the database and back where a transaction of two costs four;
posts of the public are the one place where that is worth the SQL.
"""

from collections.abc import Iterable, Sequence
from uuid import UUID

from django.db import connection
from django.db.models.sql import InsertQuery
from procrastinate.contrib.django.models import ProcrastinateJob

from server.workspaces.copying import update_all

from .jobs import ROUTE
from .models import Submission

_DEFER = """
WITH kept AS ({insert} ON CONFLICT DO NOTHING RETURNING id)
SELECT procrastinate_defer_jobs_v1(
    ARRAY[ROW(%s, %s, 0, NULL, %s || id, jsonb_build_object('submission_id', id), NULL)
          ::procrastinate_job_to_defer_v1])
FROM kept
"""
_KEEP = "{insert} ON CONFLICT DO NOTHING RETURNING id"


def store(submission: Submission) -> bool:
    """Store a submission with its job; False if its idempotency key is stored already. One that is held
    has no job until it is let through."""
    query = InsertQuery(Submission)
    query.insert_values(Submission._meta.concrete_fields, [submission])
    [(insert, values)] = query.get_compiler(connection.alias).as_sql()
    if submission.state == Submission.State.HELD:
        with connection.cursor() as cursor:
            cursor.execute(_KEEP.format(insert=insert), values)
            return cursor.fetchone() is not None
    job = (ROUTE.queue, ROUTE.name, ROUTE.lock)
    with connection.cursor() as cursor:
        cursor.execute(_DEFER.format(insert=insert), (*values, *job))
        return cursor.fetchone() is not None


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
