"""Jobs of webhooks."""

from procrastinate.contrib.django import app

from server.workspaces.models import Workspace

from .hooks import forget_calls


@app.periodic(cron="25 * * * *")
@app.task(queue="files", name="webhooks.forget", queueing_lock="webhooks.forget")
def forget(timestamp: int) -> None:
    """Empty the calls of submissions that are over their retention time."""
    for workspace in Workspace.objects.exclude(retention_days=None):
        forget_calls(workspace)
