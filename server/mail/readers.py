"""A subscriber with all that a condition can look at.

The room of sequences says how (`reads_people`), since this room does not know runs.
"""

from collections.abc import Callable

from core.people import Catalogue, Person
from server.people.models import Subscriber
from server.workspaces.models import Workspace

_FULL: list[Callable[[Subscriber], Person]] = []
_CATALOGUE: list[Callable[[Workspace], Catalogue]] = []


def reads_people(
    full: Callable[[Subscriber], Person], catalogue: Callable[[Workspace], Catalogue]
) -> None:
    """Register how people and catalogues are read."""
    _FULL[:] = [full]
    _CATALOGUE[:] = [catalogue]


def full_person(subscriber: Subscriber) -> Person:
    """The person, with their runs and what happened to them."""
    return _FULL[0](subscriber)


def catalogue_of(workspace: Workspace) -> Catalogue:
    """What exists in the workspace."""
    return _CATALOGUE[0](workspace)
