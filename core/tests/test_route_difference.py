"""The difference of two revisions, as sentences."""

from unittest import TestCase

from core.checking import differences
from core.conditions import AnswerTest, Group
from core.deciding import AddTags, ChangeScore, RouteDocument, Rule
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
                "(Moon: moon; Planets: planets)",
                "rule 1: tag guide → tag guide (off)",
                "rule 2: start First telescope → start First telescope, when the answer to "
                "“What do you look at?” is Moon",
                "rule 3 added: score -2",
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
