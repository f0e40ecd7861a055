"""Moving the clock of a workspace, for demo and tests: what is due on the way happens at its own time."""

from datetime import datetime
from uuid import UUID

from django.db.models.functions import Greatest

from server.mail.actions import deliver_queued, next_held_back
from server.workspaces import clock
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Workspace

from .going_on import advance_runs, due_runs
from .looks import look_at_all, next_look
from .models import Run
from .signals import show_signals


@changes("moved the time of the workspace", whole=False)
def move_time(workspace: Workspace, to: datetime) -> None:
    """Move the clock of a workspace forward to `to`, and let happen on the way what is due.

    Each due moment happens at its own time, as if one had waited for it.
    """
    if to < clock.now(workspace):
        raise refuse("backwards", "to", "Time moves forward only.", "Choose a later moment.")
    _settle(workspace)
    tried: set[tuple[UUID, datetime]] = set()
    while True:
        waiting = due_runs(Run.objects.of(workspace), to).annotate(
            at=Greatest("due_at", "retry_at")
        )
        due = list(waiting.order_by("at").values_list("pk", "at")[:500])
        fresh = [(pk, at) for pk, at in due if (pk, at) not in tried]
        coming = [
            at
            for at in (
                fresh[0][1] if fresh else None,
                next_held_back(workspace, to),
                next_look(workspace, to),
            )
            if at is not None
        ]
        if not coming:
            break
        moment = min(coming)
        if moment > clock.now(workspace):
            clock.set_time(workspace, moment)
        now = [(pk, at) for pk, at in fresh if at <= moment]
        tried.update(now)
        advance_runs([pk for pk, _ in now])
        _settle(workspace)
    clock.set_time(workspace, to)
    _settle(workspace)


def _settle(workspace: Workspace) -> None:
    """Everything that happens at this moment, until nothing follows from it."""
    look_at_all(workspace)
    while True:
        deliver_queued(workspace)
        if not show_signals(workspace):
            return
