"""The map: what a line writes, by its rule of overwriting, and what a form asks to be fixed."""

from typing import Any, get_args
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.documents import Problem
from core.reading import (
    Form,
    LineReport,
    Overwrite,
    Question,
    QuestionType,
    ReadLine,
    answer_to,
    check_answers,
    inputs_of,
    read_answers,
    read_into,
    received_by,
    shown_answers,
)
from core.tests.observatory import CATALOGUE, LOOKS
from core.values import Choice, Kept


def read_one(
    text: str | None, before: Kept | None = None, *, choices: bool = False, **line: Any
) -> LineReport:
    """What a line of the question "x" to the field First name makes of an answer."""
    parts: dict[str, Any] = {"id": "a", "question": "x", "field": "f-first", **line}
    answers = () if text is None else (("x", text),)
    key = CATALOGUE.fields[parts["field"]].key if parts["field"] in CATALOGUE.fields else ""
    stored = {} if before is None else {key: before}
    offered = {"x": LOOKS} if choices else {}
    [report] = read_answers((ReadLine(**parts),), answers, stored, CATALOGUE, offered).lines
    return report


class Overwriting(TestCase):
    def test_every_rule_with_and_without_a_value_before(self) -> None:
        for overwrite, before, text, after, note in (
            ("always", None, "Bo", "Bo", "new"),
            ("always", "Ines", "Bo", "Bo", "replaces"),
            ("always", "Bo", "Bo", "Bo", "unchanged"),
            ("always", "Ines", "", "Ines", "no answer"),
            ("if_empty", None, "Bo", "Bo", "new"),
            ("if_empty", "", "Bo", "Bo", "new"),
            ("if_empty", "Ines", "Bo", "Ines", "kept what was there"),
            ("never", None, "Bo", None, "never written"),
            ("never", "Ines", "Bo", "Ines", "kept what was there"),
        ):
            with self.subTest(overwrite=overwrite, before=before, text=text):
                report = read_one(text, before, overwrite=overwrite)
                self.assertEqual((report.after, report.note), (after, note))
                self.assertEqual(report.changes, note in ("new", "replaces"))

    @given(
        st.sampled_from(get_args(Overwrite)),
        st.booleans(),
        st.text(alphabet=" \n\t\u00a0\u200b", max_size=4),
        st.sampled_from([None, "Ines"]),
    )
    def test_an_empty_answer_erases_nothing_unless_the_line_says_so(
        self, overwrite: Overwrite, erases: bool, text: str, before: str | None
    ) -> None:
        report = read_one(text, before, overwrite=overwrite, erases=erases)
        if report.after != before:
            self.assertTrue(erases and overwrite == "always" and before)
            self.assertEqual(report.note, "erased")

    def test_what_a_later_line_writes_sees_what_an_earlier_one_wrote(self) -> None:
        lines = (
            ReadLine(id="a", question="x", field="f-first"),
            ReadLine(id="b", question="y", field="f-first", overwrite="if_empty"),
        )
        first, second = read_answers(lines, (("x", "Ines"), ("y", "Bo")), {}, CATALOGUE, {}).lines
        self.assertEqual((first.note, second.note), ("new", "kept what was there"))
        first, second = read_answers(lines, (("x", ""), ("y", "Bo")), {}, CATALOGUE, {}).lines
        self.assertEqual((first.note, second.after), ("no answer", "Bo"))


