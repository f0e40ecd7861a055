"""Conditions in words: as sentences, and with what was seen of somebody."""

import re
from collections.abc import Iterable, Mapping
from functools import lru_cache

from ..documents import Frozen
from ..people import Catalogue, FieldFacts, Person
from ..reading import Form, answer_to
from .document import (
    EMPTY,
    AnswerTest,
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
    known_by,
)
from .holding import Circumstances, counted, holds


class Explained(Frozen):
    """A condition with what was seen and whether it held, and the same of its parts."""

    sentence: str
    seen: str = ""
    held: bool
    of: tuple["Explained", ...] = ()


Explained.model_rebuild()


def explain(
    condition: Condition, person: Person, seen: Circumstances, catalogue: Catalogue
) -> Explained:
    """The same, with the value that each leaf saw."""
    parts: tuple[Explained, ...] = ()
    if isinstance(condition, Group):
        parts = tuple(explain(one, person, seen, catalogue) for one in condition.of)
    return Explained(
        sentence=say(condition, catalogue),
        seen=_seen(condition, person, seen, catalogue),
        held=holds(condition, person, seen, catalogue),
        of=parts,
    )


_OPS: Mapping[str, str] = {
    "is": "is",
    "is_not": "is not",
    "one_of": "is one of",
    "contains": "contains",
    "not_contains": "does not contain",
    "begins": "begins with",
    "less": "is less than",
    "at_most": "is at most",
    "more": "is more than",
    "at_least": "is at least",
    "before": "is before",
    "after": "is after",
    "in_last_days": "was in the last",
    "in_next_days": "is in the next",
    "empty": "is empty",
    "not_empty": "is not empty",
}


def say(condition: Condition, catalogue: Catalogue, form: Form | None = None) -> str:
    """A condition as a plain sentence; `form` says how people read questions and choices."""
    match condition:
        case Group():
            return _say_group(condition, catalogue, form)
        case FieldTest():
            target = catalogue.fields.get(condition.field)
            subject = (
                quoted_label(target.label, (one.label for one in catalogue.fields.values()))
                if target
                else _lacking("field", condition.field)
            )
            return _say_test(subject, condition, target)
        case AnswerTest():
            return _say_answer(condition, form)
        case TagTest():
            name = _named(condition.tag, catalogue.tags)
            tag = f"the tag {name}" if name else _lacking("tag", condition.tag)
            return f"{'has' if condition.has else 'does not have'} {tag}"
        case MembershipTest():
            name = _named(condition.list, catalogue.lists) or _lacking("list", condition.list)
            states = " or ".join(
                "on no terms" if one == "none" else one for one in condition.states
            )
            joins = "to" if condition.states == ("subscribed",) else "on"
            return f"is {'' if condition.holds else 'not '}{states} {joins} {name}"
        case SourceTest():
            names = [
                _named(one, catalogue.sources) or "a source that is gone"
                for one in condition.sources
            ]
            return f"came from {' or '.join(names) or '(no source chosen)'}"
        case ScoreTest():
            return f"the score {_OPS[condition.op]} {condition.value}"
        case HappenedTest():
            return _say_happened(condition, catalogue)
        case RunTest():
            sequences = {pk: one.name for pk, one in catalogue.sequences.items()}
            name = _named(condition.sequence, sequences) or _lacking("sequence", condition.sequence)
            words = {"under_way": "is currently in", "ever": "was in", "never": "was never in"}
            return f"{words[condition.state]} {name}"
        case FrozenTest():
            name = _named(condition.group, catalogue.groups)
            group = f"the group {name}" if name else _lacking("group", condition.group)
            return f"is {'' if condition.within else 'not '}in {group}"


