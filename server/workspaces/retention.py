"""How long reports that name people are kept: refused rows of files, lines of replays."""

from datetime import datetime, timedelta

from . import clock
from .models import Workspace

MOST_DAYS = 365


def reports_end(workspace: Workspace) -> datetime:
    """Reports from before it go: the retention time of the workspace, at most a year ago."""
    days = min(workspace.retention_days or MOST_DAYS, MOST_DAYS)
    return clock.now(workspace) - timedelta(days=days)