class Receiving(TestCase):
    def test_a_fallback_stands_in_for_an_empty_answer(self) -> None:
        for text in (None, "", "  ", "\u200b", "\ufeff \u2060"):
            self.assertEqual(read_one(text, fallback="friend").after, "friend")
        self.assertEqual(read_one("Bo", fallback="friend").after, "Bo")

    def test_a_question_that_did_not_come_is_no_answer(self) -> None:
        report = read_one(None, "Ines", erases=True)
        self.assertEqual((report.received, report.problem), (None, None))

    def test_joined_without_the_empty_ones(self) -> None:
        line = ReadLine(id="a", question="x", also=("y", "z"), field="f-first")
        self.assertEqual(received_by(line, (("x", "Ines"), ("y", " "), ("z", "Berg"))), "Ines Berg")
        self.assertIsNone(received_by(line, (("q", "Ines"),)))

    def test_a_near_miss_is_a_problem_with_its_fix(self) -> None:
        line = ReadLine(id="a", question="first name", field="f-first")
        [report] = read_answers((line,), (("First_Name", "Ines"),), {}, CATALOGUE, {}).lines
        assert report.problem is not None
        self.assertEqual(report.problem.fix, "Change the line to “First_Name”.")
        self.assertFalse(report.changes)

    def test_what_nobody_maps_is_listed_once_and_context_is_not(self) -> None:
        answers = (("x", "1"), ("y", "2"), ("y", "3"), ("@page", "/f"))
        line = ReadLine(id="a", question="x", field="f-first")
        self.assertEqual(read_answers((line,), answers, {}, CATALOGUE, {}).unmapped, ("y",))
        loose = line.model_copy(update={"field": None})
        self.assertEqual(read_answers((loose,), answers, {}, CATALOGUE, {}).unmapped, ("x", "y"))

    def test_a_line_without_its_field(self) -> None:
        for field, code in ((None, "line_unfinished"), ("gone", "field_gone")):
            report = read_one("Ines", field=field)
            assert report.problem is not None
            self.assertEqual((report.problem.code, report.problem.place), (code, "a"))


class ChoicesIntoFields(TestCase):
    def test_a_text_field_keeps_what_the_visitor_saw(self) -> None:
        self.assertEqual(read_one("moon", choices=True).after, "Moon")
        self.assertEqual(read_one("moon\nplanets", choices=True).after, "Moon, Planets")

    def test_a_choice_field_keeps_its_own_key(self) -> None:
        self.assertEqual(read_one("moon", field="f-look", choices=True).after, "moon")
        offered = (Choice(key="m1", label="Moon"),)
        line = ReadLine(id="a", question="x", field="f-look")
        self.assertEqual(read_into(CATALOGUE.fields["f-look"], "m1", line, offered), "moon")

    def test_one_that_the_field_does_not_know_is_a_problem_at_its_line(self) -> None:
        report = read_one("comets", field="f-look")
        assert report.problem is not None
        self.assertEqual((report.problem.code, report.problem.place), ("unknown_choice", "a"))


