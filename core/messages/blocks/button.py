"""A button: a link that is asked for."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from ...documents import Finding, readable_on
from ..addresses import wrong_address
from .base import BlockCheck, Drawing, MessageBlock, Source, shortened


def button(draw: Drawing, label: str, link: str) -> str:
    """A button in the colour of links."""
    accent = draw.style.accent
    return (
        f'<mj-button href="{draw.slot("link", link)}" align="{draw.left}" font-size="16px" '
        f'background-color="{accent}" color="{readable_on(accent)}" border-radius="3px" '
        f'inner-padding="12px 22px" padding="4px 0 20px" css-class="act">'
        f"{draw.slot('plain', label)}</mj-button>"
    )


class ButtonBlock(MessageBlock):
    """A link that stands out."""

    kind: Literal["button"] = "button"
    label: str = Field(default="", max_length=120)
    link: str = Field(default="", max_length=2000)

    def mjml(self, draw: Drawing) -> str:
        """The button."""
        return button(draw, self.label, self.link)

    def plain(self, draw: Drawing) -> str:
        """Its words, and where it leads."""
        return f"{draw.words('plain', self.label)}:\n{draw.words('link', self.link)}"

    def sources(self) -> Iterator[Source]:
        """Its words, and where it leads."""
        yield Source("plain", self.label)
        yield Source("link", self.link)

    def say(self) -> str:
        """Its words, and where it leads."""
        return f"button “{shortened(self.label)}” to {shortened(self.link)}"

    def check(self, around: BlockCheck) -> Iterator[Finding]:
        """No words, no link, one that leads nowhere."""
        if not self.label.strip():
            yield around.finding("empty_block", "a button has no words.", "Write what it does.")
        if wrong := wrong_address(self.link):
            yield around.finding(
                "wrong_link",
                f"the button “{shortened(self.label)}” links to {wrong}",
                "Write the link again.",
            )
