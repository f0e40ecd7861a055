"""Which rows can hold somebody's data, and what erasing, merging, exporting and retention do to them.

Each room registers its own models, in its `personal.py`; a system check fails on a model that
is not registered (`server/config/checks.py`). Erasing carries out what is registered, so that
nothing that is added later is forgotten.
"""

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from uuid import UUID

from django.db.models import Model, Q

from .models import Workspace
from .scoping import WorkspaceRow


@dataclass(frozen=True)
class Subject:
    """Somebody who is erased: by id, by every address that they have or had, and by what else was known of
    them."""

    workspace: Workspace
    person: UUID
    addresses: tuple[str, ...]
    """All of them, the present one first."""
    keys: tuple[str, ...]
    """The same, as addresses are compared."""
    texts: tuple[str, ...] = ()
    """Texts that are theirs, now or before: names, values of fields."""

    def named_in(self, field: str, lookup: str = "icontains") -> Q:
        """Rows in which one of the addresses stands."""
        found = Q(pk__in=[])
        for address in self.addresses:
            found |= Q(**{f"{field}__{lookup}": address})
        return found

    def without(self, text: str) -> str:
        """A text without the addresses, and without their own texts where it quotes them."""
        for address in self.addresses:
            text = re.sub(re.escape(address), "somebody who was erased", text, flags=re.IGNORECASE)
        for own in self.texts:
            text = re.sub(f"“{re.escape(own)}”", "“…”", text, flags=re.IGNORECASE)
        return text


Erase = Callable[[Subject], None]


@dataclass(frozen=True)
class Handling:
    """What becomes of a model's rows; the words are for the documents."""

    erasing: str
    merging: str
    exporting: str
    retention: str
    erase: Erase | None = None
    """Carried out before the person's own row goes; None: the rows go with it."""
    moves: bool = False
    """Whether a merge gives the rows of the one who goes (`subscriber`) to the other, as they are."""


_HANDLING: dict[type[Model], Handling] = {}
_WITHOUT: dict[type[Model], str] = {}


def holds_people(
    model: type[Model],
    *,
    erasing: str,
    merging: str,
    exporting: str,
    retention: str,
    erase: Erase | None = None,
    moves: bool = False,
) -> None:
    """Say that rows of `model` can hold somebody's data, and what becomes of them."""
    _HANDLING[model] = Handling(erasing, merging, exporting, retention, erase, moves)


def holds_nobody(*models: type[Model], why: str) -> None:
    """Say that rows of these models hold nobody's data but that of members."""
    _WITHOUT.update(dict.fromkeys(models, why))


def erase_everywhere(subject: Subject) -> None:
    """Let every room erase what it holds of somebody; the caller has locked them."""
    for handling in _HANDLING.values():
        if handling.erase is not None:
            handling.erase(subject)


def moving() -> list[type[WorkspaceRow]]:
    """The models whose rows a merge moves as they are."""
    moved = [model for model, handling in _HANDLING.items() if handling.moves]
    return [model for model in moved if issubclass(model, WorkspaceRow)]


def handling() -> dict[type[Model], Handling]:
    """What is registered, for the check and the documents."""
    return dict(_HANDLING)


def unregistered(models: Iterable[type[Model]]) -> list[type[Model]]:
    """The models that nothing is said of."""
    return [one for one in models if one not in _HANDLING and one not in _WITHOUT]
