"""What a member changes by hand; and that nobody is subscribed by it."""

from typing import Any, get_args
from unittest import TestCase

from core.deciding import field_set
from core.documents import Because
from core.people import Catalogue, FieldFacts, MembershipState, Person
from core.profiles import ByHand, change_by_hand, written
from core.values import Choice, FieldType, Kept

WHY = Because(kind="member", sentence="changed by Noor")


def field(key: str, kind: FieldType, *choices: str) -> FieldFacts:
    offered = tuple(Choice(key=one, label=one.title()) for one in choices)
    return FieldFacts(id=f"f-{key}", key=key, label=key.title(), type=kind, choices=offered)


FIELDS = (
    field("email", "email"),
    field("name", "text"),
    field("born", "date"),
    field("looks", "choices", "moon", "planets"),
    field("club", "yes_no"),
)
CATALOGUE = Catalogue(
    fields={one.id: one for one in FIELDS},
    tags={"t-moon": "moon", "t-guide": "guide"},
    lists={"l-news": "News", "l-club": "Club"},
)
INES = Person(
    address="ines@example.com",
    values={"name": "Ines", "club": True},
    tags=frozenset({"t-moon"}),
    memberships={"l-news": "subscribed"},
)


def said(person: Person = INES, **change: Any) -> list[str]:
    effects, problems = change_by_hand(ByHand(**change), person, CATALOGUE, WHY)
    return [one.in_words() for one in effects] + [one.code for one in problems]


class Fields(TestCase):
    def test_each_is_read_as_its_type(self) -> None:
        fields = {"name": " Anna ", "born": "2001-02-03", "looks": "moon\nPlanets", "club": "no"}
        effects, problems = change_by_hand(ByHand(fields=fields), INES, CATALOGUE, WHY)
        self.assertEqual(problems, ())
        self.assertEqual(
            [getattr(one, "after", None) for one in effects],
            ["Anna", "2001-02-03", ("moon", "planets"), False],
        )
        self.assertEqual({one.because for one in effects}, {WHY})

    def test_what_is_written_reads_as_what_it_is(self) -> None:
        values: dict[str, Kept] = {
            "name": "Ines",
            "born": "2001-02-03",
            "looks": ("moon", "planets"),
            "club": False,
        }
        person = Person(address="ines@example.com", values=values)
        fields = {key: written(value) for key, value in values.items()}
        self.assertEqual(said(person, fields=fields), [])

    def test_what_cannot_be_read_is_said_at_its_field(self) -> None:
        _, problems = change_by_hand(
            ByHand(fields={"born": "someday", "gone": "x", "email": "a@b.example"}),
            INES,
            CATALOGUE,
            WHY,
        )
        self.assertEqual([one.place for one in problems], ["born", "gone", "email"])

    def test_an_empty_text_takes_a_value_away_once(self) -> None:
        self.assertEqual(len(said(fields={"name": "", "born": ""})), 1)
        self.assertEqual(said(fields={"name": "Ines", "club": "yes"}), [])


class InWords(TestCase):
    def test_a_no_that_was_there_before_is_said(self) -> None:
        club = next(one for one in FIELDS if one.key == "club")
        change = field_set(club, False, True, WHY)
        self.assertEqual((change.shown_before, change.shown), ("no", "yes"))
        self.assertEqual(field_set(club, None, False, WHY).shown_before, "")


class Tags(TestCase):
    def test_on_and_off(self) -> None:
        change: Any = {"add_tags": ["t-guide", "t-moon"], "remove_tags": ["t-moon", "t-gone"]}
        self.assertEqual(said(**change), ["+ guide", "− moon", "tag_gone"])
        self.assertEqual(said(add_tags=["t-moon"], remove_tags=["t-guide"]), [])


class Lists(TestCase):
    def test_taken_off_and_complained(self) -> None:
        self.assertEqual(said(leave=["l-news"]), ["News: subscribed → unsubscribed"])
        self.assertEqual(said(complained=["l-news"]), ["News: subscribed → complained"])
        # Of both the one that protects more.
        both = said(leave=["l-news"], complained=["l-news"])
        self.assertEqual(both, ["News: subscribed → complained"])

    def test_somebody_who_is_not_there(self) -> None:
        """Common practice: an opt-out of somebody who is not on the list is no error."""
        self.assertEqual(said(leave=["l-club"], complained=["l-club"]), [])
        self.assertEqual(said(leave=["l-old"]), ["list_gone"])

    def test_from_no_state_does_anything_by_hand_subscribe(self) -> None:
        for state in get_args(MembershipState):
            person = Person(address="ines@example.com", memberships={"l-news": state})
            changes: tuple[Any, ...] = ({"leave": ["l-news"]}, {"complained": ["l-news"]})
            for change in changes:
                effects, _ = change_by_hand(ByHand(**change), person, CATALOGUE, WHY)
                with self.subTest(state=state, change=change):
                    self.assertNotIn("subscribed", [getattr(one, "to", "") for one in effects])
                    if state == "complained":
                        self.assertEqual(effects, ())
