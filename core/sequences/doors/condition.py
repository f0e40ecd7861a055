"""A condition becomes true for somebody."""

from collections.abc import Iterator
from typing import Literal

from ...conditions import Group, say
from ...people import Catalogue
from .base import BaseDoor


class ConditionDoor(BaseDoor):
    """For whom the condition comes to hold after the door was opened. Whoever it held for by then
    does not come in by themselves: a member can let them in."""

    kind: Literal["condition"] = "condition"
    when: Group = Group()

    def conditions(self) -> Iterator[Group]:
        """What has to become true, and what narrows it."""
        yield self.when
        yield from super().conditions()

    def named(self, catalogue: Catalogue) -> str:
        """becomes true: the score is at least 50"""
        return f"becomes true: {say(self.when, catalogue)}"
