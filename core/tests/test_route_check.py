"""Pre-flight of a route."""

from dataclasses import replace
from typing import Any, get_args
from unittest import TestCase

from core.checking import check_route
from core.deciding import ConsentLine, OwnForm, RouteDocument, Rule, SourceKind, VisitorSees
from core.people import Catalogue
from core.reading import Form, ReadLine
from core.tests.observatory import CATALOGUE, ROUTE


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


def at(place: str, route: RouteDocument, catalogue: Catalogue = CATALOGUE) -> list[str]:
    """The codes of the findings at one place, in order."""
    return [one.code for one in check_route(route, catalogue) if one.place == place]


def rule(action: dict[str, Any], when: dict[str, Any] | None = None, on: bool = True) -> Rule:
    return Rule.model_validate({"id": "x", "action": action, "when": when, "on": on})


class Lines(TestCase):
    """Lines of the map, of consent and of Then that are not finished, each at its place."""

    def test_lines_of_the_map(self) -> None:
        for line, code in (
            (ReadLine(id="x", question="name", field=None), "line_unfinished"),
            (ReadLine(id="x", question="name", field="gone"), "field_gone"),
            (ReadLine(id="x", question="", field="f-look"), "question_gone"),
            (ReadLine(id="x", question="shoe", field="f-look"), "question_gone"),
        ):
            lines = (*ROUTE.read_as[:3], line)
            self.assertEqual(at("x", changed(read_as=lines)), [code])

    def test_context_and_constants_need_no_question(self) -> None:
        for line in (
            ReadLine(id="x", question="@page", field="f-look"),
            ReadLine(id="x", question="@parameter.utm_campaign", field="f-look"),
            ReadLine(id="x", question="", constant="Moon", field="f-look"),
            ReadLine(id="x", question="look", also=("@referrer",), field="f-look"),
        ):
            self.assertEqual(at("x", changed(read_as=(*ROUTE.read_as[:3], line))), [])

    def test_lines_of_consent(self) -> None:
        for line, code in (
            (ConsentLine(id="x", wording="yes"), "line_unfinished"),
            (ConsentLine(id="x", list="gone", wording="yes"), "list_gone"),
            (ConsentLine(id="x", list="l-news", question="shoe"), "question_gone"),
            (ConsentLine(id="x", list="l-news", wording="  "), "no_wording"),
        ):
            self.assertEqual(at("x", changed(consent=(line,))), [code])

    def test_a_file_states_its_consent_when_it_is_put_in(self) -> None:
        route = changed(consent=(ConsentLine(id="x", list="l-news"),))
        found = check_route(route, CATALOGUE, "file", ("email", "name", "look", "news"))
        self.assertNotIn("no_wording", [one.code for one in found])

    def test_a_start_without_its_sequence_or_lane(self) -> None:
        for action, code in (
            ({"kind": "start_sequence"}, "line_unfinished"),
            ({"kind": "start_sequence", "sequence": "gone"}, "sequence_gone"),
            ({"kind": "start_sequence", "sequence": "s-first", "lane": "gone"}, "lane_gone"),
        ):
            self.assertEqual(at("x", changed(then=(rule(action),))), [code])

    def test_tags_by_an_answer(self) -> None:
        table = [{"choice": "moon", "tags": ["t-moon"]}]
        whole = {"kind": "tag_by_answer", "question": "look", "table": table}
        self.assertEqual(at("x", changed(then=(rule(whole),))), [])
        for change, code in (
            ({"question": "shoe"}, "question_gone"),
            ({"question": "Look"}, "near_miss"),
            ({"table": [{"choice": "moon", "tags": []}]}, "line_unfinished"),
            ({"table": [*table, {"choice": "comets", "tags": ["t-guide"]}]}, "choice_gone"),
            ({"table": [{"choice": "moon", "tags": ["gone"]}]}, "tag_gone"),
        ):
            with self.subTest(change=change):
                self.assertEqual(at("x", changed(then=(rule({**whole, **change}),))), [code])

    def test_a_rule_that_is_off_is_not_judged(self) -> None:
        self.assertEqual(at("x", changed(then=(rule({"kind": "add_tags"}, on=False),))), [])

    def test_conditions(self) -> None:
        action = {"kind": "add_tags", "tags": ["t-moon"]}
        moon = {"kind": "tag", "tag": "t-moon"}
        for of, code in (
            ([{"kind": "tag", "tag": "gone"}], "condition_gone"),
            ([{"kind": "answer", "question": "shoe"}], "question_gone"),
            ([moon, {**moon, "has": False}], "never_holds"),
        ):
            self.assertEqual(at("x", changed(then=(rule(action, {"of": of}),))), [code])
        self.assertEqual(at("x", changed(then=(rule(action, {"of": [moon]}),))), [])


class OtherKinds(TestCase):
    def test_what_has_not_come_yet_does_not_stop(self) -> None:
        route = RouteDocument(
            read_as=(
                ReadLine(id="r1", question="Email", field="f-email"),
                ReadLine(id="r2", question="size", field="f-look"),
            )
        )
        [one] = [
            one for one in check_route(route, CATALOGUE, "webhook", ("Email",)) if one.place == "r2"
        ]
        self.assertEqual((one.code, one.stops), ("not_seen", False))
        # Before anything came nothing can be said of a name.
        found = check_route(route, CATALOGUE, "webhook", ())
        self.assertEqual([one.code for one in found if one.place == "r2"], [])

    def test_websites_of_an_own_form(self) -> None:
        own = OwnForm(errors_to="/fix-it", sites=("https://www.example.org", "example.org"))
        found = check_route(changed(own_form=own), CATALOGUE, "posted")
        self.assertEqual(
            [one.code for one in found if one.place == "own_form"], ["not_an_address"] * 2
        )
        # A form of our own has no such page.
        self.assertEqual(at("own_form", changed(own_form=own)), [])

    def test_an_empty_page_of_thanks(self) -> None:
        sees = VisitorSees(heading=" ", text="")
        self.assertEqual(at("visitor_sees", changed(visitor_sees=sees)), ["empty_thanks"])

    def test_every_finding_says_what_to_do(self) -> None:
        broken = RouteDocument(
            read_as=(ReadLine(id="r", question="x", field="gone"),),
            consent=(ConsentLine(id="c"),),
            then=(rule({"kind": "start_sequence"}), rule({"kind": "add_tags", "tags": ["gone"]})),
            visitor_sees=VisitorSees(kind="page"),
        )
        for kind in get_args(SourceKind):
            for one in check_route(broken, CATALOGUE, kind, ("y",)):
                self.assertTrue(one.sentence.endswith("."), one)
                self.assertTrue(one.fix.endswith("."), one)
                self.assertTrue(one.place, one)
