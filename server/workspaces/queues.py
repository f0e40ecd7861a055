"""Rows that wait for a job: a job each, and found again where the job was lost.

A job can be lost when its worker dies at its last try, or when somebody removes it by hand. What
it was for must not wait for ever without a word; so each room looks, every minute, for rows that
have waited a while and have no job, and gives them one.
"""

import contextlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import TypeVar
from uuid import UUID

import structlog
from django.db import InterfaceError, connection, transaction
from django.db.models import Model, QuerySet
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued
from procrastinate.jobs import JobDeferrer
from psycopg.types.json import Jsonb

from .shapes import Json

log = structlog.get_logger("yalla.jobs")
Subject = TypeVar("Subject")
M = TypeVar("M", bound=Model)

WAITS = timedelta(minutes=10)
"""How long a row waits before it is looked at: longer than every ordinary delay."""
_MOST = 500
_WITH_JOB = """
SELECT queueing_lock FROM procrastinate_jobs
WHERE queueing_lock = ANY(%s) AND status IN ('todo', 'doing')
"""

_DEFER = """
SELECT procrastinate_defer_jobs_v1(ARRAY(
    SELECT ROW(%s, %s, 0, NULL, NULL, args, NULL)::procrastinate_job_to_defer_v1
    FROM unnest(%s::jsonb[]) WITH ORDINALITY AS one (args, place) ORDER BY place))
"""


@dataclass(frozen=True)
class Job:
    """A task by its name and queue, for code that cannot import it, since the task calls that code.

    A job about a row is told by its lock: `lock` and the row's id. `argument` is that id's name.
    """

    name: str
    queue: str
    lock: str = ""
    argument: str = ""

    def defer(self, **arguments: str) -> None:
        """Have it done, in the caller's transaction."""
        self.configured().defer(**arguments)

    def configured(self, **options: object) -> JobDeferrer:
        """The task with options of procrastinate's; an unknown name is an error here already."""
        return app.configure_task(self.name, allow_unknown=False, **options)


def isolated(act: Callable[[Subject], object], about: Subject) -> bool:
    """Do something for one of many, such as a workspace in a periodic job; whether it went well. What fails
    is logged, and stops none of the others; what the database refuses while it is away does."""
    try:
        act(about)
    except InterfaceError:
        raise
    except Exception:
        log.exception("failed for one of many", act=getattr(act, "__name__", "?"), about=str(about))
        # Where the database went away, everything that follows would fail alike.
        connection.ensure_connection()
        return False
    return True


def defer_new(job: Job, pk: UUID | str) -> None:
    """Defer the first job of a row that was just made, which can have none yet."""
    lock = f"{job.lock}{pk}"
    job.configured(queueing_lock=lock, lock=lock).defer(**{job.argument: str(pk)})


def defer_each(job: Job, arguments: Sequence[dict[str, str]]) -> None:
    """Defer a job for each of these arguments: one statement for all of them."""
    if arguments:
        with connection.cursor() as cursor:
            cursor.execute(_DEFER, [job.queue, job.name, [Jsonb(one) for one in arguments]])


def defer_once(job: Job, pk: UUID | str, after: timedelta | None = None) -> None:
    """Defer a job of a row, unless one waits already; in the caller's transaction.

    Of two jobs with one lock only one runs at a time.
    """
    with contextlib.suppress(AlreadyEnqueued), transaction.atomic():
        options: Json = {"queueing_lock": f"{job.lock}{pk}", "lock": f"{job.lock}{pk}"}
        if after:
            options["schedule_in"] = {"seconds": int(after.total_seconds())}
        job.configured(**options).defer(**{job.argument: str(pk)})


def defer_next(job: Job, pk: UUID | str) -> None:
    """Defer a job of a row, unless one waits already. Any number of them may run at the same time."""
    with contextlib.suppress(AlreadyEnqueued), transaction.atomic():
        job.configured(queueing_lock=f"{job.lock}{pk}").defer(**{job.argument: str(pk)})


def defer_lost(job: Job, rows: QuerySet[M]) -> int:
    """Give the rows (the oldest) that have lost their job another one; how many."""
    ids = list(rows.order_by("pk").values_list("pk", flat=True)[:_MOST])
    with connection.cursor() as cursor:
        cursor.execute(_WITH_JOB, [[f"{job.lock}{pk}" for pk in ids]])
        there = {lock for (lock,) in cursor.fetchall()}
    lost = [pk for pk in ids if f"{job.lock}{pk}" not in there]
    for pk in lost:
        defer_once(job, pk)
    return len(lost)
