"""A picture of the library."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from ...documents import Finding
from ..addresses import wrong_address
from .base import BlockCheck, Drawing, MessageBlock, Source, shortened


class PictureBlock(MessageBlock):
    """A picture, with the words that stand for it where it is not shown."""

    kind: Literal["picture"] = "picture"
    picture: str = ""
    alt: str = Field(default="", max_length=300)
    ornament: bool = False
    """It says nothing, so nothing stands for it."""
    link: str = Field(default="", max_length=2000)
    share: int = Field(default=100, ge=10, le=100)
    """Percent of the width of its column."""

    def mjml(self, draw: Drawing) -> str:
        """The picture, at most as wide as it is."""
        facts = draw.pictures.get(self.picture)
        if facts is None:
            return ""
        width = max(1, min(facts.width, round((draw.style.width - 48) * self.share / 100)))
        alt = "" if self.ornament else draw.slot("plain", self.alt or facts.alt)
        link = f' href="{draw.slot("link", self.link)}"' if self.link else ""
        return (
            f'<mj-image src="{facts.address}" srcset="{facts.address} 1x, {facts.sharp} 2x" '
            f'alt="{alt}" width="{width}px" align="{draw.left}"{link} padding="0 0 16px" />'
        )

    def plain(self, draw: Drawing) -> str:
        """What stands for it, and where it leads."""
        facts = draw.pictures.get(self.picture)
        words = "" if self.ornament or facts is None else self.alt or facts.alt
        alone = f"[{draw.words('plain', words)}]" if words else ""
        return f"{alone} {draw.words('link', self.link)}".strip() if self.link else alone

    def sources(self) -> Iterator[Source]:
        """What stands for it, and where it leads."""
        if not self.ornament:
            yield Source("plain", self.alt)
        yield Source("link", self.link)

    def say(self) -> str:
        """What it shows."""
        return f"picture “{shortened(self.alt)}”" if self.alt else "picture"

    def check(self, around: BlockCheck) -> Iterator[Finding]:
        """None chosen, no words for it, a link that leads nowhere."""
        facts = around.pictures.get(self.picture)
        if facts is None:
            yield around.finding(
                "no_picture",
                "a picture is missing." if self.picture else "no picture is chosen.",
                "Choose one, or remove the block.",
            )
        elif not self.ornament and not (self.alt or facts.alt).strip():
            yield around.finding(
                "no_alt",
                "a picture has no alternative text, which is read where pictures are off.",
                "Say what it shows, or mark it as an ornament.",
            )
        if self.link and (wrong := wrong_address(self.link)):
            yield around.finding(
                "wrong_link", f"a picture links to {wrong}", "Write the link again."
            )
