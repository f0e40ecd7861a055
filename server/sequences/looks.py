"""What rooms above look at as time passes: doors that open at a time. Told here, so that moving the
clock of a workspace stops at each of them."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from server.workspaces.models import Workspace


@dataclass(frozen=True)
class Look:
    """`look` does what is due in a workspace now; `next` says when something is due next, until a
    moment."""

    look: Callable[[Workspace], None]
    next: Callable[[Workspace, datetime], datetime | None]


LOOKS: list[Look] = []


def look_at_all(workspace: Workspace) -> None:
    """Do what is due by now."""
    for one in LOOKS:
        one.look(workspace)


def next_look(workspace: Workspace, until: datetime) -> datetime | None:
    """When something is due next."""
    found = [at for one in LOOKS if (at := one.next(workspace, until)) is not None]
    return min(found, default=None)
