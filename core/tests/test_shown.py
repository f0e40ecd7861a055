"""What a visitor agreed to is decided and evidenced by the sheet they were shown."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from itertools import product
from typing import Any
from unittest import TestCase

from core.deciding import ConsentLine, Decision, RouteDocument, Subscribe, decide
from core.people import Person
from core.reading import Form, Question
from core.tests.observatory import CATALOGUE, ROUTE, submission

NOW = datetime(2026, 11, 24, 9, 0, tzinfo=UTC)
NEWS = "l-news"


def sheet(**more: Any) -> RouteDocument:
    """The route with one consent line, or none where `wording` is None."""
    wording = more.pop("wording", "You also get the news.")
    line = ConsentLine(id="c1", list=NEWS, wording=wording or "", **more)
    return ROUTE.model_copy(update={"consent": () if wording is None else (line,)})


def joined(decision: Decision) -> list[tuple[str, str, int | None]]:
    return [
        (one.to, one.wording, one.because.revision)
        for one in decision.effects
        if isinstance(one, Subscribe)
    ]


def run(shown: RouteDocument | None, live: RouteDocument, **more: Any) -> Decision:
    facts = submission(email="ines@example.com", name="Ines")
    facts = replace(facts, revision=5, shown_revision=4, **more)
    return decide(facts, live, None, CATALOGUE, NOW, shown)


class Shown(TestCase):
    def test_the_wording_is_the_one_shown(self) -> None:
        found = run(sheet(wording="Old words"), sheet(wording="New words that nobody saw"))
        self.assertEqual(joined(found), [("subscribed", "Old words", 4)])

    def test_who_was_asked_nothing_agreed_to_nothing(self) -> None:
        self.assertEqual(joined(run(sheet(wording=None), sheet())), [])

    def test_what_was_asked_counts_though_the_sheet_no_longer_asks(self) -> None:
        self.assertEqual(
            joined(run(sheet(), sheet(wording=None))),
            [("subscribed", "You also get the news.", 4)],
        )

    def test_a_stricter_sheet_in_force_asks_for_a_confirmation(self) -> None:
        for shown, live in product((False, True), repeat=2):
            found = run(sheet(confirm=shown), sheet(confirm=live))
            self.assertEqual(joined(found)[0][0], "pending" if shown or live else "subscribed")

    def test_the_label_of_a_box_is_the_one_shown(self) -> None:
        def asking(label: str) -> RouteDocument:
            box = Question(id="q8", name="agree", type="consent", label=label)
            line = ConsentLine(id="c1", list=NEWS, question="agree")
            form = Form(questions=(*ROUTE.form.questions, box))
            return ROUTE.model_copy(update={"form": form, "consent": (line,)})

        answers = submission(email="ines@example.com", agree="on").answers
        found = run(asking("Yes to the news"), asking("Yes to everything"), answers=answers)
        self.assertEqual(joined(found)[0][1], "Yes to the news")

    def test_the_rest_goes_by_the_sheet_in_force(self) -> None:
        live = sheet().model_copy(update={"then": ()})
        self.assertNotIn("add_tag", [one.kind for one in run(sheet(), live).effects])


class Older(TestCase):
    """A submission that is decided after something received later."""

    def test_an_opt_in_from_before_they_left(self) -> None:
        for left in (
            {"left_at": {NEWS: NOW}, "memberships": {NEWS: "unsubscribed"}},
            {"left_all_at": NOW},
        ):
            person = replace(Person(address="ines@example.com"), **left)
            for days, expected in ((-1, 0), (1, 1)):
                facts = submission(email="ines@example.com")
                facts = replace(facts, received=NOW + timedelta(days=days))
                found = decide(facts, sheet(), person, CATALOGUE, NOW + timedelta(days=2))
                self.assertEqual(len(joined(found)), expected)

    def test_what_was_changed_since_stays(self) -> None:
        field = next(one for one in CATALOGUE.fields.values() if one.key == "first_name")
        tag = next(one.tag for one in run(None, ROUTE).effects if one.kind == "add_tag")
        since = frozenset({("field", field.key), ("tag", tag)})
        person = Person(address="ines@example.com", values={"first_name": "New"})
        facts = submission(email="ines@example.com", name="Old")
        facts = replace(facts, changed_since=since)
        found = decide(facts, ROUTE, person, CATALOGUE, NOW)
        changed = [
            (one.kind, getattr(one, "key", getattr(one, "tag", None))) for one in found.effects
        ]
        self.assertNotIn(("set_field", "first_name"), changed)
        self.assertNotIn(("add_tag", tag), changed)
        (line,) = (one for one in found.reading if one.field_key == "first_name")
        self.assertEqual((line.after, line.changes), ("New", False))
