"""Pre-flight of rules: what is missing, gone or contradictory is said at its rule, with a fix."""

from typing import Any
from unittest import TestCase

from pydantic import TypeAdapter

from core.checking import check_route
from core.conditions import Condition, Group
from core.deciding import RouteDocument, never_holds
from core.documents import Finding
from core.people import Catalogue
from core.reading import Form, Question
from core.tests.test_rules import HERE, route

READ: TypeAdapter[Condition] = TypeAdapter(Condition)


def found(
    *actions: dict[str, Any], catalogue: Catalogue = HERE, consent: bool = False
) -> list[Finding]:
    """The findings at rules; the rest of the sheet is whole."""
    sheet = route(*actions, consent=consent)
    return [one for one in check_route(sheet, catalogue) if one.place.startswith("t")]


def codes(*actions: dict[str, Any], **more: Any) -> list[str]:
    return [one.code for one in found(*actions, **more)]


class Whole(TestCase):
    def test_a_finished_action_of_each_kind_is_clear(self) -> None:
        for action in (
            {"kind": "add_tags", "tags": ["t-moon"]},
            {"kind": "remove_tags", "tags": ["t-moon"]},
            {"kind": "tag_from_answer", "question": "name", "prefix": "name: "},
            {"kind": "put_field", "field": "f-first", "value": "x"},
            {"kind": "change_score", "by": -3},
            {"kind": "record_event", "name": "asked"},
            {"kind": "change_subscription", "direction": "unsubscribe"},
            {"kind": "stop_sequence"},
            {"kind": "notify", "owner": True},
            {"kind": "send_now", "message": "m-guide"},
            {"kind": "make_task", "title": "Ring them"},
            {"kind": "set_owner", "members": ["m-ada"]},
        ):
            with self.subTest(action=action["kind"]):
                self.assertEqual(codes(action), [])


class Unfinished(TestCase):
    def test_what_an_action_lacks_stops_the_revision(self) -> None:
        for action in (
            {"kind": "add_tags"},
            {"kind": "remove_tags"},
            {"kind": "tag_from_answer", "question": "name"},
            {"kind": "put_field"},
            {"kind": "put_field", "field": "f-email", "value": "x@example.org"},
            {"kind": "record_event", "name": "  "},
            {"kind": "change_subscription"},
            {"kind": "change_subscription", "direction": "subscribe"},
            {"kind": "change_subscription", "direction": "unsubscribe", "every_list": False},
            {"kind": "stop_sequence", "every_sequence": False},
            {"kind": "notify"},
            {"kind": "send_now"},
            {"kind": "make_task", "title": " "},
            {"kind": "set_owner"},
        ):
            with self.subTest(action=action):
                findings = found(action)
                self.assertEqual([one.code for one in findings], ["line_unfinished"])
                self.assertTrue(findings[0].stops)
                self.assertTrue(findings[0].fix)

    def test_a_word_that_says_both(self) -> None:
        action = {
            "kind": "change_subscription",
            "direction": "by_answer",
            "list": "l-news",
            "question": "news",
            "subscribe_words": ["yes", "fine"],
            "unsubscribe_words": ["no", "fine"],
        }
        (one,) = found(action)
        self.assertIn("“fine” means both", one.sentence)


class Directions(TestCase):
    """Each choice of the question has to mean one of the two."""

    def action(self, **more: Any) -> dict[str, Any]:
        return {
            "kind": "change_subscription",
            "direction": "by_answer",
            "list": "l-news",
            "question": "keep",
            **more,
        }

    def codes(self, **more: Any) -> list[str]:
        choices = (
            {"key": "yes-keep-me-on", "label": "Yes, keep me on"},
            {"key": "no-take-me-off", "label": "No, take me off"},
        )
        asked = Question.model_validate(
            {"id": "q9", "name": "keep", "type": "choice", "label": "Stay?", "choices": choices}
        )
        sheet = RouteDocument.model_validate(
            {"then": [{"id": "t1", "action": self.action(**more)}]}
        ).model_copy(update={"form": Form(questions=(asked,))})
        found = check_route(sheet, HERE)
        return [one.code for one in found if one.place == "t1" and one.stops]

    def test_words_that_fit_no_choice_stop_it(self) -> None:
        self.assertEqual(self.codes(), ["fits_neither", "fits_neither"])

    def test_one_choice_without_a_meaning_stops_it(self) -> None:
        self.assertEqual(
            self.codes(subscribe_words=["yes-keep-me-on"], unsubscribe_words=[]), ["fits_neither"]
        )

    def test_keys_and_labels_both_say_a_choice(self) -> None:
        for yes, no in (
            ("yes-keep-me-on", "no-take-me-off"),
            ("Yes, keep me on", "NO, TAKE ME OFF"),
        ):
            self.assertEqual(self.codes(subscribe_words=[yes], unsubscribe_words=[no]), [])


