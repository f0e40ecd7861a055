"""A condition from a typed sentence: the language is that of `say`, and no formula syntax.

The grammar is read by lark (LALR). What a word can be depends on where it stands, so each token is looked for among
those that the grammar accepts there; names come from the catalogue, the longest first, without case and accents.
"""

import re
from collections.abc import Iterator, Mapping, Sequence
from datetime import date
from decimal import Decimal
from difflib import SequenceMatcher, get_close_matches
from functools import lru_cache

from lark import Lark, Token, Tree
from lark.exceptions import LarkError
from lark.parsers.lalr_interactive_parser import InteractiveParser
from pydantic import ValidationError

from ..documents import Frozen, folded
from ..people import Catalogue, FieldFacts
from ..reading import Form
from ..values import country_names, language_names, read_country, read_language
from .document import (
    DEEPEST,
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
    iso_date,
    number_of,
)
from .words import ENDS, in_quotes, quoted_label, quoted_name, quoted_value

LONGEST_SENTENCE = 10_000
"""Characters of a sentence."""
MOST_PROPOSED = 12
_GRAMMAR = Lark(
    r"""
    ?start: all | any | none | all_of | any_of | part
    all: part (AND part)+
    any: part (OR part)+
    none: NONE_OF part (SEMI part)*
    all_of: ALL_OF part (SEMI part)*
    any_of: ANY_OF part (SEMI part)*
    ?part: leaf | LPAR start RPAR | everybody | nobody | negated
    everybody: EVERYBODY
    nobody: NOBODY
    negated: NOT part
    ?leaf: field | answer | tag | membership | source | score | happened | run | frozen
    field: FIELD _compared
    answer: ANSWER QUESTION _compared
    _compared: (IS | IS_NOT | CONTAINS | NOT_CONTAINS | BEGINS | LESS | AT_MOST | MORE | AT_LEAST | BEFORE_DAY
             | AFTER_DAY | ONE_OF) VALUE (OR_VALUE VALUE)* EXACTLY?
             | (IN_LAST | IN_NEXT) NUMBER DAYS
             | EMPTY | NOT_EMPTY
    tag: (HAS_TAG | HAS_NO_TAG) TAG
    membership: (IS | IS_NOT) STATE (OR_STATE STATE)* (TO | ON) LIST
    source: CAME_FROM SOURCE (OR_SOURCE SOURCE)*
    score: SCORE (IS | IS_NOT | LESS | AT_MOST | MORE | AT_LEAST) NUMBER
    run: (CURRENTLY_IN | WAS_IN | NEVER_IN) SEQUENCE
    frozen: (IN_GROUP | NOT_IN_GROUP) GROUP
    happened: (NEVER? SUBMITTED (ANY_SOURCE | SOURCE)
             | NEVER? CONFIRMED (ANY_LIST | LIST)
             | (SENT | NEVER_SENT) (ANY_MESSAGE | MESSAGE)
             | NEVER? OPENED (ANY_MESSAGE | MESSAGE) ESTIMATE?
             | NEVER? CLICKED (LINK (WITH TEXT)? IN)? (ANY_MESSAGE | MESSAGE)
             | EVENT (NEVER? HAPPENED)? (WITH _detail (COMMA _detail)*)?
             | (ANY_EVENT | NO_EVENT) (WITH _detail (COMMA _detail)*)?) _when
    _detail: said | total
    said: A WORD | WORD COLON WORD
    total: WORD TIMES_AT_LEAST NUMBER IN_TOTAL
    _when: times? within? after? before?
    times: TIMES_AT_LEAST NUMBER TIMES | NUMBER THROUGH NUMBER TIMES
    within: WITHIN NUMBER (DAYS | HOURS)
    after: AFTER DAY
    before: (BEFORE | AND_BEFORE) DAY
    %declare AND OR NONE_OF ALL_OF ANY_OF SEMI LPAR RPAR EVERYBODY NOBODY NOT
    %declare FIELD ANSWER QUESTION IS IS_NOT CONTAINS NOT_CONTAINS BEGINS LESS AT_MOST MORE AT_LEAST BEFORE_DAY
    %declare AFTER_DAY ONE_OF VALUE OR_VALUE EXACTLY IN_LAST IN_NEXT NUMBER DAYS HOURS EMPTY NOT_EMPTY
    %declare HAS_TAG HAS_NO_TAG TAG STATE OR_STATE TO ON LIST CAME_FROM SOURCE OR_SOURCE SCORE CURRENTLY_IN WAS_IN
    %declare NEVER_IN SEQUENCE IN_GROUP NOT_IN_GROUP GROUP NEVER SUBMITTED ANY_SOURCE CONFIRMED ANY_LIST SENT
    %declare NEVER_SENT ANY_MESSAGE MESSAGE OPENED ESTIMATE CLICKED LINK WITH TEXT IN EVENT HAPPENED ANY_EVENT
    %declare NO_EVENT COMMA A WORD COLON TIMES_AT_LEAST IN_TOTAL TIMES THROUGH WITHIN AFTER BEFORE AND_BEFORE DAY
    """,
    parser="lalr",
    maybe_placeholders=False,
)
_PHRASES: Mapping[str, tuple[str, ...]] = {
    "AND": ("and",),
    "OR": ("or",),
    "NONE_OF": ("none of:", "none of"),
    "ALL_OF": ("all of:", "all of"),
    "ANY_OF": ("any of:", "any of"),
    "SEMI": (";",),
    "LPAR": ("(",),
    "RPAR": (")",),
    "EVERYBODY": ("everybody",),
    "NOBODY": ("nobody",),
    "NOT": ("not",),
    "ANSWER": ("the answer to",),
    "IS": ("is",),
    "IS_NOT": ("is not",),
    "ONE_OF": ("is one of",),
    "CONTAINS": ("contains",),
    "NOT_CONTAINS": ("does not contain",),
    "BEGINS": ("begins with",),
    "LESS": ("is less than",),
    "AT_MOST": ("is at most",),
    "MORE": ("is more than",),
    "AT_LEAST": ("is at least",),
    "BEFORE_DAY": ("is before",),
    "AFTER_DAY": ("is after",),
    "IN_LAST": ("was in the last",),
    "IN_NEXT": ("is in the next",),
    "EMPTY": ("is empty",),
    "NOT_EMPTY": ("is not empty",),
    "EXACTLY": ("exactly",),
    "DAYS": ("days", "day"),
    "HOURS": ("hours", "hour"),
    "HAS_TAG": ("has the tag", "has tag"),
    "HAS_NO_TAG": ("does not have the tag", "does not have tag"),
    "TO": ("to",),
    "ON": ("on",),
    "CAME_FROM": ("came from",),
    "SCORE": ("the score", "score"),
    "CURRENTLY_IN": ("is currently in",),
    "WAS_IN": ("was in",),
    "NEVER_IN": ("was never in",),
    "IN_GROUP": ("is in the group",),
    "NOT_IN_GROUP": ("is not in the group",),
    "NEVER": ("never",),
    "SUBMITTED": ("submitted through",),
    "ANY_SOURCE": ("any source",),
    "CONFIRMED": ("confirmed",),
    "ANY_LIST": ("any list",),
    "SENT": ("was sent",),
    "NEVER_SENT": ("was never sent",),
    "OPENED": ("opened",),
    "ESTIMATE": ("(an estimate)",),
    "ANY_MESSAGE": ("any message",),
    "CLICKED": ("clicked",),
    "LINK": ("a link",),
    "WITH": ("with",),
    "IN": ("in",),
    "HAPPENED": ("happened",),
    "ANY_EVENT": ("any event happened",),
    "NO_EVENT": ("no event happened",),
    "COMMA": (",",),
    "A": ("a", "an"),
    "COLON": (":",),
    "TIMES_AT_LEAST": ("at least",),
    "IN_TOTAL": ("in total",),
    "TIMES": ("times", "time"),
    "THROUGH": ("to",),
    "WITHIN": ("in the last",),
    "AFTER": ("after",),
    "BEFORE": ("before",),
    "AND_BEFORE": ("and before",),
}
_OPS: Mapping[str, Comparison] = {
    "IS": "is",
    "IS_NOT": "is_not",
    "ONE_OF": "one_of",
    "CONTAINS": "contains",
    "NOT_CONTAINS": "not_contains",
    "BEGINS": "begins",
    "LESS": "less",
    "AT_MOST": "at_most",
    "MORE": "more",
    "AT_LEAST": "at_least",
    "BEFORE_DAY": "before",
    "AFTER_DAY": "after",
    "IN_LAST": "in_last_days",
    "IN_NEXT": "in_next_days",
    "EMPTY": "empty",
    "NOT_EMPTY": "not_empty",
}
_STATES = {
    "on no terms": "none",
    **{one: one for one in ("pending", "subscribed", "unsubscribed", "bounced", "complained")},
}
_ASKS = {
    "ANSWER": "QUESTION",
    "CAME_FROM": "QUESTION",
    "IN_GROUP": "GROUP",
    "NOT_IN_GROUP": "GROUP",
    "HAS_TAG": "TAG",
    "HAS_NO_TAG": "TAG",
    "CURRENTLY_IN": "SEQUENCE",
    "WAS_IN": "SEQUENCE",
    "NEVER_IN": "SEQUENCE",
}
"""What there has to be, for a comparison to be proposed."""
_MORE = {"OR_VALUE": "VALUE", "OR_STATE": "STATE", "OR_SOURCE": "SOURCE"}
"""An “or” between values of one comparison, and what follows it."""
_THINGS = {
    "FIELD": "field",
    "TAG": "tag",
    "LIST": "list",
    "SOURCE": "source",
    "SEQUENCE": "sequence",
    "MESSAGE": "message",
    "GROUP": "group",
    "QUESTION": "question",
}
_WANTED = {
    "VALUE": "a value",
    "NUMBER": "a number",
    "DAY": "a date, such as 1 March 2027",
    "WORD": "the name of what was said with it",
    "TEXT": "a part of the address, in quotation marks",
    "EVENT": "an event, in quotation marks",
    "STATE": "how they stand on a list",
    **{token: f"a {thing}" for token, thing in _THINGS.items()},
}
_QUOTED = re.compile(r'“((?:[^”\\]|\\.)*)”|"((?:[^"\\]|\\.)*)"', re.DOTALL)
_NUMBER = re.compile(r"-?[0-9]{1,100}(?:\.[0-9]{1,100})?(?![\w.]*\w)")
_ISO = re.compile(r"[0-9]{4}-[0-9]{2}-[0-9]{2}(?!\w)")
_DAY = re.compile(r"([0-9]{1,2})\.? ([^\W\d_]+)(?: ([0-9]{4}))?(?!\w)")
_WORD = re.compile(r"[^\W_][\w.\-]*(?<!\.)")
_SPACE = re.compile(r"\s+")
_END = re.compile(r"[\s();,]|$")
_MONTHS = {f"{date(2000, number, 1):%B}".casefold(): number for number in range(1, 13)}


