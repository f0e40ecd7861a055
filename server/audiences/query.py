"""A condition compiled to SQL: everybody whom it fits, in one statement.

The twin of `core.conditions.holds`; `tests/server/test_conditions.py` holds the two against
each other. A missing value is NULL here, which is neither true nor false to SQL; so each
comparison says what it is for a missing value.
"""

from datetime import datetime, timedelta
from decimal import Decimal
from typing import Any, TypeVar
from uuid import UUID

from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.models import (
    BooleanField,
    Case,
    Count,
    DateField,
    DecimalField,
    Exists,
    ExpressionWrapper,
    F,
    Func,
    IntegerField,
    OuterRef,
    Q,
    QuerySet,
    Subquery,
    Sum,
    TextField,
    Value,
    When,
)
from django.db.models.expressions import Combinable
from django.db.models.fields.json import KeyTextTransform, KeyTransform
from django.db.models.functions import Cast, Coalesce, NullIf
from django.db.models.lookups import (
    Contains,
    Exact,
    GreaterThan,
    GreaterThanOrEqual,
    In,
    IsNull,
    LessThan,
    LessThanOrEqual,
    Lookup,
    StartsWith,
)
from django.db.models.sql.compiler import SQLCompiler

from core.conditions import (
    AMOUNT,
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
    comparisons_of,
    days_of,
    iso_date,
    number_of,
)
from core.documents import folded
from core.people import Catalogue, FieldFacts
from server.people.facts import kinds_of
from server.people.models import Fact, FrozenMember, Membership, Subscriber, Tagging
from server.sequences.models import Run
from server.workspaces.models import Workspace

_SIZES: "dict[str, type[Lookup[bool]]]" = {
    "is": Exact,
    "is_not": Exact,
    "less": LessThan,
    "at_most": LessThanOrEqual,
    "more": GreaterThan,
    "at_least": GreaterThanOrEqual,
    "before": LessThan,
    "after": GreaterThan,
}
Sql = Combinable | Q
Compiled = tuple[str, list[Any]]
"""A part of a statement, with its values."""
M = TypeVar("M", Tagging, Run, Membership, Fact, FrozenMember)
_KEYED = ("choice", "country", "language", "time_zone", "yes_no")
_NEVER = Value(False, output_field=BooleanField())
_ALWAYS = Value(True, output_field=BooleanField())


def audience_query(
    condition: Condition, workspace: Workspace, catalogue: Catalogue, now: datetime
) -> QuerySet[Subscriber]:
    """Everybody in the workspace whom the condition fits; people made by tests are nobody."""
    rows: QuerySet[Subscriber] = Subscriber.objects.of(workspace).filter(is_test=False)
    return rows.filter(whom_it_fits(condition, workspace, catalogue, now))


def whom_it_fits(
    condition: Condition, workspace: Workspace, catalogue: Catalogue, now: datetime
) -> Q:
    """The same for a query over subscribers that asks for more."""
    return _compiled(condition, _Seen(workspace, catalogue, now))


class _Seen:
    """What compiling looks at."""

    def __init__(self, workspace: Workspace, catalogue: Catalogue, now: datetime) -> None:
        self.workspace = workspace
        self.catalogue = catalogue
        self.now = now


def _compiled(condition: Condition, seen: _Seen) -> Q:
    match condition:
        case Group():
            return _group(condition, seen)
        case FieldTest():
            return Q(_field(condition, seen))
        case TagTest():
            tagged = Exists(_theirs(Tagging).filter(tag=_id(condition.tag)))
            return Q(tagged) if condition.has else ~Q(tagged)
        case MembershipTest():
            found = _membership(condition)
            return found if condition.holds else ~found
        case ScoreTest():
            size = Q(_SIZES[condition.op](F("score"), condition.value))
            return ~size if condition.op == "is_not" else size
        case HappenedTest():
            return _happened(condition, seen)
        case RunTest():
            runs = _theirs(Run).filter(sequence=_id(condition.sequence))
            if condition.state == "under_way":
                return Q(Exists(runs.filter(ended_at=None)))
            return Q(Exists(runs)) if condition.state == "ever" else ~Q(Exists(runs))
        case FrozenTest():
            held = Exists(_theirs(FrozenMember).filter(group=_id(condition.group)))
            return Q(held) if condition.within else ~Q(held)
        case _:
            # An answer or a source is of one submission, and here there is none.
            return _of_no_submission(condition)


def _of_no_submission(condition: AnswerTest | SourceTest) -> Q:
    holds = condition.kind == "answer" and condition.op in ("is_not", "not_contains", "empty")
    return Q(_ALWAYS if holds else _NEVER)


def _group(group: Group, seen: _Seen) -> Q:
    parts = [_compiled(one, seen) for one in group.of]
    if not parts:
        return Q(_NEVER if group.kind == "any" else _ALWAYS)
    found = parts[0]
    for part in parts[1:]:
        found = found & part if group.kind == "all" else found | part
    return ~found if group.kind == "none" else found


