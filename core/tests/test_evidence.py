"""Chains of evidence: canonical JSON against another implementation, and every way to tamper."""

from hashlib import sha256
from typing import Any
from unittest import TestCase

import rfc8785
from hypothesis import given
from hypothesis import strategies as st

from core.history import Broken, Entry, canonical, entry_hash, first_broken

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
        digest = entry_hash({"number": number, "previous": previous, "text": text})
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
        self.assertEqual(entry_hash(content), sha256(rfc8785.dumps(content)).hexdigest())


class Chains(TestCase):
    def test_a_whole_one_holds(self) -> None:
        self.assertIsNone(first_broken(chain("a", "b", "c")))
        self.assertIsNone(first_broken([]))

    def test_every_way_to_tamper_names_the_first_broken_entry(self) -> None:
        a, b, c = chain("a", "b", "c")
        forged = entry_hash({"number": 2, "previous": a.hash, "text": "forged"})
        for tampered, number, why in (
            ([a, b.model_copy(update={"found": forged}), c], 2, "changed"),
            ([a, b.model_copy(update={"found": forged, "hash": forged}), c], 3, "unlinked"),
            ([a, c], 2, "missing"),
            ([b, c], 1, "missing"),
            ([a, b, b, c], 3, "missing"),
            ([a.model_copy(update={"previous": c.hash}), b, c], 1, "unlinked"),
        ):
            self.assertEqual(first_broken(tampered), Broken(number=number, why=why))
