"""A condition from a typed sentence: the language is that of `say`, and no formula syntax.

The grammar is read by lark (LALR). What a word can be depends on where it stands, so each token is looked for among
those that the grammar accepts there; names come from the catalogue, the longest first, without case and accents.
"""

import re
from collections.abc import Iterator, Sequence
from datetime import date
from difflib import SequenceMatcher

from lark import Token
from lark.exceptions import LarkError
from lark.parsers.lalr_interactive_parser import InteractiveParser
from pydantic import ValidationError

from ..documents import folded
from ..people import Catalogue
from ..reading import Form
from .document import DEEPEST, MOST_LEAVES, MOST_PARTS, Group
from .grammar import ASKS, GRAMMAR, MORE, PHRASES, STATES, THINGS, WANTED, order_of
from .parsed import Parsed, Proposed, Unclear, alike
from .sense import Sense, labels_of
from .tokens import Words
from .words import in_quotes, quoted_label, quoted_name, quoted_value

LONGEST_SENTENCE = 10_000
"""Characters of a sentence."""
MOST_PROPOSED = 12


def parse(text: str, catalogue: Catalogue, today: date, form: Form | None = None) -> Parsed:
    """The condition that a sentence says. `today`: of the workspace, for dates without a year."""
    try:
        return Parsed(condition=_Reading(text, catalogue, today, form).condition())
    except Unclear as error:
        return Parsed(problems=(error.problem,))


def propose(
    text: str, catalogue: Catalogue, today: date, form: Form | None = None
) -> tuple[Proposed, ...]:
    """What can come next after a text, which ends at the cursor: each leads on to a sentence."""
    try:
        return tuple(_Reading(text, catalogue, today, form).ways_on())[:MOST_PROPOSED]
    except Unclear:
        return ()


