"""A field of somebody changes."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from ...documents import Finding, folded
from ...people import Catalogue
from .base import BaseDoor, DoorCheck, Signal


class FieldDoor(BaseDoor):
    """Whose field changes: to this value, or to any where none is stated."""

    kind: Literal["field"] = "field"
    field: str | None = None
    value: str = Field(default="", max_length=400)

    def opens_for(self, signal: Signal, catalogue: Catalogue) -> bool:
        """At the moment it changes; emptying it is no value."""
        target = catalogue.fields.get(self.field or "")
        if target is None or signal.kind != "field" or signal.about != target.key:
            return False
        if not self.value:
            return bool(signal.state)
        return folded(signal.state) == folded(self.value)

    def check(self, at: DoorCheck) -> Iterator[Finding]:
        """The field is there."""
        yield from super().check(at)
        if self.field not in at.catalogue.fields:
            yield self.unfinished("No field is chosen for this door.", "Choose a field.")

    def named(self, catalogue: Catalogue) -> str:
        """Interest becomes Planets"""
        target = catalogue.fields.get(self.field or "")
        label = target.label if target else "a field that is not chosen"
        if not self.value:
            return f"{label} changes"
        return f"{label} becomes {target.shown(self.value) if target else self.value}"
