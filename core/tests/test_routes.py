"""What a route decides."""

from dataclasses import replace
from datetime import UTC, datetime
from unittest import TestCase
from urllib.parse import parse_qs, urlsplit

from hypothesis import given
from hypothesis import strategies as st

from core.deciding import (
    AddTag,
    ConsentLine,
    Decision,
    EnterSequence,
    Passing,
    Rule,
    SetField,
    Subscribe,
    VisitorSees,
    decide,
    next_page,
)
from core.people import Person
from core.reading import check_answers
from core.tests.observatory import CATALOGUE, ROUTE, submission

NOW = datetime(2026, 11, 24, 9, 0, tzinfo=UTC)


def decided(person: Person | None = None, route: object = ROUTE, **answers: str) -> Decision:
    return decide(submission(**answers), route, person, CATALOGUE, NOW)  # type: ignore[arg-type]


class ANewPerson(TestCase):
    def setUp(self) -> None:
        self.decision = decided(
            email=" Ines@Example.com ", name="INES VAN DER BERG", look="planets", news="yes"
        )

    def test_the_whole_path(self) -> None:
        self.assertEqual(self.decision.address, "Ines@example.com")
        self.assertTrue(self.decision.is_new)
        fields = {one.key: one.after for one in self.decision.effects if isinstance(one, SetField)}
        self.assertEqual(
            fields, {"first_name": "Ines", "last_name": "van der Berg", "interest": "planets"}
        )
        tags = [one.name for one in self.decision.effects if isinstance(one, AddTag)]
        self.assertEqual(tags, ["guide", "planets"])
        (joined,) = (one for one in self.decision.effects if isinstance(one, Subscribe))
        self.assertEqual((joined.before, joined.to), ("none", "subscribed"))
        self.assertEqual(joined.wording, "Send me the news")
        (entered,) = (one for one in self.decision.effects if isinstance(one, EnterSequence))
        self.assertEqual((entered.name, entered.lane), ("First telescope", "a"))
        self.assertEqual(self.decision.problems, ())

    def test_every_effect_says_why(self) -> None:
        for effect in self.decision.effects:
            self.assertEqual(effect.because.submission_id, "submission")
            self.assertEqual(effect.because.revision, 3)
            self.assertTrue(effect.because.sentence)
        planets = next(
            one
            for one in self.decision.effects
            if isinstance(one, AddTag) and one.name == "planets"
        )
        self.assertEqual(
            planets.because.sentence,
            "rule 2: the answer to “What do you look at?” was Planets",
        )

    def test_unmapped_answers_are_listed(self) -> None:
        decision = decided(email="a@b.example", news="yes", extra="kept")
        self.assertEqual(decision.unmapped, ("news", "extra"))


class AKnownPerson(TestCase):
    ines = Person(
        address="ines@example.com",
        values={"email": "ines@example.com", "first_name": "Ines", "interest": "moon"},
        tags=frozenset({"t-guide"}),
        memberships={"l-news": "subscribed"},
        entered=frozenset({"s-first"}),
    )

    def test_only_what_changes_is_an_effect(self) -> None:
        decision = decided(self.ines, email="INES@example.com", name="ines", look="moon", news="on")
        self.assertFalse(decision.is_new)
        self.assertEqual([one.kind for one in decision.effects], ["add_tag"])
        said = {one.line: one.text for one in decision.outcomes}
        self.assertEqual(said["t1"], "has guide already")
        self.assertIn("once only", said["t3"])

    def test_an_empty_answer_never_erases(self) -> None:
        decision = decided(self.ines, email="ines@example.com", name="  ", look="")
        self.assertFalse([one for one in decision.effects if isinstance(one, SetField)])

    def test_a_rule_that_is_off_does_nothing(self) -> None:
        off = ROUTE.model_copy(
            update={"then": tuple(rule.model_copy(update={"on": False}) for rule in ROUTE.then)}
        )
        decision = decided(None, off, email="a@b.example", look="moon")
        self.assertEqual(
            decision.effects, tuple(one for one in decision.effects if isinstance(one, SetField))
        )


