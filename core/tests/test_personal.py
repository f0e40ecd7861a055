"""Personal text: escaping, encoding, holes, limits."""

from unittest import TestCase
from urllib.parse import parse_qs, urlsplit

from hypothesis import given
from hypothesis import strategies as st

from core.documents import Finding, Problem
from core.messages import (
    Frame,
    HouseStyle,
    MessageDocument,
    Source,
    Written,
    asks_to_confirm,
    check_document,
    context_of,
    fill,
    lay_out,
    needed,
    simple_message,
    write,
)
from core.people import FieldFacts, Person
from core.tests.observatory import CATALOGUE, LOOKS


def plain(text: str, **context: object) -> str:
    """A text of one line, written."""
    return _one(Source("plain", text), context).parts[0]


def html(text: str, **context: object) -> str:
    """A text of HTML, written."""
    return _one(Source("html", text), context).parts[0]


def holes(*texts: str, **context: object) -> tuple[str, ...]:
    result = write([Source("html", text) for text in texts], context)
    assert isinstance(result, Written)
    return result.holes


def _one(source: Source, context: dict[str, object]) -> Written:
    result = write([source], context)
    assert isinstance(result, Written)
    return result


def check(name: str, document: MessageDocument) -> list[Finding]:
    return list(check_document(name, document, CATALOGUE.fields, {}, has_file=False))


class Writing(TestCase):
    def test_a_fallback_stands_in_for_what_is_missing(self) -> None:
        text = 'Hello {{ first_name | default: "there" }}'
        self.assertEqual(plain(text, first_name="Ines"), "Hello Ines")
        self.assertEqual(plain(text), "Hello there")
        self.assertEqual(holes(text), ())

    def test_a_hole_is_reported(self) -> None:
        subject, body = "Hello {{ first_name }}", "<p>{{ interest | upcase }}</p>"
        self.assertEqual(holes(subject, body), ("first_name", "interest"))
        self.assertEqual(needed(simple_message(subject, body=body)), ("first_name", "interest"))

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
        text = "{% if wants %}yes{% else %}no{% endif %}"
        self.assertEqual(plain(text, **context_of(person, {"w": wants})), "no")

    def test_answers_of_the_submission_can_be_named(self) -> None:
        person = Person(address="a@b.example")
        context = context_of(person, {}, (("look", "moon"), ("note", "  ")))
        text = "<p>{{ answers.look }} {{ answers.note }}</p>"
        self.assertIn("moon", html(text, **context))
        self.assertEqual(len(holes(text, **context)), 1)

    def test_a_link_of_either_quotes_and_a_fallback_in_it(self) -> None:
        for quote in "\"'":
            body = (
                f"<a href={quote}https://x.example/?n={{{{ name | default: 'a&b' }}}}{quote}>x</a>"
            )
            # The quotes of the fallback are those of Liquid; the attribute keeps its own.
            if quote == "'":
                body = body.replace("'a&b'", '"a&b"')
            self.assertIn("n=a%26b", html(body))
            self.assertIn("n=%22%3E", html(body, name='">'))

    def test_the_link_that_confirms_is_put_in_as_it_is(self) -> None:
        text = '<a href="{{confirm_link}}">Yes</a>'
        self.assertTrue(asks_to_confirm(simple_message(body=text)))
        self.assertFalse(asks_to_confirm(simple_message(body="<p>confirm_link</p>")))
        address = "https://forms.larkmoor.example/c/a:b?x=1\\1"
        self.assertIn(address, html(text, confirm_link=address))

    @given(st.text(max_size=80))
    def test_any_text_is_written_or_is_a_problem(self, text: str) -> None:
        sources = [Source("plain", text), Source("html", text), Source("link", text)]
        self.assertIsInstance(write(sources, {"first_name": "Ines"}), Written | Problem)

    @given(st.text(min_size=1))
    def test_a_value_cannot_leave_the_text_of_html(self, name: str) -> None:
        body = html("<p>{{ first_name }}</p>", first_name=name)
        self.assertNotIn("<", body.removeprefix("<p>").removesuffix("</p>"))

    @given(st.text(min_size=1))
    def test_a_value_cannot_break_a_header(self, name: str) -> None:
        document = simple_message("Hi {{ first_name }}", body="<p>x</p>")
        template = lay_out(document, frozenset(), HouseStyle(), Frame("Noor", ""), {})
        context = {"first_name": name, "leave_link": "https://x/", "own_page": "https://x/"}
        made = write(template.sources, context)
        assert isinstance(made, Written)
        self.assertEqual(len(fill(template, made.parts).subject.splitlines()), 1)

    @given(st.text(min_size=1).filter(str.strip))
    def test_a_value_is_encoded_in_a_link(self, name: str) -> None:
        text = '<a href="https://x.example/?n={{ first_name }}">x</a>'
        address = html(text, first_name=name).split('"')[1]
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
            self.assertIsInstance(write([Source("html", body)], {}), Problem, body)


class PreFlight(TestCase):
    def test_what_keeps_it_from_being_sent(self) -> None:
        found = check("Your guide", simple_message(body="<p> </p>"))
        self.assertEqual([one.code for one in found], ["no_subject", "no_text"])

    def test_a_token_that_no_field_has(self) -> None:
        text = simple_message("{{ firstname }}", body="{{ first_name }} {{ answers.look }}")
        (finding,) = check("Your guide", text)
        self.assertEqual(finding.code, "unknown_token")
        self.assertIn("firstname", finding.sentence)

    def test_braces_that_do_not_close(self) -> None:
        found = check("x", simple_message("{{ a", body="b"))
        self.assertEqual([one.code for one in found], ["not_liquid"])
