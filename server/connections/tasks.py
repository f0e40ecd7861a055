"""Jobs of connections: what services tell, and asking those that do not tell."""

from procrastinate.contrib.django import app

from server.services.jobs import HEAR, POLL
from server.services.models import Heard, Service
from server.services.personal import HEARD_KEPT
from server.workspaces.clock import workspace_now
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_lost, defer_once

from .hearing import take_heard
from .polling import poll
from .reading import read_what_is_used


@app.task(queue=HEAR.queue, name=HEAR.name)
def take(workspace_id: str) -> None:
    """Carry out what services told."""
    take_heard(workspace_id)


@app.task(queue=POLL.queue, name=POLL.name)
def look(service_id: str) -> None:
    """Ask a service what is new."""
    poll(service_id)


@app.periodic(cron="* * * * * */15")
@app.task(queue="polling", name="services.find_polls", queueing_lock="services.find_polls")
def find_polls(timestamp: int) -> None:
    """The services whose next look is due."""
    due = Service.everywhere.filter(poll_at__lte=workspace_now(), state=Service.State.WORKING)
    for pk in due.values_list("pk", flat=True):
        defer_once(POLL, pk)


@app.periodic(cron="*/15 * * * *")
@app.task(queue="polling", name="services.read_used", queueing_lock="services.read_used")
def read_used(timestamp: int) -> None:
    """Read anew what services take that something hands people to, so that a field that is gone is
    known before it is missed."""
    for workspace in Workspace.objects.filter(service__state=Service.State.WORKING).distinct():
        read_what_is_used(workspace)


@app.periodic(cron="*/1 * * * *")
@app.task(queue="heard", name="services.find_heard", queueing_lock="services.find_heard")
def find_heard(timestamp: int) -> None:
    """Give what waits, and whose job was lost, another one."""
    waiting = Heard.everywhere.filter(state=Heard.State.WAITING).values_list("workspace", flat=True)
    defer_lost(HEAR, Workspace.objects.filter(pk__in=list(waiting.distinct()[:500])))


@app.periodic(cron="23 4 * * *")
@app.task(queue="polling", name="services.forget_heard", queueing_lock="services.forget_heard")
def forget_heard(timestamp: int) -> None:
    """Empty what services told, once it is over its time. That it came stays, so that it is not taken
    again."""
    old = Heard.everywhere.filter(at__lt=workspace_now() - HEARD_KEPT).exclude(content=None)
    old.update(content=None)
