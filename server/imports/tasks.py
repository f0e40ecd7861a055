"""Jobs of files and of watched sheets."""

import structlog
from procrastinate import JobContext, RetryStrategy
from procrastinate.contrib.django import app

from server.sources.models import Watch
from server.submissions.models import FileImport
from server.workspaces.clock import workspace_now
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_lost, defer_once

from . import imports
from .imports import forget_files, forget_refused
from .jobs import FILE, SHEET
from .sheets import look

log = structlog.get_logger("yalla.imports")


_TRIES = 5


@app.task(
    queue=FILE.queue,
    name=FILE.name,
    pass_context=True,
    retry=RetryStrategy(max_attempts=_TRIES, wait=2),
)
def work_on_file(context: JobContext, import_id: str) -> None:
    """Read, count or run a file of rows; after a crash it goes on where it was. One that cannot
    be worked on says so, and never stays as if it ran."""
    try:
        imports.work_on(import_id)
    except Exception as error:
        log.exception("file failed", file=import_id)
        if context.job.attempts >= _TRIES:
            imports.fail(import_id, f"It stopped at a fault ({type(error).__name__}).")
        raise


@app.periodic(cron="* * * * * */20")
@app.task(queue="routing", name="imports.look_at_sheets", queueing_lock="imports.look_at_sheets")
def look_at_sheets(timestamp: int) -> None:
    """Ask for a look at every watched sheet that is due."""
    due = Watch.everywhere.filter(source__state="live", next_at__lte=workspace_now())
    for pk in due.values_list("pk", flat=True):
        defer_once(SHEET, pk)


@app.task(queue=SHEET.queue, name=SHEET.name)
def look_at_sheet(watch_id: str) -> None:
    """Look at one sheet."""
    look(watch_id)


@app.periodic(cron="*/1 * * * *")
@app.task(queue="routing", name="imports.find_lost", queueing_lock="imports.find_lost")
def find_lost(timestamp: int) -> None:
    """Give files that have lost their job another one."""
    defer_lost(FILE, FileImport.everywhere.filter(state__in=("counting", "running", "reading")))


@app.periodic(cron="19 * * * *")
@app.task(queue="files", name="imports.forget", queueing_lock="imports.forget")
def forget(timestamp: int) -> None:
    """Remove files and refused rows that are over their retention time."""
    for workspace in Workspace.objects.all():
        forget_files(workspace)
        forget_refused(workspace)
