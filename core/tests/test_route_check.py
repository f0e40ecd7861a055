"""Pre-flight of a route."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

from core.forms import Form
from core.people import Catalogue
from core.reading import ReadLine
from core.route_check import check_route
from core.route_document import ConsentLine, RouteDocument, VisitorSees

from .observatory import CATALOGUE, ROUTE


def codes(route: RouteDocument, *, stops: bool = True) -> list[str]:
    return [one.code for one in check_route(route, CATALOGUE) if one.stops is stops]


def changed(**parts: Any) -> RouteDocument:
    return ROUTE.model_copy(update=parts)


class PreFlight(TestCase):
    def test_a_whole_route_is_clear(self) -> None:
        self.assertEqual(codes(ROUTE), [])

    def test_an_empty_one_says_what_is_missing(self) -> None:
        self.assertEqual(codes(RouteDocument()), ["no_questions", "email_not_mapped"])

    def test_no_email_mapped(self) -> None:
        self.assertIn("email_not_mapped", codes(changed(read_as=ROUTE.read_as[1:])))

    def test_two_lines_to_one_field(self) -> None:
        twice = (*ROUTE.read_as, ReadLine(id="r9", question="utm_source", field="f-first"))
        self.assertEqual(codes(changed(read_as=twice)), ["field_twice"])

    def test_a_near_miss_between_question_and_field_line(self) -> None:
        lines = (ReadLine(id="r1", question="Email", field="f-email"),)
        finding = next(
            one for one in check_route(changed(read_as=lines), CATALOGUE) if one.code == "near_miss"
        )
        self.assertEqual(finding.place, "r1")
        self.assertEqual(finding.fix, "Change it to “email”.")

    def test_what_is_gone(self) -> None:
        bare = Catalogue(fields=CATALOGUE.fields)
        found = {one.code for one in check_route(ROUTE, bare) if one.stops}
        self.assertEqual(found, {"list_gone", "tag_gone", "sequence_gone"})
        no_fields = replace(CATALOGUE, fields={})
        self.assertIn("field_gone", {one.code for one in check_route(ROUTE, no_fields)})

    def test_a_sequence_that_is_not_live(self) -> None:
        draft = replace(CATALOGUE.sequences["s-first"], live=False)
        catalogue = replace(CATALOGUE, sequences={"s-first": draft})
        self.assertIn("sequence_not_live", {one.code for one in check_route(ROUTE, catalogue)})

    def test_a_sequence_whose_list_nobody_is_subscribed_to(self) -> None:
        self.assertIn("sequence_list", codes(changed(consent=()), stops=False))

    def test_subscribing_without_telling(self) -> None:
        silent = changed(consent=(ConsentLine(id="c1", list="l-news"),))
        self.assertEqual(codes(silent), ["no_wording"])

    def test_the_address_can_be_left_empty(self) -> None:
        first = ROUTE.form.questions[0].model_copy(update={"required": False})
        form = Form(title="x", questions=(first, *ROUTE.form.questions[1:]))
        self.assertEqual(codes(changed(form=form)), ["email_not_required"])

    def test_questions_without_name_label_or_choices_and_twice(self) -> None:
        one, two, three, *_ = ROUTE.form.questions
        form = Form(
            questions=(
                one,
                two.model_copy(update={"name": "email"}),
                three.model_copy(update={"label": "", "choices": ()}),
                two.model_copy(update={"id": "q8", "name": "_charset_"}),
            )
        )
        found = codes(RouteDocument(form=form, read_as=ROUTE.read_as[:1]))
        self.assertEqual(
            found,
            ["question_twice", "choices_missing", "question_without_label", "question_name"],
        )

    def test_an_answer_that_goes_nowhere_is_said(self) -> None:
        self.assertEqual(codes(changed(read_as=ROUTE.read_as[:1]), stops=False), ["not_mapped"])

    def test_the_next_page_needs_a_whole_address(self) -> None:
        sees = VisitorSees(kind="page", address="/thanks")
        self.assertEqual(codes(changed(visitor_sees=sees)), ["not_an_address"])
