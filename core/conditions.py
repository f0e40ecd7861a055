"""Conditions: one language for routes, splits, doors, goals and audiences.

All of, any of, none of, nested, over comparisons of a subject and a value. Missing is a
value of its own: "is not" and "does not contain" hold for a missing value; "is", "contains"
and comparisons of size do not. Text is compared without case and accents unless asked
otherwise, dates in the person's time zone.

`explain` evaluates for one person. The server compiles the same document to SQL for
everybody; a property test holds the two against each other.
"""

import re
from collections.abc import Iterator, Mapping
from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Annotated, Literal
from zoneinfo import ZoneInfo

from pydantic import Field, model_validator

from .documents import Frozen, folded
from .people import Catalogue, FieldFacts, Happened, Happening, MembershipState, Person
from .reading import Answers, Form, answer_to
from .values import FieldType

Comparison = Literal[
    "is",
    "is_not",
    "one_of",
    "contains",
    "not_contains",
    "begins",
    "less",
    "at_most",
    "more",
    "at_least",
    "before",
    "after",
    "in_last_days",
    "in_next_days",
    "empty",
    "not_empty",
]
DEEPEST = 30
"""Groups within groups: far more than a reader can follow, and fewer than SQL can be made of."""
MOST_LEAVES = 200
"""Comparisons in a condition, over all its groups."""
MOST_VALUES = 500
"""Values of one comparison."""
_HOLD_FOR_MISSING = ("is_not", "not_contains", "empty")
_SIZES: tuple[Comparison, ...] = ("is", "is_not", "less", "at_most", "more", "at_least")
_TEXTS: tuple[Comparison, ...] = ("is", "is_not", "one_of", "contains", "not_contains", "begins")
_KEYS: tuple[Comparison, ...] = ("is", "is_not", "one_of")
_DATES: tuple[Comparison, ...] = (
    "is",
    "is_not",
    "before",
    "after",
    "in_last_days",
    "in_next_days",
)
_EMPTY: tuple[Comparison, ...] = ("empty", "not_empty")


def comparisons_of(field_type: FieldType) -> tuple[Comparison, ...]:
    """The comparisons that a field of this type can be put to."""
    match field_type:
        case "number":
            return (*_SIZES, *_EMPTY)
        case "date":
            return (*_DATES, *_EMPTY)
        case "choices":
            return ("contains", "not_contains", *_EMPTY)
        case "choice" | "country" | "language" | "time_zone" | "yes_no":
            return (*_KEYS, *_EMPTY)
        case _:
            return (*_TEXTS, *_EMPTY)


class FieldTest(Frozen):
    """A field compared with a value, as the field keeps it (yes or no as "yes", "no")."""

    kind: Literal["field"] = "field"
    field: str = ""
    op: Comparison = "is"
    value: str = ""
    values: tuple[str, ...] = Field(default=(), max_length=MOST_VALUES)
    """Of one_of."""
    exact: bool = False
    """Whether case and accents count."""


class TagTest(Frozen):
    """Has the tag, or has it not."""

    kind: Literal["tag"] = "tag"
    tag: str = ""
    has: bool = True


class MembershipTest(Frozen):
    """Is in one of these states on a list, or is in none of them."""

    kind: Literal["membership"] = "membership"
    list: str = ""
    states: tuple[MembershipState, ...] = ("subscribed",)
    holds: bool = True


class AnswerTest(Frozen):
    """An answer of this submission, or its context (names with @), compared as text."""

    kind: Literal["answer"] = "answer"
    question: str = ""
    op: Comparison = "is"
    value: str = ""
    values: tuple[str, ...] = Field(default=(), max_length=MOST_VALUES)
    exact: bool = False


class SourceTest(Frozen):
    """This submission came in through one of these sources."""

    kind: Literal["source"] = "source"
    sources: tuple[str, ...] = ()


