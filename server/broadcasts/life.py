"""The one place that moves a broadcast from state to state: `core.broadcasts.TRANSITIONS`, carried out."""

from typing import Any

from core.broadcasts import TRANSITIONS, Act, BroadcastState
from server.workspaces.errors import Conflict

from .models import Broadcast

_WORDS: dict[BroadcastState, str] = {
    "draft": "is in preparation",
    "asked": "waits for approval",
    "waiting": "is set off",
    "trying": "tries its versions",
    "going": "is going out",
    "trying_paused": "is paused",
    "going_paused": "is paused",
    "done": "has gone out",
    "stopped": "was stopped",
}


def locked(broadcast: Broadcast) -> Broadcast:
    """The broadcast as it is by now, locked in the caller's transaction."""
    row: Broadcast = Broadcast.everywhere.select_for_update().get(pk=broadcast.pk)
    row.workspace = broadcast.workspace
    return row


def refuse_act(row: Broadcast, act: Act) -> tuple[BroadcastState, ...]:
    """Where an act leads a broadcast from here; refused where it cannot be done by now."""
    ways = TRANSITIONS.get((row.stands, act), ())
    if not ways:
        raise Conflict(
            f"This broadcast {_WORDS[row.stands]} by now, so this can no longer be done."
        )
    return ways


def move(row: Broadcast, act: Act, to: BroadcastState | None = None, **changed: Any) -> None:
    """Move a locked broadcast on by an act, with what changes of it; refused where it cannot be done by now.
    `to`: where the act leads to more than one state."""
    ways = refuse_act(row, act)
    row.state = to or ways[0]
    assert row.state in ways
    for name, value in changed.items():
        setattr(row, name, value)
    row.save(update_fields=["state", *changed])
