"""A quotation, and who said it."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from ...documents import Finding
from ..cleaning import bounded_html
from ..limits import LONGEST_TEXT
from .base import BlockCheck, Drawing, MessageBlock, Source, shortened
from .text import bare_text


class QuotationBlock(MessageBlock):
    """Somebody else's words."""

    kind: Literal["quotation"] = "quotation"
    html: Annotated[str, AfterValidator(bounded_html)] = Field(default="", max_length=LONGEST_TEXT)
    by: str = Field(default="", max_length=200)

    def mjml(self, draw: Drawing) -> str:
        """The words beside a rule, and below them whose they are."""
        side = "right" if draw.left == "right" else "left"
        by = f'<p class="by">{draw.slot("plain", self.by)}</p>' if self.by else ""
        return (
            f'<mj-text font-style="italic" container-background-color="transparent" '
            f'padding="4px 0 16px" css-class="quote-{side}">'
            f"{draw.slot('html', self.html)}{by}</mj-text>"
        )

    def plain(self, draw: Drawing) -> str:
        """The words, and whose they are."""
        by = f"\n– {draw.words('plain', self.by)}" if self.by else ""
        return f"{draw.words('html', self.html)}{by}"

    def sources(self) -> Iterator[Source]:
        """The words, and whose they are."""
        yield Source("html", self.html)
        yield Source("plain", self.by)

    def say(self) -> str:
        """How it begins."""
        return f"quotation “{shortened(bare_text(self.html))}”"

    def check(self, around: BlockCheck) -> Iterator[Finding]:
        """An empty one."""
        if not bare_text(self.html):
            yield around.finding("empty_block", "a quotation is empty.", "Write it, or remove it.")