def _say_group(group: Group, catalogue: Catalogue, form: Form | None) -> str:
    parts = [
        f"({part})" if isinstance(one, Group) and _needs_brackets(one) else part
        for one in group.of
        if (part := say(one, catalogue, form))
    ]
    if not parts:
        return {"all": "everybody", "any": "nobody", "none": "everybody"}[group.kind]
    if group.kind == "none":
        return "none of: " + "; ".join(parts)
    return (" and " if group.kind == "all" else " or ").join(parts)


def _needs_brackets(group: Group) -> bool:
    return len(group.of) > 1 or (group.kind == "none" and len(group.of) == 1)


def _say_test(subject: str, test: FieldTest | AnswerTest, target: FieldFacts | None) -> str:
    if test.op in EMPTY:
        return f"{subject} {_OPS[test.op]}"
    if test.op in ("in_last_days", "in_next_days"):
        return f"{subject} {_OPS[test.op]} {test.value} days"
    values = test.values if test.op == "one_of" else (test.value,)
    shown = [quoted_value(target.shown(one) if target and one else one) for one in values]
    exactly = f" {EXACTLY}" if test.exact else ""
    return f"{subject} {_OPS[test.op]} {' or '.join(shown) or '…'}{exactly}"


def _lacking(thing: str, chosen: str) -> str:
    """What is said in place of a name: none is chosen yet, or what was chosen is no more."""
    return f"a {thing} that is gone" if chosen else f"(no {thing} chosen)"


def _say_answer(test: AnswerTest, form: Form | None) -> str:
    names = form.names if form else {}
    asked = form.questions if form else ()
    labels = {
        choice.key: choice.label
        for one in asked
        if one.name == test.question
        for choice in one.choices
    }
    shown = test.model_copy(
        update={
            "value": labels.get(test.value, test.value),
            "values": tuple(labels.get(one, one) for one in test.values),
        }
    )
    if not test.question:
        return _say_test("(no question chosen)", shown, None)
    asked_for = in_quotes(names.get(test.question, test.question))
    return _say_test(f"the answer to {asked_for}", shown, None)


def _detail_in_words(test: HappenedTest) -> str:
    """with product: Moon atlas, amount at least 50 in total"""
    parts = []
    if test.detail:
        detail = quoted_word(test.detail)
        said = f"{detail}: {quoted_word(test.detail_is)}" if test.detail_is else f"a {detail}"
        parts.append(said)
    if test.total_of and test.total_at_least is not None:
        parts.append(f"{quoted_word(test.total_of)} at least {test.total_at_least:f} in total")
    return f" with {', '.join(parts)}" if parts else ""


def _say_happened(test: HappenedTest, catalogue: Catalogue) -> str:
    about = test.about
    never = "never " if test.at_least == 0 and test.at_most == 0 else ""
    known = known_by(test, catalogue)
    if known is not None:
        thing = {"submitted": "source", "confirmed": "list"}.get(test.what, "message")
        name = (_named(about, known) or f"a {thing} that is gone") if about else f"any {thing}"
        what = {
            "submitted": f"{never}submitted through {name}",
            "confirmed": f"{never}confirmed {name}",
            "sent": f"was {never}sent {name}",
            "opened": f"{never}opened {name} (an estimate)",
            "clicked": f"{never}clicked {_link_in_words(test)} in {name}",
        }[test.what]
    else:
        what = (
            f"{in_quotes(about)} {never}happened"
            if about
            else f"{'no' if never else 'any'} event happened"
        )
        what += _detail_in_words(test)
    if test.at_most is not None:
        times = "" if never else f"{test.at_least} to {test.at_most} times"
    else:
        times = "" if test.at_least == 1 else f"at least {test.at_least} times"
    hours = test.within_hours
    within = ""
    if hours:
        within = (
            f"in the last {hours // 24} days" if hours % 24 == 0 else f"in the last {hours} hours"
        )
    before = f"before {test.before:%-d %B %Y}" if test.before else ""
    after = f"after {test.after:%-d %B %Y}" if test.after else ""
    days = " and ".join(filter(None, (after, before)))
    return " ".join(filter(None, (what, times, within, days)))


