"""Personal text: escaping, encoding, holes, limits."""

from unittest import TestCase
from urllib.parse import parse_qs, urlsplit

from hypothesis import given
from hypothesis import strategies as st

from core.documents import Problem
from core.messages import (
    MessageText,
    Personalised,
    asks_to_confirm,
    check_message,
    context_of,
    needed,
    personalise,
    with_links,
)
from core.people import FieldFacts, Person
from core.tests.observatory import CATALOGUE, LOOKS


def written(text: MessageText, **context: object) -> Personalised:
    result = personalise(text, context)
    assert isinstance(result, Personalised)
    return result


class Writing(TestCase):
    def test_a_fallback_stands_in_for_what_is_missing(self) -> None:
        text = MessageText(subject='Hello {{ first_name | default: "there" }}')
        self.assertEqual(written(text, first_name="Ines").subject, "Hello Ines")
        self.assertEqual(written(text).subject, "Hello there")
        self.assertEqual(written(text).holes, ())

    def test_a_hole_is_reported(self) -> None:
        text = MessageText(subject="Hello {{ first_name }}", body="<p>{{ interest | upcase }}</p>")
        self.assertEqual(written(text).holes, ("first_name", "interest"))
        self.assertEqual(needed(text), ("first_name", "interest"))

    def test_an_empty_value_is_missing(self) -> None:
        person = Person(address="a@b.example", values={"first_name": "", "interest": "moon"})
        context = context_of(person, CATALOGUE.fields)
        self.assertNotIn("first_name", context)
        self.assertEqual(context["interest"], "Moon")

    def test_choices_that_were_emptied_are_missing_too(self) -> None:
        looks = FieldFacts(id="l", key="looks", label="Looks", type="choices", choices=LOOKS)
        for value, expected in (
            ((), None),
            (("moon",), "Moon"),
            (("moon", "planets"), "Moon, Planets"),
        ):
            person = Person(address="a@b.example", values={"looks": value})
            self.assertEqual(context_of(person, {"l": looks}).get("looks"), expected)

    def test_no_is_a_value(self) -> None:
        wants = FieldFacts(id="w", key="wants", label="Wants", type="yes_no")
        person = Person(address="a@b.example", values={"wants": False})
        text = MessageText(subject="{% if wants %}yes{% else %}no{% endif %}")
        self.assertEqual(written(text, **context_of(person, {"w": wants})).subject, "no")

    def test_answers_of_the_submission_can_be_named(self) -> None:
        person = Person(address="a@b.example")
        context = context_of(person, {}, (("look", "moon"), ("note", "  ")))
        text = MessageText(body="<p>{{ answers.look }} {{ answers.note }}</p>")
        self.assertIn("moon", written(text, **context).body)
        self.assertEqual(len(written(text, **context).holes), 1)

    def test_a_link_of_either_quotes_and_a_fallback_in_it(self) -> None:
        for quote in "\"'":
            body = (
                f"<a href={quote}https://x.example/?n={{{{ name | default: 'a&b' }}}}{quote}>x</a>"
            )
            # The quotes of the fallback are those of Liquid; the attribute keeps its own.
            if quote == "'":
                body = body.replace("'a&b'", '"a&b"')
            self.assertIn("n=a%26b", written(MessageText(body=body)).body)
            self.assertIn("n=%22%3E", written(MessageText(body=body), name='">').body)

    def test_the_link_that_confirms_is_put_in_as_it_is(self) -> None:
        text = MessageText(body='<a href="{{confirm_link}}">Yes</a>')
        self.assertTrue(asks_to_confirm(text))
        self.assertFalse(asks_to_confirm(MessageText(body="<p>confirm_link</p>")))
        address = "https://forms.larkmoor.example/c/a:b?x=1\\1"
        self.assertIn(address, with_links(text, {"confirm_link": address}).body)

    @given(st.text(max_size=80))
    def test_any_text_is_written_or_is_a_problem(self, text: str) -> None:
        found = personalise(MessageText(subject=text, body=text), {"first_name": "Ines"})
        self.assertIsInstance(found, Personalised | Problem)

    @given(st.text(min_size=1))
    def test_a_value_cannot_leave_the_text_of_html(self, name: str) -> None:
        body = written(MessageText(body="<p>{{ first_name }}</p>"), first_name=name).body
        self.assertNotIn("<", body.removeprefix("<p>").removesuffix("</p>"))

    @given(st.text(min_size=1))
    def test_a_value_cannot_break_a_header(self, name: str) -> None:
        subject = written(MessageText(subject="Hi {{ first_name }}"), first_name=name).subject
        self.assertEqual(len(subject.splitlines()), 1)

    @given(st.text(min_size=1).filter(str.strip))
    def test_a_value_is_encoded_in_a_link(self, name: str) -> None:
        text = MessageText(body='<a href="https://x.example/?n={{ first_name }}">x</a>')
        address = written(text, first_name=name).body.split('"')[1]
        parts = urlsplit(address)
        self.assertEqual(parts.netloc, "x.example")
        self.assertEqual(parse_qs(parts.query, keep_blank_values=True)["n"], [name])

    def test_nothing_can_be_included_and_loops_are_bounded(self) -> None:
        for body in (
            '{% include "settings" %}',
            '{% render "settings" %}',
            "{% for i in (1..100000000) %}x{% endfor %}",
            "{{ first_name",
        ):
            self.assertIsInstance(personalise(MessageText(body=body), {}), Problem, body)


class PreFlight(TestCase):
    def test_what_keeps_it_from_being_sent(self) -> None:
        found = check_message("Your guide", MessageText(body="<p> </p>"), CATALOGUE.fields)
        self.assertEqual([one.code for one in found], ["no_subject", "no_text"])

    def test_a_token_that_no_field_has(self) -> None:
        text = MessageText(subject="{{ firstname }}", body="{{ first_name }} {{ answers.look }}")
        (finding,) = check_message("Your guide", text, CATALOGUE.fields)
        self.assertEqual(finding.code, "unknown_token")
        self.assertIn("firstname", finding.sentence)

    def test_braces_that_do_not_close(self) -> None:
        found = check_message("x", MessageText(subject="{{ a", body="b"), CATALOGUE.fields)
        self.assertEqual([one.code for one in found], ["not_liquid"])
