"""Somebody follows a link of an email."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from ...documents import Finding, Use
from ...people import Catalogue
from .base import BaseDoor, DoorCheck, Signal


class ClickDoor(BaseDoor):
    """Whoever clicks a link in a message, as far as a person can be told from a program."""

    kind: Literal["click"] = "click"
    message: str | None = None
    """None: any message."""
    link: str = Field(default="", max_length=500)
    """What stands in the address of the link, exactly; any link where it is empty."""

    @property
    def asked(self) -> bool:
        """They followed the link."""
        return True

    def opens_for(self, signal: Signal, catalogue: Catalogue) -> bool:
        """Each time they click."""
        mine = self.message in (None, "", signal.about)
        return signal.kind == "clicked" and mine and self.link in signal.state

    def check(self, at: DoorCheck) -> Iterator[Finding]:
        """The message is there, and something narrows it."""
        yield from super().check(at)
        if self.message and self.message not in at.catalogue.messages:
            yield self.unfinished("The message of this door is gone.", "Choose a message.")
        if not self.message and not self.link.strip():
            yield self.unfinished(
                "This door opens for any click in any email.", "Choose a message or a link."
            )

    def named(self, catalogue: Catalogue) -> str:
        """clicked a link with “/shop” in Which one fits"""
        link = f"a link with “{self.link}”" if self.link else "a link"
        name = (
            catalogue.messages.get(self.message, "a message that is gone") if self.message else ""
        )
        return f"clicked {link} in {name}" if name else f"clicked {link}"

    def uses(self) -> Iterator[Use]:
        """Looks at its message."""
        if self.message:
            yield Use(id=self.message, how="looks at")
