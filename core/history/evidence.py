"""Evidence of consent as a chain: each entry holds the hash of the one before it.

The hash is HMAC-SHA-256 (RFC 2104), by a key that the database does not know, over the canonical JSON of the
entry (RFC 8785), its predecessor's hash among it. So no entry can be changed, taken out or put between, nor a
chain made anew, by whoever has the database alone. How far each chain went stands, signed, in a journal outside
of the database, so that its last entries cannot be taken off, nor an older copy be put back, either.
"""

import hmac
from collections.abc import Iterable, Mapping, Sequence
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


def entry_hash(content: Content, key: bytes) -> str:
    """The keyed hash of an entry, 64 hexadecimal digits."""
    return hmac.digest(key, canonical(content), "sha256").hex()


def found_hash(content: Content, stored: str, keys: Sequence[bytes]) -> str:
    """The hash that an entry has by the key that it was made with, one of `keys` (the newest first); by the
    newest where it was made with none of them."""
    hashes = [entry_hash(content, key) for key in keys]
    return next((one for one in hashes if hmac.compare_digest(one, stored)), hashes[0])


class Head(Frozen):
    """How far a chain had come at a moment: the number and the hash of its last entry."""

    chain: str
    number: int
    hash: str


def head_line(head: Head, at: str, previous: str, key: bytes) -> str:
    """A line of the journal: a head, the moment, and a signature that covers the line before too."""
    content = {**head.model_dump(), "at": at, "previous": previous}
    return canonical({**content, "signature": entry_hash(content, key)}).decode()


def read_heads(lines: Iterable[str], keys: Sequence[bytes]) -> tuple[list[Head], int | None]:
    """The heads that a file of the journal holds, and the number of the first line that is not as it was
    written (changed, taken out, put between); None: all are."""
    found: list[Head] = []
    previous = ""
    for number, line in enumerate(lines, start=1):
        try:
            content = orjson.loads(line)
            signature = str(content.pop("signature"))
            linked = content["previous"] == previous
            head = Head(chain=content["chain"], number=content["number"], hash=content["hash"])
        except (orjson.JSONDecodeError, KeyError, TypeError, AttributeError, ValueError):
            return found, number
        if not linked or found_hash(content, signature, keys) != signature:
            return found, number
        found.append(head)
        previous = signature
    return found, None


def behind(heads: Iterable[Head], stored: Mapping[str, Mapping[int, str]]) -> dict[str, "Broken"]:
    """The chains that do not reach what the journal says of them; `stored`: hashes by chain and number."""
    found: dict[str, Broken] = {}
    for head in heads:
        hashes = stored.get(head.chain, {})
        if head.number not in hashes:
            number = max(hashes, default=0) + 1
            found[head.chain] = Broken(number=number, why="missing")
        elif hashes[head.number] != head.hash:
            found.setdefault(head.chain, Broken(number=head.number, why="changed"))
    return found


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