def _field(test: FieldTest, seen: _Seen) -> Sql:
    target = seen.catalogue.fields.get(test.field)
    if target is None or test.op not in comparisons_of(target.type):
        return _NEVER
    if target.key == "email":
        return _text(test, F("address"), KeyTextTransform("email", "folded"))
    if test.op in ("empty", "not_empty"):
        has = Q(values__has_key=target.key) & ~Q(values__contains={target.key: ""})
        return _bool(has if test.op == "not_empty" else ~has)
    value = NullIf(_key("values", target), Value("", output_field=TextField()))
    match target.type:
        case "choices":
            has_it = Q(values__contains={target.key: [test.value]})
            return _bool(has_it if test.op == "contains" else ~has_it)
        case "number":
            return _size(test, _number(value), number_of(test.value))
        case "date":
            return _date(test, value, seen)
        case _ if target.type in _KEYED:
            return _keyed(test, target, value)
        case _:
            bare = NullIf(_key("folded", target), Value("", output_field=TextField()))
            # A text of which nothing can be seen is missing, however it is compared.
            seen_at_all = Case(When(IsNull(bare, False), then=value), output_field=TextField())
            return _text(test, seen_at_all, bare)


def _key(column: str, target: FieldFacts) -> Sql:
    return KeyTextTransform(target.key, column)


def _keyed(test: FieldTest, target: FieldFacts, value: Sql) -> Sql:
    def stored(text: str) -> str:
        if target.type != "yes_no":
            return text
        # A yes is kept as JSON's true; what is neither fits nobody.
        return {"yes": "true", "no": "false"}.get(text, "neither")

    if test.op == "one_of":
        return _known(In(value, [stored(one) for one in test.values]) if test.values else _NEVER)
    return _is(test.op, value, stored(test.value))


def _text(test: FieldTest, plain: Sql, bare: Sql) -> Sql:
    value = plain if test.exact else bare
    wanted = test.value if test.exact else folded(test.value)
    match test.op:
        case "empty" | "not_empty":
            return _bool(Q(_ALWAYS if test.op == "not_empty" else _NEVER))
        case "contains":
            return _known(Contains(value, wanted))
        case "not_contains":
            return _missing_holds(Contains(value, wanted))
        case "begins":
            return _known(StartsWith(value, wanted))
        case "one_of":
            texts = [one if test.exact else folded(one) for one in test.values]
            return _known(In(value, texts) if texts else _NEVER)
        case _:
            return _is(test.op, value, wanted)


def _is(op: str, value: Sql, wanted: str) -> Sql:
    equal = Exact(value, wanted)
    return _known(equal) if op == "is" else _missing_holds(equal)


def _known(found: Sql) -> Sql:
    """What does not hold for a missing value."""
    return Coalesce(_bool(Q(found)), _NEVER)


def _missing_holds(found: Sql) -> Sql:
    """The opposite of `found`, which holds for a missing value too."""
    return _bool(~Q(_known(found)))


def _bool(found: Q) -> Sql:
    return ExpressionWrapper(found, output_field=BooleanField())


def _number(value: Sql) -> Sql:
    """The value as a number; what is none is missing, and never an error of the statement."""
    return _Number(value)


class _Number(Func):
    """A text as a number where it is one; the text stands twice in the statement."""

    output_field = DecimalField()

    def as_sql(  # type: ignore[override]
        self, compiler: SQLCompiler, connection: BaseDatabaseWrapper, **_: object
    ) -> Compiled:
        text, values = compiler.compile(self.source_expressions[0])
        is_one = f"({text}) ~ '^-?[0-9]{{1,100}}(\\.[0-9]{{1,100}})?$'"
        return f"CASE WHEN {is_one} THEN ({text})::numeric END", [*values, *values]


def _size(test: FieldTest, value: Sql, wanted: Decimal | None) -> Sql:
    if wanted is None:
        return _bool(Q(_ALWAYS if test.op == "is_not" else _NEVER))
    number = Func(
        Value(str(wanted)), template="(%(expressions)s)::numeric", output_field=DecimalField()
    )
    found = _SIZES[test.op](value, number)
    return _missing_holds(found) if test.op == "is_not" else _known(found)


def _date(test: FieldTest, value: Sql, seen: _Seen) -> Sql:
    """Dates are kept as ISO 8601, which sorts as text does. One without a year is before or after nothing."""
    value = _WithYear(value)
    if test.op in ("in_last_days", "in_next_days"):
        days = days_of(test.value)
        if days is None:
            return _NEVER
        first, last = (-days, 0) if test.op == "in_last_days" else (0, days)
        return _known(
            Q(GreaterThanOrEqual(value, _day(seen, first)))
            & Q(LessThanOrEqual(value, _day(seen, last)))
        )
    wanted = iso_date(test.value)
    if wanted is None:
        return _bool(Q(_ALWAYS if test.op == "is_not" else _NEVER))
    if test.op in ("is", "is_not"):
        return _is(test.op, value, wanted.isoformat())
    return _known(_SIZES[test.op](value, wanted.isoformat()))


