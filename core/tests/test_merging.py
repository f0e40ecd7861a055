"""Merging: everything has an outcome, nothing is lost, nobody is brought back."""

from dataclasses import replace
from itertools import product
from typing import get_args
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.people import MembershipState, Person, bounced, complained, merged
from core.profiles import Line, merge
from core.tests.test_rules import HERE

INES = Person(
    address="ines@example.com",
    values={"first_name": "Ines", "email": "ines@example.com"},
    tags=frozenset({"t-moon"}),
    memberships={"l-news": "subscribed"},
    entered=frozenset({"s-first"}),
    score=3,
)
OLD = Person(
    address="old@example.com",
    values={"first_name": "Inês", "last_name": "Alba", "interest": "moon"},
    tags=frozenset({"t-moon", "t-guide"}),
    memberships={"l-news": "unsubscribed"},
    entered=frozenset({"s-first", "s-second"}),
    under_way=frozenset({"s-first"}),
    score=4,
    owner="m-ada",
)
STATES = st.sampled_from(get_args(MembershipState))


def line(found: tuple[Line, ...], key: str) -> Line:
    return next(one for one in found if one.key == key)


class Outcomes(TestCase):
    def test_what_only_one_has_stays(self) -> None:
        found = merge(INES, OLD, HERE, frozenset())
        self.assertEqual(
            found.values, {"first_name": "Ines", "last_name": "Alba", "interest": "moon"}
        )
        self.assertEqual(found.tags, {"t-moon", "t-guide"})
        self.assertEqual((found.score, found.owner), (7, "m-ada"))
        self.assertEqual(line(found.lines, "last_name").side, "gone")
        self.assertEqual(line(found.lines, "email").result, "ines@example.com")

    def test_of_two_values_a_member_chooses(self) -> None:
        other = replace(OLD, values={"first_name": "Agnes"})
        found = merge(INES, other, HERE, frozenset())
        self.assertEqual(found.values["first_name"], "Ines")
        self.assertTrue(line(found.lines, "first_name").open)
        found = merge(INES, other, HERE, frozenset({"first_name"}))
        self.assertEqual(found.values["first_name"], "Agnes")

    def test_a_spelling_is_no_difference(self) -> None:
        self.assertFalse(line(merge(INES, OLD, HERE, frozenset()).lines, "first_name").open)

    def test_the_run_under_way_goes_on(self) -> None:
        found = merge(INES, OLD, HERE, frozenset())
        self.assertEqual(found.runs, {"s-first": "replaces", "s-second": "moves"})
        self.assertEqual(line(found.lines, "s-first").result, "in progress")
        there = replace(INES, under_way=frozenset({"s-first"}))
        self.assertEqual(merge(there, OLD, HERE, frozenset()).runs["s-first"], "ends")

    def test_whoever_left_has_left(self) -> None:
        found = merge(INES, OLD, HERE, frozenset())
        self.assertEqual(found.memberships, {"l-news": "unsubscribed"})
        self.assertEqual(line(found.lines, "l-news").side, "gone")

    def test_each_state_stays_with_whom_it_speaks_of(self) -> None:
        """All of them: rows are the kept address, columns the one that goes."""
        states: tuple[MembershipState, ...] = get_args(MembershipState)
        left = ("complained", "unsubscribed")
        for kept, gone in product(states, states):
            found = merged(kept, gone)
            if kept in left or gone in left:
                expected = "complained" if "complained" in (kept, gone) else "unsubscribed"
            elif kept == "none":
                expected = "subscribed" if gone == "subscribed" else "none"
            else:
                expected = kept
            self.assertEqual(found, expected, (kept, gone))
            # A merge subscribes no address that bounced, or that has not confirmed.
            if found == "subscribed":
                self.assertIn(kept, ("subscribed", "none"))

    @given(
        st.frozensets(st.sampled_from(["t-moon", "t-guide", "t-planets"])),
        st.frozensets(st.sampled_from(["t-moon", "t-guide", "t-planets"])),
        st.dictionaries(st.sampled_from(["first_name", "last_name"]), st.text("ab", min_size=1)),
        st.dictionaries(st.sampled_from(["first_name", "last_name"]), st.text("ab", min_size=1)),
    )
    def test_nothing_is_lost(
        self,
        mine: frozenset[str],
        theirs: frozenset[str],
        values: dict[str, str],
        others: dict[str, str],
    ) -> None:
        found = merge(
            Person(address="a@example.com", tags=mine, values=values),
            Person(address="b@example.com", tags=theirs, values=others),
            HERE,
            frozenset(),
        )
        self.assertEqual(found.tags, mine | theirs)
        self.assertEqual(found.values.keys(), values.keys() | others.keys())
        self.assertEqual(
            {one.key for one in found.lines if one.about in ("tag", "field")},
            {*mine, *theirs, *values, *others},
        )


class Mail(TestCase):
    def test_bounces_and_complaints(self) -> None:
        self.assertEqual(bounced("subscribed").to, "bounced")
        for state in ("none", "unsubscribed", "complained"):
            self.assertEqual(bounced(state).to, state)
        self.assertEqual(complained("unsubscribed").to, "complained")
        self.assertEqual(complained("none").to, "none")