class Gone(TestCase):
    def test_each_is_named_by_what_it_is(self) -> None:
        for action, code in (
            ({"kind": "add_tags", "tags": ["gone"]}, "tag_gone"),
            ({"kind": "put_field", "field": "gone"}, "field_gone"),
            (
                {"kind": "change_subscription", "direction": "subscribe", "list": "gone"},
                "list_gone",
            ),
            ({"kind": "stop_sequence", "sequence": "gone"}, "sequence_gone"),
            ({"kind": "notify", "members": ["m-ada", "gone"]}, "member_gone"),
            ({"kind": "send_now", "message": "gone"}, "message_gone"),
            ({"kind": "set_owner", "members": ["m-ada", "gone"]}, "member_gone"),
        ):
            with self.subTest(code=code):
                self.assertEqual(codes(action), [code])

    def test_an_owner_by_the_answer_to_a_question_that_is_gone(self) -> None:
        action = {
            "kind": "set_owner",
            "how": "by_answer",
            "question": "size",
            "table": [{"choice": "big", "member": "m-ada"}],
        }
        (one,) = found(action)
        self.assertEqual(one.place, "t1")
        self.assertIn("size", one.sentence)


class Contradictions(TestCase):
    leave = {"kind": "change_subscription", "list": "l-news", "direction": "unsubscribe"}

    def test_everybody_is_subscribed_and_unsubscribed(self) -> None:
        (one,) = found(self.leave, consent=True)
        self.assertEqual((one.code, one.stops), ("contradiction", True))
        self.assertIn("Open-night news", one.sentence)

    def test_not_where_the_rule_has_a_condition(self) -> None:
        when = {"of": [{"kind": "tag", "tag": "t-moon"}]}
        self.assertEqual(codes({**self.leave, "when": when}, consent=True), [])

    def test_a_tag_that_is_given_and_taken(self) -> None:
        give, take = ({"kind": kind, "tags": ["t-moon"]} for kind in ("add_tags", "remove_tags"))
        (one,) = found(give, take)
        self.assertEqual((one.place, one.code, one.stops), ("t2", "contradiction", False))
        self.assertEqual(codes(take, give), [])
        self.assertEqual(codes({**give, "on": False}, take), [])


class NeverHolds(TestCase):
    def never(self, kind: str, *of: dict[str, Any]) -> bool:
        condition = READ.validate_python({"kind": kind, "of": list(of)})
        assert isinstance(condition, Group)
        return never_holds(condition)

    def test_what_cannot_hold_for_anybody(self) -> None:
        moon = {"kind": "tag", "tag": "t-moon"}
        is_ = {"kind": "field", "field": "f-first", "op": "is"}
        self.assertTrue(self.never("any"))
        self.assertTrue(self.never("all", moon, {**moon, "has": False}))
        self.assertTrue(self.never("all", {**is_, "value": "Ada"}, {**is_, "value": "Ben"}))
        self.assertTrue(self.never("all", {"kind": "membership", "list": "l-news", "states": []}))
        self.assertTrue(self.never("all", moon, {"kind": "any", "of": []}))

    def test_what_can(self) -> None:
        moon = {"kind": "tag", "tag": "t-moon"}
        is_ = {"kind": "field", "field": "f-first", "op": "is"}
        self.assertFalse(self.never("all"))
        self.assertFalse(self.never("any", moon, {**moon, "has": False}))
        self.assertFalse(self.never("none", moon, {**moon, "has": False}))
        self.assertFalse(self.never("all", {**is_, "value": "Ada"}, {**is_, "value": "ADA"}))
