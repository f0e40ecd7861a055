"""The words of a typed condition where they stand: phrases of the language, names of the workspace, values."""

import re
from collections.abc import Mapping
from datetime import date
from functools import lru_cache

from ..documents import folded
from ..people import Catalogue
from ..reading import Form
from .document import iso_date
from .grammar import (
    BEGIN,
    DAY,
    END,
    ISO,
    MONTHS,
    MORE,
    NUMBER,
    OPS,
    PHRASES,
    QUOTED,
    SPACE,
    STATES,
    WORD,
    pattern_of,
)
from .words import ENDS


class Words:
    """A text, and what can stand at a place of it."""

    def __init__(self, text: str, catalogue: Catalogue, today: date, form: Form | None) -> None:
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

    def past_space(self, at: int) -> int:
        """Where the next word begins."""
        found = SPACE.match(self.text, at)
        return found.end() if found else at

    def match(self, kind: str, at: int) -> tuple[int, str] | None:
        """Where a token of this kind ends, and what it stands for; None: none is here."""
        if kind in PHRASES:
            return self.phrase(kind, at)
        if kind in MORE:
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
                found = NUMBER.match(self.text, at)
                return (found.end(), found[0]) if found else None
            case "DAY":
                return day_at(self.text, at, self.today)
            case "WORD":
                found = WORD.match(self.text, at)
                return (found.end(), found[0]) if found else self.in_quotes(at)
            case _:
                return self.in_quotes(at)

    def phrase(self, kind: str, at: int) -> tuple[int, str] | None:
        """A phrase of the language."""
        for phrase in PHRASES[kind]:
            found = pattern_of(phrase).match(self.text, at)
            if found:
                return found.end(), phrase
        return None

    def in_quotes(self, at: int) -> tuple[int, str] | None:
        """A text in quotation marks."""
        found = QUOTED.match(self.text, at)
        if found is None:
            return None
        inside = found[1] if found[1] is not None else found[2]
        return found.end(), re.sub(r"\\(.)", r"\1", inside, flags=re.DOTALL)

    def _event(self, at: int) -> tuple[int, str] | None:
        """An event in quotation marks; what is named like a field is one only where it says so."""
        found = self.in_quotes(at)
        if found and folded(found[1]) in self._ids("FIELD"):
            then = self.past_space(found[0])
            return found if self.phrase("HAPPENED", then) or self.phrase("NEVER", then) else None
        return found

    def _ids(self, kind: str) -> Mapping[str, str]:
        """Ids of all things of a kind by their folded names."""
        if kind == "STATE":
            return STATES
        if kind not in self._by_name:
            self._by_name[kind] = _by_name(tuple(self.names[kind].items()))
        return self._by_name[kind]

    def _name(self, kind: str, at: int) -> tuple[int, str] | None:
        """The longest name that stands here, or one in quotation marks."""
        ids = self._ids(kind)
        if quoted := self.in_quotes(at):
            pk = ids.get(folded(quoted[1]))
            then = self.past_space(quoted[0])
            of_event = kind == "FIELD" and (
                self.phrase("HAPPENED", then) or self.phrase("NEVER", then)
            )
            return (quoted[0], pk) if pk is not None and not of_event else None
        best: tuple[int, str] | None = None
        longest = max(map(len, ids), default=0) * 2 + 20
        for boundary in END.finditer(self.text, at, min(len(self.text), at + longest)):
            if (pk := ids.get(folded(self.text[at : boundary.start()]))) is not None:
                best = boundary.start(), pk
        if at + longest >= len(self.text) and (pk := ids.get(folded(self.text[at:]))) is not None:
            return len(self.text), pk
        return best

    def _value(self, at: int) -> tuple[int, str] | None:
        """Words up to one that ends a value, or a text in quotation marks."""
        if quoted := self.in_quotes(at):
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
        found = self.phrase("OR", at)
        if found is None:
            return None
        then = self.past_space(found[0])
        if self.match(MORE[kind], then) is None or self._begins_a_part(then):
            return None
        # Longer than the “or” of a group by a hair: it is looked at first.
        return found

    def _begins_a_part(self, at: int) -> bool:
        """Whether a comparison, or a group, begins here."""
        if any(self.phrase(kind, at) for kind in BEGIN):
            return True
        name = self._name("FIELD", at) or self.in_quotes(at)
        if name is None:
            return False
        then = self.past_space(name[0])
        return any(self.phrase(kind, then) for kind in (*OPS, "HAPPENED", "NEVER"))


@lru_cache(maxsize=64)
def _by_name(names: tuple[tuple[str, str], ...]) -> dict[str, str]:
    """Ids by folded name; the first of two that are alike."""
    found: dict[str, str] = {}
    for pk, name in names:
        found.setdefault(folded(name), pk)
    return found


def day_at(text: str, at: int, today: date) -> tuple[int, str] | None:
    """Where a date ends that stands here, and the same as ISO 8601 writes it; without a year it is the last
    one that has been."""
    if found := ISO.match(text, at):
        return (found.end(), found[0]) if iso_date(found[0]) else None
    found = DAY.match(text, at)
    month = MONTHS.get(found[2].casefold()) if found else None
    if found is None or month is None:
        return None
    try:
        if found[3]:
            day = date(int(found[3]), month, int(found[1]))
        else:
            day = date(today.year, month, int(found[1]))
            day = day if day <= today else day.replace(year=day.year - 1)
    except ValueError:
        return None
    return found.end(), day.isoformat()
