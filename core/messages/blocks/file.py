"""A link to the file that the message has."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from ...documents import Finding
from .base import BlockCheck, Drawing, MessageBlock, Source, shortened
from .button import button


class FileBlock(MessageBlock):
    """A button to the file, with an address of its own for each person that runs out."""

    kind: Literal["file"] = "file"
    label: str = Field(default="Open the file", max_length=120)

    def mjml(self, draw: Drawing) -> str:
        """The button."""
        return button(draw, self.label, "{{ file_link }}")

    def plain(self, draw: Drawing) -> str:
        """Its words, and where it leads."""
        return f"{draw.words('plain', self.label)}:\n{draw.words('link', '{{ file_link }}')}"

    def sources(self) -> Iterator[Source]:
        """Its words, and where it leads."""
        yield Source("plain", self.label)
        yield Source("link", "{{ file_link }}")

    def say(self) -> str:
        """Its words."""
        return f"link to the file “{shortened(self.label)}”"

    def check(self, around: BlockCheck) -> Iterator[Finding]:
        """Without words. (A missing file is said of the whole message.)"""
        if not self.label.strip():
            yield around.finding(
                "empty_block", "the link to the file has no words.", "Write what it opens."
            )
