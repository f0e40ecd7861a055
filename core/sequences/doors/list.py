"""Somebody becomes a subscriber of a list."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Use
from ...people import Catalogue
from .base import BaseDoor, DoorCheck, Signal


class ListDoor(BaseDoor):
    """Whoever becomes a subscriber of the list: by joining it, or by confirming where the list asks
    for that."""

    kind: Literal["list"] = "list"
    list: str | None = None

    @property
    def asked(self) -> bool:
        """They joined the list, or confirmed it."""
        return True

    def opens_for(self, signal: Signal, catalogue: Catalogue) -> bool:
        """At the moment they are subscribed."""
        joined = signal.kind == "membership" and signal.state == "subscribed"
        return joined and signal.about == self.list

    def check(self, at: DoorCheck) -> Iterator[Finding]:
        """The list is there."""
        yield from super().check(at)
        if self.list not in at.catalogue.lists:
            yield self.unfinished("No list is chosen for this door.", "Choose a list.")

    def named(self, catalogue: Catalogue) -> str:
        """joined Open-night news"""
        verb = "confirmed" if self.list in catalogue.confirmed_lists else "joined"
        return f"{verb} {catalogue.lists.get(self.list or '', 'a list that is not chosen')}"

    def uses(self) -> Iterator[Use]:
        """Looks at its list."""
        if self.list:
            yield Use(id=self.list, how="looks at")
