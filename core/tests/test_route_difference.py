"""The difference of two revisions, as sentences."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

from core.checking import differences, rules_in_words
from core.conditions import AnswerTest, Group
from core.deciding import (
    AddTags,
    ChangeScore,
    MakeTask,
    RecordEvent,
    RouteDocument,
    Rule,
    SetOwner,
    TagFromAnswer,
)
from core.reading import ReadLine
from core.tests.observatory import CATALOGUE, ROUTE


def changed(**parts: object) -> tuple[str, ...]:
    return differences(ROUTE, ROUTE.model_copy(update=parts), CATALOGUE)


class Differences(TestCase):
    def test_nothing_changed(self) -> None:
        self.assertEqual(changed(), ())

    def test_the_language_of_the_form(self) -> None:
        form = ROUTE.form.model_copy(update={"language": "ar"})
        self.assertEqual(changed(form=form), ("form: language as the workspace → Arabic",))

    def test_a_rule_that_does_something_else(self) -> None:
        other = ROUTE.then[0].model_copy(update={"action": AddTags(tags=("t-planets",))})
        self.assertEqual(
            changed(then=(other, *ROUTE.then[1:])), ("rule 1: tag guide → tag planets",)
        )

    def test_rules_added_taken_out_switched_off_and_given_a_condition(self) -> None:
        when = Group(of=(AnswerTest(question="look", value="moon"),))
        found = changed(
            then=(
                ROUTE.then[0].model_copy(update={"on": False}),
                ROUTE.then[2].model_copy(update={"when": when}),
                Rule(id="t9", action=ChangeScore(by=-2)),
            )
        )
        self.assertEqual(
            found,
            (
                "rule 2 taken out: tag by the answer to “What do you look at?” "
                "(Moon → moon; Planets → planets)",
                "rule 1: tag guide → tag guide (off)",
                "rule 2: start First telescope → start First telescope, when the answer to "
                "“What do you look at?” is Moon",
                "rule 3 added: take 2 from the score",
            ),
        )

    def test_another_order(self) -> None:
        found = changed(then=(ROUTE.then[1], ROUTE.then[0], ROUTE.then[2]))
        self.assertEqual(found, ("the rules stand in another order",))

    def test_lines_questions_and_words(self) -> None:
        form = ROUTE.form.model_copy(
            update={"title": "Get it", "questions": ROUTE.form.questions[:-1]}
        )
        found = changed(form=form, read_as=(*ROUTE.read_as[:3], ReadLine(id="r9", question="x")))
        self.assertEqual(
            found,
            (
                "form: heading “Get the guide” → “Get it”",
                "question taken out: “utm_source”, hidden, named utm_source",
                "line taken out: look into Interest",
                "line added: x into no field",
            ),
        )

    def test_every_action_has_its_words(self) -> None:
        schema = RouteDocument.model_json_schema()["$defs"]["Rule"]["properties"]["action"]
        for kind in schema["discriminator"]["mapping"]:
            rule = Rule.model_validate({"id": "x", "action": {"kind": kind}})
            self.assertTrue(rule.action.describe(CATALOGUE), kind)

    def test_a_rule_that_goes_with_its_question_keeps_its_label(self) -> None:
        questions = tuple(one for one in ROUTE.form.questions if one.name != "look")
        form = ROUTE.form.model_copy(update={"questions": questions})
        rules = tuple(one for one in ROUTE.then if one.action.kind != "tag_by_answer")
        self.assertIn(
            "rule 2 taken out: tag by the answer to “What do you look at?” "
            "(Moon → moon; Planets → planets)",
            changed(form=form, then=rules),
        )


class Words(TestCase):
    """Rules as the sheet shows them: with labels, never keys."""

    CATALOGUE = replace(CATALOGUE, members={"m-noor": "Noor", "m-ada": "Ada"})

    def said(self, action: Any, when: Group | None = None) -> tuple[str, str]:
        rule = Rule(id="x", action=action, when=when)
        found = rules_in_words(ROUTE.model_copy(update={"then": (rule,)}), self.CATALOGUE)["x"]
        return found.when, found.does

    def test_when(self) -> None:
        moon = Group(of=(AnswerTest(question="look", value="moon"),))
        self.assertEqual(self.said(ChangeScore(by=1))[0], "Always")
        self.assertEqual(
            self.said(ChangeScore(by=1), moon)[0],
            "When the answer to “What do you look at?” is Moon",
        )

    def test_what_each_does(self) -> None:
        members = ("m-noor", "m-ada")
        for action, expected in (
            (AddTags(tags=("t-planets",)), "tag planets"),
            (ChangeScore(by=5), "add 5 to the score"),
            (ChangeScore(by=-2), "take 2 from the score"),
            (RecordEvent(name="came"), "record the event “came”"),
            (MakeTask(title="Call", days=1), "make the task “Call”, due in 1 day"),
            (MakeTask(title="Call", days=2), "make the task “Call”, due in 2 days"),
            (SetOwner(members=members[:1]), "make Noor the owner"),
            (SetOwner(how="in_turn", members=members), "make Noor or Ada the owner, in turn"),
            (
                SetOwner(how="by_answer", question="look"),
                "choose the owner by the answer to “What do you look at?”",
            ),
            (
                TagFromAnswer(question="look", prefix="looks at "),
                "tag “looks at ” with the answer to “What do you look at?”",
            ),
            (TagFromAnswer(question="@page"), "tag with the answer to “Page of the form”"),
        ):
            with self.subTest(expected):
                self.assertEqual(self.said(action)[1], expected)
