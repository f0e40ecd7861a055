"""Jobs of the sequences."""

from procrastinate.contrib.django import app

from .actions import due_runs, go_on_or_fail
from .jobs import ADVANCE_DUE

BATCH = 200


@app.periodic(cron="* * * * * */5")
@app.task(
    queue="sequences", name="sequences.advance_all_due", queueing_lock="sequences.advance_all_due"
)
def advance_all_due(timestamp: int) -> None:
    """Look for due runs in every workspace."""
    _advance(None)


@app.task(queue=ADVANCE_DUE.queue, name=ADVANCE_DUE.name)
def advance_due(workspace_id: str) -> None:
    """Look for due runs in one workspace, now."""
    _advance(workspace_id)


def _advance(workspace_id: str | None) -> None:
    seen: set[str] = set()
    while ids := [one for one in due_runs(workspace_id, BATCH) if one not in seen]:
        seen.update(ids)
        for run_id in ids:
            go_on_or_fail(run_id)
