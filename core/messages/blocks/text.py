"""Text: paragraphs, lists, small headings, links."""

import html
import re
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from ..cleaning import bounded_html
from ..limits import LONGEST_TEXT
from .base import Drawing, MessageBlock, Source, shortened

_TAG = re.compile(r"<[^>]*>")


def bare_text(source: str) -> str:
    """HTML without its tags."""
    return html.unescape(_TAG.sub(" ", source)).replace("\xa0", " ").strip()


class TextBlock(MessageBlock):
    """What one writes; HTML with a few tags."""

    kind: Literal["text"] = "text"
    html: Annotated[str, AfterValidator(bounded_html)] = Field(default="", max_length=LONGEST_TEXT)

    def mjml(self, draw: Drawing) -> str:
        """Paragraphs below each other."""
        return f"<mj-text>{draw.slot('html', self.html)}</mj-text>"

    def plain(self, draw: Drawing) -> str:
        """The same, links written out."""
        return draw.words("html", self.html)

    def sources(self) -> Iterator[Source]:
        """The text."""
        yield Source("html", self.html)

    def say(self) -> str:
        """How it begins."""
        return f"text “{shortened(bare_text(self.html))}”"
