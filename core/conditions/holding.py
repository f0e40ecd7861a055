"""Whether a condition holds for one person.

The server compiles the same document to SQL for everybody (`server/audiences/query.py`); a property test holds the
two against each other.
"""

from datetime import date, datetime, timedelta
from decimal import Decimal
from zoneinfo import ZoneInfo

from ..documents import Frozen, folded
from ..people import Catalogue, Happening, Person
from ..reading import Answers, answer_to
from .document import (
    EMPTY,
    HOLD_FOR_MISSING,
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
    amount_of,
    comparisons_of,
    days_of,
    iso_date,
    kept_number,
    number_of,
)


class Circumstances(Frozen):
    """What a condition looks at besides the person: now, and the submission, if there is one."""

    now: datetime
    zone: str = "UTC"
    """Of people whose own zone is not known."""
    answers: Answers = ()
    source: str = ""


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
            times = counted(condition, person, seen)
            most, count = condition.at_most, len(times)
            if condition.total_of and condition.total_at_least is not None:
                total = sum(amount_of(one.data.get(condition.total_of)) for one in times)
                if total < condition.total_at_least:
                    return False
            return count >= condition.at_least and (most is None or count <= most)
        case RunTest():
            return _run_holds(condition, person)
        case FrozenTest():
            return (condition.group in person.groups) == condition.within


def _field_holds(
    test: FieldTest, person: Person, seen: Circumstances, catalogue: Catalogue
) -> bool:
    target = catalogue.fields.get(test.field)
    if target is None or test.op not in comparisons_of(target.type):
        return False
    value = person.values.get(target.key)
    if value in (None, "", ()):
        return test.op in HOLD_FOR_MISSING
    if test.op in EMPTY:
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
        return test.op in HOLD_FOR_MISSING
    if test.op in EMPTY:
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
        return op in HOLD_FOR_MISSING
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
        return test.op in HOLD_FOR_MISSING
    if test.op in ("in_last_days", "in_next_days"):
        days = days_of(test.value)
        if days is None:
            return False
        if test.op == "in_last_days":
            return today - timedelta(days=days) <= found <= today
        return today <= found <= today + timedelta(days=days)
    if wanted is None:
        return test.op in HOLD_FOR_MISSING
    return {
        "is": found == wanted,
        "is_not": found != wanted,
        "before": found < wanted,
        "after": found > wanted,
    }.get(test.op, False)


def _said_with(test: HappenedTest, one: Happening) -> bool:
    if not test.detail:
        return True
    detail = one.data.get(test.detail)
    return detail is not None and (not test.detail_is or folded(detail) == folded(test.detail_is))


def counted(test: HappenedTest, person: Person, seen: Circumstances) -> list[Happening]:
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
