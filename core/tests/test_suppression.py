"""Entries of the suppression list, and what an address is looked up by."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.documents import Problem
from core.people import Entry, domain_of, keys_of, read_entry
from core.values import read_email


class Entries(TestCase):
    def test_an_address_whatever_its_case(self) -> None:
        expected = Entry(kind="address", key="ines@example.org")
        for text in ("ines@example.org", "  Ines@EXAMPLE.org "):
            self.assertEqual(read_entry(text), expected)

    def test_a_domain_with_or_without_its_sign(self) -> None:
        expected = Entry(kind="domain", key="example.org")
        for text in ("example.org", "@example.org", " @Example.ORG "):
            self.assertEqual(read_entry(text), expected)

    def test_an_international_domain_is_the_same_in_both_spellings(self) -> None:
        # RFC 5891: the A-label of "bücher" is "xn--bcher-kva".
        one, other = read_entry("@bücher.example"), read_entry("@xn--bcher-kva.example")
        self.assertEqual(one, other)

    def test_what_is_neither(self) -> None:
        for text in (
            "",
            "  ",
            "@",
            "org",
            "@org",
            "ines",
            "two words.example",
            "a@b@c",
            "@.example",
        ):
            with self.subTest(text=text):
                self.assertIsInstance(read_entry(text), Problem)

    @given(st.text(max_size=80))
    def test_any_text_gives_an_entry_or_a_problem(self, text: str) -> None:
        self.assertIsInstance(read_entry(text), Entry | Problem)

    @given(st.sampled_from(["ines@example.org", "INES@Example.org", "zoë@bücher.example"]))
    def test_an_address_is_found_by_either_of_its_entries(self, address: str) -> None:
        kept = read_email(address)
        assert isinstance(kept, str)
        for entry in (read_entry(address), read_entry(f"@{domain_of(kept)}")):
            assert isinstance(entry, Entry)
            self.assertIn(entry.key, keys_of(kept))

    def test_a_subdomain_is_another_domain(self) -> None:
        entry = read_entry("@example.org")
        assert isinstance(entry, Entry)
        self.assertNotIn(entry.key, keys_of("ines@mail.example.org"))
