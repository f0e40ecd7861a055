"""Conditions as documents: all of, any of, none of, nested, over comparisons of a subject and a value."""

import re
from collections.abc import Iterator, Mapping
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..documents import Frozen
from ..people import Catalogue, Happened, MembershipState
from ..values import FieldType

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
MOST_PARTS = 50
"""Parts of a group."""
MOST_VALUES = 500
"""Values of one comparison."""
HOLD_FOR_MISSING = ("is_not", "not_contains", "empty")
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
EMPTY: tuple[Comparison, ...] = ("empty", "not_empty")


def comparisons_of(field_type: FieldType) -> tuple[Comparison, ...]:
    """The comparisons that a field of this type can be put to."""
    match field_type:
        case "number":
            return (*_SIZES, *EMPTY)
        case "date":
            return (*_DATES, *EMPTY)
        case "choices":
            return ("contains", "not_contains", *EMPTY)
        case "choice" | "country" | "language" | "time_zone" | "yes_no":
            return (*_KEYS, *EMPTY)
        case _:
            return (*_TEXTS, *EMPTY)


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
    of: tuple["Condition", ...] = Field(default=(), max_length=MOST_PARTS)

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
            known = known_by(leaf, catalogue)
            return bool(leaf.about) and known is not None and leaf.about not in known
        case RunTest():
            return leaf.sequence not in catalogue.sequences
        case FrozenTest():
            return leaf.group not in catalogue.groups
        case _:
            return False


def known_by(test: HappenedTest, catalogue: Catalogue) -> Mapping[str, str] | None:
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