def _day(seen: _Seen, days: int) -> Sql:
    """The date so many days from today in the person's own zone, as text."""
    zone = _zone(F("time_zone"), seen)
    return _LocalDay(zone, Value(seen.now.isoformat()), Value(days))


class _WithYear(Func):
    """A date that has its year; the text stands twice in the statement."""

    output_field = TextField()

    def as_sql(  # type: ignore[override]
        self, compiler: SQLCompiler, connection: BaseDatabaseWrapper, **_: object
    ) -> Compiled:
        text, values = compiler.compile(self.source_expressions[0])
        return f"CASE WHEN left({text}, 2) <> '--' THEN {text} END", [*values, *values]


class _LocalDay(Func):
    """The date, in a zone (first), of a moment (second), plus days (third); as text."""

    output_field = TextField()

    def as_sql(  # type: ignore[override]
        self, compiler: SQLCompiler, connection: BaseDatabaseWrapper, **_: object
    ) -> Compiled:
        zone, moment, days = (compiler.compile(one) for one in self.source_expressions)
        statement = (
            f"to_char((({moment[0]}::timestamptz AT TIME ZONE {zone[0]})::date"
            f" + ({days[0]})::integer), 'YYYY-MM-DD')"
        )
        return statement, [*moment[1], *zone[1], *days[1]]


def _membership(test: MembershipTest) -> Q:
    rows = _theirs(Membership).filter(list=_id(test.list))
    states = [one for one in test.states if one != "none"]
    found = Q(Exists(rows.filter(state__in=states))) if states else Q(_NEVER)
    return found | ~Q(Exists(rows.exclude(state="none"))) if "none" in test.states else found


def _happened(test: HappenedTest, seen: _Seen) -> Q:
    rows = _theirs(Fact).filter(kinds_of(test.what), at__lte=seen.now)
    if test.about:
        rows = rows.filter(about=test.about)
    if test.link:
        rows = rows.alias(link=KeyTextTransform("link", "what")).filter(link__contains=test.link)
    if test.detail:
        rows = rows.alias(detail=_within("folded", test.detail))
        wanted = Q(detail=folded(test.detail_is)) if test.detail_is else Q(detail__isnull=False)
        rows = rows.filter(wanted)
    if test.within_hours:
        rows = rows.filter(at__gte=seen.now - timedelta(hours=test.within_hours))
    if test.before:
        rows = rows.filter(LessThan(_local_date(seen), test.before))
    if test.after:
        rows = rows.filter(GreaterThan(_local_date(seen), test.after))
    if test.total_of and test.total_at_least is not None:
        return _total(rows, test) & _times(rows, test)
    return _times(rows, test)


def _within(part: str, name: str) -> Func:
    """What was said with an event by this name: exactly as it is written, a dot or a number too."""
    return Func(
        KeyTransform(part, "what"),
        Value(name),
        function="jsonb_extract_path_text",
        output_field=TextField(),
    )


def _total(rows: QuerySet[Fact], test: HappenedTest) -> Q:
    """Whether the numbers add up to so much."""
    counted = rows.alias(amount=_within("data", test.total_of))
    counted = counted.filter(amount__regex=f"^({AMOUNT.pattern})$")
    number = DecimalField(max_digits=30, decimal_places=6)
    amount = Sum(Cast(_within("data", test.total_of), number))
    total = counted.order_by().values("subscriber").annotate(n=amount).values("n")
    sum_of = Coalesce(Subquery(total, output_field=number), Value(0, output_field=number))
    return Q(GreaterThanOrEqual(sum_of, test.total_at_least))


def _times(rows: QuerySet[Fact], test: HappenedTest) -> Q:
    """Whether it happened so many times."""
    if test.at_most is None and test.at_least <= 1:
        return Q(Exists(rows)) if test.at_least else Q(_ALWAYS)
    if test.at_most == 0:
        return ~Q(Exists(rows)) if test.at_least == 0 else Q(_NEVER)
    counted = rows.order_by().values("subscriber").annotate(n=Count("pk")).values("n")
    count = Coalesce(Subquery(counted, output_field=IntegerField()), 0)
    found = Q(GreaterThanOrEqual(count, test.at_least))
    return found if test.at_most is None else found & Q(LessThanOrEqual(count, test.at_most))


def _local_date(seen: _Seen) -> Sql:
    """The date of a fact in its person's own zone."""
    zone = _zone(OuterRef("time_zone"), seen)
    return Func(
        F("at"),
        zone,
        arg_joiner=" AT TIME ZONE ",
        template="(%(expressions)s)::date",
        output_field=DateField(),
    )


def _zone(own: Sql, seen: _Seen) -> Sql:
    return Coalesce(NullIf(own, Value("")), Value(seen.workspace.time_zone))


def _theirs(model: type[M]) -> QuerySet[M]:
    rows: QuerySet[M] = model.everywhere.filter(subscriber=OuterRef("pk"))
    return rows


def _id(text: str) -> UUID | None:
    """An id, or None, which is the id of nothing."""
    try:
        return UUID(text)
    except ValueError:
        return None
