"""Handing to a service, as a rule decides it and pre-flight checks it."""

from dataclasses import replace
from datetime import UTC, datetime
from typing import Any
from unittest import TestCase

from core.checking import check_route
from core.deciding import Handoff, HandOver, Rule, SubmissionFacts, decide
from core.people import Person
from core.services import (
    Call,
    Chosen,
    FarChoice,
    FarField,
    FarLine,
    Handover,
    Need,
    Operation,
    ServiceDescription,
    ServiceFacts,
    Thing,
)
from core.tests.observatory import CATALOGUE, ROUTE

NOW = datetime(2026, 11, 26, 12, tzinfo=UTC)
SERVICE = ServiceFacts(
    id="s1",
    name="Star letters",
    description=ServiceDescription(
        operations=(
            Operation(
                key="subscribe",
                does="subscribe",
                label="Add to a list",
                call=Call(),
                needs=(Need(name="list", kind="list", label="List"),),
                marketing=True,
            ),
            Operation(key="deal", does="make_deal", label="Make a deal", call=Call()),
        )
    ),
    fields=(
        FarField(key="email", label="Email", type="email", required=True),
        FarField(key="first", label="First name", longest=4),
        FarField(key="kind", label="Kind", type="choice", choices=(FarChoice(value="A"),)),
        FarField(key="street", label="Street", group="Address", required=True),
        FarField(key="city", label="City", group="Address", required=True),
    ),
    things={"list": (Thing(id="news", label="News"),)},
    list_id="l-news",
)
HERE = replace(CATALOGUE, services={"s1": SERVICE})
EMAIL = FarLine(id="l1", to="email", what="f-email")
FIRST = FarLine(id="l2", to="first", what="f-first")


def handover(**more: Any) -> Handover:
    made: dict[str, Any] = {
        "service": "s1",
        "operation": "subscribe",
        "chosen": {"list": Chosen(things=("news",))},
        "lines": (EMAIL, FIRST),
    }
    return Handover(**{**made, **more})


class Deciding(TestCase):
    def decided(self, person: Person | None = None, own: bool = True, **more: Any) -> Any:
        sheet = ROUTE.model_copy(
            update={"then": (Rule(id="r", action=HandOver(handover=handover(**more))),)}
        )
        answers = (("email", "ines@example.com"), ("first_name", "Ines"))
        submission = SubmissionFacts(source_id="x", source_name="X", answers=answers, own=own)
        found = decide(submission, sheet, person, HERE, NOW)
        handed = [one for one in found.effects if isinstance(one, Handoff)]
        said = next(one.text for one in found.outcomes if one.line == "r")
        return handed, said

    def test_by_each_state_on_the_list(self) -> None:
        """Every state of a membership: who may be handed over now, later, or not."""
        sheet = ROUTE.model_copy(
            update={
                "consent": (),
                "then": (Rule(id="r", action=HandOver(handover=handover())),),
            }
        )
        submission = SubmissionFacts(
            source_id="x", source_name="X", answers=(("email", "ines@example.com"),)
        )
        for state, handed, words in (
            ("subscribed", 1, "Star letters: add to a list"),
            ("pending", 1, "once they have confirmed"),
            ("none", 0, "not subscribed to"),
            ("unsubscribed", 0, "not subscribed to"),
            ("bounced", 0, "not subscribed to"),
            ("complained", 0, "not subscribed to"),
        ):
            person = Person(address="ines@example.com", memberships={"l-news": state})  # type: ignore[dict-item]
            found = decide(submission, sheet, person, HERE, NOW)
            self.assertEqual(
                len([one for one in found.effects if isinstance(one, Handoff)]), handed, state
            )
            said = next(one.text for one in found.outcomes if one.line == "r")
            self.assertIn(words, said, state)
        suppressed = Person(
            address="ines@example.com", memberships={"l-news": "subscribed"}, suppressed=True
        )
        found = decide(submission, sheet, suppressed, HERE, NOW)
        self.assertFalse([one for one in found.effects if isinstance(one, Handoff)])

    def test_what_is_no_marketing_asks_for_no_list(self) -> None:
        person = Person(address="ines@example.com", memberships={"l-news": "unsubscribed"})
        handed, _ = self.decided(person, operation="deal", chosen={})
        self.assertEqual(len(handed), 1)

    def test_what_is_gone_is_a_problem(self) -> None:
        handed, said = self.decided(service="s9")
        self.assertEqual((handed, said), ([], "no service to hand over to"))
        handed, said = self.decided(operation="gone")
        self.assertEqual(handed, [])
        self.assertIn("cannot do what this asks for", said)

    def test_what_goes_without_is_said(self) -> None:
        person = Person(address="ines@example.com", memberships={"l-news": "subscribed"})
        line = FIRST.model_copy(update={"take": "fixed", "what": "Valentina"})
        _, said = self.decided(person, lines=(EMAIL, line))
        self.assertIn("First name takes 4 characters, and this has 9.", said)
        _, said = self.decided(person, lines=(EMAIL, line), if_wrong="wait")
        self.assertIn("waits", said)

    def test_the_effect_is_stored_without_the_map(self) -> None:
        sheet = ROUTE.model_copy(
            update={"consent": (), "then": (Rule(id="r", action=HandOver(handover=handover())),)}
        )
        submission = SubmissionFacts(
            source_id="x", source_name="X", answers=(("email", "ines@example.com"),)
        )
        person = Person(address="ines@example.com", memberships={"l-news": "subscribed"})
        found = decide(submission, sheet, person, HERE, NOW)
        [stored] = [one for one in found.as_json()["effects"] if one["kind"] == "handoff"]
        self.assertNotIn("handover", stored)
        [effect] = [one for one in found.effects if isinstance(one, Handoff)]
        self.assertEqual(effect.handover, handover())
        self.assertEqual(
            (effect.in_words(), effect.change()), ("Star letters: add to a list", "adds")
        )


class PreFlight(TestCase):
    def codes(self, made: Handover) -> set[str]:
        sheet = ROUTE.model_copy(update={"then": (Rule(id="r", action=HandOver(handover=made)),)})
        return {one.code for one in check_route(sheet, HERE) if one.place == "r"}

    def test_each_fault(self) -> None:
        self.assertEqual(self.codes(handover()), set())
        for made, code in (
            (handover(service=None), "line_unfinished"),
            (handover(service="s9"), "service_gone"),
            (handover(operation=""), "line_unfinished"),
            (handover(chosen={}), "line_unfinished"),
            (handover(chosen={"list": Chosen(things=("gone",))}), "thing_gone"),
            (handover(lines=(FIRST,)), "required_unmapped"),
            (handover(lines=(EMAIL, EMAIL.model_copy(update={"id": "x"}))), "line_unfinished"),
            (handover(lines=(EMAIL, FarLine(id="g", to="gone"))), "far_field_gone"),
            (handover(lines=(EMAIL, FarLine(id="g", to="kind", what="f-gone"))), "field_gone"),
            (
                handover(lines=(EMAIL, FarLine(id="g", to="street", what="f-first"))),
                "incomplete_group",
            ),
            (handover(list="l-gone"), "list_gone"),
        ):
            self.assertIn(code, self.codes(made), made)

    def test_marketing_needs_a_list(self) -> None:
        here = replace(CATALOGUE, services={"s1": replace(SERVICE, list_id=None)})
        sheet = ROUTE.model_copy(
            update={"then": (Rule(id="r", action=HandOver(handover=handover())),)}
        )
        found = [one for one in check_route(sheet, here) if one.place == "r"]
        self.assertIn("no list here says who agreed to it", found[0].sentence)
