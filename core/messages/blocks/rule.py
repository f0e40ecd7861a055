"""What parts a letter: a rule, and space."""

from typing import Literal

from pydantic import Field

from .base import Drawing, MessageBlock


class DividerBlock(MessageBlock):
    """A thin rule across the column."""

    kind: Literal["divider"] = "divider"

    def mjml(self, draw: Drawing) -> str:
        """The rule."""
        return (
            f'<mj-divider css-class="rule" border-width="1px" border-color="{draw.style.rule}" '
            'padding="8px 0 24px" />'
        )

    def plain(self, draw: Drawing) -> str:
        """A line of hyphens."""
        return "-" * 20

    def say(self) -> str:
        """What it is."""
        return "divider"


class SpaceBlock(MessageBlock):
    """Empty height."""

    kind: Literal["space"] = "space"
    height: int = Field(default=24, ge=4, le=120)
    """CSS pixels."""

    def mjml(self, draw: Drawing) -> str:
        """The height."""
        return f'<mj-spacer height="{self.height}px" />'

    def plain(self, draw: Drawing) -> str:
        """Nothing."""
        return ""

    def say(self) -> str:
        """How high."""
        return f"{self.height} px of space"
