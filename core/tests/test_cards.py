"""vCards, read back by vobject (another implementation), and their lines by RFC 6350."""

import unittest
from collections import Counter
from uuid import UUID

import vobject
from hypothesis import given, settings
from hypothesis import strategies as st

from core.people import Card, vcard

UID = str(UUID(int=7))
TEXT = st.text(
    st.characters(blacklist_categories=["Cc", "Cs", "Zl", "Zp"], blacklist_characters="\x85"),
    min_size=1,
    max_size=120,
).filter(lambda text: text.strip() == text and text)


class Cards(unittest.TestCase):
    def test_the_lines(self) -> None:
        """RFC 6350: 6.1.1, 6.2.1, 6.2.2, 6.2.5, 6.4.1, 6.4.2, 6.7.1, 6.7.6, 6.7.8."""
        card = Card(
            uid=UID,
            address="ines@example.com",
            given="Inês",
            family="van der Berg; jr",
            phones=["+441234567"],
            links=["https://example.com/a;b"],
            birthday="1985-04-12",
            categories=["moon", "a, b"],
        )
        self.assertEqual(
            vcard(card).split("\r\n"),
            [
                "BEGIN:VCARD",
                "VERSION:4.0",
                f"UID:urn:uuid:{UID}",
                "FN:Inês van der Berg\\; jr",
                "N:van der Berg\\; jr;Inês;;;",
                "EMAIL:ines@example.com",
                "TEL:+441234567",
                "URL:https://example.com/a;b",
                "BDAY:19850412",
                "CATEGORIES:moon,a\\, b",
                "END:VCARD",
                "",
            ],
        )

    def test_a_birthday_without_its_year_and_nobody_s_name(self) -> None:
        lines = vcard(Card(uid=UID, address="a@example.com", birthday="--02-29")).split("\r\n")
        self.assertIn("BDAY:--0229", lines)
        self.assertIn("FN:a@example.com", lines)
        self.assertFalse([one for one in lines if one.startswith("N:")])

    def test_whatever_a_name_holds(self) -> None:
        met: Counter[str] = Counter()

        @settings(max_examples=300, deadline=None)
        @given(TEXT, TEXT, st.lists(TEXT, max_size=4))
        def check(given_name: str, family: str, tags: list[str]) -> None:
            made = vcard(
                Card(
                    uid=UID,
                    address="a@example.com",
                    given=given_name,
                    family=family,
                    categories=tags,
                )
            )
            for line in made.split("\r\n"):
                self.assertLessEqual(len(line.encode()), 75)
            met["folded"] += "\r\n " in made
            met["escaped"] += any(one in given_name for one in "\\,;")
            read = vobject.readOne(made)
            self.assertEqual(read.n.value.given, given_name)
            self.assertEqual(read.n.value.family, family)
            self.assertEqual(read.fn.value, f"{given_name} {family}")
            if tags:
                self.assertEqual(read.categories.value, tags)

        check()
        self.assertGreater(met["folded"], 20)
        self.assertGreater(met["escaped"], 5)
