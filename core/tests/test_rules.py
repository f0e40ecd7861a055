"""The Then band: every action, on a person as the rules before it have left them."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.deciding import (
    Decision,
    EnterSequence,
    RouteDocument,
    Rule,
    Send,
    SendNow,
    StartSequence,
    SubmissionFacts,
    decide,
)
from core.people import Catalogue, Happening, Person, SequenceFacts
from core.reading import Form, Question
from core.tests.observatory import CATALOGUE, ROUTE, submission
from core.values import Choice

NOW = datetime(2026, 11, 24, 9, 0, tzinfo=UTC)
HERE = replace(
    CATALOGUE,
    tags={**CATALOGUE.tags, "t-big": "big telescope"},
    members={"m-ada": "Ada", "m-ben": "Ben"},
    sequences={
        **CATALOGUE.sequences,
        "s-second": SequenceFacts(id="s-second", name="Second look", live=True),
        "s-draft": SequenceFacts(id="s-draft", name="Not yet", live=False),
    },
    sources={"source": "Telescope guide"},
)
KNOWN = Person(address="ines@example.com")


def route(*actions: Mapping[str, Any], consent: bool = False) -> RouteDocument:
    """A route with these rules; an action may carry "when" and "on" of its rule."""
    rules = []
    for number, action in enumerate(actions, 1):
        about = {key: action[key] for key in ("when", "on") if key in action}
        plain = {key: value for key, value in action.items() if key not in about}
        rules.append(Rule.model_validate({"id": f"t{number}", "action": plain, **about}))
    kept = ROUTE.consent if consent else ()
    return ROUTE.model_copy(update={"then": tuple(rules), "consent": kept})


def run(
    sheet: RouteDocument, person: Person | None = KNOWN, catalogue: Catalogue = HERE, **answers: str
) -> Decision:
    facts = submission(email="ines@example.com", **answers)
    return decide(facts, sheet, person, catalogue, NOW)


def kinds(decision: Decision) -> list[str]:
    """The effects of Consent and Then; what the map fills is not looked at here."""
    return [one.kind for one in decision.effects if one.because.band != "read_as"]


def said(decision: Decision) -> list[str]:
    return [one.text for one in decision.outcomes if one.line.startswith("t")]


class InOrder(TestCase):
    def test_a_later_rule_sees_what_an_earlier_one_did(self) -> None:
        decision = run(
            route(
                {"kind": "add_tags", "tags": ["t-moon"]},
                {
                    "kind": "change_score",
                    "by": 5,
                    "when": {"of": [{"kind": "tag", "tag": "t-moon"}]},
                },
                {
                    "kind": "make_task",
                    "title": "Call",
                    "when": {"of": [{"kind": "score", "op": "at_least", "value": 5}]},
                },
            )
        )
        self.assertEqual(kinds(decision), ["add_tag", "score", "task"])

    def test_and_not_what_a_later_one_will_do(self) -> None:
        decision = run(
            route(
                {
                    "kind": "change_score",
                    "by": 5,
                    "when": {"of": [{"kind": "tag", "tag": "t-moon"}]},
                },
                {"kind": "add_tags", "tags": ["t-moon"]},
            )
        )
        self.assertEqual(kinds(decision), ["add_tag"])
        self.assertEqual(said(decision)[0], "no: not has the tag moon")

    def test_the_submission_itself_is_counted(self) -> None:
        first = {
            "kind": "happened",
            "what": "submitted",
            "about": "source",
            "at_least": 0,
            "at_most": 1,
        }
        sheet = route({"kind": "change_score", "by": 1, "when": {"of": [first]}})
        self.assertEqual(kinds(run(sheet)), ["score"])
        before = Happening(what="submitted", about="source", at=NOW - timedelta(days=3))
        again = replace(KNOWN, happened=(before,))
        self.assertEqual(kinds(run(sheet, again)), [])

    def test_one_that_is_off_says_so(self) -> None:
        decision = run(route({"kind": "change_score", "on": False}))
        self.assertEqual((kinds(decision), said(decision)), ([], ["switched off"]))

    def test_every_effect_names_its_rule_and_what_held(self) -> None:
        when = {"of": [{"kind": "answer", "question": "look", "value": "moon"}]}
        decision = run(route({"kind": "record_event", "name": "asked", "when": when}), look="moon")
        (effect,) = (one for one in decision.effects if one.kind == "event")
        self.assertEqual(effect.because.line_id, "t1")
        self.assertEqual(
            effect.because.sentence,
            "rule 1: the answer to “What do you look at?” is Moon",
        )


class Tags(TestCase):
    def test_added_once(self) -> None:
        decision = run(
            route(
                {"kind": "add_tags", "tags": ["t-moon", "t-guide"]},
                {"kind": "add_tags", "tags": ["t-moon"]},
            ),
            replace(KNOWN, tags=frozenset({"t-guide"})),
        )
        self.assertEqual(kinds(decision), ["add_tag"])
        self.assertEqual(said(decision), ["+ moon · has guide already", "has moon already"])

    def test_removed_only_where_they_are(self) -> None:
        decision = run(
            route({"kind": "remove_tags", "tags": ["t-moon", "t-guide"]}),
            replace(KNOWN, tags=frozenset({"t-guide"})),
        )
        self.assertEqual(kinds(decision), ["remove_tag"])
        self.assertEqual(said(decision), ["− guide"])

    def test_from_an_answer_with_a_stated_beginning(self) -> None:
        sheet = route({"kind": "tag_from_answer", "question": "name", "prefix": "name: "})
        (effect,) = (one for one in run(sheet, name="Ines").effects if one.kind == "add_tag")
        self.assertEqual(effect.name, "name: Ines")

    def test_from_an_answer_finds_the_tag_whatever_its_case(self) -> None:
        sheet = route({"kind": "tag_from_answer", "question": "name", "only": ["Big Telescope"]})
        decision = run(sheet, name="BIG TELESCOPE")
        (effect,) = (one for one in decision.effects if one.kind == "add_tag")
        self.assertEqual(effect.tag, "t-big")

    def test_from_an_answer_outside_the_stated_set_is_none(self) -> None:
        sheet = route({"kind": "tag_from_answer", "question": "name", "only": ["moon"]})
        decision = run(sheet, name="anything at all")
        self.assertEqual(kinds(decision), [])
        self.assertIn("not among the answers that may become tags", said(decision)[0])

    def test_without_a_beginning_or_a_set_nobody_can_make_tags(self) -> None:
        decision = run(route({"kind": "tag_from_answer", "question": "name"}), name="x")
        self.assertEqual(kinds(decision), [])

    @given(st.text(max_size=200))
    def test_no_answer_makes_a_tag_longer_than_a_tag_may_be(self, text: str) -> None:
        sheet = route({"kind": "tag_from_answer", "question": "name", "prefix": "x: "})
        for one in run(sheet, name=text).effects:
            if one.kind == "add_tag":
                self.assertLessEqual(len(one.name), 60)
                self.assertNotIn("\n", one.name)


class Fields(TestCase):
    def test_a_value_is_read_as_an_answer_would_be(self) -> None:
        decision = run(route({"kind": "put_field", "field": "f-look", "value": "Planets"}))
        (effect,) = (one for one in decision.effects if one.kind == "set_field")
        self.assertEqual((effect.after, effect.shown), ("planets", "Planets"))

    def test_a_value_that_the_field_cannot_hold_is_a_problem(self) -> None:
        decision = run(route({"kind": "put_field", "field": "f-look", "value": "comets"}))
        self.assertEqual(kinds(decision), [])
        self.assertEqual([one.place for one in decision.problems], ["t1"])

    def test_an_empty_value_empties_it(self) -> None:
        person = replace(KNOWN, values={"interest": "moon"})
        decision = run(route({"kind": "put_field", "field": "f-look", "value": ""}), person)
        (effect,) = (one for one in decision.effects if one.kind == "set_field")
        self.assertEqual((effect.before, effect.after), ("moon", ""))

    def test_the_address_is_set_by_no_rule(self) -> None:
        sheet = route({"kind": "put_field", "field": "f-email", "value": "evil@example.org"})
        decision = run(sheet)
        self.assertEqual((kinds(decision), decision.address), ([], "ines@example.com"))


class Subscriptions(TestCase):
    def test_an_answer_says_which(self) -> None:
        sheet = route(
            {
                "kind": "change_subscription",
                "list": "l-news",
                "direction": "by_answer",
                "question": "name",
                "subscribe_words": ["oui"],
                "unsubscribe_words": ["NON"],
            }
        )
        self.assertEqual(said(run(sheet, name="Oui")), ["subscribed to Open-night news"])
        on = replace(KNOWN, memberships={"l-news": "subscribed"})
        self.assertEqual(said(run(sheet, on, name="non")), ["unsubscribed from Open-night news"])
        neither = run(sheet, on, name="peut-être")
        self.assertEqual(kinds(neither), [])
        # Somebody who may have meant to leave is never passed over in silence.
        self.assertEqual([one.code for one in neither.problems], ["fits_neither"])
        self.assertIn("peut-être", neither.problems[0].sentence)

    def test_a_choice_is_known_by_its_key_and_by_what_people_read(self) -> None:
        keep, off = (
            Choice(key="keep", label="Yes, keep me on"),
            Choice(key="off", label="No, take me off", synonyms=("stop it",)),
        )
        asked = Question(id="q9", name="wish", type="choice", label="Stay?", choices=(keep, off))
        on = replace(KNOWN, memberships={"l-news": "subscribed"})
        for word in ("off", "No, take me off", "stop it"):
            sheet = route(
                {
                    "kind": "change_subscription",
                    "list": "l-news",
                    "direction": "by_answer",
                    "question": "wish",
                    "subscribe_words": ["keep"],
                    "unsubscribe_words": [word],
                }
            )
            sheet = sheet.model_copy(
                update={"form": Form(questions=(*sheet.form.questions, asked))}
            )
            for answer in ("off", "no, TAKE me off", "Stop it"):
                (left,) = (
                    one for one in run(sheet, on, wish=answer).effects if one.kind == "subscribe"
                )
                self.assertEqual(left.to, "unsubscribed")
            self.assertEqual(kinds(run(sheet, on, wish="keep")), [])

    def test_nothing_chosen_does_nothing(self) -> None:
        on = replace(KNOWN, memberships={"l-news": "subscribed"}, under_way=frozenset({"s-first"}))
        for action in (
            {"kind": "change_subscription"},
            {"kind": "change_subscription", "direction": "unsubscribe", "every_list": False},
            {"kind": "stop_sequence", "every_sequence": False},
        ):
            self.assertEqual(kinds(run(route(action), on)), [])

    def test_leaving_every_list_wins_over_one_never_joined_whatever_the_order(self) -> None:
        leave = {"kind": "change_subscription", "direction": "unsubscribe", "every_list": True}
        join = {"kind": "change_subscription", "list": "l-news", "direction": "subscribe"}
        for order in ((leave, join), (join, leave)):
            decision = run(route(*order))
            self.assertNotIn("subscribe", kinds(decision))
            self.assertEqual([one.code for one in decision.problems], ["contradiction"])

    def test_unsubscribing_wins_over_subscribing_in_one_submission(self) -> None:
        subscribe = {"kind": "change_subscription", "list": "l-news", "direction": "subscribe"}
        leave = {"kind": "change_subscription", "list": "l-news", "direction": "unsubscribe"}
        for order in ((subscribe, leave), (leave, subscribe)):
            decision = run(route(*order))
            self.assertEqual(kinds(decision), [])
            self.assertEqual([one.code for one in decision.problems], ["contradiction"])

    def test_also_over_the_consent_band(self) -> None:
        sheet = route(
            {"kind": "change_subscription", "list": "l-news", "direction": "unsubscribe"},
            consent=True,
        )
        decision = run(sheet, news="yes")
        self.assertNotIn("subscribe", kinds(decision))
        on = replace(KNOWN, memberships={"l-news": "subscribed"})
        (left,) = (one for one in run(sheet, on, news="yes").effects if one.kind == "subscribe")
        self.assertEqual(left.to, "unsubscribed")

    def test_a_rule_brings_nobody_back_who_left(self) -> None:
        sheet = route({"kind": "change_subscription", "list": "l-news", "direction": "subscribe"})
        left = replace(KNOWN, memberships={"l-news": "unsubscribed"})
        self.assertEqual(kinds(run(sheet, left)), [])

    def test_nobody_on_the_suppression_list_is_subscribed(self) -> None:
        sheet = route({"kind": "change_subscription", "list": "l-news", "direction": "subscribe"})
        decision = run(sheet, replace(KNOWN, suppressed=True))
        self.assertEqual(kinds(decision), [])

    def test_a_list_that_asks_first_leaves_them_pending(self) -> None:
        sheet = route({"kind": "change_subscription", "list": "l-news", "direction": "subscribe"})
        asking = replace(HERE, confirmed_lists=frozenset({"l-news"}))
        decision = run(sheet, KNOWN, asking)
        self.assertEqual(kinds(decision), ["ask_to_confirm", "subscribe"])
        (joined,) = (one for one in decision.effects if one.kind == "subscribe")
        self.assertEqual(joined.to, "pending")

    def test_leaving_all_lists_leaves_each(self) -> None:
        two = replace(HERE, lists={"l-news": "News", "l-fair": "Fair"})
        person = replace(KNOWN, memberships={"l-news": "subscribed", "l-fair": "pending"})
        action = {"kind": "change_subscription", "direction": "unsubscribe", "every_list": True}
        decision = run(route(action), person, two)
        self.assertEqual(kinds(decision), ["leave_all_lists", "subscribe", "subscribe"])
        self.assertEqual(said(decision), ["unsubscribed from News · unsubscribed from Fair"])


class Sequences(TestCase):
    def test_starts_once_only(self) -> None:
        sheet = route({"kind": "start_sequence", "sequence": "s-first", "lane": "a"})
        self.assertEqual(said(run(sheet)), ["starts First telescope, lane A"])
        again = replace(KNOWN, entered=frozenset({"s-first"}))
        self.assertEqual(kinds(run(sheet, again)), [])

    def test_one_that_is_not_live_starts_nothing(self) -> None:
        decision = run(route({"kind": "start_sequence", "sequence": "s-draft"}))
        self.assertEqual(kinds(decision), [])
        self.assertEqual(said(decision), ["Not yet is not live: nothing starts"])

    def test_stops_one_or_all(self) -> None:
        both = frozenset({"s-first", "s-second"})
        person = replace(KNOWN, entered=both, under_way=both)
        one = run(route({"kind": "stop_sequence", "sequence": "s-first"}), person)
        self.assertEqual(said(one), ["stops First telescope"])
        every = run(route({"kind": "stop_sequence"}), person)
        self.assertEqual(kinds(every), ["leave_sequence", "leave_sequence"])

    def test_out_of_one_and_into_another(self) -> None:
        person = replace(KNOWN, entered=frozenset({"s-first"}), under_way=frozenset({"s-first"}))
        decision = run(
            route(
                {"kind": "stop_sequence", "sequence": "s-first"},
                {
                    "kind": "start_sequence",
                    "sequence": "s-second",
                    "when": {
                        "kind": "none",
                        "of": [{"kind": "run", "sequence": "s-first", "state": "under_way"}],
                    },
                },
            ),
            person,
        )
        self.assertEqual(kinds(decision), ["leave_sequence", "enter_sequence"])


class People(TestCase):
    def test_members_in_turn(self) -> None:
        sheet = route({"kind": "set_owner", "how": "in_turn", "members": ["m-ada", "m-ben"]})
        owners = []
        for turn in range(4):
            facts = replace(submission(email="x@example.com"), turn=turn)
            decision = decide(facts, sheet, None, HERE, NOW)
            owners += [one.name for one in decision.effects if one.kind == "owner"]
        self.assertEqual(owners, ["Ada", "Ben", "Ada", "Ben"])

    def test_the_turn_passes_over_a_member_who_left(self) -> None:
        sheet = route({"kind": "set_owner", "how": "in_turn", "members": ["m-gone", "m-ben"]})
        for turn in range(3):
            facts = replace(submission(email="x@example.com"), turn=turn)
            decision = decide(facts, sheet, None, HERE, NOW)
            self.assertEqual([one.kind for one in decision.effects], ["owner"])

    def test_by_an_answer(self) -> None:
        sheet = route(
            {
                "kind": "set_owner",
                "how": "by_answer",
                "question": "look",
                "table": [{"choice": "moon", "member": "m-ben"}],
            }
        )
        self.assertEqual(said(run(sheet, look="moon")), ["owner: Ben"])
        self.assertEqual(said(run(sheet, look="planets")), ["no owner by this"])

    def test_never_taken_from_another(self) -> None:
        sheet = route({"kind": "set_owner", "members": ["m-ada"]})
        decision = run(sheet, replace(KNOWN, owner="m-ben"))
        self.assertEqual((kinds(decision), said(decision)), ([], ["Ben is the owner already"]))

    def test_the_owner_of_an_earlier_rule_gets_the_task_and_the_notice(self) -> None:
        decision = run(
            route(
                {"kind": "set_owner", "members": ["m-ben"]},
                {"kind": "make_task", "title": "  Ring   them ", "days": 2},
                {"kind": "notify", "members": ["m-ada"], "owner": True},
            )
        )
        task = next(one for one in decision.effects if one.kind == "task")
        self.assertEqual((task.title, task.member, task.days), ("Ring them", "m-ben", 2))
        told = next(one for one in decision.effects if one.kind == "tell_members")
        self.assertEqual(told.names, ("Ada", "Ben"))

    def test_a_member_who_left_is_a_problem_and_the_others_are_told(self) -> None:
        decision = run(route({"kind": "notify", "members": ["m-gone", "m-ada"]}))
        self.assertEqual(said(decision), ["tells Ada"])
        self.assertEqual([one.code for one in decision.problems], ["member_gone"])

    def test_a_message_now(self) -> None:
        sheet = route({"kind": "send_now", "message": "m-guide"})
        self.assertEqual(said(run(sheet)), ["sends “Your guide” at once"])
        gone = run(route({"kind": "send_now", "message": "m-gone"}))
        self.assertEqual([one.code for one in gone.problems], ["message_gone"])


class Unfinished(TestCase):
    def test_an_action_without_its_object_does_nothing_and_says_so(self) -> None:
        for kind in (
            "add_tags",
            "remove_tags",
            "tag_by_answer",
            "tag_from_answer",
            "put_field",
            "record_event",
            "start_sequence",
            "stop_sequence",
            "notify",
            "send_now",
            "make_task",
            "set_owner",
        ):
            with self.subTest(kind=kind):
                decision = run(route({"kind": kind}))
                self.assertEqual(kinds(decision), [])
                (outcome,) = said(decision)
                self.assertTrue(outcome)
                self.assertNotIn("None", outcome)


class AskedFor(TestCase):
    def test_a_row_of_a_file_asks_for_nothing(self) -> None:
        rules = (
            Rule(id="n", action=SendNow(message="m-guide")),
            Rule(id="s", action=StartSequence(sequence="s-first", lane="a")),
        )
        route = ROUTE.model_copy(update={"then": rules})
        for stated, asks in ((None, True), ("", False), ("They joined the club", False)):
            facts = SubmissionFacts(
                source_id="src",
                source_name="Source",
                answers=(("email", "ines@example.com"),),
                own=stated is None,
                stated_consent=stated,
            )
            decision = decide(facts, route, None, CATALOGUE, datetime(2026, 11, 24, tzinfo=UTC))
            found = [one.act for one in decision.effects if isinstance(one, Send | EnterSequence)]
            self.assertEqual([bool(act) for act in found], [asks, asks], stated)
