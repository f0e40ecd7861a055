"""Jobs of the log: what is over its retention time."""

from procrastinate.contrib.django import app

from server.workspaces.models import Workspace

from .log import forget_old


@app.periodic(cron="17 * * * *")
@app.task(queue="files", name="submissions.forget", queueing_lock="submissions.forget")
def forget(timestamp: int) -> None:
    """Empty the submissions whose retention time is over."""
    for workspace in Workspace.objects.exclude(retention_days=None):
        forget_old(workspace)
