"""Jobs of the intake."""

import structlog
from procrastinate import JobContext, RetryStrategy
from procrastinate.contrib.django import app

from server.people.models import OwnRequest, Subscriber
from server.workspaces.clock import workspace_now
from server.workspaces.models import Workspace
from server.workspaces.queues import WAITS, defer_lost, defer_once

from . import imports, replays
from .addresses import carry_out_request
from .erasing import erase
from .jobs import CHANGE_ADDRESS, ERASE, FILE, REPLAY, ROUTE, SHEET, TELL_MEMBER
from .merges import forget_merges
from .models import FileImport, Replay, Submission, Watch
from .notices import tell
from .routing import OutOfTurn, route_submission
from .sheets import look
from .submissions import forget_old, forget_reports, give_up

log = structlog.get_logger("yalla.intake")
_TRIES = 5


@app.task(
    queue=ROUTE.queue,
    name=ROUTE.name,
    pass_context=True,
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=2),
)
def route_one(context: JobContext, submission_id: str) -> None:
    """Route one submission; after some failures it is stuck, with a snag."""
    try:
        route_submission(submission_id)
    except OutOfTurn:
        lock = f"{ROUTE.lock}{submission_id}"
        again = ROUTE.configured(queueing_lock=lock, schedule_in={"seconds": 1})
        again.defer(submission_id=submission_id)
    except Exception as error:
        log.exception("route failed", submission=submission_id)
        if context.job.attempts >= _TRIES:
            give_up(submission_id, type(error).__name__)
        raise


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


@app.task(
    queue=ERASE.queue,
    name=ERASE.name,
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=2),
)
def erase_person(person_id: str) -> None:
    """Erase somebody whom a source says to erase."""
    person = Subscriber.everywhere.select_related("workspace").filter(pk=person_id).first()
    if person is not None:
        erase(person)


@app.task(
    queue=CHANGE_ADDRESS.queue,
    name=CHANGE_ADDRESS.name,
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=2),
)
def change_address_of(request_id: str) -> None:
    """Give somebody the address that a source says."""
    row = OwnRequest.everywhere.select_related("workspace", "subscriber")
    found = row.filter(pk=request_id, done_at=None).first()
    if found is not None:
        carry_out_request(found)


@app.task(queue=REPLAY.queue, name=REPLAY.name, retry=RetryStrategy(max_attempts=_TRIES, wait=2))
def work_on_replay(replay_id: str) -> None:
    """Look at, run or undo a replay; after a crash it goes on where it was."""
    replays.work_on(replay_id)


@app.periodic(cron="* * * * * */20")
@app.task(queue="intake", name="intake.look_at_sheets", queueing_lock="intake.look_at_sheets")
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
@app.task(queue="intake", name="intake.find_lost", queueing_lock="intake.find_lost")
def find_lost(timestamp: int) -> None:
    """Give submissions, files and replays that have lost their job another one."""
    waited = workspace_now() - WAITS
    waiting = Submission.everywhere.filter(state="received", received_at__lt=waited)
    defer_lost(ROUTE, waiting.exclude(source__state="draft"))
    files = FileImport.everywhere.filter(state__in=("counting", "running", "reading"))
    defer_lost(FILE, files)
    replays = Replay.everywhere.filter(state__in=("looking", "running", "undoing"))
    defer_lost(REPLAY, replays)


@app.periodic(cron="17 * * * *")
@app.task(queue="intake", name="intake.forget", queueing_lock="intake.forget")
def forget(timestamp: int) -> None:
    """Empty the submissions whose retention time is over, and merges whose day is."""
    for workspace in Workspace.objects.exclude(retention_days=None):
        forget_old(workspace)
    for workspace in Workspace.objects.all():
        forget_merges(workspace)
        imports.forget_files(workspace)
        forget_reports(workspace)


@app.task(
    queue=TELL_MEMBER.queue,
    name=TELL_MEMBER.name,
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=5),
)
def tell_member(submission_id: str, person_id: str, member_id: str) -> None:
    """Tell a member of somebody who came in."""
    tell(submission_id, person_id, member_id)
