"""Sentences that are typed: what `say` says is read back as the same condition, and nothing breaks the reader."""

import random
import unittest
from collections import Counter
from dataclasses import replace
from datetime import date
from decimal import Decimal
from itertools import product
from typing import Any, get_args

from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from core.conditions import (
    Comparison,
    Condition,
    FieldTest,
    FrozenTest,
    Group,
    HappenedTest,
    MembershipTest,
    RunTest,
    ScoreTest,
    TagTest,
    comparisons_of,
    leaves,
    parse,
    propose,
    say,
)
from core.people import Catalogue, FieldFacts, Happened, MembershipState, SequenceFacts
from core.tests.observatory import LOOKS, ROUTE
from core.values import Choice, FieldType

TODAY = date(2026, 12, 2)
TYPES: tuple[FieldType, ...] = (
    "text", "number", "date", "yes_no", "choice", "choices", "country", "language", "time_zone", "phone", "url",
)  # fmt: skip
NAMES = (
    "News", "News and more", "planned a visit", "looks at the Moon", "has the tag", "is", "or", "(early)", "ÄÖ “quoted”",
    "back\\slash", "a; b", "at least 2 times", "News in June", "straße", "exactly", "3 to 4 times", "never happened",
)  # fmt: skip
ODD = {f"id{number}": name for number, name in enumerate(NAMES)}
CHOICES = (*LOOKS, Choice(key="both", label="Moon and planets"), Choice(key="x", label="or (x)"))
CATALOGUE = Catalogue(
    fields={
        **{
            kind: FieldFacts(
                id=kind,
                key=kind,
                label=f"A {kind}",
                type=kind,
                choices=CHOICES if kind in ("choice", "choices") else (),
            )
            for kind in TYPES
        },
        **{
            f"odd{pk}": FieldFacts(id=f"odd{pk}", key=f"k{pk}", label=name, type="text")
            for pk, name in ODD.items()
        },
    },
    tags=ODD,
    lists=ODD,
    sources=ODD,
    messages=ODD,
    groups=ODD,
    sequences={pk: SequenceFacts(id=pk, name=name, live=True) for pk, name in ODD.items()},
)
TEXTS = (
    "Ines", "Ines van der Berg", "and", "a or b", "exactly", "x exactly", "(x)", "“x”", 'a "b" c', "a\\b", "50 %", "…", "a;b",
    " x ", "has the tag News", "o'Neil", "zoë@example.com", "1.5", "is",
)  # fmt: skip
KEPT: dict[str, tuple[str, ...]] = {
    "number": ("12", "-3.5", "0"),
    "date": ("2026-03-01", "1999-12-31"),
    "yes_no": ("yes", "no"),
    "choice": ("moon", "planets", "both", "x"),
    "choices": ("moon", "both"),
    "country": ("AT", "GB", "TT", "BA"),
    "language": ("de", "pt-BR", "zh-Hant"),
}
READ: TypeAdapter[Condition] = TypeAdapter(Condition)


def every_leaf() -> list[Condition]:
    """Each kind of comparison with each operator and many values."""
    found: list[Condition] = []
    for kind in TYPES:
        for op, value, exact in product(comparisons_of(kind), KEPT.get(kind, TEXTS), (False, True)):
            if op in ("empty", "not_empty"):
                found.append(FieldTest(field=kind, op=op))
            elif op in ("in_last_days", "in_next_days"):
                found.append(FieldTest(field=kind, op=op, value="30"))
            elif op == "one_of":
                values = (value, KEPT.get(kind, TEXTS)[0])
                found.append(FieldTest(field=kind, op=op, values=values, exact=exact))
                found.append(FieldTest(field=kind, op=op, values=(value,), exact=exact))
            else:
                found.append(FieldTest(field=kind, op=op, value=value, exact=exact))
    found += [FieldTest(field=f"odd{pk}", value="x") for pk in ODD]
    for pk in ODD:
        found += [TagTest(tag=pk, has=has) for has in (True, False)]
        found += [FrozenTest(group=pk, within=within) for within in (True, False)]
        found += [RunTest(sequence=pk, state=state) for state in ("under_way", "ever", "never")]
    states = get_args(MembershipState)
    for pk, one, holds in product(ODD, states, (True, False)):
        found.append(MembershipTest(list=pk, states=(one,), holds=holds))
        found.append(MembershipTest(list=pk, states=(one, states[0]), holds=holds))
    found += [
        READ.validate_python({"kind": "source", "sources": (one, other)})
        for one, other in product(ODD, list(ODD)[:4])
    ]
    found += [
        ScoreTest(op=op, value=value)
        for op in ("less", "at_most", "more", "at_least", "is", "is_not")
        for value in (-2, 0, 7)
    ]
    found += [HappenedTest.model_validate(one) for one in happenings()]
    return found