class ScoreTest(Frozen):
    """The score compared with a number."""

    kind: Literal["score"] = "score"
    op: Literal["less", "at_most", "more", "at_least", "is", "is_not"] = "at_least"
    value: int = 0


class HappenedTest(Frozen):
    """Something happened so many times: came in through a source, confirmed a list, was sent,
    opened or clicked in a message, an event by its name; within the last hours, before or after a
    date."""

    kind: Literal["happened"] = "happened"
    what: Happened = "submitted"
    about: str = ""
    """Id of the source, list or message, name of the event; any where it is empty."""
    link: str = Field(default="", max_length=500)
    """Of a click: what stands in the address of the link, exactly; any where it is empty."""
    detail: str = Field(default="", max_length=80)
    """Of an event: the name of something that was said with it, which has to be `detail_is`."""
    detail_is: str = Field(default="", max_length=200)
    """Compared as texts are; empty: said at all."""
    total_of: str = Field(default="", max_length=80)
    """Of an event: the name of a number that is summed over all times that count."""
    total_at_least: Decimal | None = Field(default=None, ge=0, le=10**12)
    at_least: int = Field(default=1, ge=0)
    at_most: int | None = Field(default=None, ge=0)
    within_hours: int | None = Field(default=None, ge=1, le=24 * 3660)
    before: date | None = None
    after: date | None = None
    """Both in the person's time zone."""


class RunTest(Frozen):
    """Is under way in a sequence, was ever in it, or never was."""

    kind: Literal["run"] = "run"
    sequence: str = ""
    state: Literal["under_way", "ever", "never"] = "ever"


class FrozenTest(Frozen):
    """Was among the people of a moment that were kept as a frozen group, or was not."""

    kind: Literal["frozen"] = "frozen"
    group: str = ""
    within: bool = True


class Group(Frozen):
    """All of, any of, or none of some conditions; all of nothing holds, any of nothing does not."""

    kind: Literal["all", "any", "none"] = "all"
    of: tuple["Condition", ...] = Field(default=(), max_length=50)

    @model_validator(mode="after")
    def _not_too_deep(self) -> "Group":
        if _depth(self) > DEEPEST:
            raise ValueError(f"conditions stand within each other at most {DEEPEST} deep")
        if sum(1 for _ in leaves(self)) > MOST_LEAVES:
            raise ValueError(f"a condition holds at most {MOST_LEAVES} comparisons")
        return self


Condition = Annotated[
    Group
    | FieldTest
    | TagTest
    | MembershipTest
    | AnswerTest
    | SourceTest
    | ScoreTest
    | HappenedTest
    | RunTest
    | FrozenTest,
    Field(discriminator="kind"),
]
Group.model_rebuild()


def _depth(condition: "Condition") -> int:
    """How many groups stand within each other; of what was checked part by part, so bounded."""
    if not isinstance(condition, Group):
        return 0
    return 1 + max((_depth(one) for one in condition.of), default=0)


class Circumstances(Frozen):
    """What a condition looks at besides the person: now, and the submission, if there is one."""

    now: datetime
    zone: str = "UTC"
    """Of people whose own zone is not known."""
    answers: Answers = ()
    source: str = ""


class Explained(Frozen):
    """A condition with what was seen and whether it held, and the same of its parts."""

    sentence: str
    seen: str = ""
    held: bool
    of: tuple["Explained", ...] = ()


Explained.model_rebuild()


