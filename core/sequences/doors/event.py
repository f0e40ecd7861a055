"""Something happens, by its name: bought, booked."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from ...documents import Finding
from ...people import Catalogue
from .base import BaseDoor, DoorCheck, Signal


class EventDoor(BaseDoor):
    """To whom an event of this name happens."""

    kind: Literal["event"] = "event"
    name: str = Field(default="", max_length=60)

    @property
    def asked(self) -> bool:
        """Something that they did: bought, booked."""
        return True

    def opens_for(self, signal: Signal, catalogue: Catalogue) -> bool:
        """Each time it happens."""
        return signal.kind == "event" and bool(self.name) and signal.about == self.name

    def check(self, at: DoorCheck) -> Iterator[Finding]:
        """An event is known by its name alone."""
        yield from super().check(at)
        if not self.name.strip():
            yield self.unfinished("The event of this door has no name.", "Name it.")

    def named(self, catalogue: Catalogue) -> str:
        """event “bought”"""
        return f"event “{self.name}”"
