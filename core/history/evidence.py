"""Evidence of consent as a chain: each entry holds the hash of the one before it.

The hash is SHA-256 over the canonical JSON of the entry (RFC 8785), its predecessor's hash
among it. So no entry can be changed, taken out or put between unnoticed, but the last ones of
a chain together with all that says how far it went.
"""

from collections.abc import Iterable, Mapping
from hashlib import sha256
from typing import Literal

import orjson

from ..documents import Frozen

Content = Mapping[str, object]
"""An entry without its hash: texts, whole numbers, true, false, null, lists and objects of them."""


def canonical(content: Content) -> bytes:
    """The canonical JSON of `content` (RFC 8785), in UTF-8.

    For what evidence holds: no fractions, and names that are ASCII, whose order is the same by
    code points as by UTF-16 units (3.2.3).
    """
    return orjson.dumps(content, option=orjson.OPT_SORT_KEYS)


def entry_hash(content: Content) -> str:
    """The hash of an entry, 64 hexadecimal digits."""
    return sha256(canonical(content)).hexdigest()


class Entry(Frozen):
    """An entry as it is stored: its place in the chain, what it says of the one before it, its
    hash, and the hash of its content as it is now."""

    number: int
    previous: str
    hash: str
    found: str


class Broken(Frozen):
    """The first entry of a chain that does not hold, and why."""

    number: int
    why: Literal["changed", "missing", "unlinked"]


def first_broken(chain: Iterable[Entry]) -> Broken | None:
    """The first broken entry of a chain, given in the order of the numbers; None: it is whole."""
    expected, previous = 1, ""
    for entry in chain:
        if entry.number != expected:
            return Broken(number=expected, why="missing")
        if entry.previous != previous:
            return Broken(number=entry.number, why="unlinked")
        if entry.hash != entry.found:
            return Broken(number=entry.number, why="changed")
        expected, previous = expected + 1, entry.hash
    return None
