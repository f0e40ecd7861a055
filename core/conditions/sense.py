"""What a typed condition says, once its grammar is known: the tree as a condition."""

import re
from collections.abc import Mapping, Sequence
from decimal import Decimal

from lark import Token, Tree

from ..documents import folded
from ..people import FieldFacts
from ..values import country_names, language_names, read_country, read_language
from .document import (
    AnswerTest,
    Comparison,
    Condition,
    FieldTest,
    FrozenTest,
    Group,
    HappenedTest,
    MembershipTest,
    RunTest,
    ScoreTest,
    SourceTest,
    TagTest,
    comparisons_of,
    days_of,
    number_of,
)
from .grammar import HAPPENED, OPS, PHRASES
from .parsed import Unclear, alike
from .tokens import Words, day_at
from .words import quoted_value


class Sense:
    """Makes conditions of the parts of a text."""

    def __init__(self, words: Words) -> None:
        self.words = words

    def made(self, tree: Tree[Token] | Token) -> Condition:
        """The condition of a part."""
        assert isinstance(tree, Tree)
        children = tree.children
        tokens = [one for one in children if isinstance(one, Token)]
        parts = [one for one in children if isinstance(one, Tree)]
        match tree.data:
            case "start" | "part":
                return self.made(parts[0])
            case "everybody":
                return Group()
            case "nobody":
                return Group(kind="any")
            case "all" | "any" | "none" | "all_of" | "any_of":
                kind = str(tree.data).removesuffix("_of")
                return Group(kind=kind, of=tuple(self.made(one) for one in parts))
            case "negated":
                return _negated(self.made(parts[0]))
            case "field":
                return self._field(tokens)
            case "answer":
                return self._answer(tokens)
            case "tag":
                return TagTest(tag=str(tokens[1]), has=tokens[0].type == "HAS_TAG")
            case "membership":
                return MembershipTest(
                    list=str(tokens[-1]),
                    states=tuple(str(one) for one in tokens if one.type == "STATE"),
                    holds=tokens[0].type == "IS",
                )
            case "source":
                return SourceTest(sources=tuple(str(one) for one in tokens if one.type == "SOURCE"))
            case "score":
                return self._score(tokens)
            case "run":
                states = {"CURRENTLY_IN": "under_way", "WAS_IN": "ever", "NEVER_IN": "never"}
                return RunTest(sequence=str(tokens[1]), state=states[tokens[0].type])
            case "frozen":
                return FrozenTest(group=str(tokens[1]), within=tokens[0].type == "IN_GROUP")
            case _:
                return self._happened(tokens, parts)

    def _field(self, tokens: Sequence[Token]) -> FieldTest:
        target = self.words.catalogue.fields[str(tokens[0])]
        op, values, exact = self._compared(tokens[1:])
        if op.type == "IS" and len(values) > 1:
            op = Token("ONE_OF", str(op), start_pos=op.start_pos, end_pos=op.end_pos)
        comparison = OPS[op.type]
        if comparison not in comparisons_of(target.type):
            raise Unclear(
                int(op.start_pos or 0),
                int(op.end_pos or 0),
                f"“{PHRASES[op.type][0]}” cannot be asked of {target.label}.",
                [
                    PHRASES[kind][0]
                    for kind, one in OPS.items()
                    if one in comparisons_of(target.type)
                ],
            )
        kept = tuple(self._kept(target, comparison, one) for one in values)
        if comparison == "one_of":
            return FieldTest(field=target.id, op=comparison, values=kept, exact=exact)
        if len(kept) > 1:
            raise self._one_value(values[1])
        return FieldTest(field=target.id, op=comparison, value="".join(kept), exact=exact)

    def _compared(self, tokens: Sequence[Token]) -> tuple[Token, list[Token], bool]:
        op = tokens[0]
        values = [one for one in tokens[1:] if one.type in ("VALUE", "NUMBER")]
        return op, values, tokens[-1].type == "EXACTLY"

    def _one_value(self, second: Token) -> Unclear:
        return Unclear(
            int(second.start_pos or 0),
            int(second.end_pos or 0),
            "Only “is” can be asked of several values at once. Write the comparison twice, with “or” between.",
        )

    def _kept(self, target: FieldFacts, op: Comparison, token: Token) -> str:
        """A value as the field keeps it."""
        text = str(token)

        def unclear(sentence: str, could: Sequence[str] = ()) -> Unclear:
            return Unclear(int(token.start_pos or 0), int(token.end_pos or 0), sentence, could)

        if not text:
            return text
        if op in ("in_last_days", "in_next_days"):
            if days_of(text) is None:
                raise unclear(f"“{text}” is no number of days.")
            return text
        if target.type in ("country", "language"):
            read = read_country(text) if target.type == "country" else read_language(text)
            if isinstance(read, str):
                return read
        if labels := labels_of(target):
            found = {folded(label): key for key, label in labels.items()}.get(folded(text))
            found = found or {folded(key): key for key in labels}.get(folded(text))
            if found is None:
                close = [quoted_value(label) for label in alike(text, labels.values())]
                raise unclear(f"{target.label} is never “{text}”.", close)
            return found
        if target.type == "number" and number_of(text) is None:
            raise unclear(f"“{text}” is not a number.")
        if target.type == "date":
            # The whole value has to be a date; a day and a month alone are of the year that has begun.
            day = day_at(text, 0, self.words.today)
            if day is None or day[0] != len(text):
                raise unclear(f"“{text}” is not a date, such as 1 March 2027.")
            return day[1]
        return text

    def _answer(self, tokens: Sequence[Token]) -> AnswerTest:
        question = str(tokens[1])
        op, values, exact = self._compared(tokens[2:])
        comparison = OPS[op.type]
        if op.type == "IS" and len(values) > 1:
            comparison = "one_of"
        labels = {folded(label): key for key, label in self.words.labels.get(question, {}).items()}
        kept = tuple(labels.get(folded(str(one)), str(one)) for one in values)
        if comparison == "one_of":
            return AnswerTest(question=question, op=comparison, values=kept, exact=exact)
        if len(kept) > 1:
            raise self._one_value(values[1])
        return AnswerTest(question=question, op=comparison, value="".join(kept), exact=exact)

    def _score(self, tokens: Sequence[Token]) -> ScoreTest:
        if "." in tokens[2]:
            raise Unclear(
                int(tokens[2].start_pos or 0),
                int(tokens[2].end_pos or 0),
                "The score is a whole number.",
            )
        return ScoreTest(op=OPS[tokens[1].type], value=int(tokens[2]))

    def _happened(self, tokens: Sequence[Token], parts: Sequence[Tree[Token]]) -> HappenedTest:
        kinds = {one.type: one for one in tokens}
        what = next(
            (name for name, of in HAPPENED.items() if any(one.type in of for one in tokens)),
            "event",
        )
        about = next(
            (str(kinds[kind]) for kind in ("SOURCE", "LIST", "MESSAGE", "EVENT") if kind in kinds),
            "",
        )
        found: dict[str, object] = {
            "what": what,
            "about": about,
            "link": str(kinds.get("TEXT", "")),
        }
        if not kinds.keys().isdisjoint({"NEVER", "NEVER_SENT", "NO_EVENT"}):
            found |= {"at_least": 0, "at_most": 0}
        for part in parts:
            inside = [one for one in part.children if isinstance(one, Token)]
            found |= self._said(str(part.data), inside, found)
        return HappenedTest.model_validate(found)

    def _said(
        self, kind: str, tokens: Sequence[Token], known: Mapping[str, object]
    ) -> dict[str, object]:
        words = [str(one) for one in tokens if one.type in ("WORD", "NUMBER", "DAY")]

        def whole(number: int) -> int:
            token = [one for one in tokens if one.type == "NUMBER"][number]
            if not re.fullmatch(r"[0-9]{1,9}", str(token)):
                raise Unclear(
                    int(token.start_pos or 0),
                    int(token.end_pos or 0),
                    "This has to be a whole number.",
                )
            return int(token)

        def once(name: str) -> None:
            if name in known:
                start = int(tokens[0].start_pos or 0)
                raise Unclear(start, start + len(str(tokens[0])), "This is said twice.")

        match kind:
            case "said":
                once("detail")
                return {"detail": words[0], "detail_is": words[1] if len(words) > 1 else ""}
            case "total":
                once("total_of")
                return {"total_of": words[0], "total_at_least": Decimal(words[1])}
            case "times":
                once("at_least")
                if tokens[0].type == "TIMES_AT_LEAST":
                    return {"at_least": whole(0)}
                return {"at_least": whole(0), "at_most": whole(1)}
            case "within":
                return {"within_hours": whole(0) * (24 if tokens[-1].type == "DAYS" else 1)}
            case _:
                return {kind: words[0]}


def labels_of(target: FieldFacts) -> Mapping[str, str]:
    """How the values of a field are shown, by what it keeps; none where it takes any."""
    match target.type:
        case "choice" | "choices":
            return {one.key: one.label for one in target.choices}
        case "yes_no":
            return {"yes": "yes", "no": "no"}
        case "country":
            return country_names()
        case "language":
            return language_names()
        case _:
            return {}


def _negated(condition: Condition) -> Condition:
    """The opposite of a condition, as simply as it can be said."""
    match condition:
        case TagTest():
            return condition.model_copy(update={"has": not condition.has})
        case MembershipTest():
            return condition.model_copy(update={"holds": not condition.holds})
        case FrozenTest():
            return condition.model_copy(update={"within": not condition.within})
        case HappenedTest() if (condition.at_least, condition.at_most) == (1, None) and not (
            condition.total_of
        ):
            return condition.model_copy(update={"at_least": 0, "at_most": 0})
        case _:
            return Group(kind="none", of=(condition,))
