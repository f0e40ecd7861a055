"""What comes in by other ways than Yalla's own form: JSON, names that are learned, honeypot."""

import json
from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.checking import broken_by, check_route
from core.deciding import ConsentLine, VisitorSees, context_answers, decide
from core.documents import Problem, contrast, readable_on
from core.reading import (
    MOST,
    MOST_USES,
    Form,
    FormStyle,
    Question,
    ReadLine,
    answers_of,
    check_answers,
    inputs_of,
    propose,
    read_answers,
    seen_questions,
    suspicion,
)
from core.tests.observatory import CATALOGUE, LOOKS, ROUTE, submission
from core.tests.test_routes import NOW
from core.values import Choice

FIELDS = tuple(CATALOGUE.fields.values())


class Payloads(TestCase):
    def test_nested_values_by_path(self) -> None:
        body = {
            "person": {"email": "a@b.example", "adult": True, "age": None},
            "tags": ["x", "y"],
            "items": [{"name": "one"}, {"name": "two"}],
            "sum": 12.50,
        }
        self.assertEqual(
            answers_of(json.dumps(body).encode()),
            (
                ("person.email", "a@b.example"),
                ("person.adult", "true"),
                ("person.age", ""),
                ("tags", "x"),
                ("tags", "y"),
                ("items[0].name", "one"),
                ("items[1].name", "two"),
                ("sum", "12.5"),
            ),
        )

    def test_numbers_stay_as_they_were_written(self) -> None:
        # RFC 8259, 6: a receiver may not be able to keep the precision; as text it is kept.
        self.assertEqual(
            answers_of(b'{"n": 10000000000000000000001, "d": 1.10}'),
            (("n", "10000000000000000000001"), ("d", "1.10")),
        )

    def test_what_is_no_object_is_a_problem(self) -> None:
        for body in (b"", b"[1]", b'"x"', b"{", b"\xff{}", b"[" * 100_000):
            self.assertIsInstance(answers_of(body), Problem)
        many = {str(number): 1 for number in range(MOST + 1)}
        problem = answers_of(json.dumps(many).encode())
        assert isinstance(problem, Problem)
        self.assertEqual(problem.code, "too_many_values")

    @given(
        st.recursive(
            st.none() | st.booleans() | st.integers() | st.text(),
            lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(), inner),
            max_leaves=20,
        )
    )
    def test_any_json_is_read(self, value: object) -> None:
        answers_of(json.dumps({"value": value}).encode())


class Seen(TestCase):
    CAME = (
        *(
            (("Email", f"p{number}@example.com"), ("colour", ("red", "blue")[number % 2]))
            for number in range(20)
        ),
        (("Email", "x@example.com"), ("since", "2026-01-05")),
    )

    def test_shares_values_and_types(self) -> None:
        email, colour, since = seen_questions(self.CAME)
        self.assertEqual((email.share, email.field_type, email.distinct), (1.0, "email", 21))
        self.assertEqual((colour.field_type, set(colour.values)), ("choice", {"red", "blue"}))
        self.assertAlmostEqual(colour.share, 20 / 21)
        self.assertEqual(since.field_type, "date")

    def test_lines_are_proposed_from_names_and_values(self) -> None:
        seen = seen_questions(self.CAME)
        names = {"Email": "Email", "colour": "colour", "Name": "Name", "Vorname": "Vorname"}
        found = propose(names, (), seen, FIELDS)
        self.assertEqual(
            [(one.line.question, one.line.field, one.make, one.line.part) for one in found],
            [
                ("Email", "f-email", None, "whole"),
                ("colour", None, "choice", "whole"),
                ("Name", "f-first", None, "first"),
                ("Name", "f-last", None, "last"),
                # The first name has its line already, so this one makes a field of its own.
                ("Vorname", None, "text", "whole"),
            ],
        )
        self.assertEqual({one.label for one in found[1].choices}, {"red", "blue"})

    def test_an_address_by_its_values_alone(self) -> None:
        seen = seen_questions([(("kontakt", "a@b.example"),)])
        [only] = propose({"kontakt": "kontakt"}, (), seen, FIELDS)
        self.assertEqual(only.line.field, "f-email")


