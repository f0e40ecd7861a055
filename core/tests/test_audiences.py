"""Audiences: what pre-flight says of one, whom everything fits but one part, and what has changed."""

import unittest
from collections import Counter
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from core.audiences import (
    AudienceDocument,
    audience_changes,
    check_audience,
    missing_one,
    without_values,
)
from core.conditions import (
    AnswerTest,
    Circumstances,
    FieldTest,
    Group,
    ScoreTest,
    SourceTest,
    TagTest,
    holds,
    leaves,
)
from core.people import Person
from core.tests.test_conditions import CATALOGUE, NOW

TAGS = ("t1", "t2", "t3", "t4")
SEEN = Circumstances(now=NOW)


def audience(*parts: Any, kind: Any = "all") -> AudienceDocument:
    return AudienceDocument(who=Group(kind=kind, of=parts))


class PreFlight(unittest.TestCase):
    def codes(self, document: AudienceDocument) -> list[tuple[str, bool]]:
        return [(one.code, one.stops) for one in check_audience(document, CATALOGUE)]

    def test_each_finding(self) -> None:
        tag = next(iter(CATALOGUE.tags))
        for document, codes in (
            (audience(), [("condition_empty", True)]),
            (audience(TagTest(tag=tag)), []),
            (audience(TagTest(tag="gone")), [("condition_gone", True)]),
            (audience(AnswerTest(question="look")), [("of_a_submission", True)]),
            (
                audience(SourceTest(sources=(next(iter(CATALOGUE.sources)),))),
                [("of_a_submission", True)],
            ),
            (
                audience(TagTest(tag=tag), TagTest(tag=tag, has=False)),
                [("never_holds", False)],
            ),
        ):
            with self.subTest(document=document):
                self.assertEqual(self.codes(document), codes)


class MissingOne(unittest.TestCase):
    def test_by_the_parts_that_fail(self) -> None:
        """Every person with some of four tags, every condition of two to four of them."""
        met: Counter[bool] = Counter()
        people = [
            Person(
                address="a@example.com",
                tags=frozenset(tag for index, tag in enumerate(TAGS) if number >> index & 1),
            )
            for number in range(2 ** len(TAGS))
        ]
        for count in (2, 3, 4):
            for signs in range(2**count):
                parts = tuple(
                    TagTest(tag=TAGS[index], has=bool(signs >> index & 1)) for index in range(count)
                )
                missing = missing_one(Group(of=parts))
                self.assertEqual([part for part, _ in missing], list(parts))
                for person in people:
                    failing = [one for one in parts if (one.tag in person.tags) != one.has]
                    for part, near in missing:
                        met[failing == [part]] += 1
                        self.assertEqual(holds(near, person, SEEN, CATALOGUE), failing == [part])
        self.assertEqual(sum(met.values()), (4 * 2 + 8 * 3 + 16 * 4) * 16)
        self.assertGreater(min(met.values()), 80)

    def test_nothing_where_there_is_nothing_to_leave_out(self) -> None:
        part = TagTest(tag="t1")
        self.assertEqual(missing_one(Group(of=(part,))), ())
        self.assertEqual(missing_one(Group(kind="any", of=(part, part))), ())
        self.assertEqual(missing_one(Group(kind="none", of=(part, part))), ())
        self.assertEqual(missing_one(Group(of=(part,) * 9)), ())
        self.assertEqual(len(missing_one(Group(of=(part,) * 8))), 8)
        # A group within is one part.
        self.assertEqual(len(missing_one(Group(of=(part, Group(of=(part, part)))))), 2)


class Changes(unittest.TestCase):
    def test_sentences(self) -> None:
        one, other = ScoreTest(value=5), ScoreTest(value=9)
        for before, after, said in (
            (audience(one), audience(one), ()),
            (
                audience(one),
                audience(other),
                (
                    "No longer: “the score is at least 5”.",
                    "New: “the score is at least 9”.",
                ),
            ),
            (
                audience(one, other),
                audience(one, other, kind="any"),
                ("“any of these” instead of “all of these”.",),
            ),
            (
                audience(one, other),
                audience(other, one),
                ("The parts are in another order.",),
            ),
            (audience(one), audience(one, one), ("New: “the score is at least 5”.",)),
        ):
            with self.subTest(said=said):
                self.assertEqual(audience_changes(before, after, CATALOGUE), said)

    @settings(max_examples=200, deadline=None)
    @given(st.data())
    def test_a_difference_is_always_said(self, data: st.DataObject) -> None:
        leaf = st.builds(ScoreTest, value=st.integers(0, 3))
        groups = st.builds(
            Group,
            kind=st.sampled_from(["all", "any", "none"]),
            of=st.lists(leaf, max_size=3).map(tuple),
        )
        nested = st.builds(Group, of=st.lists(groups | leaf, max_size=3).map(tuple))
        before, after = data.draw(nested), data.draw(nested)
        said = audience_changes(
            AudienceDocument(who=before), AudienceDocument(who=after), CATALOGUE
        )
        self.assertEqual(bool(said), before != after)


class Erased(unittest.TestCase):
    def test_values_that_hold_an_address_are_emptied(self) -> None:
        field = next(iter(CATALOGUE.fields))
        named = FieldTest(field=field, value="Ines@Example.com")
        several = FieldTest(field=field, op="one_of", values=("ines@example.com", "bo@example.com"))
        kept = FieldTest(field=field, value="bo@example.com")
        document = audience(named, Group(kind="any", of=(several, kept)))
        left = without_values(document, ["ines@example.com"])
        found = list(leaves(left.who))
        self.assertEqual(
            [(one.value, one.values) for one in found if isinstance(one, FieldTest)],
            [("", ()), ("", ("bo@example.com",)), ("bo@example.com", ())],
        )
        self.assertEqual(without_values(left, ["nobody@example.com"]), left)
