"""A member lets somebody in, or everybody whom a condition fits."""

from typing import Literal

from ...people import Catalogue
from .base import BaseDoor


class ByHandDoor(BaseDoor):
    """Where a member lets people in. Where a sequence has no such door, they come into its first
    lane."""

    kind: Literal["by_hand"] = "by_hand"

    def named(self, catalogue: Catalogue) -> str:
        """a member lets them in"""
        return "a member adds them"