class Consent(TestCase):
    def test_not_ticked_is_not_subscribed(self) -> None:
        decision = decided(email="a@b.example")
        self.assertFalse([one for one in decision.effects if isinstance(one, Subscribe)])
        no = decided(email="a@b.example", news="no")
        self.assertFalse([one for one in no.effects if isinstance(one, Subscribe)])

    def test_who_left_comes_back_only_by_an_opt_in_of_their_own(self) -> None:
        left = Person(address="a@b.example", memberships={"l-news": "unsubscribed"})
        silent = ROUTE.model_copy(update={"consent": (ConsentLine(id="c1", list="l-news"),)})
        refused = decided(left, silent, email="a@b.example")
        self.assertFalse([one for one in refused.effects if isinstance(one, Subscribe)])
        self.assertIn("they left", refused.outcomes[0].text)
        ticked = decided(left, email="a@b.example", news="yes")
        self.assertTrue([one for one in ticked.effects if isinstance(one, Subscribe)])

    def test_who_complained_does_not_come_back(self) -> None:
        gone = Person(address="a@b.example", memberships={"l-news": "complained"})
        decision = decided(gone, email="a@b.example", news="yes")
        self.assertFalse([one for one in decision.effects if isinstance(one, Subscribe)])


class Problems(TestCase):
    def test_without_an_address_nothing_is_done(self) -> None:
        for answers in ({}, {"email": ""}, {"email": "nonsense"}, {"Email": "a@b.example"}):
            decision = decided(None, ROUTE, **answers)
            self.assertIsNone(decision.address)
            self.assertEqual(decision.effects, ())
            self.assertTrue(decision.problems)

    def test_a_near_miss_is_pointed_out_with_the_fix(self) -> None:
        decision = decided(None, ROUTE, Email="a@b.example")
        self.assertTrue(any("Change the line to “Email”" in one.fix for one in decision.problems))

    def test_an_unknown_choice_is_a_problem_and_the_rest_is_kept(self) -> None:
        decision = decided(email="a@b.example", name="Ines", look="comets")
        codes = {one.code for one in decision.problems}
        self.assertEqual(codes, {"unknown_choice"})
        self.assertIn("guide", [one.name for one in decision.effects if isinstance(one, AddTag)])

    def test_things_that_are_gone_are_problems(self) -> None:
        broken = ROUTE.model_copy(
            update={
                "then": (
                    Rule.model_validate(
                        {"id": "x", "action": {"kind": "add_tags", "tags": ["gone"]}}
                    ),
                    Rule.model_validate(
                        {"id": "y", "action": {"kind": "start_sequence", "sequence": "gone"}}
                    ),
                )
            }
        )
        codes = [one.code for one in decided(None, broken, email="a@b.example").problems]
        self.assertEqual(codes, ["tag_gone", "sequence_gone"])

    @given(st.lists(st.tuples(st.text(max_size=20), st.text(max_size=40)), max_size=8))
    def test_no_submission_makes_it_raise(self, answers: list[tuple[str, str]]) -> None:
        facts = replace(submission(), answers=tuple(answers))
        self.assertIsInstance(decide(facts, ROUTE, None, CATALOGUE, NOW), Decision)


class NextPage(TestCase):
    sees = VisitorSees(
        kind="page",
        address="https://www.larkmoor.example/thanks?from=guide#top",
        passing=(Passing(question="name", parameter="name"), Passing(question="no", parameter="x")),
    )

    @given(st.text(min_size=1))
    def test_answers_are_encoded_and_cannot_change_the_address(self, name: str) -> None:
        # WHATWG URL, application/x-www-form-urlencoded; read back by urllib's own parser.
        address = next_page(self.sees, (("name", name),)) or ""
        parts = urlsplit(address)
        self.assertEqual(
            (parts.scheme, parts.netloc, parts.path), ("https", "www.larkmoor.example", "/thanks")
        )
        self.assertEqual(
            parse_qs(parts.query, keep_blank_values=True), {"from": ["guide"], "name": [name]}
        )

    def test_only_web_addresses(self) -> None:
        for address in (
            "javascript:alert(1)",
            "//evil.example",
            "/thanks",
            "",
            "https://",
            "http:// x",
        ):
            sees = self.sees.model_copy(update={"address": address})
            self.assertIsNone(next_page(sees, ()))


class Forms(TestCase):
    def test_what_a_visitor_should_mend(self) -> None:
        found = check_answers(ROUTE.form, (("email", "nonsense"), ("look", "comets")))
        self.assertEqual(set(found), {"email", "look"})
        missing = check_answers(ROUTE.form, ())
        self.assertEqual(set(missing), {"email"})
        self.assertEqual(check_answers(ROUTE.form, (("email", "a@b.example"),)), {})