def holds(condition: Condition, person: Person, seen: Circumstances, catalogue: Catalogue) -> bool:
    """Whether a condition holds for one person."""
    match condition:
        case Group():
            parts = (holds(one, person, seen, catalogue) for one in condition.of)
            if condition.kind == "any":
                return any(parts)
            return all(parts) if condition.kind == "all" else not any(parts)
        case FieldTest():
            return _field_holds(condition, person, seen, catalogue)
        case TagTest():
            return (condition.tag in person.tags) == condition.has
        case MembershipTest():
            return (person.membership(condition.list) in condition.states) == condition.holds
        case AnswerTest():
            answer = answer_to(seen.answers, condition.question) or ""
            return _text_holds(condition, answer)
        case SourceTest():
            return seen.source in condition.sources
        case ScoreTest():
            return _size_holds(condition.op, Decimal(person.score), Decimal(condition.value))
        case HappenedTest():
            counted = _counted(condition, person, seen)
            most, count = condition.at_most, len(counted)
            if condition.total_of and condition.total_at_least is not None:
                total = sum(amount_of(one.data.get(condition.total_of)) for one in counted)
                if total < condition.total_at_least:
                    return False
            return count >= condition.at_least and (most is None or count <= most)
        case RunTest():
            return _run_holds(condition, person)
        case FrozenTest():
            return (condition.group in person.groups) == condition.within


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


def leaves(condition: Condition) -> Iterator[Condition]:
    """Every comparison in a condition, without the groups."""
    if isinstance(condition, Group):
        for one in condition.of:
            yield from leaves(one)
    else:
        yield condition


def is_gone(leaf: Condition, catalogue: Catalogue) -> bool:
    """Whether a comparison names something that the workspace has no more."""
    match leaf:
        case FieldTest():
            return leaf.field not in catalogue.fields
        case TagTest():
            return leaf.tag not in catalogue.tags
        case MembershipTest():
            return leaf.list not in catalogue.lists
        case SourceTest():
            return any(one not in catalogue.sources for one in leaf.sources)
        case HappenedTest():
            known = _known_by(leaf, catalogue)
            return bool(leaf.about) and known is not None and leaf.about not in known
        case RunTest():
            return leaf.sequence not in catalogue.sequences
        case FrozenTest():
            return leaf.group not in catalogue.groups
        case _:
            return False


def _known_by(test: HappenedTest, catalogue: Catalogue) -> Mapping[str, str] | None:
    """Names by id of what may have happened; None for events, which are known by name."""
    match test.what:
        case "submitted":
            return catalogue.sources
        case "confirmed":
            return catalogue.lists
        case "sent" | "opened" | "clicked":
            return catalogue.messages
        case "event":
            return None


def _field_holds(
    test: FieldTest, person: Person, seen: Circumstances, catalogue: Catalogue
) -> bool:
    target = catalogue.fields.get(test.field)
    if target is None or test.op not in comparisons_of(target.type):
        return False
    value = person.values.get(target.key)
    if value in (None, "", ()):
        return test.op in _HOLD_FOR_MISSING
    if test.op in _EMPTY:
        return test.op == "not_empty"
    if isinstance(value, tuple):
        return (test.value in value) == (test.op == "contains")
    if isinstance(value, bool):
        value = "yes" if value else "no"
    match target.type:
        case "number":
            return _size_holds(test.op, kept_number(value), number_of(test.value))
        case "date":
            return _date_holds(test, value, today_of(person, seen))
        case "choice" | "country" | "language" | "time_zone" | "yes_no":
            return _key_holds(test, value)
        case _:
            return _text_holds(test, value)


def today_of(person: Person, seen: Circumstances) -> date:
    """The date in the person's time zone."""
    return seen.now.astimezone(_zone_of(person, seen)).date()


def _zone_of(person: Person, seen: Circumstances) -> ZoneInfo:
    return ZoneInfo(person.time_zone or seen.zone)


def _key_holds(test: FieldTest, value: str) -> bool:
    if test.op == "one_of":
        return value in test.values
    return (value == test.value) == (test.op == "is")


