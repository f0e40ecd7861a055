"""Jobs of the services room."""

import threading
from datetime import timedelta

from django.utils import timezone
from procrastinate.contrib.django import app

from core.people import LINK_LASTS
from server.workspaces.clock import workspace_now
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_next
from server.workspaces.retention import empty_answers

from .claims import due_services, give_back_abandoned
from .handing import BEHIND, hand_over_due
from .jobs import HAND_OVER
from .models import Attempt, Handoff
from .personal import ATTEMPTS_KEPT

_AT_ONCE = 5_000
_UNDER_WAY: dict[str, bool] = {}
"""The services that this worker hands over to; whether it was asked to once more meanwhile."""
_LOCK = threading.Lock()


@app.task(queue=HAND_OVER.queue, name=HAND_OVER.name)
def hand_over(service_id: str) -> None:
    """Hand over what is due to a service; by one job of this worker at a time, which has its threads."""
    with _LOCK:
        if service_id in _UNDER_WAY:
            _UNDER_WAY[service_id] = True
            return
        _UNDER_WAY[service_id] = False
    try:
        hand_over_due(service_id)
    finally:
        with _LOCK:
            asked_again = _UNDER_WAY.pop(service_id)
    if asked_again:
        defer_next(HAND_OVER, service_id)


@app.periodic(cron="* * * * * */5")
@app.task(queue="heard", name="services.find_due", queueing_lock="services.find_due")
def find_due(timestamp: int) -> None:
    """Go on with what is due by now: another try, the rate's next turn, what lost its job."""
    give_back_abandoned()
    for pk in due_services():
        defer_next(HAND_OVER, pk)


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
    waits = (Handoff.State.WAITING, Handoff.State.SENDING, Handoff.State.CONSENT)
    over = Handoff.everywhere.exclude(state__in=waits)
    for workspace in Workspace.objects.exclude(retention_days=None):
        empty_answers(over, workspace, "created_at")
    late = Handoff.everywhere.filter(
        state=Handoff.State.CONSENT, created_at__lt=now - LINK_LASTS - timedelta(days=1)
    )
    people = list(late.values_list("subscriber", flat=True))
    late.update(
        state=Handoff.State.NOT_ALLOWED,
        outcome="They never confirmed.",
        answers=[],
        done_at=timezone.now(),
    )
    # What waited behind has its own turn.
    behind = Handoff.everywhere.filter(subscriber__in=people, state=Handoff.State.CONSENT)
    behind.filter(outcome=BEHIND).update(state=Handoff.State.WAITING)
