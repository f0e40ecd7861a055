"""Jobs of the mail room."""

from datetime import timedelta

from django.db.models import Exists, OuterRef, Q
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from server.workspaces.clock import workspace_now
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_lost, defer_next, isolated
from server.workspaces.retention import empty_answers

from .counting import judge_touches
from .deliver import deliver_due, resolve_abandoned
from .holds import try_holds
from .jobs import DELIVER, JUDGE, OWN_REQUEST
from .models import Pace, Send, SendingHold, Touch
from .outcomes import note_late
from .own_requests import send_link

TOUCHES_KEPT = timedelta(days=400)
"""Opens and clicks one by one; what they amount to stays with the email, as long as the person."""


@app.task(queue=DELIVER.queue, name=DELIVER.name)
def deliver_some(workspace_id: str) -> None:
    """Hand over emails of a workspace that are due."""
    deliver_due(workspace_id)


@app.periodic(cron="* * * * * */15")
@app.task(queue="mail", name="mail.find_due", queueing_lock="mail.find_due")
def find_due(timestamp: int) -> None:
    """Go on with what is due by now: what waited for another try or for an hour, and what lost its job."""
    held = SendingHold.everywhere.filter(try_at__lte=workspace_now())
    for workspace in Workspace.objects.filter(
        pk__in=list(held.values_list("workspace", flat=True))
    ):
        isolated(try_holds, workspace)
    due = Q(not_before=None) | Q(not_before__lte=workspace_now())
    waiting = Send.everywhere.filter(due, workspace=OuterRef("pk"), state=Send.State.QUEUED)
    for pk in Workspace.objects.filter(Exists(waiting)).values_list("pk", flat=True):
        defer_next(DELIVER, pk)


@app.periodic(cron="*/1 * * * *")
@app.task(queue="mail", name="mail.find_late", queueing_lock="mail.find_late")
def find_late(timestamp: int) -> None:
    """Report what has waited for a day."""
    now = workspace_now()
    due = Q(not_before=None) | Q(not_before__lte=now)
    late = Send.everywhere.filter(due, state=Send.State.QUEUED, snag=None)
    late = late.filter(queued_at__lt=now - timedelta(days=1))
    for pk in list(late.values_list("pk", flat=True)[:500]):
        note_late(pk)


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
    left = Send.everywhere.filter(state=Send.State.HANDING_OVER)
    resolve_abandoned(list(left.values_list("pk", flat=True)[:500]))


@app.task(
    queue=JUDGE.queue,
    name=JUDGE.name,
    retry=RetryStrategy(max_attempts=5, exponential_wait=5),
)
def judge_one(send_id: str) -> None:
    """Tell people from programs in what came by one email."""
    judge_touches(send_id)


@app.periodic(cron="19 * * * *")
@app.task(queue="mail", name="mail.forget_answers", queueing_lock="mail.forget_answers")
def forget_answers(timestamp: int) -> None:
    """Empty the answers of emails that are over, after the workspace's retention time."""
    waits = (Send.State.QUEUED, Send.State.HANDING_OVER, Send.State.HELD)
    for workspace in Workspace.objects.exclude(retention_days=None):
        empty_answers(Send.everywhere.exclude(state__in=waits), workspace, "queued_at")


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
