"""Jobs of the mail room."""

from datetime import timedelta

from django.db.models import Q
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from server.workspaces.clock import workspace_now
from server.workspaces.queues import WAITS, defer_lost, defer_once

from .counting import judge_touches
from .deliver import deliver, resolve_abandoned, say_late
from .jobs import DELIVER, JUDGE, OWN_REQUEST
from .models import Pace, Send, Touch
from .own_requests import send_link

TOUCHES_KEPT = timedelta(days=400)
"""Opens and clicks one by one; what they amount to stays with the email, as long as the person."""


@app.task(
    queue=DELIVER.queue,
    name=DELIVER.name,
    # What the mail server says is dealt with there; this is for a database that is away.
    retry=RetryStrategy(max_attempts=8, exponential_wait=4),
)
def deliver_send(send_id: str) -> None:
    """Hand one send over; try again later where the mail server asks for it."""
    wait = deliver(send_id)
    if wait is not None:
        defer_once(DELIVER, send_id, after=wait)


@app.periodic(cron="*/1 * * * *")
@app.task(queue="mail", name="mail.find_lost", queueing_lock="mail.find_lost")
def find_lost(timestamp: int) -> None:
    """Give sends that have lost their job another one; those that wait for a day are a snag."""
    now = workspace_now()
    queued = Send.everywhere.filter(state=Send.State.QUEUED)
    due = queued.filter(Q(not_before=None) | Q(not_before__lte=now))
    defer_lost(DELIVER, due.filter(queued_at__lt=now - WAITS))
    late = due.filter(queued_at__lt=now - timedelta(days=1), snag=None)
    for pk in list(late.values_list("pk", flat=True)[:500]):
        say_late(str(pk))


@app.task(
    queue=OWN_REQUEST.queue,
    name=OWN_REQUEST.name,
    retry=RetryStrategy(max_attempts=5, exponential_wait=5),
)
def send_own_request(request_id: str) -> None:
    """Send somebody the link that confirms what they asked for."""
    send_link(request_id)


@app.periodic(cron="* * * * * */15")
@app.task(queue="mail", name="mail.resolve_abandoned", queueing_lock="mail.resolve_abandoned")
def resolve_abandoned_sends(timestamp: int) -> None:
    """Find sends whose worker died while the mail server had them."""
    for pk in Send.everywhere.filter(state=Send.State.HANDING_OVER).values_list("pk", flat=True)[
        :500
    ]:
        resolve_abandoned(str(pk))


@app.task(
    queue=JUDGE.queue,
    name=JUDGE.name,
    retry=RetryStrategy(max_attempts=5, exponential_wait=5),
)
def judge_one(send_id: str) -> None:
    """Tell people from programs in what came by one email."""
    judge_touches(send_id)


@app.periodic(cron="41 3 * * *")
@app.task(queue="mail", name="mail.forget", queueing_lock="mail.forget")
def forget(timestamp: int) -> None:
    """Delete what is kept for a while only: opens and clicks one by one, and counts of hours."""
    now = workspace_now()
    old = Touch.everywhere.filter(at__lt=now - TOUCHES_KEPT)
    while Touch.everywhere.filter(pk__in=list(old.values_list("pk", flat=True)[:5_000])).delete()[
        0
    ]:
        pass
    Pace.everywhere.filter(hour__lt=now - timedelta(days=3)).delete()


@app.periodic(cron="*/1 * * * *")
@app.task(queue="mail", name="mail.find_unjudged", queueing_lock="mail.find_unjudged")
def find_unjudged(timestamp: int) -> None:
    """Give what nobody has judged, and whose job was lost, another one."""
    waiting = Touch.everywhere.filter(by="").order_by("at").values_list("send", flat=True)
    defer_lost(JUDGE, Send.everywhere.filter(pk__in=list(waiting[:500])))
