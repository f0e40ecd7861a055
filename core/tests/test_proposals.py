"""Lines proposed for questions: by what they are called, by their type, by what came."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.reading import (
    Form,
    Proposal,
    Question,
    QuestionType,
    name_part_of,
    propose,
    seen_questions,
    type_of,
)
from core.tests.observatory import CATALOGUE, LOOKS
from core.values import Choice, FieldType

FIELDS = tuple(CATALOGUE.fields.values())


def proposed(name: str, question: Question | None = None, label: str = "") -> list[Proposal]:
    asked = (question,) if question else ()
    return list(propose({name: label or name}, asked, (), FIELDS))


class Types(TestCase):
    def test_what_most_of_the_values_read_as(self) -> None:
        for name, values, expected in (
            ("x", ["a@b.example", "c@d.example"], "email"),
            ("x", ["https://www.example.org", "http://b.example"], "url"),
            ("x", ["2026-01-05", "31/12/2026"], "date"),
            ("x", ["yes", "no", "yes"], "yes_no"),
            ("x", ["3", "12", "-4.5"], "number"),
            ("mobile", ["+44 20 7946 0000", "020 7946 0123"], "phone"),
            ("country", ["Portugal", "GB"], "country"),
            ("x", ["Portugal", "GB"], "text"),
            ("x", ["a line\nand another"], "long_text"),
            ("x", ["y" * 151], "long_text"),
            ("x", [], "text"),
        ):
            with self.subTest(name=name, values=values):
                counted = dict.fromkeys(values, 1)
                self.assertEqual(type_of(name, counted), expected)

    def test_one_that_does_not_read_among_many_does_not_matter(self) -> None:
        self.assertEqual(type_of("x", {"3": 19, "a few": 1}), "number")
        self.assertEqual(type_of("x", {"3": 4, "7": 4, "a few": 1, "some": 1}), "text")

    def test_few_values_that_repeat_are_choices(self) -> None:
        self.assertEqual(type_of("x", {"red": 6, "blue": 5}), "choice")
        self.assertEqual(type_of("x", {"red": 2, "blue": 2}), "text")
        self.assertEqual(type_of("x", {f"colour {n}": 9 for n in range(13)}), "text")

    @given(
        st.text(max_size=20),
        st.dictionaries(st.text(max_size=40), st.integers(1, 9), max_size=6),
    )
    def test_any_values_have_a_type(self, name: str, values: dict[str, int]) -> None:
        self.assertTrue(type_of(name, values))


class Seen(TestCase):
    def test_an_empty_answer_came_but_is_no_value(self) -> None:
        [one] = seen_questions([(("x", " "),), (("x", "a"),)])
        self.assertEqual((one.share, one.values, one.distinct), (1.0, ("a",), 1))

    def test_boxes_of_one_name_count_once_for_their_submission(self) -> None:
        [one] = seen_questions([(("x", "a"), ("x", "b")), (("y", "c"),)][:1])
        self.assertEqual((one.share, set(one.values)), (1.0, {"a", "b"}))

    def test_nothing_came(self) -> None:
        self.assertEqual(seen_questions([]), ())


class Lines(TestCase):
    def test_names_as_forms_call_them_in_several_languages(self) -> None:
        for name, field in (
            ("E-Mail", "f-email"),
            ("email_address", "f-email"),
            ("person.email", "f-email"),
            ("Vorname", "f-first"),
            ("given-name", "f-first"),
            ("PRÉNOM", "f-first"),
            ("Nachname", "f-last"),
            ("surname", "f-last"),
            ("Interest", "f-look"),
        ):
            with self.subTest(name=name):
                [one] = proposed(name)
                self.assertEqual((one.line.field, one.make), (field, None))

    def test_a_full_name_is_two_lines(self) -> None:
        lines = [one.line for one in proposed("full name")]
        self.assertEqual(
            [(one.field, one.part) for one in lines], [("f-first", "first"), ("f-last", "last")]
        )
        self.assertTrue(all(one.case_right for one in lines))

    def test_a_name_in_two_boxes_fills_the_two_fields_of_a_name(self) -> None:
        question = Question(id="q", name="who", type="name", label="Your name", boxes=2)
        names = {"who.first": "Your name: first name", "who.last": "Your name: last name"}
        found = propose(names, (question,), (), FIELDS)
        self.assertEqual(
            [(one.line.question, one.line.field, one.make) for one in found],
            [("who.first", "f-first", None), ("who.last", "f-last", None)],
        )
        self.assertTrue(all(one.line.part == "whole" for one in found))

    def test_which_part_of_a_name_a_question_asks_for(self) -> None:
        for label, name, part in (
            ("First name", "first_name", "first"),
            ("What shall we call you?", "vorname", "first"),
            ("Surname", "x", "last"),
            ("Your name", "name", ""),
        ):
            question = Question(id="q", name=name, type="name", label=label)
            self.assertEqual(name_part_of(question), part, label)
            self.assertEqual(name_part_of(question.model_copy(update={"type": "text"})), "")

    def test_a_consent_box_is_no_field(self) -> None:
        agree = Question(id="q", name="news", type="consent", label="Send me the news")
        self.assertEqual(proposed("news", agree, "Send me the news"), [])
        # The name alone does not make it one.
        text = agree.model_copy(update={"type": "text"})
        self.assertEqual(len(proposed("news", text)), 1)

    def test_the_country_of_a_postal_address_is_a_country(self) -> None:
        question = Question(id="q", name="home", type="address", label="Where you live")
        made = {
            one.line.question: one.make
            for one in propose(Form(questions=(question,)).names, (question,), (), FIELDS)
        }
        self.assertEqual({made["home.country"]}, {"country"})
        self.assertEqual(made["home.city"], "text")

    def test_a_question_of_a_type_makes_a_field_of_its_type(self) -> None:
        expected: tuple[tuple[QuestionType, FieldType], ...] = (
            ("phone", "phone"),
            ("date", "date"),
            ("number", "number"),
            ("long_text", "long_text"),
            ("url", "url"),
            ("hidden", "text"),
        )
        for kind, made in expected:
            question = Question(id="q", name="something", type=kind, label="Something?")
            [one] = proposed("something", question, "Something?")
            self.assertEqual((one.make, one.field_label, one.line.field), (made, "Something", None))

    def test_choices_go_along(self) -> None:
        question = Question(id="q", name="sky", type="choice", label="Sky", choices=LOOKS)
        [one] = proposed("sky", question, "Sky")
        self.assertEqual((one.make, one.choices), ("choice", LOOKS))
        bare = question.model_copy(update={"choices": ()})
        [one] = proposed("sky", bare, "Sky")
        self.assertEqual((one.make, one.choices), ("text", ()))

    def test_each_field_is_proposed_once_and_none_that_is_taken(self) -> None:
        names = {"email": "Email", "mail": "Mail"}
        found = propose(names, (), (), FIELDS)
        self.assertEqual([one.line.field for one in found], ["f-email", None])
        [one] = propose({"email": "Email"}, (), (), FIELDS, frozenset({"f-email"}))
        self.assertIsNone(one.line.field)
        # A second address is never proposed as a field that looks like the first.
        self.assertEqual(one.make, "text")

    def test_every_line_has_an_id_of_its_own(self) -> None:
        found = propose({"name": "Name", "email": "Email", "x": "X"}, (), (), FIELDS)
        ids = [one.line.id for one in found]
        self.assertEqual(len(ids), len(set(ids)))

    @given(st.dictionaries(st.text(max_size=30), st.text(max_size=30), max_size=6))
    def test_any_names_give_a_line_each_or_two(self, names: dict[str, str]) -> None:
        found = propose(names, (), (), FIELDS)
        self.assertEqual({one.line.question for one in found}, set(names))
        written = [one.line.field for one in found if one.line.field]
        self.assertEqual(len(written), len(set(written)))

    def test_the_words_of_a_label_make_the_name_of_a_field(self) -> None:
        for name, label, words in (
            ("what_size", "what_size", "What size"),
            ("x", "What size is it?", "What size is it"),
            ("person.shoe-size", "person.shoe-size", "Person shoe size"),
        ):
            [one] = proposed(name, None, label)
            self.assertEqual(one.field_label, words)

    def test_choices_from_what_came(self) -> None:
        came = [(("colour", ("Red", "Blue")[number % 2]),) for number in range(20)]
        [one] = propose({"colour": "colour"}, (), seen_questions(came), FIELDS)
        self.assertEqual(
            set(one.choices), {Choice(key="red", label="Red"), Choice(key="blue", label="Blue")}
        )