class Fixing(TestCase):
    """What a visitor is asked to fix, for each type of question."""

    def found(self, kind: QuestionType, text: str, **more: Any) -> str:
        question = Question(id="q", name="x", type=kind, label="Your thing?", choices=LOOKS, **more)
        problems = check_answers(Form(questions=(question,)), (("x", text),) if text else (), "PT")
        return problems["x"].code if "x" in problems else ""

    def test_what_is_needed_and_missing(self) -> None:
        for kind in get_args(QuestionType):
            if kind in ("hidden", "address"):
                continue
            with self.subTest(kind=kind):
                self.assertEqual(self.found(kind, "", required=True), "answer_missing")
                self.assertEqual(self.found(kind, ""), "")

    def test_what_does_not_read_as_its_type(self) -> None:
        expected: tuple[tuple[QuestionType, str, str], ...] = (
            ("email", "nonsense", "ines@example.com"),
            ("phone", "12", "+44 20 7946 0000"),
            ("country", "Atlantis", "Portugal"),
            ("date", "2026-02-30", "2026-02-28"),
            ("number", "a few", "-3.5"),
            ("url", "javascript:alert(1)", "https://www.example.org"),
            ("choice", "comets", "moon"),
            ("choices", "moon\ncomets", "moon\nplanets"),
            ("yes_no", "perhaps", "yes"),
        )
        for kind, wrong, right in expected:
            with self.subTest(kind=kind):
                self.assertTrue(self.found(kind, wrong))
                self.assertEqual(self.found(kind, right), "")

    def test_what_nobody_can_see_is_no_answer(self) -> None:
        for text in ("\u200b", " \ufeff", "\u202e", "\u00a0\u2060"):
            self.assertEqual(self.found("text", text, required=True), "answer_missing")
            self.assertEqual(self.found("email", text), "")
        # Signs that join or order what is beside them stay where there is something.
        family = "\U0001f469\u200d\U0001f52d"
        self.assertEqual(read_one(family).after, family)

    def test_a_consent_that_is_needed_is_not_given_by_a_no(self) -> None:
        self.assertEqual(self.found("consent", "no", required=True), "answer_missing")
        self.assertEqual(self.found("consent", "no"), "")

    def test_a_number_of_the_country_that_the_workspace_or_the_question_says(self) -> None:
        self.assertEqual(self.found("phone", "212 345 678"), "")
        self.assertTrue(self.found("phone", "212 345 678", country="GB"))

    def test_nobody_mends_what_is_hidden(self) -> None:
        self.assertEqual(self.found("hidden", "\u0000 anything", required=True), "")

    def test_a_last_name_may_be_left_empty(self) -> None:
        question = Question(id="q", name="n", type="name", label="Name", boxes=2, required=True)
        form = Form(questions=(question,))
        self.assertEqual(check_answers(form, (("n.first", "Ines"), ("n.last", ""))), {})
        self.assertEqual(list(check_answers(form, (("n.last", "Berg"),))), ["n.first"])

    def test_an_address_names_what_it_lacks(self) -> None:
        question = Question(id="q", name="a", type="address", label="Where?")
        form = Form(questions=(question,))
        self.assertEqual(check_answers(form, ()), {})
        half = (("a.street", "3 Moor Lane"), ("a.country", "Atlantis"))
        problems = check_answers(form, half)
        self.assertIn("a.city", problems)
        self.assertIn("a.country", problems)
        self.assertNotIn("a.street", problems)

    def test_every_problem_stands_at_one_of_the_boxes(self) -> None:
        for kind in get_args(QuestionType):
            question = Question(
                id="q", name="x", type=kind, label="X", choices=LOOKS, required=True
            )
            names = {box.name for box in inputs_of(question)}
            for name, problem in check_answers(Form(questions=(question,)), ()).items():
                self.assertIn(name, names)
                self.assertEqual(problem.place, name)

    @given(
        st.lists(st.tuples(st.sampled_from(["x", "x.city", "x.first"]), st.text(max_size=30))),
        st.sampled_from(get_args(QuestionType)),
    )
    def test_any_answers_are_taken_or_are_problems(
        self, answers: list[tuple[str, str]], kind: QuestionType
    ) -> None:
        question = Question(id="q", name="x", type=kind, label="X", choices=LOOKS)
        for problem in check_answers(Form(questions=(question,)), tuple(answers)).values():
            self.assertIsInstance(problem, Problem)
            self.assertTrue(problem.sentence)

    def test_answers_of_one_name_stand_below_each_other(self) -> None:
        self.assertEqual(answer_to((("x", "a"), ("y", "b"), ("x", "c")), "x"), "a\nc")
        self.assertIsNone(answer_to((("y", "b"),), "x"))


class Shown(TestCase):
    def test_labels_stand_for_names_and_keys(self) -> None:
        form = Form(
            questions=(
                Question(
                    id="q",
                    name="fuel",
                    type="choice",
                    label="What do you heat with?",
                    choices=(Choice(key="gas", label="Gas"), Choice(key="oil", label="Oil")),
                ),
                Question(id="n", name="who", type="name", label="Name", boxes=2),
            )
        )
        answers = (("fuel", "gas"), ("fuel", "peat"), ("who.last", "gas"), ("other", "gas"))
        self.assertEqual(
            shown_answers(form, answers),
            (
                ("What do you heat with?", "Gas"),
                ("What do you heat with?", "peat"),
                ("Name: last name", "gas"),
                ("other", "gas"),
            ),
        )
