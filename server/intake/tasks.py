"""Jobs of the intake."""

import contextlib

import structlog
from procrastinate import JobContext, RetryStrategy
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued

from server.workspaces.queues import WAITS, defer_lost

log = structlog.get_logger("yalla.intake")
_TRIES = 5
ROUTES = "route/"
"""Begins the queueing lock of the job of a submission; its id follows."""


@app.task(
    queue="intake",
    name="intake.route_one",
    pass_context=True,
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=2),
)
def route_one(context: JobContext, submission_id: str) -> None:
    """Route one submission; after some failures it is stuck, with a snag."""
    from .routing import OutOfTurn, route_submission
    from .submissions import give_up

    try:
        route_submission(submission_id)
    except OutOfTurn:
        lock = f"{ROUTES}{submission_id}"
        again = route_one.configure(queueing_lock=lock, schedule_in={"seconds": 1})
        again.defer(submission_id=submission_id)
    except Exception as error:
        log.exception("route failed", submission=submission_id)
        if context.job.attempts >= _TRIES:
            give_up(submission_id, type(error).__name__)
        raise


@app.task(
    queue="files",
    name="intake.work_on_file",
    pass_context=True,
    retry=RetryStrategy(max_attempts=_TRIES, wait=2),
)
def work_on_file(context: JobContext, import_id: str) -> None:
    """Read, count or run a file of rows; after a crash it goes on where it was. One that cannot
    be worked on says so, and never stays as if it ran."""
    from .imports import fail, work_on

    try:
        work_on(import_id)
    except Exception as error:
        log.exception("file failed", file=import_id)
        if context.job.attempts >= _TRIES:
            fail(import_id, f"It stopped at a fault ({type(error).__name__}).")
        raise


@app.task(
    queue="intake",
    name="intake.erase_person",
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=2),
)
def erase_person(person_id: str) -> None:
    """Erase somebody whom a source says to erase."""
    from server.people.models import Subscriber

    from .erasing import erase

    person = Subscriber.everywhere.select_related("workspace").filter(pk=person_id).first()
    if person is not None:
        erase(person)


@app.task(
    queue="intake",
    name="intake.change_address_of",
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=2),
)
def change_address_of(request_id: str) -> None:
    """Give somebody the address that a source says."""
    from server.people.models import OwnRequest

    from .addresses import carry_out_request

    row = OwnRequest.everywhere.select_related("workspace", "subscriber")
    found = row.filter(pk=request_id, done_at=None).first()
    if found is not None:
        carry_out_request(found)


@app.task(
    queue="files", name="intake.work_on_replay", retry=RetryStrategy(max_attempts=_TRIES, wait=2)
)
def work_on_replay(replay_id: str) -> None:
    """Look at, run or undo a replay; after a crash it goes on where it was."""
    from .replays import work_on

    work_on(replay_id)


@app.periodic(cron="* * * * * */20")
@app.task(queue="intake", name="intake.look_at_sheets", queueing_lock="intake.look_at_sheets")
def look_at_sheets(timestamp: int) -> None:
    """Ask for a look at every watched sheet that is due."""
    from server.workspaces.clock import workspace_now

    from .models import Watch

    due = Watch.everywhere.filter(source__state="live", next_at__lte=workspace_now())
    for pk in due.values_list("pk", flat=True):
        defer_look(str(pk))


@app.task(queue="files", name="intake.look_at_sheet")
def look_at_sheet(watch_id: str) -> None:
    """Look at one sheet."""
    from .sheets import look

    look(watch_id)


def defer_look(watch_id: str) -> None:
    """Have a sheet looked at, unless that is waiting already."""
    with contextlib.suppress(AlreadyEnqueued):
        look_at_sheet.configure(queueing_lock=f"sheet/{watch_id}").defer(watch_id=watch_id)


FILES = "file/"
REPLAYS = "replay/"


@app.periodic(cron="*/1 * * * *")
@app.task(queue="intake", name="intake.find_lost", queueing_lock="intake.find_lost")
def find_lost(timestamp: int) -> None:
    """Give submissions, files and replays that have lost their job another one."""
    from server.workspaces.clock import workspace_now

    from .models import FileImport, Replay, Submission

    waited = workspace_now() - WAITS
    waiting = Submission.everywhere.filter(state="received", received_at__lt=waited)
    defer_lost(route_one, waiting.exclude(source__state="draft"), ROUTES, "submission_id")
    files = FileImport.everywhere.filter(state__in=("counting", "running", "reading"))
    defer_lost(work_on_file, files, FILES, "import_id")
    replays = Replay.everywhere.filter(state__in=("looking", "running", "undoing"))
    defer_lost(work_on_replay, replays, REPLAYS, "replay_id")


@app.periodic(cron="17 * * * *")
@app.task(queue="intake", name="intake.forget", queueing_lock="intake.forget")
def forget(timestamp: int) -> None:
    """Empty the submissions whose retention time is over, and merges whose day is."""
    from server.workspaces.models import Workspace

    from .imports import forget_files
    from .merges import forget_merges
    from .submissions import forget_old, forget_reports

    for workspace in Workspace.objects.exclude(retention_days=None):
        forget_old(workspace)
    for workspace in Workspace.objects.all():
        forget_merges(workspace)
        forget_files(workspace)
        forget_reports(workspace)


@app.task(
    queue="mail",
    name="intake.tell_member",
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=5),
)
def tell_member(submission_id: str, person_id: str, member_id: str) -> None:
    """Tell a member of somebody who came in."""
    from .notices import tell

    tell(submission_id, person_id, member_id)
