"""A person as a vCard (RFC 6350, version 4.0)."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

_LINE = 75
"""Octets of a line, without its break (RFC 6350, 3.2)."""


@dataclass
class Card:
    """What a card says; what is empty is left out."""

    uid: str
    """A UUID."""
    address: str
    given: str = ""
    family: str = ""
    phones: list[str] = field(default_factory=list)
    links: list[str] = field(default_factory=list)
    birthday: str = ""
    """A date of ISO 8601; without its year: --MM-DD."""
    categories: list[str] = field(default_factory=list)


def vcard(card: Card) -> str:
    """The lines of a card, folded, each ended by CRLF."""
    return "".join(_folded(line) for line in _lines(card))


def _lines(card: Card) -> Iterator[str]:
    yield "BEGIN:VCARD"
    yield "VERSION:4.0"
    yield f"UID:urn:uuid:{card.uid}"
    name = f"{card.given} {card.family}".strip()
    yield f"FN:{_text(name or card.address)}"
    if name:
        yield f"N:{_text(card.family)};{_text(card.given)};;;"
    yield f"EMAIL:{_text(card.address)}"
    for phone in card.phones:
        yield f"TEL:{_text(phone)}"
    for link in card.links:
        yield f"URL:{''.join(link.split())}"
    if card.birthday:
        yield f"BDAY:{_day(card.birthday)}"
    if card.categories:
        yield f"CATEGORIES:{_several(card.categories)}"
    yield "END:VCARD"


def _day(date: str) -> str:
    """A date as RFC 6350 (4.3.1) writes it: YYYYMMDD, or --MMDD without its year."""
    bare = date.replace("-", "")
    return f"--{bare}" if date.startswith("--") else bare


def _several(values: Iterable[str]) -> str:
    return ",".join(_text(one) for one in values)


def _text(value: str) -> str:
    """A text with what separates made plain (RFC 6350, 3.4)."""
    plain = value.replace("\\", "\\\\").replace(",", "\\,").replace(";", "\\;")
    return "\\n".join(plain.splitlines())


def _folded(line: str) -> str:
    """Lines of at most so many octets; no character is cut in two."""
    parts: list[str] = []
    part, size, most = "", 0, _LINE
    for one in line:
        width = len(one.encode())
        if size + width > most:
            parts.append(part)
            # Of the next one, the space that it begins with is one.
            part, size, most = "", 0, _LINE - 1
        part, size = part + one, size + width
    return "\r\n ".join([*parts, part]) + "\r\n"