def _text_holds(test: FieldTest | AnswerTest, value: str) -> bool:
    # A text of which nothing can be seen is missing, as the database has it too.
    if not folded(value):
        return test.op in _HOLD_FOR_MISSING
    if test.op in _EMPTY:
        return test.op == "not_empty"
    plain = (lambda text: text) if test.exact else folded
    found, wanted = plain(value), plain(test.value)
    match test.op:
        case "is" | "is_not":
            return (found == wanted) == (test.op == "is")
        case "contains" | "not_contains":
            return (wanted in found) == (test.op == "contains")
        case "begins":
            return found.startswith(wanted)
        case "one_of":
            return found in {plain(one) for one in test.values}
        case _:
            return False


def _size_holds(op: str, value: Decimal | None, wanted: Decimal | None) -> bool:
    if value is None or wanted is None:
        return op in _HOLD_FOR_MISSING
    return {
        "is": value == wanted,
        "is_not": value != wanted,
        "less": value < wanted,
        "at_most": value <= wanted,
        "more": value > wanted,
        "at_least": value >= wanted,
    }.get(op, False)


def _date_holds(test: FieldTest, value: str, today: date) -> bool:
    found, wanted = iso_date(value), iso_date(test.value)
    if found is None:
        return test.op in _HOLD_FOR_MISSING
    if test.op in ("in_last_days", "in_next_days"):
        days = days_of(test.value)
        if days is None:
            return False
        if test.op == "in_last_days":
            return today - timedelta(days=days) <= found <= today
        return today <= found <= today + timedelta(days=days)
    if wanted is None:
        return test.op in _HOLD_FOR_MISSING
    return {
        "is": found == wanted,
        "is_not": found != wanted,
        "before": found < wanted,
        "after": found > wanted,
    }.get(test.op, False)


def iso_date(text: str) -> date | None:
    """A date as ISO 8601 writes it, or None."""
    try:
        return date.fromisoformat(text)
    except ValueError:
        return None


def days_of(text: str) -> int | None:
    """A number of days from 0 to 36,500, or None."""
    return int(text) if text.isascii() and text.isdigit() and int(text) <= 36_500 else None


_PLAIN = re.compile(r"-?[0-9]{1,100}(\.[0-9]{1,100})?")


def kept_number(text: str) -> Decimal | None:
    """A number as a field keeps it, in plain digits, or None."""
    return Decimal(text) if _PLAIN.fullmatch(text) else None


def number_of(text: str) -> Decimal | None:
    """A number as a member writes it into a condition, in plain digits, or None."""
    return kept_number(text.strip())


def amount_of(text: str | None) -> Decimal:
    """A number that was said with an event; 0 where it is none."""
    return Decimal(text) if text and AMOUNT.fullmatch(text) else Decimal(0)


AMOUNT = re.compile(r"-?[0-9]{1,15}(\.[0-9]{1,6})?")
"""A number as it counts in a total, here and in SQL."""


def _said_with(test: HappenedTest, one: Happening) -> bool:
    if not test.detail:
        return True
    detail = one.data.get(test.detail)
    return detail is not None and (not test.detail_is or folded(detail) == folded(test.detail_is))


def _counted(test: HappenedTest, person: Person, seen: Circumstances) -> list[Happening]:
    now, zone = seen.now, _zone_of(person, seen)
    since = now - timedelta(hours=test.within_hours) if test.within_hours else None
    return [
        one
        for one in person.happened
        if one.what == test.what
        and (not test.about or one.about == test.about)
        and (not test.link or test.link in one.link)
        and _said_with(test, one)
        and one.at <= now
        and (since is None or one.at >= since)
        and (test.before is None or one.at.astimezone(zone).date() < test.before)
        and (test.after is None or one.at.astimezone(zone).date() > test.after)
    ]


def _run_holds(test: RunTest, person: Person) -> bool:
    if test.state == "under_way":
        return test.sequence in person.under_way
    return (test.sequence in person.entered) == (test.state == "ever")