class ParseProblem(Frozen):
    """What of a sentence is not understood: from `start` to `end` (characters), and what could be meant."""

    start: int
    end: int
    sentence: str
    could: tuple[str, ...] = ()
    unfinished: bool = False
    """Whether nothing is wrong so far: it only has to go on."""


class Parsed(Frozen):
    """What a sentence says; nothing where there are problems."""

    condition: Group | None = None
    problems: tuple[ParseProblem, ...] = ()


class Proposed(Frozen):
    """A way on from the cursor: `text` in place of what stands from `start` to the cursor."""

    start: int
    text: str


class _Unclear(Exception):
    def __init__(
        self,
        start: int,
        end: int,
        sentence: str,
        could: Sequence[str] = (),
        *,
        unfinished: bool = False,
    ) -> None:
        super().__init__(sentence)
        self.problem = ParseProblem(
            start=start,
            end=max(end, start),
            sentence=sentence,
            could=tuple(could),
            unfinished=unfinished,
        )


def parse(text: str, catalogue: Catalogue, today: date, form: Form | None = None) -> Parsed:
    """The condition that a sentence says. `today`: of the workspace, for dates without a year."""
    try:
        return Parsed(condition=_Reading(text, catalogue, today, form).condition())
    except _Unclear as error:
        return Parsed(problems=(error.problem,))


