"""The blocks of a message, a module each: document, layout, words and check together.

To add one: a module here with a subclass of `MessageBlock`, and its name in `Block` below (and in
`InColumn` of `columns.py`, if it may stand in a column).
"""

from typing import Annotated

from pydantic import Field

from .base import (
    BlockCheck,
    Drawing,
    MessageBlock,
    PartKind,
    PictureFacts,
    Source,
)
from .button import ButtonBlock
from .columns import Column, ColumnsBlock, InColumn
from .file import FileBlock
from .footer import (
    FOOTER_PARTS,
    FooterBlock,
    FooterPart,
    footer_html,
    footer_plain,
    page_html,
    page_plain,
)
from .heading import HeadingBlock
from .picture import PictureBlock
from .quotation import QuotationBlock
from .rule import DividerBlock, SpaceBlock
from .text import TextBlock, bare_text

Block = Annotated[
    TextBlock
    | HeadingBlock
    | PictureBlock
    | ButtonBlock
    | FileBlock
    | QuotationBlock
    | FooterBlock
    | DividerBlock
    | SpaceBlock
    | ColumnsBlock,
    Field(discriminator="kind"),
]

__all__ = [
    "FOOTER_PARTS",
    "Block",
    "BlockCheck",
    "ButtonBlock",
    "Column",
    "ColumnsBlock",
    "DividerBlock",
    "Drawing",
    "FileBlock",
    "FooterBlock",
    "FooterPart",
    "HeadingBlock",
    "InColumn",
    "MessageBlock",
    "PartKind",
    "PictureBlock",
    "PictureFacts",
    "QuotationBlock",
    "Source",
    "SpaceBlock",
    "TextBlock",
    "bare_text",
    "footer_html",
    "footer_plain",
    "page_html",
    "page_plain",
]
