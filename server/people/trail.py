"""Entries of the trail: made, stored, and told to those who listen."""

from collections.abc import Callable, Sequence
from datetime import datetime
from uuid import UUID

from core.documents import Because
from server.workspaces.causes import caused_by
from server.workspaces.copying import plain, store_all
from server.workspaces.shapes import Json

from .models import Fact, Subscriber

Listener = Callable[[Sequence[Fact]], None]
_LISTENERS: list[Listener] = []


def on_facts(listener: Listener) -> Listener:
    """Have `listener` called with new facts, in the transaction that stores them."""
    _LISTENERS.append(listener)
    return listener


def store_facts(facts: Sequence[Fact]) -> None:
    """Store entries of the trail, in the caller's transaction."""
    if not facts:
        return
    store_all(facts)
    for listener in _LISTENERS:
        listener(facts)


def fact(
    subscriber: Subscriber,
    kind: Fact.Kind,
    what: Json,
    because: Because,
    at: datetime,
    about: str = "",
) -> Fact:
    """An entry of the trail, for `store_all`."""
    return fact_about(subscriber.workspace_id, subscriber.pk, kind, what, because, at, about)


def fact_about(
    workspace_id: UUID,
    person: UUID,
    kind: Fact.Kind,
    what: Json,
    because: Because,
    at: datetime,
    about: str,
) -> Fact:
    """The same of somebody whose row is not at hand."""
    return plain(Fact)(
        workspace_id=workspace_id,
        subscriber_id=person,
        at=at,
        kind=kind.value,
        about=about,
        what=what,
        **caused_by(workspace_id, because),
    )
