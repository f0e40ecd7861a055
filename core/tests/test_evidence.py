"""Chains of evidence: canonical JSON against another implementation, and every way to tamper."""

import hmac
import json
from typing import Any
from unittest import TestCase

import rfc8785
from hypothesis import given
from hypothesis import strategies as st

from core.history import (
    Broken,
    Entry,
    Head,
    behind,
    canonical,
    entry_hash,
    first_broken,
    found_hash,
    head_line,
    read_heads,
)

KEY = b"a key"
NAMES = st.text(st.characters(codec="ascii"), max_size=8)
TEXTS = st.text(st.characters(codec="utf-8"), max_size=30)
CONTENT: Any = st.dictionaries(
    NAMES,
    st.recursive(
        st.none() | st.booleans() | st.integers(-(2**53) + 1, 2**53 - 1) | TEXTS,
        lambda inner: st.lists(inner, max_size=3) | st.dictionaries(NAMES, inner, max_size=3),
        max_leaves=6,
    ),
    max_size=6,
)


def chain(*said: str) -> list[Entry]:
    previous, found = "", []
    for number, text in enumerate(said, 1):
        digest = entry_hash({"number": number, "previous": previous, "text": text}, KEY)
        found.append(Entry(number=number, previous=previous, hash=digest, found=digest))
        previous = digest
    return found


class Canonical(TestCase):
    def test_the_example_of_the_rfc(self) -> None:
        # RFC 8785 3.2.4, without its numbers, which evidence never holds.
        content = {
            "string": "\u20ac$\u000f\u000aA'\u0042\u0022\u005c\\\"/",
            "literals": [None, True, False],
        }
        expected = '{"literals":[null,true,false],"string":"€$\\u000f\\nA\'B\\"\\\\\\\\\\"/"}'
        self.assertEqual(canonical(content), expected.encode())

    @given(CONTENT)
    def test_as_another_implementation_writes_it(self, content: dict[str, Any]) -> None:
        self.assertEqual(canonical(content), rfc8785.dumps(content))
        made = hmac.new(KEY, rfc8785.dumps(content), "sha256").hexdigest()
        self.assertEqual(entry_hash(content, KEY), made)


class Chains(TestCase):
    def test_a_whole_one_holds(self) -> None:
        self.assertIsNone(first_broken(chain("a", "b", "c")))
        self.assertIsNone(first_broken([]))

    def test_every_way_to_tamper_names_the_first_broken_entry(self) -> None:
        a, b, c = chain("a", "b", "c")
        forged = entry_hash({"number": 2, "previous": a.hash, "text": "forged"}, KEY)
        for tampered, number, why in (
            ([a, b.model_copy(update={"found": forged}), c], 2, "changed"),
            ([a, b.model_copy(update={"found": forged, "hash": forged}), c], 3, "unlinked"),
            ([a, c], 2, "missing"),
            ([b, c], 1, "missing"),
            ([a, b, b, c], 3, "missing"),
            ([a.model_copy(update={"previous": c.hash}), b, c], 1, "unlinked"),
        ):
            self.assertEqual(first_broken(tampered), Broken(number=number, why=why))


class Keys(TestCase):
    def test_an_older_key_still_verifies_and_none_of_ours_does_not(self) -> None:
        content = {"text": "agreed"}
        old = entry_hash(content, b"old")
        self.assertEqual(found_hash(content, old, [b"new", b"old"]), old)
        stranger = entry_hash(content, b"stranger")
        self.assertNotEqual(found_hash(content, stranger, [b"new", b"old"]), stranger)


class Journal(TestCase):
    def lines(self, *heads: Head) -> list[str]:
        found: list[str] = []
        for head in heads:
            previous = json.loads(found[-1])["signature"] if found else ""
            found.append(head_line(head, "2027-03-02T10:00:00+00:00", previous, KEY))
        return found

    def test_every_way_to_tamper_with_it_is_found(self) -> None:
        heads = [Head(chain=name, number=1, hash=name * 8) for name in "abc"]
        lines = self.lines(*heads)
        self.assertEqual(read_heads(lines, [KEY]), (heads, None))
        forged = self.lines(Head(chain="a", number=1, hash="x"))[0]
        for tampered, where in (
            ([lines[0], lines[2]], 2),
            ([lines[1], lines[0], lines[2]], 1),
            ([lines[0].replace("aaaa", "bbbb"), *lines[1:]], 1),
            ([forged, *lines[1:]], 2),
            ([lines[0], "nonsense", *lines[1:]], 2),
        ):
            self.assertEqual(read_heads(tampered, [KEY])[1], where)
        self.assertEqual(read_heads(lines, [b"another"])[1], 1)

    def test_a_chain_has_to_reach_what_it_says(self) -> None:
        heads = [Head(chain="a", number=2, hash="two"), Head(chain="b", number=1, hash="one")]
        whole = {"a": {1: "one", 2: "two", 3: "three"}, "b": {1: "one"}}
        self.assertEqual(behind(heads, whole), {})
        for stored, found in (
            ({"a": {1: "one"}, "b": {1: "one"}}, {"a": Broken(number=2, why="missing")}),
            ({"a": {1: "one", 2: "two"}}, {"b": Broken(number=1, why="missing")}),
            ({"a": {1: "one", 2: "2"}, "b": {1: "one"}}, {"a": Broken(number=2, why="changed")}),
        ):
            self.assertEqual(behind(heads, stored), found)