class Inputs(TestCase):
    FORM = Form(
        questions=(
            Question(id="q1", name="name", type="name", label="Name", boxes=2, required=True),
            Question(id="q2", name="school", type="address", label="School"),
            Question(id="q3", name="looks", type="choices", label="Looks", choices=LOOKS),
            Question(id="q4", name="ok", type="consent", label="I agree", required=True),
            Question(id="q5", name="tel", type="phone", label="Phone"),
        )
    )

    def test_boxes_of_a_question(self) -> None:
        self.assertEqual(
            [one.name for one in inputs_of(self.FORM.questions[0])], ["name.first", "name.last"]
        )
        self.assertEqual(self.FORM.names["school.city"], "School: city")

    def test_an_address_is_whole_or_not_there(self) -> None:
        good = (("name.first", "Ines"), ("ok", "yes"))
        self.assertEqual(check_answers(self.FORM, good), {})
        half = check_answers(self.FORM, (*good, ("school.city", "Porto")))
        self.assertEqual(set(half), {"school.street", "school.postal_code", "school.country"})

    def test_what_is_needed_and_missing(self) -> None:
        self.assertEqual(set(check_answers(self.FORM, ())), {"name.first", "ok"})
        self.assertEqual(set(check_answers(self.FORM, (("ok", "no"),))), {"name.first", "ok"})

    def test_a_phone_number_by_the_country_of_the_question(self) -> None:
        answers = (("name.first", "I"), ("ok", "on"), ("tel", "020 7946 0000"))
        self.assertEqual(set(check_answers(self.FORM, answers)), {"tel"})
        self.assertEqual(check_answers(self.FORM, answers, "GB"), {})


class Lines(TestCase):
    def test_several_questions_into_one_a_constant_and_the_context(self) -> None:
        lines = (
            ReadLine(id="a", question="first", also=("last",), field="f-first"),
            ReadLine(id="b", constant="planets", field="f-look"),
            ReadLine(id="c", question="@parameter.utm_source", field="f-last"),
        )
        context = context_answers({"parameters": {"utm_source": "fair"}}, "Stand", None)
        answers = (("first", "Ines"), ("last", "Berg"), *context)
        values = [one.value for one in read_answers(lines, answers, {}, CATALOGUE, {}).lines]
        self.assertEqual(values, ["Ines Berg", "planets", "fair"])
        self.assertIn(("@source", "Stand"), context)

    def test_an_empty_answer_erases_only_where_the_line_says_so(self) -> None:
        line = ReadLine(id="a", question="first", field="f-first")
        stored = {"first_name": "Ines"}
        for erases, after in ((False, "Ines"), (True, "")):
            one = line.model_copy(update={"erases": erases})
            [report] = read_answers((one,), (("first", " "),), stored, CATALOGUE, {}).lines
            self.assertEqual((report.after, report.changes), (after, erases))

    def test_boxes_that_were_ticked_are_one_answer(self) -> None:
        form = Form(
            questions=(Question(id="q", name="looks", type="choices", label="L", choices=LOOKS),)
        )
        route = ROUTE.model_copy(
            update={
                "form": form,
                "read_as": (
                    ROUTE.read_as[0],
                    ReadLine(id="t", question="looks", field="f-last"),
                ),
                "then": (
                    ROUTE.then[1].model_copy(
                        update={
                            "action": ROUTE.then[1].action.model_copy(update={"question": "looks"})
                        }
                    ),
                ),
            }
        )
        facts = replace(
            submission(email="a@b.example"),
            answers=(("email", "a@b.example"), ("looks", "moon"), ("looks", "planets")),
        )
        decision = decide(facts, route, None, CATALOGUE, NOW)
        self.assertEqual(decision.reading[1].value, "Moon, Planets")
        self.assertEqual(
            [one.name for one in decision.effects if one.kind == "add_tag"], ["moon", "planets"]
        )


