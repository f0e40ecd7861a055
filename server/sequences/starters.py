"""Who starts people in a sequence besides its own doors: rules of forms that are on, steps of other sequences.

The rooms above say so for what they know of (`starts_sequences`), since this room does not know them.
"""

from collections.abc import Callable

from core.deciding import StartSequence
from core.sequences import ActStep
from server.workspaces.models import Workspace

from .listening import live_sequences

Starts = Callable[[Workspace, str], set[str | None]]
_SAYS: list[Starts] = []


def starts_sequences(says: Starts) -> None:
    """Register a way to ask at which lanes (None: the first) of a sequence (its id) people are started."""
    _SAYS.append(says)


def started_lanes(workspace: Workspace, sequence: str, first: str) -> frozenset[str]:
    """The lanes of a sequence at which people are started by what is live; `first`: the id of its first lane."""
    lanes: set[str | None] = set()
    for says in _SAYS:
        lanes |= says(workspace, sequence)
    for one in live_sequences(workspace):
        for step in one.document.steps:
            action = step.action if isinstance(step, ActStep) else None
            if isinstance(action, StartSequence) and action.sequence == sequence:
                lanes.add(action.lane)
    return frozenset(one or first for one in lanes)
