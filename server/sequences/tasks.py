"""Jobs of the sequences."""

from procrastinate.contrib.django import app

from server.workspaces.models import Workspace
from server.workspaces.queues import defer_once, isolated
from server.workspaces.retention import empty_answers

from .ahead import look_ahead
from .going_on import advance_due_runs
from .jobs import ADVANCE_DUE, AHEAD, LISTEN, TELL_MEMBER
from .models import Run, Signal
from .notices import tell
from .signals import show_signals


@app.periodic(cron="* * * * * */5")
@app.task(
    queue="sequences", name="sequences.advance_all_due", queueing_lock="sequences.advance_all_due"
)
def advance_all_due(timestamp: int) -> None:
    """Look for due runs, and signals whose job was lost, in every workspace."""
    for workspace in Workspace.objects.filter(pk__in=Signal.everywhere.values("workspace")):
        isolated(show_signals, workspace)
    advance_due_runs(None)


@app.task(queue=ADVANCE_DUE.queue, name=ADVANCE_DUE.name)
def advance_due(workspace_id: str) -> None:
    """Look for due runs in one workspace, now."""
    advance_due_runs(workspace_id)


@app.task(queue=LISTEN.queue, name=LISTEN.name)
def listen(workspace_id: str) -> None:
    """Show what has happened in a workspace to its doors and runs."""
    show_signals(Workspace.objects.get(pk=workspace_id))


@app.task(queue=AHEAD.queue, name=AHEAD.name)
def look_ahead_of(workspace_id: str) -> None:
    """Compute the next days of a workspace."""
    look_ahead(Workspace.objects.get(pk=workspace_id))


@app.periodic(cron="*/20 * * * *")
@app.task(
    queue="sequences", name="sequences.refresh_ahead", queueing_lock="sequences.refresh_ahead"
)
def refresh_ahead(timestamp: int) -> None:
    """Have the next days computed anew wherever somebody is under way."""
    busy = Run.everywhere.filter(ended_at=None).values("workspace")
    for pk in Workspace.objects.filter(pk__in=busy).values_list("pk", flat=True):
        defer_once(AHEAD, pk)


@app.periodic(cron="18 * * * *")
@app.task(
    queue="sequences", name="sequences.forget_answers", queueing_lock="sequences.forget_answers"
)
def forget_answers(timestamp: int) -> None:
    """Empty the answers of runs that have ended, after the workspace's retention time. Somebody who is
    under way keeps theirs: steps to come look at them."""
    ended = Run.everywhere.filter(ended_at__isnull=False)
    for workspace in Workspace.objects.exclude(retention_days=None):
        empty_answers(ended, workspace, "entered_at")


@app.task(queue=TELL_MEMBER.queue, name=TELL_MEMBER.name, retry=5)
def tell_member(sequence_id: str, person_id: str, run_id: str, member_id: str) -> None:
    """Tell a member by email that somebody came to a step."""
    tell(sequence_id, person_id, run_id, member_id)
