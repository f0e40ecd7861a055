"""The time of a workspace: the real one, but where demo and tests have moved it forward."""

from datetime import datetime, timedelta

from django.conf import settings
from django.db.models import DateTimeField, ExpressionWrapper, F, OuterRef, Value
from django.utils import timezone

from .models import Workspace


class ClockFixed(Exception):
    """The time cannot be moved here."""


def now(workspace: Workspace) -> datetime:
    """What time it is in the workspace, in UTC."""
    return timezone.now() + workspace.clock_offset


def workspace_now(prefix: str = "workspace__") -> ExpressionWrapper:
    """The same in SQL, for queries over the rows of many workspaces."""
    return _now_by(F(f"{prefix}clock_offset"))


def outer_now() -> ExpressionWrapper:
    """The same in a subquery of a query over workspaces."""
    return _now_by(OuterRef("clock_offset"))


def _now_by(offset: F) -> ExpressionWrapper:
    return ExpressionWrapper(Value(timezone.now()) + offset, output_field=DateTimeField())


def set_time(workspace: Workspace, moment: datetime) -> None:
    """Let it be `moment` now in the workspace; the clock goes on from there."""
    if not settings.CLOCK_MOVABLE:
        raise ClockFixed
    workspace.clock_offset = moment - timezone.now()
    workspace.save(update_fields=["clock_offset"])


def reset(workspace: Workspace) -> None:
    """Back to the real time."""
    workspace.clock_offset = timedelta()
    workspace.save(update_fields=["clock_offset"])