def propose(
    text: str, catalogue: Catalogue, today: date, form: Form | None = None
) -> tuple[Proposed, ...]:
    """What can come next after a text, which ends at the cursor: each leads on to a sentence."""
    try:
        return tuple(_Reading(text, catalogue, today, form).ways_on())[:MOST_PROPOSED]
    except _Unclear:
        return ()


@lru_cache(maxsize=64)
def _by_name(names: tuple[tuple[str, str], ...]) -> dict[str, str]:
    """Ids by folded name; the first of two that are alike."""
    found: dict[str, str] = {}
    for pk, name in names:
        found.setdefault(folded(name), pk)
    return found


class _Reading:
    """One text as it is read, token by token."""

    def __init__(self, text: str, catalogue: Catalogue, today: date, form: Form | None) -> None:
        if len(text) > LONGEST_SENTENCE:
            raise _Unclear(LONGEST_SENTENCE, len(text), "This is longer than a sentence can be.")
        self.text, self.catalogue, self.today = text, catalogue, today
        self.names: dict[str, dict[str, str]] = {
            "FIELD": {pk: one.label for pk, one in catalogue.fields.items()},
            "TAG": dict(catalogue.tags),
            "LIST": dict(catalogue.lists),
            "SOURCE": dict(catalogue.sources),
            "SEQUENCE": {pk: one.name for pk, one in catalogue.sequences.items()},
            "MESSAGE": dict(catalogue.messages),
            "GROUP": dict(catalogue.groups),
            "QUESTION": dict(form.names) if form else {},
        }
        self._by_name: dict[str, Mapping[str, str]] = {}
        self.labels = {
            one.name: {choice.key: choice.label for choice in one.choices}
            for one in (form.questions if form else ())
        }
        self.parser: InteractiveParser = _GRAMMAR.parse_interactive("")
        self.tokens: list[Token] = []

    # Reading.

    def _choices(self) -> list[str]:
        """The kinds of token that the grammar accepts here."""
        found: dict[str, object] = self.parser.choices()  # type: ignore[no-untyped-call]
        return [kind for kind in found if kind.isupper() or kind == "$END"]

    def _accepted(self) -> list[str]:
        """Those of them that lead on from here; to find out takes longer."""
        found: set[str] = self.parser.accepts()  # type: ignore[no-untyped-call]
        return sorted(found, key=_order)

    def condition(self) -> Group:
        at = self._read()
        if at < len(self.text):
            raise self._unclear(at)
        if "$END" not in self._choices():
            raise self._unclear(at)
        try:
            made = self._made(self.parser.feed_eof())  # type: ignore[no-untyped-call]
            return made if isinstance(made, Group) else Group(of=(made,))
        except ValidationError as error:
            said = str(error.errors()[0]["msg"]).removeprefix("Value error, ")
            raise _Unclear(0, len(self.text), f"{said[0].upper()}{said[1:]}.") from None
        except LarkError:
            raise self._unclear(at) from None

    def _read(self) -> int:
        """Feed all that is understood to the parser; where that ends."""
        at, deep = self._past_space(0), 0
        while at < len(self.text):
            found = self._token_at(at)
            if found is None:
                return at
            deep += {"LPAR": 1, "RPAR": -1}.get(found.type, 0)
            if deep > DEEPEST:
                raise _Unclear(
                    at, at + 1, f"Brackets stand within each other at most {DEEPEST} deep."
                )
            try:
                self.parser.feed_token(found)
            except LarkError:
                return at
            self.tokens.append(found)
            at = self._past_space(int(found.end_pos or at))
        return at

    def _past_space(self, at: int) -> int:
        found = _SPACE.match(self.text, at)
        return found.end() if found else at

    def _token_at(self, at: int) -> Token | None:
        """The longest token that the grammar accepts here; of two that are as long, a word of the language."""
        best: tuple[int, int, str, str] | None = None
        for kind in self._choices():
            if kind != "$END" and (match := self._match(kind, at)) is not None:
                end, value = match
                one = (end, 2 if kind in _MORE else int(kind in _PHRASES), kind, value)
                if best is None or one[:2] > best[:2]:
                    best = one
        if best is None:
            return None
        return Token(best[2], best[3], start_pos=at, end_pos=best[0])

    def _match(self, kind: str, at: int) -> tuple[int, str] | None:
        """Where a token of this kind ends, and what it stands for; None: none is here."""
        if kind in _PHRASES:
            return self._phrase(kind, at)
        if kind in _MORE:
            return self._or(kind, at)
        if kind in self.names:
            return self._name(kind, at)
        match kind:
            case "STATE":
                return self._name("STATE", at)
            case "VALUE":
                return self._value(at)
            case "EVENT":
                return self._event(at)
            case "NUMBER":
                found = _NUMBER.match(self.text, at)
                return (found.end(), found[0]) if found else None
            case "DAY":
                return self._day(at)
            case "WORD":
                found = _WORD.match(self.text, at)
                return (found.end(), found[0]) if found else self._in_quotes(at)
            case _:
                return self._in_quotes(at)

    def _phrase(self, kind: str, at: int) -> tuple[int, str] | None:
        for phrase in _PHRASES[kind]:
            found = _pattern(phrase).match(self.text, at)
            if found:
                return found.end(), phrase
        return None

    def _in_quotes(self, at: int) -> tuple[int, str] | None:
        found = _QUOTED.match(self.text, at)
        if found is None:
            return None
        inside = found[1] if found[1] is not None else found[2]
        return found.end(), re.sub(r"\\(.)", r"\1", inside, flags=re.DOTALL)

    def _event(self, at: int) -> tuple[int, str] | None:
        """An event in quotation marks; what is named like a field is one only where it says so."""
        found = self._in_quotes(at)
        if found and folded(found[1]) in self._ids("FIELD"):
            then = self._past_space(found[0])
            return found if self._phrase("HAPPENED", then) or self._phrase("NEVER", then) else None
        return found

    def _ids(self, kind: str) -> Mapping[str, str]:
        """Ids of all things of a kind by their folded names."""
        if kind == "STATE":
            return _STATES
        if kind not in self._by_name:
            self._by_name[kind] = _by_name(tuple(self.names[kind].items()))
        return self._by_name[kind]

    def _name(self, kind: str, at: int) -> tuple[int, str] | None:
        """The longest name that stands here, or one in quotation marks."""
        ids = self._ids(kind)
        if quoted := self._in_quotes(at):
            pk = ids.get(folded(quoted[1]))
            then = self._past_space(quoted[0])
            of_event = kind == "FIELD" and (
                self._phrase("HAPPENED", then) or self._phrase("NEVER", then)
            )
            return (quoted[0], pk) if pk is not None and not of_event else None
        best: tuple[int, str] | None = None
        longest = max(map(len, ids), default=0) * 2 + 20
        for boundary in _END.finditer(self.text, at, min(len(self.text), at + longest)):
            if (pk := ids.get(folded(self.text[at : boundary.start()]))) is not None:
                best = boundary.start(), pk
        if at + longest >= len(self.text) and (pk := ids.get(folded(self.text[at:]))) is not None:
            return len(self.text), pk
        return best

    def _value(self, at: int) -> tuple[int, str] | None:
        """Words up to one that ends a value, or a text in quotation marks."""
        if quoted := self._in_quotes(at):
            return quoted
        if self.text.startswith("…", at):
            return at + 1, ""
        end = at
        for word in re.finditer(r"[^\s();]+", self.text[at:]):
            between = self.text[end : at + word.start()]
            if word[0].casefold() in ENDS or between.strip() or word[0][0] in '“"':
                break
            end = at + word.end()
        return (end, self.text[at:end]) if end > at else None

    def _or(self, kind: str, at: int) -> tuple[int, str] | None:
        """An “or” that another value follows, and no other comparison."""
        found = self._phrase("OR", at)
        if found is None:
            return None
        then = self._past_space(found[0])
        if self._match(_MORE[kind], then) is None or self._begins_a_part(then):
            return None
        # Longer than the “or” of a group by a hair: it is looked at first.
        return found

    def _begins_a_part(self, at: int) -> bool:
        """Whether a comparison, or a group, begins here."""
        if any(self._phrase(kind, at) for kind in _BEGIN):
            return True
        name = self._name("FIELD", at) or self._in_quotes(at)
        if name is None:
            return False
        then = self._past_space(name[0])
        return any(self._phrase(kind, then) for kind in (*_OPS, "HAPPENED", "NEVER"))

    def _day(self, at: int) -> tuple[int, str] | None:
        if found := _ISO.match(self.text, at):
            return (found.end(), found[0]) if iso_date(found[0]) else None
        found = _DAY.match(self.text, at)
        month = _MONTHS.get(found[2].casefold()) if found else None
        if found is None or month is None:
            return None
        try:
            if found[3]:
                day = date(int(found[3]), month, int(found[1]))
            else:
                day = date(self.today.year, month, int(found[1]))
                # The one that has been: what happened is looked at.
                day = day if day <= self.today else day.replace(year=day.year - 1)
        except ValueError:
            return None
        return found.end(), day.isoformat()

    # What is not understood.

    def _unclear(self, at: int) -> _Unclear:
        wanted = self._accepted()
        rest = re.match(r"[^\s();,]+|[();,]", self.text[at:])
        end = at + rest.end() if rest else at
        word = self.text[at:end]
        if not rest:
            start = max((int(one.start_pos or 0) for one in self.tokens[-1:]), default=0)
            return _Unclear(
                start,
                at,
                f"The sentence is not finished: {self._missing(wanted)}.",
                self._next(at),
                unfinished=True,
            )
        typed = folded(self.text[at:])
        if any(folded(one).startswith(typed) for _, one in self._offered()):
            return _Unclear(
                at,
                len(self.text),
                f"The sentence is not finished: “{self.text[at:].strip()[:40]}” goes on.",
                unfinished=True,
            )
        things = [kind for kind in wanted if kind in self.names and kind != "FIELD"]
        if things and not any(kind in _PHRASES for kind in wanted if kind != "ANY_MESSAGE"):
            kind = things[0]
            said = self._unknown_name(at)
            names = list(self.names[kind].values())
            close = get_close_matches(said, names, 4, 0.5) or names[:4]
            return _Unclear(
                at, at + len(said), f"There is no {_THINGS[kind]} named “{said}”.", close
            )
        if word.casefold() in ("and", "or") and any(
            one.type in ("AND", "OR") for one in self.tokens
        ):
            return _Unclear(
                at,
                end,
                "“and” and “or” stand beside each other. Put what belongs together in brackets.",
            )
        return _Unclear(at, end, f"“{word}” is not understood here.", self._next(at))

    def _unknown_name(self, at: int) -> str:
        """The words where a name is looked for, up to what may follow one."""
        if quoted := self._in_quotes(at):
            return self.text[at : quoted[0]].strip('“”"')
        found = re.match(
            r".*?(?=\s+(?:and|or)\b|[();]|$)", self.text[at:], re.IGNORECASE | re.DOTALL
        )
        return (found[0] if found else self.text[at:]).strip()[:80]

    def _missing(self, wanted: Sequence[str]) -> str:
        for kind in wanted:
            if kind in _WANTED and not (kind == "FIELD" and "HAS_TAG" in wanted):
                return f"{_WANTED[kind]} is missing"
        if "HAS_TAG" in wanted:
            return "a comparison is missing"
        words = [_PHRASES[kind][0] for kind in wanted if kind in _PHRASES]
        return f"“{words[0]}” is missing" if words else "something is missing"

    def _next(self, at: int) -> list[str]:
        """Some of what would be understood instead, what looks most like it first."""
        typed = self.text[at : at + 20].casefold()
        phrases = [_PHRASES[kind][0] for kind in self._accepted() if kind in _PHRASES]

        def alike(phrase: str) -> float:
            return SequenceMatcher(None, phrase, typed[: len(phrase)]).ratio()

        return sorted(phrases, key=alike, reverse=True)[:5]

    # What can come next.

    def ways_on(self) -> Iterator[Proposed]:
        at = self._read()
        if at >= len(self.text) and self.tokens and not self.text[-1:].isspace():
            last = self.tokens[-1]
            # A word that ends at the cursor may be the beginning of a longer one.
            if (
                last.type in ("VALUE", *self.names)
                and self.text[int(last.start_pos or 0)] not in '“"'
            ):
                again = _Reading(
                    self.text[: int(last.start_pos or 0)], self.catalogue, self.today, None
                )
                again.names, again.labels = self.names, self.labels
                again._read()
                yield from again._proposals(int(last.start_pos or 0), self.text)
        yield from self._proposals(at, self.text)

    def _proposals(self, at: int, text: str) -> Iterator[Proposed]:
        typed = folded(text[at:])
        if at < len(text) or not text or text[-1:].isspace() or text[-1:] == "(":
            between = ""
        else:
            between = " "
        begins: list[tuple[str, str]] = []
        within: list[tuple[str, str]] = []
        for kind, one in self._offered():
            known = folded(one)
            if known == typed or (typed and typed not in known):
                continue
            (begins if known.startswith(typed) else within).append((kind, one))
        for kind, one in [*begins, *within][:MOST_PROPOSED]:
            tight = "" if one in (";", ",", ":", ")") else between
            yield Proposed(start=at, text=f"{tight}{self._written(kind, one)}")

    def _offered(self) -> Iterator[tuple[str, str]]:
        """Every word, name and value that leads on, with its kind."""
        for kind in self._accepted():
            if kind in self.names:
                yield from ((kind, name) for name in self.names[kind].values())
            elif kind == "STATE":
                yield from ((kind, state) for state in _STATES)
            elif kind == "VALUE":
                yield from ((kind, label) for label in self._values())
            elif kind == "DAY":
                yield kind, f"{self.today.day} {self.today:%B %Y}"
            elif kind == "NUMBER":
                yield from ((kind, number) for number in ("1", "7", "30"))
            elif kind in _PHRASES and self.names.get(_ASKS.get(kind, "FIELD")):
                yield kind, _PHRASES[kind][0]

    def _written(self, kind: str, one: str) -> str:
        """A name or a value as it stands in a sentence."""
        if kind == "QUESTION":
            return in_quotes(one)
        if kind == "FIELD":
            return quoted_label(one, self.names[kind].values())
        if kind in self.names:
            return quoted_name(one, self.names[kind].values())
        return quoted_value(one) if kind == "VALUE" else one

    def _values(self) -> Iterator[str]:
        """The values that can follow, where they can be listed."""
        for one in reversed(self.tokens):
            if one.type == "FIELD":
                yield from _labels(self.catalogue.fields[str(one)]).values()
                return
            if one.type == "QUESTION":
                yield from self.labels.get(str(one), {}).values()
                return

    # What it comes to.

    def _made(self, tree: Tree[Token] | Token) -> Condition:
        assert isinstance(tree, Tree)
        children = tree.children
        tokens = [one for one in children if isinstance(one, Token)]
        parts = [one for one in children if isinstance(one, Tree)]
        match tree.data:
            case "start" | "part":
                return self._made(parts[0])
            case "everybody":
                return Group()
            case "nobody":
                return Group(kind="any")
            case "all" | "any" | "none" | "all_of" | "any_of":
                kind = str(tree.data).removesuffix("_of")
                return Group(kind=kind, of=tuple(self._made(one) for one in parts))
            case "negated":
                return _negated(self._made(parts[0]))
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
        target = self.catalogue.fields[str(tokens[0])]
        op, values, exact = self._compared(tokens[1:])
        if op.type == "IS" and len(values) > 1:
            op = Token("ONE_OF", str(op), start_pos=op.start_pos, end_pos=op.end_pos)
        comparison = _OPS[op.type]
        if comparison not in comparisons_of(target.type):
            raise _Unclear(
                int(op.start_pos or 0),
                int(op.end_pos or 0),
                f"“{_PHRASES[op.type][0]}” cannot be asked of {target.label}.",
                [
                    _PHRASES[kind][0]
                    for kind, one in _OPS.items()
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

    def _one_value(self, second: Token) -> _Unclear:
        return _Unclear(
            int(second.start_pos or 0),
            int(second.end_pos or 0),
            "Only “is” can be asked of several values at once. Write the comparison twice, with “or” between.",
        )

    def _kept(self, target: FieldFacts, op: Comparison, token: Token) -> str:
        """A value as the field keeps it."""
        text = str(token)

        def unclear(sentence: str, could: Sequence[str] = ()) -> _Unclear:
            return _Unclear(int(token.start_pos or 0), int(token.end_pos or 0), sentence, could)

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
        if labels := _labels(target):
            found = {folded(label): key for key, label in labels.items()}.get(folded(text))
            found = found or {folded(key): key for key in labels}.get(folded(text))
            if found is None:
                close = (
                    get_close_matches(text, labels.values(), 4, 0.5) or list(labels.values())[:4]
                )
                raise unclear(f"{target.label} is never “{text}”.", close)
            return found
        if target.type == "number" and number_of(text) is None:
            raise unclear(f"“{text}” is not a number.")
        if target.type == "date":
            # The whole value has to be a date; a day and a month alone are of the year that has begun.
            day = _Reading(text, self.catalogue, self.today, None)._day(0)
            if day is None or day[0] != len(text):
                raise unclear(f"“{text}” is not a date, such as 1 March 2027.")
            return day[1]
        return text

    def _answer(self, tokens: Sequence[Token]) -> AnswerTest:
        question = str(tokens[1])
        op, values, exact = self._compared(tokens[2:])
        comparison = _OPS[op.type]
        if op.type == "IS" and len(values) > 1:
            comparison = "one_of"
        labels = {folded(label): key for key, label in self.labels.get(question, {}).items()}
        kept = tuple(labels.get(folded(str(one)), str(one)) for one in values)
        if comparison == "one_of":
            return AnswerTest(question=question, op=comparison, values=kept, exact=exact)
        if len(kept) > 1:
            raise self._one_value(values[1])
        return AnswerTest(question=question, op=comparison, value="".join(kept), exact=exact)

    def _score(self, tokens: Sequence[Token]) -> ScoreTest:
        if "." in tokens[2]:
            raise _Unclear(
                int(tokens[2].start_pos or 0),
                int(tokens[2].end_pos or 0),
                "The score is a whole number.",
            )
        return ScoreTest(op=_OPS[tokens[1].type], value=int(tokens[2]))

    def _happened(self, tokens: Sequence[Token], parts: Sequence[Tree[Token]]) -> HappenedTest:
        kinds = {one.type: one for one in tokens}
        what = next(
            (name for name, of in _HAPPENED.items() if any(one.type in of for one in tokens)),
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
                raise _Unclear(
                    int(token.start_pos or 0),
                    int(token.end_pos or 0),
                    "This has to be a whole number.",
                )
            return int(token)

        def once(name: str) -> None:
            if name in known:
                start = int(tokens[0].start_pos or 0)
                raise _Unclear(start, start + len(str(tokens[0])), "This is said twice.")

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


_HAPPENED = {
    "submitted": {"SUBMITTED"},
    "confirmed": {"CONFIRMED"},
    "sent": {"SENT", "NEVER_SENT"},
    "opened": {"OPENED"},
    "clicked": {"CLICKED"},
}
_BEGIN = (
    "LPAR", "NONE_OF", "ALL_OF", "ANY_OF", "EVERYBODY", "NOBODY", "NOT", "ANSWER", "HAS_TAG", "HAS_NO_TAG",
    "CAME_FROM", "SCORE", "CURRENTLY_IN", "WAS_IN", "NEVER_IN", "IN_GROUP", "NOT_IN_GROUP", "NEVER", "SUBMITTED",
    "CONFIRMED", "SENT", "NEVER_SENT", "OPENED", "CLICKED", "ANY_EVENT", "NO_EVENT", "IS", "IS_NOT",
)  # fmt: skip
"""What a part can begin with, besides the name of a field or an event."""


def _order(kind: str) -> tuple[int, str]:
    """What is offered first: names and values, then words, then signs and brackets."""
    late = kind in ("LPAR", "RPAR", "NOT", "NONE_OF", "ALL_OF", "ANY_OF", "EVERYBODY", "NOBODY")
    return (0 if kind not in _PHRASES and kind != "FIELD" else 3 if late else 1, kind)


@lru_cache(maxsize=512)
def _pattern(phrase: str) -> re.Pattern[str]:
    """A phrase, in whatever case and spacing, as whole words."""
    words = r"\s+".join(map(re.escape, phrase.split()))
    return re.compile(words + (r"(?!\w)" if phrase[-1].isalnum() else ""), re.IGNORECASE)


def _labels(target: FieldFacts) -> Mapping[str, str]:
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
