"""Storing entries of the trail, and telling those who listen to what becomes so."""

from collections.abc import Callable, Sequence
from typing import Any

from server.workspaces.copying import store_all

Listener = Callable[[Sequence[Any]], None]
_LISTENERS: list[Listener] = []


def on_facts(listener: Listener) -> Listener:
    """Have `listener` called with new facts, in the transaction that stores them."""
    _LISTENERS.append(listener)
    return listener


def store_facts(facts: Sequence[Any]) -> None:
    """Store entries of the trail, in the caller's transaction."""
    if not facts:
        return
    store_all(facts)
    for listener in _LISTENERS:
        listener(facts)
