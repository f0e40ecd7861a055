"""The life of a broadcast: its states, and who may move it from which to which."""

from collections.abc import Mapping
from typing import Literal

BroadcastState = Literal[
    "draft",
    "asked",
    "waiting",
    "trying",
    "going",
    "trying_paused",
    "going_paused",
    "done",
    "stopped",
]
"""`asked`: somebody is asked to approve it. `waiting`: set off, and nothing has gone yet. `trying`: the trial
is out, and the rest waits for it. `going`: it goes out."""
Act = Literal[
    "ask",
    "take_back",
    "approve",
    "set_off",
    "call_back",
    "begin",
    "decide",
    "pause",
    "resume",
    "finish",
    "stop",
]
"""What moves it. `begin`, `decide` and `finish` are the clock's; a member can decide too."""

TRANSITIONS: Mapping[tuple[BroadcastState, Act], tuple[BroadcastState, ...]] = {
    ("draft", "ask"): ("asked",),
    ("draft", "set_off"): ("waiting",),
    ("asked", "take_back"): ("draft",),
    ("asked", "approve"): ("waiting",),
    ("waiting", "call_back"): ("draft",),
    ("waiting", "begin"): ("trying", "going"),
    ("trying", "decide"): ("going",),
    ("trying", "pause"): ("trying_paused",),
    ("going", "pause"): ("going_paused",),
    ("trying_paused", "resume"): ("trying",),
    ("going_paused", "resume"): ("going",),
    ("going", "finish"): ("done",),
    ("trying", "stop"): ("stopped",),
    ("going", "stop"): ("stopped",),
    ("trying_paused", "stop"): ("stopped",),
    ("going_paused", "stop"): ("stopped",),
}
EDITABLE: tuple[BroadcastState, ...] = ("draft",)
OVER: tuple[BroadcastState, ...] = ("done", "stopped")
PAUSED: tuple[BroadcastState, ...] = ("trying_paused", "going_paused")


def sources_of_act(act: Act) -> tuple[BroadcastState, ...]:
    """The states in which something can be done with a broadcast."""
    return tuple(state for state, one in TRANSITIONS if one == act)


def acts_in(state: BroadcastState) -> tuple[Act, ...]:
    """What can be done with a broadcast in a state."""
    return tuple(act for one, act in TRANSITIONS if one == state)
