"""How long what people sent is kept: reports that name them, and answers that went along with something."""

from datetime import datetime, timedelta
from typing import Any

from django.db.models import Index, Q, QuerySet

from . import clock
from .models import Workspace

MOST_DAYS = 365
_AT_ONCE = 5_000


def reports_end(workspace: Workspace) -> datetime:
    """Reports from before it go: the retention time of the workspace, at most a year ago."""
    days = min(workspace.retention_days or MOST_DAYS, MOST_DAYS)
    return clock.now(workspace) - timedelta(days=days)


def answers_by(moment: str, name: str) -> Index:
    """The index of a table by which the rows with answers are found, by when they began."""
    return Index(fields=["workspace", moment], condition=~Q(answers=[]), name=name)


def empty_answers(rows: QuerySet[Any], workspace: Workspace, moment: str) -> int:
    """Empty the answers of those of a workspace's rows that began before its retention time; how many.
    The submission that they came with is emptied then too."""
    if workspace.retention_days is None:
        return 0
    before = clock.now(workspace) - timedelta(days=workspace.retention_days)
    old = rows.filter(~Q(answers=[]), workspace=workspace, **{f"{moment}__lt": before})
    count = 0
    while chunk := list(old.order_by(moment).values_list("pk", flat=True)[:_AT_ONCE]):
        # Still over: one that was refused may have been queued again meanwhile.
        if not (emptied := rows.filter(pk__in=chunk).update(answers=[])):
            break
        count += emptied
    return count
