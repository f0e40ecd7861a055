"""Jobs of routing: one submission each, and what a decision sets going."""

import structlog
from procrastinate import JobContext, RetryStrategy
from procrastinate.contrib.django import app

from server.submissions.jobs import ROUTE
from server.submissions.log import give_up
from server.submissions.models import Submission
from server.workspaces.clock import workspace_now
from server.workspaces.queues import WAITS, defer_lost

from .jobs import TELL_MEMBER
from .notices import tell
from .routing import OutOfTurn, route_submission

log = structlog.get_logger("yalla.routing")


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


@app.periodic(cron="*/1 * * * *")
@app.task(queue="routing", name="routing.find_lost", queueing_lock="routing.find_lost")
def find_lost(timestamp: int) -> None:
    """Give submissions that have lost their job another one."""
    waited = workspace_now() - WAITS
    waiting = Submission.everywhere.filter(state="received", received_at__lt=waited)
    defer_lost(ROUTE, waiting.exclude(source__state="draft"))


@app.task(
    queue=TELL_MEMBER.queue,
    name=TELL_MEMBER.name,
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=5),
)
def tell_member(submission_id: str, person_id: str, member_id: str) -> None:
    """Tell a member of somebody who came in."""
    tell(submission_id, person_id, member_id)
