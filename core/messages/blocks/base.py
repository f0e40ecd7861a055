"""What every block of a message has: an id, for whom it is shown, and how it is laid out."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from html import escape
from typing import Literal

from pydantic import Field

from ...conditions import Group
from ...documents import Finding, Frozen
from ..frame import Frame
from ..style import HouseStyle

PartKind = Literal["html", "plain", "link"]
"""How a value is put into a part: into HTML it is escaped, into a link it is encoded."""


@dataclass(frozen=True)
class Source:
    """A part of a message as it was written, with Liquid in it."""

    kind: PartKind
    text: str


@dataclass(frozen=True)
class PictureFacts:
    """A picture of the library: where it is, in two sizes, and how large (CSS pixels)."""

    address: str
    sharp: str
    """The same at twice the size, for screens with many pixels."""
    width: int
    height: int
    alt: str = ""


@dataclass
class Drawing:
    """What blocks are laid out with. `slot` keeps a part for the person, and gives its stand-in."""

    style: HouseStyle
    frame: Frame
    pictures: Mapping[str, PictureFacts]
    mark: str
    """Begins every stand-in, and occurs nowhere in the message."""
    left: str = "left"
    """The side on which lines begin; right in languages that are written so."""
    sources: dict[Source, int] = field(default_factory=dict)
    """The parts that are written for each person, numbered."""

    def slot(self, kind: PartKind, text: str) -> str:
        """The stand-in of a part in HTML; one that is the same for everybody stands as it is."""
        if kind != "html" and "{" not in text:
            return escape(text)
        number = self.number(kind, text)
        return f"<!--{self.mark}{number}z-->" if kind == "html" else f"{self.mark}{number}z"

    def words(self, kind: PartKind, text: str) -> str:
        """The stand-in of a part in plain text."""
        if kind != "html" and "{" not in text:
            return text
        return f"{self.mark}{self.number(kind, text)}z"

    def number(self, kind: PartKind, text: str) -> int:
        """The number of a part that is written for each person."""
        return self.sources.setdefault(Source(kind, text), len(self.sources))


@dataclass(frozen=True)
class BlockCheck:
    """What pre-flight of a block looks at."""

    name: str
    """Of the message."""
    place: str
    pictures: Mapping[str, PictureFacts]
    has_file: bool

    def finding(self, code: str, sentence: str, fix: str, *, stops: bool = True) -> Finding:
        """Something wrong with the block."""
        return Finding(
            code=code,
            place=self.place,
            sentence=f"“{self.name}”: {sentence}",
            fix=fix,
            stops=stops,
        )


class MessageBlock(Frozen):
    """A part of a letter, one below the other."""

    id: str = Field(max_length=40)
    only: Group | None = None
    """Whom it is shown to; None: everybody."""

    def mjml(self, draw: Drawing) -> str:
        """What it is in the column of a letter."""
        raise NotImplementedError

    def plain(self, draw: Drawing) -> str:
        """What it is in plain text."""
        raise NotImplementedError

    def sources(self) -> Iterator[Source]:
        """Its parts as they were written."""
        return iter(())

    def say(self) -> str:
        """It in a few words, for the history."""
        raise NotImplementedError

    def check(self, around: BlockCheck) -> Iterator[Finding]:
        """What keeps it from being sent, or is worth a look."""
        return iter(())


def shortened(text: str, most: int = 60) -> str:
    """The beginning of a text."""
    plain = " ".join(text.split())
    return plain if len(plain) <= most else f"{plain[: most - 1]}…"
