"""What a submission is for: adding, updating, another address, being erased."""

from dataclasses import replace
from datetime import timedelta
from typing import Any
from unittest import TestCase

from core.checking import check_route, differences
from core.deciding import ChangeAddress, Decision, Erase, RouteDocument, decide, submitted_address
from core.people import Person
from core.reading import ReadLine
from core.tests.observatory import ROUTE, submission
from core.tests.test_rules import HERE, KNOWN, NOW, kinds

CHANGES = ROUTE.model_copy(
    update={
        "operation": "change_address",
        "old_address": "email",
        "read_as": (ReadLine(id="r1", question="new", field="f-email"), *ROUTE.read_as[1:]),
    }
)


def for_(operation: str, **more: Any) -> RouteDocument:
    return ROUTE.model_copy(update={"operation": operation, **more})


def run(
    sheet: RouteDocument, person: Person | None = KNOWN, *, own: bool = True, **answers: str
) -> Decision:
    facts = replace(submission(email="ines@example.com", **answers), own=own)
    return decide(facts, sheet, person, HERE, NOW)


class Operations(TestCase):
    def test_add_only_leaves_who_is_known(self) -> None:
        found = run(for_("add_only"), name="Ines Alba", look="moon")
        self.assertEqual((found.effects, found.stores), ((), True))
        self.assertIn("left as they are", found.outcomes[0].text)
        new = run(for_("add_only"), None, look="moon")
        self.assertIn("add_tag", kinds(new))

    def test_update_only_adds_nobody(self) -> None:
        found = run(for_("update_only"), None, look="moon")
        self.assertEqual((found.effects, found.stores), ((), False))
        self.assertEqual(found.problems, ())
        self.assertIn("add_tag", kinds(run(for_("update_only"), look="moon")))

    def test_erasing_is_asked_of_the_person_by_email(self) -> None:
        [effect] = run(for_("erase"), look="moon").effects
        self.assertTrue(isinstance(effect, Erase) and effect.asks)
        [effect] = run(for_("erase"), own=False).effects
        self.assertTrue(isinstance(effect, Erase) and not effect.asks)
        self.assertFalse(run(for_("erase"), None).stores)

    def test_another_address(self) -> None:
        facts = submission(email="ines@example.com", new="ines@example.net")
        self.assertEqual(submitted_address(CHANGES, facts.everything, HERE), "ines@example.com")
        effect = run(CHANGES, new="Ines@Example.NET", own=False).effects[0]
        assert isinstance(effect, ChangeAddress)
        self.assertEqual((effect.before, effect.after), ("ines@example.com", "Ines@example.net"))
        self.assertFalse(effect.asks)
        asked = run(CHANGES, new="ines@example.net").effects[0]
        self.assertTrue(isinstance(asked, ChangeAddress) and asked.asks)

    def test_no_new_address_changes_nothing(self) -> None:
        found = run(CHANGES, new="not one")
        self.assertEqual(found.effects, ())
        self.assertEqual([one.code for one in found.problems], ["not_an_email"])
        self.assertFalse(run(CHANGES, None, new="ines@example.net").stores)
        same = run(CHANGES, new="INES@example.com")
        self.assertNotIn("change_address", kinds(same))

    def test_the_question_of_the_old_address_is_needed(self) -> None:
        bare = CHANGES.model_copy(update={"old_address": ""})
        self.assertEqual(run(bare).problems[0].code, "old_address_not_chosen")
        codes = {one.code for one in check_route(bare, HERE)}
        self.assertIn("old_address_not_chosen", codes)
        gone = CHANGES.model_copy(update={"old_address": "before"})
        self.assertIn("question_gone", {one.code for one in check_route(gone, HERE)})
        self.assertEqual(run(gone).problems[0].code, "no_address")

    def test_pre_flight_says_that_forms_ask_first(self) -> None:
        found = check_route(for_("erase"), HERE)
        self.assertLessEqual({"asked_first", "erased_first"}, {one.code for one in found})
        self.assertFalse(any(one.stops for one in found if one.place == "operation"))
        self.assertNotIn(
            "asked_first", {one.code for one in check_route(for_("erase"), HERE, "file")}
        )

    def test_the_difference_between_revisions(self) -> None:
        said = differences(ROUTE, CHANGES, HERE)
        self.assertIn("change the address of people", said[0])
        self.assertIn("the current address is the answer to “email”", said[1])


class Erased(TestCase):
    def facts(self, **more: Any) -> Any:
        return replace(submission(email="ines@example.com"), erased_at=NOW, **more)

    def test_nothing_but_a_form_of_their_own_brings_them_back(self) -> None:
        found = decide(self.facts(own=False), ROUTE, None, HERE, NOW)
        self.assertEqual((found.address, found.problems[0].code), (None, "erased"))
        later = self.facts(received=NOW + timedelta(seconds=1))
        self.assertEqual(decide(later, ROUTE, None, HERE, NOW).address, "ines@example.com")

    def test_what_they_sent_before_does_not_bring_them_back(self) -> None:
        for received in (NOW, NOW - timedelta(days=3)):
            found = decide(self.facts(received=received), ROUTE, None, HERE, NOW)
            self.assertEqual((found.address, found.problems[0].code), (None, "erased"))

    def test_who_came_back_is_there(self) -> None:
        found = decide(self.facts(own=False), ROUTE, replace(KNOWN), HERE, NOW)
        self.assertEqual(found.address, "ines@example.com")