def happenings() -> list[dict[str, Any]]:
    whens: list[dict[str, Any]] = [
        {}, {"at_least": 0, "at_most": 0}, {"at_least": 3}, {"at_least": 0}, {"at_least": 2, "at_most": 4},
        {"within_hours": 48}, {"within_hours": 5}, {"before": date(2026, 3, 1)}, {"after": date(2026, 3, 1)},
        {"at_least": 2, "within_hours": 24, "after": date(2026, 1, 1), "before": date(2026, 3, 1)},
    ]  # fmt: skip
    found = []
    for what, about, when in product(get_args(Happened), ("", *ODD), whens):
        found.append({"what": what, "about": about, **when})
        if what == "clicked":
            found.append({"what": what, "about": about, "link": "/shop?“x”", **when})
        if what == "event":
            for detail, said, total in product(
                ("product", "a", "first name"),
                ("", "Moon", "at", "Moon atlas"),
                (None, Decimal("50")),
            ):
                more = {"total_of": "amount", "total_at_least": total} if total else {}
                found.append(
                    {
                        "what": what,
                        "about": about,
                        "detail": detail,
                        "detail_is": said,
                        **more,
                        **when,
                    }
                )
    return found


def plain(condition: Condition) -> Condition:
    """The same, without groups of one part: in words they are that part."""
    if not isinstance(condition, Group):
        return condition
    parts = tuple(plain(one) for one in condition.of)
    if len(parts) == 1 and condition.kind != "none":
        return parts[0]
    if not parts:
        return Group(kind="any" if condition.kind == "any" else "all")
    return condition.model_copy(update={"of": parts})


def rooted(condition: Condition) -> Group:
    found = plain(condition)
    return found if isinstance(found, Group) else Group(of=(found,))


LEAVES = every_leaf()
UNFINISHED = (
    "not finished|cannot be asked|is no number|is not a|is never|said twice|whole number|Only “is”"
)


class BackAndForth(unittest.TestCase):
    def back(self, condition: Condition) -> None:
        sentence = say(condition, CATALOGUE)
        found = parse(sentence, CATALOGUE, TODAY)
        self.assertEqual(found.problems, (), sentence)
        self.assertEqual(found.condition, rooted(condition), sentence)

    def test_every_comparison(self) -> None:
        self.assertGreater(len(LEAVES), 7000)
        # Each is read once; those of events are many alike.
        for number, leaf in enumerate(LEAVES):
            if leaf.kind != "happened" or leaf.what != "event" or number % 7 == 0:
                with self.subTest(sentence=say(leaf, CATALOGUE)):
                    self.back(leaf)

    def test_generated_nests(self) -> None:
        made: Counter[str] = Counter()
        nests = st.recursive(
            # As many of each kind as of any other.
            st.sampled_from(sorted({one.kind for one in LEAVES})).flatmap(
                lambda kind: st.sampled_from([one for one in LEAVES if one.kind == kind])
            ),
            lambda inner: st.builds(
                Group,
                kind=st.sampled_from(["all", "any", "none"]),
                of=st.lists(inner, max_size=4).map(tuple),
            ),
            max_leaves=8,
        )

        @settings(max_examples=600, deadline=None, derandomize=True)
        @given(nests)
        def check(condition: Condition) -> None:
            made.update(leaf.kind for leaf in leaves(condition))
            made["deep"] += "((" in say(condition, CATALOGUE)
            self.back(condition)

        check()
        self.assertLessEqual(
            {"field", "tag", "membership", "source", "score", "happened", "run", "frozen"},
            set(made),
        )
        self.assertGreater(made["deep"], 5, made)

    def test_answers_by_the_words_of_a_form(self) -> None:
        for op in get_args(Comparison):
            if op not in comparisons_of("text"):
                continue
            leaf = READ.validate_python(
                {"kind": "answer", "question": "look", "op": op}
                | ({"values": ["moon", "planets"]} if op == "one_of" else {})
                | ({} if op in ("one_of", "empty", "not_empty") else {"value": "moon"})
            )
            sentence = say(leaf, CATALOGUE, ROUTE.form)
            found = parse(sentence, CATALOGUE, TODAY, ROUTE.form)
            self.assertEqual(found.condition, Group(of=(leaf,)), sentence)