class NotTheirOwn(TestCase):
    """A row of a file, a sheet or a webhook is not an opt-in of the person's own."""

    ROUTE = ROUTE.model_copy(
        update={"consent": (ConsentLine(id="c1", list="l-news", wording="They get the news."),)}
    )

    def subscribed(self, state: str, *, own: bool, stated: str | None) -> str:
        from core.people import Person

        facts = replace(submission(email="a@b.example"), own=own, stated_consent=stated)
        person = Person(address="a@b.example", memberships={"l-news": state})  # type: ignore[dict-item]
        decision = decide(facts, self.ROUTE, person, CATALOGUE, NOW)
        moved = [one.to for one in decision.effects if one.kind == "subscribe"]
        return moved[0] if moved else state

    def test_nobody_who_left_is_brought_back(self) -> None:
        for state in ("unsubscribed", "bounced", "complained"):
            self.assertEqual(self.subscribed(state, own=False, stated="They ticked a box."), state)
        self.assertEqual(self.subscribed("unsubscribed", own=True, stated=None), "subscribed")

    def test_a_file_subscribes_only_with_a_stated_consent(self) -> None:
        self.assertEqual(
            self.subscribed("none", own=False, stated="They ticked a box."), "subscribed"
        )
        self.assertEqual(self.subscribed("none", own=False, stated=""), "none")


class Checks(TestCase):
    def test_other_sources_are_checked_by_what_came(self) -> None:
        route = ROUTE.model_copy(update={"form": Form(), "consent": ()})
        codes = [one.code for one in check_route(route, CATALOGUE, "webhook", ("Email", "look"))]
        self.assertIn("near_miss", codes)
        self.assertNotIn("no_questions", codes)

    def test_contrast_by_wcag(self) -> None:
        # WCAG 2.2: black on white is 21:1; #767676 is the lightest grey of 4.5:1 on white
        # (from memory of its published examples).
        self.assertAlmostEqual(contrast("#000000", "#FFFFFF"), 21)
        self.assertGreaterEqual(contrast("#767676", "#FFFFFF"), 4.5)
        self.assertLess(contrast("#777777", "#FFFFFF"), 4.5)
        self.assertEqual(readable_on("#1D5B4F"), "#FFFFFF")
        style = FormStyle(ink="#AAAAAA", accent="#FFFFEE")
        route = ROUTE.model_copy(update={"form": ROUTE.form.model_copy(update={"style": style})})
        self.assertEqual([one.code for one in check_route(route, CATALOGUE)][:2], ["contrast"] * 2)

    def test_personal_data_in_an_address_is_said(self) -> None:
        sees = VisitorSees(
            kind="page",
            address="https://www.example.org/x",
            passing=({"question": "email", "parameter": "e"},),
        )
        found = check_route(ROUTE.model_copy(update={"visitor_sees": sees}), CATALOGUE)
        self.assertEqual(
            [one.code for one in found if one.place == "visitor_sees"], ["passes_personal_data"]
        )

    def test_what_a_change_of_the_form_breaks(self) -> None:
        questions = ROUTE.form.questions
        draft = ROUTE.model_copy(
            update={
                "form": Form(
                    questions=(
                        questions[0].model_copy(update={"name": "mail"}),
                        questions[2].model_copy(
                            update={"choices": (LOOKS[0], Choice(key="aurora", label="Aurora"))}
                        ),
                        questions[3],
                    )
                ),
                "read_as": (ROUTE.read_as[0].model_copy(update={"question": "mail"}),),
            }
        )
        found = [(one.code, one.place) for one in broken_by(ROUTE, draft)]
        self.assertEqual(
            found,
            [
                ("question_renamed", "q1"),
                ("no_longer_asked", "read_as"),
                ("choice_no_longer_offered", "q3"),
            ],
        )
        self.assertEqual(broken_by(ROUTE, ROUTE), ())


class Suspicions(TestCase):
    def test_what_holds_a_post(self) -> None:
        self.assertEqual(suspicion(honeypot="", seconds=30), "")
        self.assertEqual(suspicion(honeypot="", seconds=None), "")
        self.assertIn("box", suspicion(honeypot="http://x", seconds=30))
        self.assertIn("0.4 s", suspicion(honeypot="", seconds=0.4))
        self.assertIn("many times", suspicion(honeypot="", seconds=9, uses=MOST_USES))
        self.assertIn("20", suspicion(honeypot="", seconds=9, from_address=20, most=20))
        self.assertEqual(suspicion(honeypot="", seconds=9, from_address=99, most=0), "")
