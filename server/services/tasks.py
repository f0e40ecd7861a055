"""Jobs of the services room."""

from datetime import timedelta

from django.utils import timezone
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from core.people import LINK_LASTS
from server.workspaces.clock import workspace_now
from server.workspaces.queues import defer_next

from .claims import due_services, give_back_abandoned
from .handing import hand_over_due
from .jobs import HAND_OVER, TELL
from .models import Attempt, Handoff
from .notices import tell_members
from .personal import ATTEMPTS_KEPT

_AT_ONCE = 5_000


@app.task(queue=HAND_OVER.queue, name=HAND_OVER.name)
def hand_over(service_id: str) -> None:
    """Hand over what is due to a service."""
    hand_over_due(service_id)


@app.periodic(cron="* * * * * */5")
@app.task(queue="heard", name="services.find_due", queueing_lock="services.find_due")
def find_due(timestamp: int) -> None:
    """Go on with what is due by now: another try, the rate's next turn, what lost its job."""
    give_back_abandoned()
    for pk in due_services():
        defer_next(HAND_OVER, pk)


@app.task(queue=TELL.queue, name=TELL.name, retry=RetryStrategy(max_attempts=5, exponential_wait=5))
def tell(service_id: str, sentence: str) -> None:
    """Tell the members that a service needs a look."""
    tell_members(service_id, sentence)


@app.periodic(cron="17 * * * *")
@app.task(queue="heard", name="services.forget", queueing_lock="services.forget")
def forget(timestamp: int) -> None:
    """Delete attempts that are over their time, and give up on confirmations that never came."""
    now = workspace_now()
    old = Attempt.everywhere.filter(at__lt=now - ATTEMPTS_KEPT)
    while Attempt.everywhere.filter(
        pk__in=list(old.values_list("pk", flat=True)[:_AT_ONCE])
    ).delete()[0]:
        pass
    late = Handoff.everywhere.filter(
        state=Handoff.State.CONSENT, created_at__lt=now - LINK_LASTS - timedelta(days=1)
    )
    late.update(
        state=Handoff.State.NOT_ALLOWED,
        said="They never confirmed.",
        answers=[],
        done_at=timezone.now(),
    )
