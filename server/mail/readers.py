"""A subscriber with all that a condition can look at.

The room of sequences says how (`reads_people`), since this room does not know runs.
"""

from collections.abc import Callable, Collection, Sequence
from uuid import UUID

from core.people import Catalogue, Person
from server.people.models import Subscriber
from server.workspaces.models import Workspace

from .senders import OwnBroadcast, OwnSending, Sender

_FULL: list[Callable[[Workspace, Sequence[Subscriber]], dict[UUID, Person]]] = []
_SENDERS: list[Callable[[Workspace, Sequence[UUID]], dict[UUID, Sender]]] = []
_SENDING: list[Callable[[Workspace, Collection[UUID]], dict[UUID, OwnSending]]] = []
_BROADCASTS: list[Callable[[Workspace, Collection[UUID]], dict[UUID, OwnBroadcast]]] = []
_CATALOGUE: list[Callable[[Workspace], Catalogue]] = []


def reads_people(
    full: Callable[[Workspace, Sequence[Subscriber]], dict[UUID, Person]],
    catalogue: Callable[[Workspace], Catalogue],
    senders: Callable[[Workspace, Sequence[UUID]], dict[UUID, Sender]],
    sending: Callable[[Workspace, Collection[UUID]], dict[UUID, OwnSending]],
) -> None:
    """Register how people, catalogues, and the senders and sending times of sequences are read."""
    _FULL[:] = [full]
    _SENDERS[:] = [senders]
    _SENDING[:] = [sending]
    _CATALOGUE[:] = [catalogue]


def full_people(workspace: Workspace, subscribers: Sequence[Subscriber]) -> dict[UUID, Person]:
    """These people, with their runs and what happened to them, in few statements."""
    return _FULL[0](workspace, subscribers)


def senders_of(workspace: Workspace, sequences: Sequence[UUID]) -> dict[UUID, Sender]:
    """Who the emails of these sequences are from, by what is live of each."""
    return _SENDERS[0](workspace, sequences)


def own_sending_of(workspace: Workspace, sequences: Collection[UUID]) -> dict[UUID, OwnSending]:
    """When these sequences send, and with which priority, by what is live of each."""
    return _SENDING[0](workspace, sequences) if sequences else {}


def reads_broadcasts(
    own: Callable[[Workspace, Collection[UUID]], dict[UUID, OwnBroadcast]],
) -> None:
    """Register how broadcasts say what their emails are."""
    _BROADCASTS[:] = [own]


def own_broadcasts(workspace: Workspace, broadcasts: Collection[UUID]) -> dict[UUID, OwnBroadcast]:
    """What these broadcasts say of their emails, by what was set off of each."""
    return _BROADCASTS[0](workspace, broadcasts) if broadcasts else {}


def catalogue_of(workspace: Workspace) -> Catalogue:
    """What exists in the workspace."""
    return _CATALOGUE[0](workspace)
