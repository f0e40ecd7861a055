"""Jobs of the sequences."""

from procrastinate.contrib.django import app

from .going_on import go_on_due
from .jobs import ADVANCE_DUE


@app.periodic(cron="* * * * * */5")
@app.task(
    queue="sequences", name="sequences.advance_all_due", queueing_lock="sequences.advance_all_due"
)
def advance_all_due(timestamp: int) -> None:
    """Look for due runs in every workspace."""
    go_on_due(None)


@app.task(queue=ADVANCE_DUE.queue, name=ADVANCE_DUE.name)
def advance_due(workspace_id: str) -> None:
    """Look for due runs in one workspace, now."""
    go_on_due(workspace_id)