def _link_in_words(test: HappenedTest) -> str:
    return f"a link with {in_quotes(test.link)}" if test.link else "a link"


def in_quotes(text: str) -> str:
    """A text in quotation marks, as `parse` reads it back."""
    return "“" + text.replace("\\", "\\\\").replace("”", "\\”") + "”"


_PLAIN = re.compile(r"[^\W_][\w@.+\-/:%'’&]*( [\w@.+\-/:%'’&]+)*")
_WORD = re.compile(r"[^\W_][\w.\-]*")
EXACTLY = "exactly"
ENDS = frozenset({"and", "or", EXACTLY})
"""Words that end a text without quotation marks."""
STARTS = frozenset(
    [
        "has",
        "does",
        "is",
        "the",
        "came",
        "submitted",
        "confirmed",
        "was",
        "opened",
        "clicked",
        "never",
        "any",
        "no",
        "none",
        "all",
        "everybody",
        "nobody",
        "not",
    ]
)
"""Words that a comparison begins with, when it is not about a field."""
_WITHIN = frozenset({"a", "at", "in", "before", "after", *ENDS})


def quoted_value(text: str) -> str:
    """A value as it stands in a sentence: in quotation marks where it would not be read back without."""
    if not text:
        return "…"
    plain = _PLAIN.fullmatch(text) and ENDS.isdisjoint(text.casefold().split())
    return text if plain else in_quotes(text)


def quoted_word(text: str) -> str:
    """What was said with an event: one word, or in quotation marks."""
    plain = _WORD.fullmatch(text) and text.casefold() not in _WITHIN
    return text if plain else in_quotes(text)


def quoted_name(name: str, names: Iterable[str]) -> str:
    """A name among others: in quotation marks where it has odd characters, or where another one goes on
    with a word that may follow it."""
    plain = _PLAIN.fullmatch(name) and ENDS.isdisjoint(name.casefold().split())
    return name if plain and name.casefold() not in _begun(tuple(names)) else in_quotes(name)


@lru_cache(maxsize=64)
def _begun(names: tuple[str, ...]) -> frozenset[str]:
    """What stands in names before a word that may follow a name."""
    found = set()
    for name in names:
        words = name.casefold().split()
        found |= {" ".join(words[:at]) for at in range(1, len(words)) if words[at] in _FOLLOW}
    return frozenset(found)


_FOLLOW = ENDS | {"at", "in", "before", "after", "is", "was", "contains", "does", "begins", "with"}


def quoted_label(label: str, labels: Iterable[str]) -> str:
    """The name of a field, which begins a sentence."""
    first = label.casefold().partition(" ")[0]
    return in_quotes(label) if first in STARTS else quoted_name(label, labels)


def _named(pk: str, names: Mapping[str, str]) -> str:
    """The name of what has this id; empty where nothing has."""
    return quoted_name(names[pk], names.values()) if pk in names else ""


def _seen(condition: Condition, person: Person, seen: Circumstances, catalogue: Catalogue) -> str:
    match condition:
        case FieldTest():
            target = catalogue.fields.get(condition.field)
            value = person.values.get(target.key) if target else None
            return target.shown(value) if target and value not in (None, "", ()) else "—"
        case AnswerTest():
            return answer_to(seen.answers, condition.question) or "—"
        case MembershipTest():
            return person.membership(condition.list)
        case ScoreTest():
            return str(person.score)
        case HappenedTest():
            times = len(counted(condition, person, seen))
            return "once" if times == 1 else f"{times} times"
        case TagTest():
            return "has it" if condition.tag in person.tags else "does not have it"
        case SourceTest():
            return catalogue.sources.get(seen.source, "—")
        case RunTest():
            if condition.sequence in person.under_way:
                return "is currently in it"
            return "was in it" if condition.sequence in person.entered else "was never in it"
        case FrozenTest():
            return "is in it" if condition.group in person.groups else "is not in it"
        case Group():
            return ""
