"""Conditions for one person: the table of missing values, each comparison, and their words."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any, get_args
from unittest import TestCase

from pydantic import TypeAdapter, ValidationError

from core.conditions import (
    DEEPEST,
    Circumstances,
    Comparison,
    Condition,
    FieldTest,
    Group,
    comparisons_of,
    explain,
    holds,
    is_gone,
    leaves,
    say,
)
from core.people import Catalogue, FieldFacts, Happening, Person, SequenceFacts
from core.tests.observatory import LOOKS, ROUTE
from core.values import FieldType

NOW = datetime(2026, 11, 24, 2, 30, tzinfo=UTC)
TYPES: tuple[FieldType, ...] = (
    "text",
    "number",
    "date",
    "yes_no",
    "choice",
    "choices",
    "country",
    "language",
    "time_zone",
    "phone",
    "url",
)
CATALOGUE = Catalogue(
    fields={
        kind: FieldFacts(
            id=kind,
            key=kind,
            label=f"A {kind}",
            type=kind,
            choices=LOOKS if kind in ("choice", "choices") else (),
        )
        for kind in TYPES
    },
    tags={"t-moon": "moon"},
    lists={"l-news": "News"},
    sources={"fair": "The fair", "guide": "The guide"},
    messages={"m-guide": "Your guide"},
    sequences={"s-first": SequenceFacts(id="s-first", name="First telescope", live=True)},
    groups={"g-march": "March"},
)
SEEN = Circumstances(now=NOW, source="fair", answers=(("look", "moon"), ("note", "  ")))
READ: TypeAdapter[Condition] = TypeAdapter(Condition)


def condition(**parts: Any) -> Condition:
    return READ.validate_python(parts)


def held(person: Person, seen: Circumstances = SEEN, **parts: Any) -> bool:
    return holds(condition(**parts), person, seen, CATALOGUE)


def person(**values: Any) -> Person:
    return Person(address="ines@example.com", values=values)


def of(field: str, value: Any, op: str, wanted: str = "", **more: Any) -> bool:
    """Whether a field with this value passes a comparison."""
    return held(person(**{field: value}), kind="field", field=field, op=op, value=wanted, **more)


class Missing(TestCase):
    """Missing is a value of its own: the negative comparisons hold for it, no other does."""

    def test_of_every_type_and_comparison(self) -> None:
        for kind in TYPES:
            for op in comparisons_of(kind):
                expected = op in ("is_not", "not_contains", "empty")
                nothings: tuple[dict[str, Any], ...] = ({}, {kind: ""}, {kind: None}, {kind: ()})
                for nothing in nothings:
                    with self.subTest(kind=kind, op=op, nothing=nothing):
                        found = held(person(**nothing), kind="field", field=kind, op=op, value="1")
                        self.assertEqual(found, expected)

    def test_an_answer_of_blanks_is_missing(self) -> None:
        for name in ("note", "never_asked"):
            self.assertTrue(held(person(), kind="answer", question=name, op="empty"))
            self.assertFalse(held(person(), kind="answer", question=name, op="contains", value=""))
            self.assertTrue(held(person(), kind="answer", question=name, op="is_not", value="x"))

    def test_a_comparison_that_the_type_has_not_holds_for_nobody(self) -> None:
        for kind in TYPES:
            for op in set(get_args(Comparison)) - set(comparisons_of(kind)):
                self.assertFalse(of(kind, "1", op, "1"), (kind, op))

    def test_a_field_that_is_gone_holds_for_nobody(self) -> None:
        for op in get_args(Comparison):
            self.assertFalse(held(person(), kind="field", field="gone", op=op))


class Comparisons(TestCase):
    def test_text_without_case_and_accents_unless_exact(self) -> None:
        self.assertTrue(of("text", "Zoë", "is", "ZOE"))
        self.assertFalse(of("text", "Zoë", "is", "ZOE", exact=True))
        self.assertTrue(of("text", "Zoë", "is_not", "zoe", exact=True))
        self.assertTrue(of("text", "STRASSE 9", "contains", "straße"))
        self.assertTrue(of("text", "Zoë", "one_of", values=("ada", "zoe")))
        self.assertTrue(of("text", "Ines van der Berg", "begins", "ines VAN"))
        self.assertFalse(of("text", "Ines van der Berg", "begins", "berg"))

    def test_text_signs_of_a_pattern_are_plain_signs(self) -> None:
        self.assertTrue(of("text", "100 %", "contains", "%"))
        self.assertFalse(of("text", "100", "contains", "%"))
        self.assertFalse(of("text", "ab", "contains", "_"))

    def test_numbers_by_size_not_by_letters(self) -> None:
        self.assertTrue(of("number", "12", "is", "12.0"))
        self.assertTrue(of("number", "9", "less", "10"))
        self.assertTrue(of("number", "-3.5", "at_most", "-3.5"))
        self.assertFalse(of("number", "9", "more", "10"))
        self.assertTrue(of("number", "1000000000000.25", "more", "1000000000000.2"))

    def test_numbers_beside_what_is_none(self) -> None:
        for wanted in ("x", "", "NaN", "Infinity"):
            self.assertFalse(of("number", "12", "is", wanted))
            self.assertFalse(of("number", "12", "less", wanted))
            self.assertTrue(of("number", "12", "is_not", wanted))

    def test_choices_by_key(self) -> None:
        self.assertTrue(of("choice", "moon", "one_of", values=("moon",)))
        self.assertFalse(of("choice", "moon", "is", "Moon"))
        self.assertTrue(of("choices", ("moon",), "contains", "moon"))
        self.assertTrue(of("choices", ("moon",), "not_contains", "planets"))
        self.assertTrue(of("yes_no", True, "is", "yes"))
        self.assertTrue(of("yes_no", False, "is_not", "yes"))

    def test_no_is_an_answer_and_not_missing(self) -> None:
        self.assertFalse(of("yes_no", False, "empty"))
        self.assertTrue(of("yes_no", False, "is", "no"))

    def test_days_before_and_after(self) -> None:
        self.assertTrue(of("date", "2026-11-23", "before", "2026-11-24"))
        self.assertFalse(of("date", "2026-11-24", "before", "2026-11-24"))
        self.assertTrue(of("date", "2026-11-25", "after", "2026-11-24"))
        self.assertTrue(of("date", "2026-11-17", "in_last_days", "7"))
        self.assertFalse(of("date", "2026-11-16", "in_last_days", "7"))
        self.assertTrue(of("date", "2026-11-24", "in_next_days", "0"))
        self.assertFalse(of("date", "2026-11-25", "in_last_days", "7"))
        self.assertFalse(of("date", "2026-11-24", "in_last_days", "-1"))

    def test_today_is_the_persons_own(self) -> None:
        # At 02:30 UTC it is still the 23rd in Los Angeles, and 16:30 on the 24th in Kiritimati:
        # IANA time zone database, offsets −08:00 and +14:00.
        test = FieldTest(field="date", op="in_last_days", value="0")
        for zone, today in (
            ("America/Los_Angeles", "2026-11-23"),
            ("Pacific/Kiritimati", "2026-11-24"),
        ):
            one = replace(person(date=today), time_zone=zone)
            self.assertTrue(holds(test, one, SEEN, CATALOGUE), zone)

    def test_score(self) -> None:
        scored = replace(person(), score=5)
        self.assertTrue(held(scored, kind="score", op="at_least", value=5))
        self.assertFalse(held(scored, kind="score", op="more", value=5))
        self.assertTrue(held(person(), kind="score", op="is", value=0))

    def test_memberships_none_is_a_state(self) -> None:
        on = replace(person(), memberships={"l-news": "subscribed"})
        self.assertTrue(held(on, kind="membership", list="l-news"))
        self.assertFalse(held(on, kind="membership", list="l-news", holds=False))
        self.assertTrue(held(person(), kind="membership", list="l-news", states=["none"]))
        self.assertTrue(held(person(), kind="membership", list="l-news", holds=False))

    def test_source_and_sequence(self) -> None:
        self.assertTrue(held(person(), kind="source", sources=["guide", "fair"]))
        self.assertFalse(held(person(), kind="source", sources=[]))
        been = replace(person(), entered=frozenset({"s-first"}))
        self.assertTrue(held(been, kind="run", sequence="s-first", state="ever"))
        self.assertFalse(held(been, kind="run", sequence="s-first", state="under_way"))
        self.assertTrue(held(person(), kind="run", sequence="s-first", state="never"))

    def test_frozen_groups(self) -> None:
        inside = replace(person(), groups=frozenset({"g-march"}))
        self.assertTrue(held(inside, kind="frozen", group="g-march"))
        self.assertFalse(held(inside, kind="frozen", group="g-march", within=False))
        self.assertFalse(held(person(), kind="frozen", group="g-march"))
        self.assertTrue(held(person(), kind="frozen", group="g-march", within=False))


class Happened(TestCase):
    def setUp(self) -> None:
        ago = [NOW - timedelta(hours=hours) for hours in (1, 24, 49)]
        came = tuple(Happening(what="submitted", about="fair", at=at) for at in ago)
        later = Happening(what="event", about="visited", at=NOW + timedelta(hours=1))
        self.one = replace(person(), happened=(*came, later))

    def count(self, **parts: Any) -> bool:
        return held(self.one, kind="happened", **parts)

    def test_how_often(self) -> None:
        self.assertTrue(self.count(what="submitted", at_least=3))
        self.assertFalse(self.count(what="submitted", at_least=4))
        self.assertFalse(self.count(what="submitted", at_least=1, at_most=2))
        self.assertTrue(self.count(what="submitted", about="guide", at_least=0, at_most=0))

    def test_within_hours_the_edge_counts(self) -> None:
        self.assertTrue(self.count(at_least=2, within_hours=24))
        self.assertFalse(self.count(at_least=2, within_hours=23))

    def test_what_is_still_to_come_has_not_happened(self) -> None:
        self.assertFalse(self.count(what="event", about="visited"))

    def test_before_and_after_a_date_in_their_own_zone(self) -> None:
        # At 01:30, 02:30 and 01:30 UTC on the 24th, 23rd and 22nd.
        self.assertTrue(self.count(at_least=1, at_most=1, before="2026-11-23"))
        self.assertTrue(self.count(at_least=1, at_most=1, after="2026-11-23"))
        self.assertTrue(self.count(at_least=0, at_most=0, before="2026-11-22"))
        # In New York that is the evening before.
        self.one = replace(self.one, time_zone="America/New_York")
        self.assertTrue(self.count(at_least=2, at_most=2, before="2026-11-23"))
        self.assertTrue(self.count(at_least=1, at_most=1, before="2026-11-22"))

    def test_a_confirmation_of_a_list(self) -> None:
        confirmed = Happening(what="confirmed", about="l-news", at=NOW)
        self.one = replace(self.one, happened=(confirmed,))
        self.assertTrue(self.count(what="confirmed", about="l-news"))
        self.assertFalse(self.count(what="confirmed", about="l-other"))
        self.assertFalse(self.count(what="submitted"))


class Seen(TestCase):
    """What each comparison says that it saw, beside whether it held."""

    def seen(self, one: Person, **parts: Any) -> str:
        found = explain(condition(**parts), one, SEEN, CATALOGUE)
        self.assertEqual(found.held, held(one, **parts))
        return found.seen

    def test_a_value_as_people_read_it(self) -> None:
        for kind, value, said in (
            ("text", "Ines", "Ines"),
            ("yes_no", True, "yes"),
            ("yes_no", False, "no"),
            ("choice", "moon", "Moon"),
            ("choices", ("moon", "planets"), "Moon, Planets"),
            ("country", "PT", "Portugal"),
            ("number", "0", "0"),
        ):
            with self.subTest(kind=kind, value=value):
                self.assertEqual(self.seen(person(**{kind: value}), kind="field", field=kind), said)

    def test_nothing_is_a_dash(self) -> None:
        for parts in (
            {"kind": "field", "field": "text"},
            {"kind": "field", "field": "gone"},
            {"kind": "answer", "question": "unasked"},
        ):
            with self.subTest(parts=parts):
                self.assertEqual(self.seen(person(), **parts), "—")

    def test_tags_lists_scores_and_what_happened(self) -> None:
        came = Happening(what="submitted", about="fair", at=NOW)
        one = replace(
            person(),
            tags=frozenset({"t-moon"}),
            memberships={"l-news": "pending"},
            score=4,
            happened=(came,),
            entered=frozenset({"s-first"}),
        )
        for parts, said in (
            ({"kind": "tag", "tag": "t-moon"}, "has it"),
            ({"kind": "tag", "tag": "t-other", "has": False}, "does not have it"),
            ({"kind": "membership", "list": "l-news"}, "pending"),
            ({"kind": "membership", "list": "l-other"}, "none"),
            ({"kind": "score", "value": 3}, "4"),
            ({"kind": "happened", "about": "fair"}, "once"),
            ({"kind": "happened", "what": "sent"}, "0 times"),
            ({"kind": "source", "sources": ["guide"]}, "The fair"),
            ({"kind": "answer", "question": "look"}, "moon"),
            ({"kind": "run", "sequence": "s-first"}, "was in it"),
            ({"kind": "run", "sequence": "s-other"}, "was never in it"),
            ({"kind": "frozen", "group": "g-march"}, "is not in it"),
        ):
            with self.subTest(parts=parts):
                self.assertEqual(self.seen(one, **parts), said)
        under_way = replace(one, under_way=frozenset({"s-first"}))
        said = self.seen(under_way, kind="run", sequence="s-first")
        self.assertEqual(said, "is currently in it")
        frozen = replace(one, groups=frozenset({"g-march"}))
        self.assertEqual(self.seen(frozen, kind="frozen", group="g-march"), "is in it")


class Depth(TestCase):
    def nested(self, depth: int) -> dict[str, Any]:
        inner: dict[str, Any] = {"kind": "all", "of": []}
        for _ in range(depth - 1):
            inner = {"kind": "all", "of": [inner]}
        return inner

    def test_as_deep_as_is_allowed_and_no_deeper(self) -> None:
        self.assertTrue(holds(condition(**self.nested(DEEPEST)), person(), SEEN, CATALOGUE))
        with self.assertRaisesRegex(ValidationError, "at most 30 deep"):
            condition(**self.nested(DEEPEST + 1))


class Groups(TestCase):
    def test_of_nothing(self) -> None:
        self.assertTrue(held(person(), kind="all"))
        self.assertFalse(held(person(), kind="any"))
        self.assertTrue(held(person(), kind="none"))

    def test_nested(self) -> None:
        moon = {"kind": "tag", "tag": "t-moon"}
        none: dict[str, Any] = {"kind": "none", "of": []}
        tree: dict[str, Any] = {"kind": "all", "of": [{"kind": "any", "of": [moon]}, none]}
        tagged = replace(person(), tags=frozenset({"t-moon"}))
        self.assertTrue(held(tagged, **tree))
        self.assertFalse(held(person(), **tree))
        self.assertEqual(len(list(leaves(condition(**tree)))), 1)

    def test_explained_as_it_was_evaluated(self) -> None:
        tree = condition(
            kind="all",
            of=[
                {"kind": "answer", "question": "look", "value": "moon"},
                {"kind": "field", "field": "number", "op": "more", "value": "4"},
            ],
        )
        found = explain(tree, person(number="3"), SEEN, CATALOGUE)
        self.assertEqual([one.held for one in found.of], [True, False])
        self.assertEqual([one.seen for one in found.of], ["moon", "3"])
        self.assertFalse(found.held)

    def test_what_no_condition_can_be(self) -> None:
        for wrong in (
            {"kind": "field", "op": "like"},
            {"kind": "happened", "at_least": -1},
            {"kind": "happened", "within_hours": 0},
            {"kind": "membership", "states": ["friend"]},
            {"kind": "all", "of": [{"kind": "tag"}] * 51},
            {"kind": "python", "code": "1"},
        ):
            with self.assertRaises(ValidationError):
                condition(**wrong)


class Gone(TestCase):
    def test_each_by_what_it_names(self) -> None:
        for parts in (
            {"kind": "field", "field": "gone"},
            {"kind": "tag", "tag": "gone"},
            {"kind": "membership", "list": "gone"},
            {"kind": "source", "sources": ["fair", "gone"]},
            {"kind": "happened", "what": "submitted", "about": "gone"},
            {"kind": "happened", "what": "sent", "about": "gone"},
            {"kind": "run", "sequence": "gone"},
            {"kind": "frozen", "group": "gone"},
        ):
            with self.subTest(parts=parts):
                leaf = condition(**parts)
                self.assertTrue(is_gone(leaf, CATALOGUE))
                self.assertIn("that is gone", say(leaf, CATALOGUE))

    def test_what_is_there_and_what_names_nothing(self) -> None:
        named = Catalogue(tags={"t": "a thing that is gone"})
        self.assertFalse(is_gone(condition(kind="tag", tag="t"), named))
        for parts in (
            {"kind": "score"},
            {"kind": "answer", "question": "whatever"},
            {"kind": "happened", "what": "event", "about": "by its name"},
            {"kind": "happened", "what": "sent", "about": ""},
            {"kind": "source", "sources": []},
        ):
            self.assertFalse(is_gone(condition(**parts), CATALOGUE), parts)


class InWords(TestCase):
    def test_sentences(self) -> None:
        for parts, sentence in (
            ({"kind": "tag", "tag": "t-moon", "has": False}, "does not have the tag moon"),
            ({"kind": "tag", "tag": "gone"}, "has a tag that is gone"),
            ({"kind": "tag", "tag": ""}, "has (no tag chosen)"),
            ({"kind": "field", "field": ""}, "(no field chosen) is …"),
            ({"kind": "answer", "question": "", "value": "x"}, "(no question chosen) is x"),
            (
                {"kind": "membership", "list": "l-news", "states": ["none", "unsubscribed"]},
                "is on no terms or unsubscribed on News",
            ),
            ({"kind": "membership", "list": "l-news"}, "is subscribed to News"),
            ({"kind": "membership", "list": "l-news", "holds": False}, "is not subscribed to News"),
            ({"kind": "source", "sources": ["fair", "guide"]}, "came from The fair or The guide"),
            ({"kind": "score", "op": "less", "value": 3}, "the score is less than 3"),
            (
                {"kind": "field", "field": "choice", "op": "one_of", "values": ["moon", "planets"]},
                "A choice is one of Moon or Planets",
            ),
            (
                {"kind": "field", "field": "date", "op": "in_last_days", "value": "7"},
                "A date was in the last 7 days",
            ),
            ({"kind": "field", "field": "country", "value": "PT"}, "A country is Portugal"),
            (
                {"kind": "happened", "about": "fair", "at_least": 2, "within_hours": 48},
                "submitted through The fair at least 2 times in the last 2 days",
            ),
            (
                {"kind": "happened", "what": "sent", "at_least": 0, "at_most": 0},
                "was never sent any message",
            ),
            (
                {
                    "kind": "happened",
                    "what": "confirmed",
                    "about": "l-news",
                    "after": "2026-11-01",
                    "before": "2026-11-20",
                },
                "confirmed News after 1 November 2026 and before 20 November 2026",
            ),
            (
                {"kind": "happened", "what": "event", "about": "visited", "within_hours": 5},
                "“visited” happened in the last 5 hours",
            ),
            (
                {"kind": "run", "sequence": "s-first", "state": "never"},
                "was never in First telescope",
            ),
            ({"kind": "frozen", "group": "g-march"}, "is in the group March"),
            (
                {"kind": "frozen", "group": "g-march", "within": False},
                "is not in the group March",
            ),
        ):
            with self.subTest(sentence=sentence):
                self.assertEqual(say(condition(**parts), CATALOGUE), sentence)

    def test_groups_keep_their_order_in_brackets(self) -> None:
        moon, score = {"kind": "tag", "tag": "t-moon"}, {"kind": "score", "value": 3}
        tree = condition(kind="all", of=[moon, {"kind": "any", "of": [score, moon]}])
        self.assertEqual(
            say(tree, CATALOGUE),
            "has the tag moon and (the score is at least 3 or has the tag moon)",
        )
        self.assertEqual(say(Group(kind="any"), CATALOGUE), "nobody")
        self.assertEqual(say(Group(), CATALOGUE), "everybody")

    def test_an_answer_by_the_words_of_its_question(self) -> None:
        test = condition(kind="answer", question="look", op="is_not", value="planets")
        self.assertEqual(
            say(test, CATALOGUE, ROUTE.form), "the answer to “What do you look at?” is not Planets"
        )
