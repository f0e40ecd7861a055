"""Two or three columns beside each other; below each other where the screen is narrow."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from ...documents import Finding, Frozen
from .base import BlockCheck, Drawing, MessageBlock, Source
from .button import ButtonBlock
from .file import FileBlock
from .footer import FooterBlock
from .heading import HeadingBlock
from .picture import PictureBlock
from .quotation import QuotationBlock
from .rule import DividerBlock, SpaceBlock
from .text import TextBlock

InColumn = Annotated[
    TextBlock
    | HeadingBlock
    | PictureBlock
    | ButtonBlock
    | FileBlock
    | QuotationBlock
    | FooterBlock
    | DividerBlock
    | SpaceBlock,
    Field(discriminator="kind"),
]


class Column(Frozen):
    """One of the columns."""

    id: str = Field(max_length=40)
    parts: int = Field(default=1, ge=1, le=3)
    """How wide it is beside the others: 1 beside 2 is a third of the width."""
    blocks: tuple[InColumn, ...] = Field(default=(), max_length=30)


class ColumnsBlock(MessageBlock):
    """Columns beside each other."""

    kind: Literal["columns"] = "columns"
    columns: tuple[Column, ...] = Field(default=(), min_length=2, max_length=3)

    def mjml(self, draw: Drawing) -> str:
        """A row of its own, its columns apart."""
        total = sum(one.parts for one in self.columns)
        last = len(self.columns) - 1
        drawn = []
        for number, one in enumerate(self.columns):
            room = (
                "0" if number == last else ("0 0 0 16px" if draw.left == "right" else "0 16px 0 0")
            )
            inside = "".join(block.mjml(draw) for block in one.blocks)
            drawn.append(
                f'<mj-column width="{100 * one.parts / total:.2f}%" padding="{room}">{inside}</mj-column>'
            )
        return "".join(drawn)

    def plain(self, draw: Drawing) -> str:
        """One column below the other."""
        inside = (block.plain(draw) for one in self.columns for block in one.blocks)
        return "\n\n".join(text for text in inside if text)

    def sources(self) -> Iterator[Source]:
        """Those of all that stands in the columns."""
        for one in self.columns:
            for block in one.blocks:
                yield from block.sources()

    def say(self) -> str:
        """What stands in them."""
        inside = "; ".join(
            ", ".join(block.say() for block in one.blocks) or "empty" for one in self.columns
        )
        return f"{len(self.columns)} columns ({inside})"

    def check(self, around: BlockCheck) -> Iterator[Finding]:
        """Columns with nothing in them; what is wrong in one is said of its block."""
        if any(not one.blocks for one in self.columns):
            yield around.finding(
                "empty_block",
                "a column is empty.",
                "Add something to it, or remove the columns.",
                stops=False,
            )
