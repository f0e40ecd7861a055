"""Jobs of broadcasts."""

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from server.workspaces.models import Workspace
from server.workspaces.queues import defer_once, isolated

from .going import UNDER_WAY, go_on
from .jobs import GO_ON
from .models import Broadcast
from .proof import report_unproven


@app.task(
    queue=GO_ON.queue, name=GO_ON.name, retry=RetryStrategy(max_attempts=5, exponential_wait=5)
)
def go_on_with(broadcast_id: str) -> None:
    """Do with a broadcast what is due by now."""
    go_on(broadcast_id)


@app.periodic(cron="* * * * * */15")
@app.task(queue="mail", name="broadcasts.look_at_all", queueing_lock="broadcasts.look_at_all")
def look_at_all(timestamp: int) -> None:
    """Give each broadcast that is under way a job, unless one waits already."""
    rows = Broadcast.everywhere.filter(state__in=UNDER_WAY)
    for pk in rows.values_list("pk", flat=True):
        defer_once(GO_ON, pk)


@app.periodic(cron="27 4 * * *")
@app.task(queue="files", name="broadcasts.find_unproven", queueing_lock="broadcasts.find_unproven")
def find_unproven(timestamp: int) -> None:
    """Compare the marketing emails of a day with the evidence of who got them."""
    for workspace in Workspace.objects.all():
        isolated(report_unproven, workspace)
