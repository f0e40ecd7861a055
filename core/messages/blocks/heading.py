"""A heading."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from ...documents import Finding
from .base import BlockCheck, Drawing, MessageBlock, Source, shortened

_SIZES = {1: 28, 2: 22, 3: 18}


class HeadingBlock(MessageBlock):
    """A line above what follows."""

    kind: Literal["heading"] = "heading"
    text: str = Field(default="", max_length=300)
    level: Literal[1, 2, 3] = 2

    def mjml(self, draw: Drawing) -> str:
        """The line, in its size."""
        words = draw.slot("plain", self.text)
        return (
            f'<mj-text font-size="{_SIZES[self.level]}px" line-height="1.25" font-weight="700" '
            f'padding-bottom="12px"><h{self.level} class="line">{words}</h{self.level}></mj-text>'
        )

    def plain(self, draw: Drawing) -> str:
        """The line alone."""
        return draw.words("plain", self.text)

    def sources(self) -> Iterator[Source]:
        """The line."""
        yield Source("plain", self.text)

    def say(self) -> str:
        """The line itself."""
        return f"heading “{shortened(self.text)}”"

    def check(self, around: BlockCheck) -> Iterator[Finding]:
        """An empty one."""
        if not self.text.strip():
            yield around.finding("empty_block", "a heading is empty.", "Write it, or remove it.")
