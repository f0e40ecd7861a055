"""Jobs of the snags."""

from datetime import timedelta

from procrastinate.contrib.django import app

from server.workspaces.among import among
from server.workspaces.clock import workspace_now

from .models import Snag

KEPT = timedelta(days=400)
"""How long a snag stays after it was closed."""
_AT_ONCE = 5_000


@app.periodic(cron="41 3 * * *")
@app.task(queue="files", name="snags.forget", queueing_lock="snags.forget")
def forget(timestamp: int) -> None:
    """Delete snags that were closed long ago."""
    old = Snag.everywhere.filter(closed_at__lt=workspace_now() - KEPT)
    while chunk := list(old.values_list("pk", flat=True)[:_AT_ONCE]):
        Snag.everywhere.filter(among("pk", chunk)).delete()