# In words.

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
            subject = target.label if target else _lacking("field", condition.field)
            return _say_test(subject, condition, target)
        case AnswerTest():
            return _say_answer(condition, form)
        case TagTest():
            name = catalogue.tags.get(condition.tag)
            tag = f"the tag {name}" if name else _lacking("tag", condition.tag)
            return f"{'has' if condition.has else 'does not have'} {tag}"
        case MembershipTest():
            name = catalogue.lists.get(condition.list) or _lacking("list", condition.list)
            states = " or ".join(
                "on no terms" if one == "none" else one for one in condition.states
            )
            joins = "to" if condition.states == ("subscribed",) else "on"
            return f"is {'' if condition.holds else 'not '}{states} {joins} {name}"
        case SourceTest():
            names = [
                catalogue.sources.get(one, "a source that is gone") for one in condition.sources
            ]
            return f"came from {' or '.join(names) or '(no source chosen)'}"
        case ScoreTest():
            return f"the score {_OPS[condition.op]} {condition.value}"
        case HappenedTest():
            return _say_happened(condition, catalogue)
        case RunTest():
            facts = catalogue.sequences.get(condition.sequence)
            name = facts.name if facts else _lacking("sequence", condition.sequence)
            words = {"under_way": "is currently in", "ever": "was in", "never": "was never in"}
            return f"{words[condition.state]} {name}"
        case FrozenTest():
            name = catalogue.groups.get(condition.group)
            group = f"the group {name}" if name else _lacking("group", condition.group)
            return f"is {'' if condition.within else 'not '}in {group}"


def _say_group(group: Group, catalogue: Catalogue, form: Form | None) -> str:
    parts = [
        f"({part})" if isinstance(one, Group) and len(one.of) > 1 else part
        for one in group.of
        if (part := say(one, catalogue, form))
    ]
    if not parts:
        return {"all": "everybody", "any": "nobody", "none": "everybody"}[group.kind]
    if group.kind == "none":
        return "none of: " + "; ".join(parts)
    return (" and " if group.kind == "all" else " or ").join(parts)


def _say_test(subject: str, test: FieldTest | AnswerTest, target: FieldFacts | None) -> str:
    if test.op in _EMPTY:
        return f"{subject} {_OPS[test.op]}"
    if test.op in ("in_last_days", "in_next_days"):
        return f"{subject} {_OPS[test.op]} {test.value} days"
    values = test.values if test.op == "one_of" else (test.value,)
    shown = [target.shown(one) if target else one for one in values]
    return f"{subject} {_OPS[test.op]} {' or '.join(shown) or '…'}"


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
    return _say_test(f"the answer to “{names.get(test.question, test.question)}”", shown, None)


def _detail_in_words(test: HappenedTest) -> str:
    """with product: Moon atlas, amount at least 50 in total"""
    parts = []
    if test.detail:
        parts.append(f"{test.detail}: {test.detail_is}" if test.detail_is else f"a {test.detail}")
    if test.total_of and test.total_at_least is not None:
        parts.append(f"{test.total_of} at least {test.total_at_least:f} in total")
    return f" with {', '.join(parts)}" if parts else ""


def _say_happened(test: HappenedTest, catalogue: Catalogue) -> str:
    about = test.about
    never = "never " if test.at_most == 0 else ""
    known = _known_by(test, catalogue)
    if known is not None:
        thing = {"submitted": "source", "confirmed": "list"}.get(test.what, "message")
        name = known.get(about, f"a {thing} that is gone") if about else f"any {thing}"
        what = {
            "submitted": f"{never}submitted through {name}",
            "confirmed": f"{never}confirmed {name}",
            "sent": f"was {never}sent {name}",
            "opened": f"{never}opened {name} (an estimate)",
            "clicked": f"{never}clicked {_link_in_words(test)} in {name}",
        }[test.what]
    else:
        what = (
            f"“{about}” {never}happened" if about else f"{'no' if never else 'any'} event happened"
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
    return f"a link with “{test.link}”" if test.link else "a link"


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
            times = len(_counted(condition, person, seen))
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
