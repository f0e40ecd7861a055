"""The worker: takes jobs from PostgreSQL, and gives back those of a worker that died."""

import asyncio
from typing import Any

from django.core.management.base import BaseCommand
from procrastinate.contrib.django import app

from server.config.rubbish import look_less_often

HEARTBEAT = 2.0
GIVEN_UP_AFTER = 8.0
"""Seconds without a heartbeat after which a worker is taken for dead."""


class Command(BaseCommand):
    help = "Run a worker, until it is told to stop."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("--at-once", type=int, default=4, help="jobs at the same time")

    def handle(self, *args: Any, **options: Any) -> None:
        look_less_often()
        # Only fetching and finishing jobs goes over a connection of its own. What a task
        # defers goes over Django's, so that it is in the transaction of what it is about.
        connector = app.connector.get_worker_connector()  # type: ignore[attr-defined]
        asyncio.run(_work(app.with_connector(connector), options["at_once"]))


async def _work(app: Any, at_once: int) -> None:
    async with app.open_async(), asyncio.TaskGroup() as tasks:
        rescue = tasks.create_task(_rescue(app))
        await app.run_worker_async(
            concurrency=at_once,
            fetch_job_polling_interval=2.0,
            delete_jobs="successful",
            update_heartbeat_interval=HEARTBEAT,
            stalled_worker_timeout=GIVEN_UP_AFTER,
            shutdown_graceful_timeout=15,
        )
        rescue.cancel()


async def _rescue(app: Any) -> None:
    """Give back the jobs of workers that are gone, so that another takes them."""
    while True:
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=GIVEN_UP_AFTER):
            await app.job_manager.retry_job(job)
        await asyncio.sleep(HEARTBEAT)
