"""The worker: takes jobs from PostgreSQL, and gives back those of a worker that died.

Each queue has slots of its own, so that a mail server that hangs or a long import stops nothing
else. What is bulk (imports, replays, sheets that are fetched) runs in a process of its own with
less of the machine (`Procfile`); a worker without a name does both.
"""

import asyncio
import signal
from concurrent.futures import ThreadPoolExecutor

from django.core.management.base import BaseCommand, CommandParser
from procrastinate import App
from procrastinate.contrib.django import app
from procrastinate.exceptions import UniqueViolation
from procrastinate.jobs import Status

from server.config.gc_tuning import tune_gc

HEARTBEAT = 2.0
GIVEN_UP_AFTER = 8.0
"""Seconds without a heartbeat after which a worker is taken for dead."""
SLOTS = {
    "live": {"routing": 2, "sequences": 2, "mail": 4, "touches": 1, "services": 4, "heard": 2},
    "bulk": {"files": 2, "inbound": 1, "polling": 1},
}
"""Jobs at the same time, by queue."""
FAILED_KEPT = 30 * 24
"""Hours for which a job that failed is kept, to be looked at."""


class Command(BaseCommand):
    help = "Run a worker, until it is told to stop."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("of", nargs="?", choices=sorted(SLOTS), help="both, if none is named")

    def handle(self, *args: object, **options: str) -> None:
        tune_gc()
        names = [options["of"]] if options["of"] else list(SLOTS)
        slots = {queue: n for name in names for queue, n in SLOTS[name].items()}
        # Only fetching and finishing jobs goes over a connection of its own. What a task
        # defers goes over Django's, so that it is in the transaction of what it is about.
        connector = app.connector.get_worker_connector()  # type: ignore[attr-defined]
        asyncio.run(_work(app.with_connector(connector), slots))


async def _work(app: App, slots: dict[str, int]) -> None:
    loop = asyncio.get_running_loop()
    # By itself Python has fewer threads than there are slots, on a small machine.
    loop.set_default_executor(ThreadPoolExecutor(sum(slots.values()) + 2))
    async with app.open_async():
        tasks = [loop.create_task(_queue(app, name, n)) for name, n in slots.items()]
        tasks.append(loop.create_task(_rescue(app)))
        tasks.append(loop.create_task(_forget(app)))
        for number in (signal.SIGTERM, signal.SIGINT):
            loop.add_signal_handler(number, lambda: [one.cancel() for one in tasks])
        done, _ = await asyncio.wait(tasks, return_when=asyncio.FIRST_COMPLETED)
        # One that ends by itself ends the worker, which is started again.
        for one in tasks:
            one.cancel()
        await asyncio.gather(*tasks, return_exceptions=True)
        for one in done:
            if not one.cancelled() and one.exception():
                raise one.exception()  # type: ignore[misc]


async def _queue(app: App, name: str, slots: int) -> None:
    await app.run_worker_async(
        name=name,
        queues=[name],
        concurrency=slots,
        fetch_job_polling_interval=2.0,
        delete_jobs="successful",
        update_heartbeat_interval=HEARTBEAT,
        stalled_worker_timeout=GIVEN_UP_AFTER,
        shutdown_graceful_timeout=15,
        install_signal_handlers=False,
    )


async def _rescue(app: App) -> None:
    while True:
        await give_back(app)
        await asyncio.sleep(HEARTBEAT)


async def _forget(app: App) -> None:
    while True:
        await forget_old(app)
        await asyncio.sleep(3600)


async def forget_old(app: App) -> None:
    """Remove the jobs that failed or were cancelled long ago: what each was about is known by its row."""
    await app.job_manager.delete_old_jobs(
        nb_hours=FAILED_KEPT, include_failed=True, include_cancelled=True, include_aborted=True
    )


async def give_back(app: App) -> None:
    """Give back the jobs of workers that are gone, so that another takes them."""
    for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=GIVEN_UP_AFTER):
        try:
            await app.job_manager.retry_job(job)
        except UniqueViolation:
            # One with the same queueing lock waits already, and does the same.
            await app.job_manager.finish_job(job, Status.SUCCEEDED, delete_job=True)