class _Reading:
    """One text as it is read, token by token."""

    def __init__(self, text: str, catalogue: Catalogue, today: date, form: Form | None) -> None:
        if len(text) > LONGEST_SENTENCE:
            raise Unclear(LONGEST_SENTENCE, len(text), "This is longer than a sentence can be.")
        self.words = Words(text, catalogue, today, form)
        self.parser: InteractiveParser = GRAMMAR.parse_interactive("")
        self.tokens: list[Token] = []

    def _choices(self) -> list[str]:
        """The kinds of token that the grammar accepts here."""
        found: dict[str, object] = self.parser.choices()  # type: ignore[no-untyped-call]
        return [kind for kind in found if kind.isupper() or kind == "$END"]

    def _accepted(self) -> list[str]:
        """Those of them that lead on from here; to find out takes longer."""
        found: set[str] = self.parser.accepts()  # type: ignore[no-untyped-call]
        return sorted(found, key=order_of)

    def condition(self) -> Group:
        """What the whole text says."""
        at = self._read()
        if at < len(self.words.text):
            raise self._unclear(at)
        if "$END" not in self._choices():
            raise self._unclear(at)
        try:
            made = Sense(self.words).made(self.parser.feed_eof())  # type: ignore[no-untyped-call]
            return made if isinstance(made, Group) else Group(of=(made,))
        except ValidationError as error:
            raise Unclear(0, len(self.words.text), _too_much(error)) from None
        except LarkError:
            raise self._unclear(at) from None

    def _read(self) -> int:
        """Feed all that is understood to the parser; where that ends."""
        at, deep, nots = self.words.past_space(0), 0, 0
        while at < len(self.words.text):
            found = self._token_at(at)
            if found is None:
                return at
            deep += {"LPAR": 1, "RPAR": -1}.get(found.type, 0)
            nots = nots + 1 if found.type == "NOT" else 0
            if deep + nots > DEEPEST:
                raise Unclear(
                    at, at + 1, f"Brackets stand within each other at most {DEEPEST} deep."
                )
            try:
                self.parser.feed_token(found)
            except LarkError:
                return at
            self.tokens.append(found)
            at = self.words.past_space(int(found.end_pos or at))
        return at

    def _token_at(self, at: int) -> Token | None:
        """The longest token that the grammar accepts here; of two that are as long, a word of the language."""
        best: tuple[int, int, str, str] | None = None
        for kind in self._choices():
            if kind != "$END" and (match := self.words.match(kind, at)) is not None:
                end, value = match
                one = (end, 2 if kind in MORE else int(kind in PHRASES), kind, value)
                if best is None or one[:2] > best[:2]:
                    best = one
        if best is None:
            return None
        return Token(best[2], best[3], start_pos=at, end_pos=best[0])

    # What is not understood.

    def _unclear(self, at: int) -> Unclear:
        wanted = self._accepted()
        rest = re.match(r"[^\s();,]+|[();,]", self.words.text[at:])
        end = at + rest.end() if rest else at
        word = self.words.text[at:end]
        if not rest:
            start = max((int(one.start_pos or 0) for one in self.tokens[-1:]), default=0)
            return Unclear(
                start,
                at,
                f"The sentence is not finished: {self._missing(wanted)}.",
                self._next(at),
                unfinished=True,
            )
        typed = folded(self.words.text[at:])
        if any(folded(one).startswith(typed) for _, one in self._offered()):
            return Unclear(
                at,
                len(self.words.text),
                f"The sentence is not finished: “{self.words.text[at:].strip()[:40]}” goes on.",
                unfinished=True,
            )
        things = [kind for kind in wanted if kind in self.words.names and kind != "FIELD"]
        if things and not any(kind in PHRASES for kind in wanted if kind != "ANY_MESSAGE"):
            kind = things[0]
            said, end = self._unknown_name(at)
            close = [
                self._written(kind, one) for one in alike(said, self.words.names[kind].values())
            ]
            return Unclear(at, end, f"There is no {THINGS[kind]} named “{said}”.", close)
        if word.casefold() in ("and", "or") and any(
            one.type in ("AND", "OR") for one in self.tokens
        ):
            return Unclear(
                at,
                end,
                "“and” and “or” stand beside each other. Put what belongs together in brackets.",
            )
        return Unclear(at, end, f"“{word}” is not understood here.", self._next(at))

    def _unknown_name(self, at: int) -> tuple[str, int]:
        """The words where a name is looked for, up to what may follow one; and where they end."""
        if quoted := self.words.in_quotes(at):
            return quoted[1][:80], quoted[0]
        found = re.match(
            r".*?(?=\s+(?:and|or)\b|[();]|$)", self.words.text[at:], re.IGNORECASE | re.DOTALL
        )
        said = (found[0] if found else self.words.text[at:]).strip()[:80]
        return said, at + len(said)

    def _missing(self, wanted: Sequence[str]) -> str:
        for kind in wanted:
            if kind in WANTED and not (kind == "FIELD" and "HAS_TAG" in wanted):
                return f"{WANTED[kind]} is missing"
        if "HAS_TAG" in wanted:
            return "a comparison is missing"
        words = [PHRASES[kind][0] for kind in wanted if kind in PHRASES]
        return f"“{words[0]}” is missing" if words else "something is missing"

    def _next(self, at: int) -> list[str]:
        """Some of what would be understood instead, what looks most like it first."""
        typed = self.words.text[at : at + 20].casefold()
        phrases = [PHRASES[kind][0] for kind in self._accepted() if kind in PHRASES]

        def likeness(phrase: str) -> float:
            return SequenceMatcher(None, phrase, typed[: len(phrase)]).ratio()

        return sorted(phrases, key=likeness, reverse=True)[:5]

    # What can come next.

    def ways_on(self) -> Iterator[Proposed]:
        """What can come next, where the text ends."""
        at = self._read()
        if at >= len(self.words.text) and self.tokens and not self.words.text[-1:].isspace():
            last = self.tokens[-1]
            # A word that ends at the cursor may be the beginning of a longer one.
            if (
                last.type in ("VALUE", *self.words.names)
                and self.words.text[int(last.start_pos or 0)] not in '“"'
            ):
                again = _Reading(
                    self.words.text[: int(last.start_pos or 0)],
                    self.words.catalogue,
                    self.words.today,
                    None,
                )
                again.words.names, again.words.labels = self.words.names, self.words.labels
                again._read()
                yield from again._proposals(int(last.start_pos or 0), self.words.text)
        yield from self._proposals(at, self.words.text)

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
            if kind in self.words.names:
                yield from ((kind, name) for name in self.words.names[kind].values())
            elif kind == "STATE":
                yield from ((kind, state) for state in STATES)
            elif kind == "VALUE":
                yield from ((kind, label) for label in self._values())
            elif kind == "DAY":
                yield kind, f"{self.words.today.day} {self.words.today:%B %Y}"
            elif kind == "NUMBER":
                yield from ((kind, number) for number in ("1", "7", "30"))
            elif kind in PHRASES and self.words.names.get(ASKS.get(kind, "FIELD")):
                yield kind, PHRASES[kind][0]

    def _written(self, kind: str, one: str) -> str:
        """A name or a value as it stands in a sentence."""
        if kind == "QUESTION":
            return in_quotes(one)
        if kind == "FIELD":
            return quoted_label(one, self.words.names[kind].values())
        if kind in self.words.names:
            return quoted_name(one, self.words.names[kind].values())
        return quoted_value(one) if kind == "VALUE" else one

    def _values(self) -> Iterator[str]:
        """The values that can follow, where they can be listed."""
        for one in reversed(self.tokens):
            if one.type == "FIELD":
                yield from labels_of(self.words.catalogue.fields[str(one)]).values()
                return
            if one.type == "QUESTION":
                yield from self.words.labels.get(str(one), {}).values()
                return


def _too_much(error: ValidationError) -> str:
    """What of a condition is more than one may be."""
    kinds = {one["type"] for one in error.errors()}
    if kinds <= {"less_than_equal", "greater_than_equal"}:
        return "A number here is larger or smaller than it can be."
    return (
        f"This is more than one condition can hold: at most {MOST_LEAVES} comparisons, {MOST_PARTS} in a row, "
        f"and {DEEPEST} brackets within each other."
    )
