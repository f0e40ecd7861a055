"""Jobs of the intake."""

import structlog
from procrastinate import JobContext, RetryStrategy
from procrastinate.contrib.django import app

log = structlog.get_logger("yalla.intake")
_TRIES = 5


@app.task(
    queue="intake",
    name="intake.route_one",
    pass_context=True,
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=2),
)
def route_one(context: JobContext, submission_id: str) -> None:
    """Route one submission; after some failures it is stuck, with a snag."""
    from .actions import give_up
    from .routing import route_submission

    try:
        route_submission(submission_id)
    except Exception as error:
        log.exception("route failed", submission=submission_id)
        if context.job.attempts >= _TRIES:
            give_up(submission_id, type(error).__name__)
        raise