class Typed(unittest.TestCase):
    catalogue = Catalogue(
        fields={
            "c": FieldFacts(id="c", key="country", label="Country", type="country"),
            "n": FieldFacts(id="n", key="group_size", label="Group size", type="number"),
            "t": FieldFacts(id="t", key="first_name", label="First name", type="text"),
        },
        tags={"t1": "planned a visit", "t2": "planned"},
        lists={"l1": "Open-night news"},
        messages={"m1": "Open night"},
    )

    def read(self, text: str) -> Any:
        found = parse(text, self.catalogue, TODAY)
        self.assertEqual(found.problems, (), text)
        assert found.condition is not None
        return found.condition

    def test_as_people_write_them(self) -> None:
        never = {"at_least": 0, "at_most": 0, "within_hours": 720}
        for text, wanted in (
            (
                'has tag planned a visit and not "bought" in the last 30 days',
                (TagTest(tag="t1"), HappenedTest(what="event", about="bought", **never)),
            ),
            (
                "country is Austria or Germany",
                (FieldTest(field="c", op="one_of", values=("AT", "DE")),),
            ),
            (
                'clicked "Open night" at least 2 times before 1 March',
                (HappenedTest(what="clicked", about="m1", at_least=2, before=date(2026, 3, 1)),),
            ),
            ("HAS  THE TAG\nPlanned A Visit", (TagTest(tag="t1"),)),
            ("has the tag planned", (TagTest(tag="t2"),)),
            ("not has the tag planned", (TagTest(tag="t2", has=False),)),
            (
                "all of: has tag planned; score is at least 3",
                (TagTest(tag="t2"), ScoreTest(value=3)),
            ),
        ):
            with self.subTest(text=text):
                self.assertEqual(self.read(text), Group(of=wanted))
        either = self.read("any of: has tag planned; country is not Austria")
        self.assertEqual(either.kind, "any")
        inside = self.read("score is 3 and (has tag planned or first name is empty)")
        self.assertEqual(inside.of[1].kind, "any")
        # A day without a year is the last one that has been.
        after = self.read("was sent any message after 3 December")
        self.assertEqual(after.of[0].after, date(2025, 12, 3))

    def test_problems_say_where_and_what_could_be_meant(self) -> None:
        for text, part, said, could in (
            (
                "has the tag plannd a visit",
                "plannd a visit",
                "There is no tag named",
                "planned a visit",
            ),
            ("country is Autsria", "Autsria", "Country is never", "Austria"),
            ("group size contains 3", "contains", "cannot be asked of Group size", "is at most"),
            ("group size is many", "many", "is not a number", None),
            ("has the tag planned and", "and", "not finished", None),
            ("score is 3 and score is 4 or score is 5", "or", "in brackets", None),
            ("hsa the tag planned", "hsa", "is not understood here", "has the tag"),
            ("first name begins with a or b", "b", "Only “is”", None),
            ("(score is 3", "3", "not finished", None),
            ("has the tag plan", "plan", "“plan” goes on", None),
        ):
            with self.subTest(text=text):
                found = parse(text, self.catalogue, TODAY)
                self.assertIsNone(found.condition)
                [problem] = found.problems
                self.assertEqual(text[problem.start : problem.end], part)
                self.assertIn(said, problem.sentence)
                self.assertEqual(problem.unfinished, "not finished" in problem.sentence)
                if could:
                    self.assertIn(could, problem.could)

    def test_what_is_proposed(self) -> None:
        def ways(text: str) -> list[str]:
            return [text[: one.start] + one.text for one in propose(text, self.catalogue, TODAY)]

        self.assertIn("has the tag planned a visit", ways("has the tag pla"))
        self.assertIn("has the tag", ways("has t"))
        self.assertIn("country is Austria", ways("country is aus"))
        self.assertIn("Country", ways(""))
        self.assertIn("Group size is at most", ways("Group size"))
        self.assertIn("is subscribed to Open-night news", ways("is subscribed to "))
        self.assertIn("has the tag planned and", ways("has the tag planned"))

    def test_every_proposal_leads_to_a_sentence(self) -> None:
        """Walks over proposals alone: wherever one is, a text is whole, or not finished; and nothing else,
        but where a value or an operator was put together that do not go together."""
        chance, ended = random.Random(3), Counter[str]()
        for _ in range(300):
            text = ""
            for step in range(40):
                found = parse(text, CATALOGUE, TODAY)
                if found.condition is not None and chance.random() < 0.2 + step / 20:
                    break
                if found.condition is None:
                    [problem] = found.problems
                    self.assertRegex(problem.sentence, UNFINISHED, text)
                    if "not finished" not in problem.sentence:
                        break
                ways = propose(text, CATALOGUE, TODAY)
                # Where a text is typed, nothing can be proposed.
                one = chance.choice(ways) if ways else None
                text = text[: one.start] + one.text if one else f"{text.rstrip()} “x”"
            ended["whole" if parse(text, CATALOGUE, TODAY).condition else "open"] += 1
        self.assertGreater(ended["whole"], 60, ended)

    def test_ten_thousand_damaged_sentences(self) -> None:
        chance = random.Random(5)
        letters = 'abc “”"();,:\\\n…ß\u0000\U0001f319 and or is'
        wrong = 0
        for _ in range(10_000):
            text = list(
                say(chance.choice(LEAVES), CATALOGUE) + chance.choice(["", " and ", " or x"])
            )
            for _ in range(chance.randrange(1, 6)):
                at = chance.randrange(len(text) + 1)
                what = chance.random()
                if what < 0.4:
                    text[at:at] = chance.choice(letters)
                elif what < 0.7:
                    del text[at : at + chance.randrange(1, 9)]
                else:
                    text[at:at] = text[: chance.randrange(9)]
            found = parse("".join(text), CATALOGUE, TODAY)
            if found.condition is None:
                [problem] = found.problems
                self.assertTrue(0 <= problem.start <= problem.end <= len(text), "".join(text))
                wrong += 1
        self.assertGreater(wrong, 3000)

    def test_too_deep_and_too_long(self) -> None:
        deep = parse("(" * 5000, self.catalogue, TODAY)
        self.assertIn("at most 30 deep", deep.problems[0].sentence)
        nots = parse("not " * 2400 + "score is 3", self.catalogue, TODAY)
        self.assertIn("at most 30 deep", nots.problems[0].sentence)
        some = "not score is 3 and " * 40 + "score is 3"
        self.assertIsNotNone(parse(some, self.catalogue, TODAY).condition)
        large = parse("was sent any message in the last 99999999 days", self.catalogue, TODAY)
        self.assertIn("A number here", large.problems[0].sentence)
        long = parse("score is 3 and " * 2000, self.catalogue, TODAY)
        self.assertIn("longer than a sentence", long.problems[0].sentence)
        many = parse(" and ".join(["score is 3"] * 60), self.catalogue, TODAY)
        self.assertIsNone(many.condition)
        self.assertIn("at most 200 comparisons, 50 in a row", many.problems[0].sentence)

    def test_what_could_be_meant_can_be_put_there(self) -> None:
        """A name with “and” in it is proposed in quotation marks, or it would be read as two parts."""
        named = replace(self.catalogue, tags={"t": "wind and weather"})
        [problem] = parse("has the tag “wind and wether”", named, TODAY).problems
        self.assertEqual((problem.start, problem.end), (12, 29))
        fixed = "has the tag " + problem.could[0]
        self.assertEqual(parse(fixed, named, TODAY).condition, Group(of=(TagTest(tag="t"),)))
