"""Changing fields once people have values in them: rename, retype, merge, remove."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.db.models import Count, F, Func, QuerySet, TextField, Value
from django.db.models.functions import Cast

from core.documents import Because, Problem
from core.people import FieldFacts
from core.values import Choice, DateOrder, FieldType, Kept, ReadingOptions, read
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.names import free_name
from server.workspaces.shapes import Json

from .effects import index
from .facts import field_facts
from .ledger import Ledger
from .models import Fact, Field, Subscriber
from .trail import fact

_CHUNK = 1000
_EXAMPLES = 8


@dataclass(frozen=True)
class Retyping:
    """What another type would make of the values there are."""

    people: int
    unreadable: int
    examples: list[tuple[str, str]]
    """Some values that cannot be read, each with the reason."""


def people_by_key(workspace: Workspace) -> dict[str, int]:
    """How many people have a value in each field, by its key."""
    rows = Subscriber.objects.of(workspace).filter(is_test=False)
    counted = (
        rows.annotate(key=Func(F("values"), function="jsonb_object_keys"))
        .values("key")
        .annotate(people=Count("pk"))
        .order_by()
    )
    return {one["key"]: one["people"] for one in counted}


@changes("renamed the field “{field.label}” to “{label}”")
def rename_field(field: Field, label: str) -> Field:
    """Another label; the key stays, so that texts and routes go on."""
    label = free_name(
        Field.objects.of(field.workspace), label, "field", field="label", besides=field
    )
    field.label = label
    field.save(update_fields=["label"])
    catalogue_changed(field.workspace)
    return field


@changes("changed the choices of the field “{field.label}”")
def set_choices(field: Field, choices: tuple[Choice, ...]) -> Field:
    """Other choices; a value that is none of them any more stays as it is."""
    if field.type not in (Field.Type.CHOICE, Field.Type.CHOICES):
        raise refuse("no_choices", "choices", f"{field.label} is not a field of choices.")
    keys = [one.key for one in choices]
    if len(set(keys)) < len(keys) or not all(keys):
        raise refuse("choice_twice", "choices", "Two choices have the same key, or one has none.")
    field.choices = [one.model_dump(mode="json") for one in choices]
    field.save(update_fields=["choices"])
    catalogue_changed(field.workspace)
    return field


def preview_retype(
    field: Field, to: FieldType, choices: tuple[Choice, ...], order: DateOrder
) -> Retyping:
    """What `retype_field` would make of the values; nothing changes."""
    before, options = field_facts(field), _options(field, choices, order)
    people = unreadable = 0
    examples: list[tuple[str, str]] = []
    for chunk in _chunks(_with_value(field)):
        for row in chunk:
            people += 1
            value = read(to, _as_text(before, row.values[field.key]), options)
            if isinstance(value, Problem):
                unreadable += 1
                if len(examples) < _EXAMPLES:
                    examples.append((before.shown(_kept(row.values[field.key])), value.sentence))
    return Retyping(people, unreadable, examples)


@changes("changed the field “{field.label}” from {field.type} to {to}")
def retype_field(
    field: Field,
    to: FieldType,
    choices: tuple[Choice, ...],
    order: DateOrder,
    member: Member | None,
) -> Retyping:
    """Another type: values are read anew, and those that cannot be read go (the trail keeps them)."""
    if field.built_in or to == "email":
        raise refuse("built_in", "type", f"The type of {field.label} cannot be changed.")
    if to in ("choice", "choices") and len(choices) < 2:
        raise refuse("choices_missing", "choices", "Fewer than two choices.", "Add some.")
    before, options = field_facts(field), _options(field, choices, order)
    examples: list[tuple[str, str]] = []
    counts = {"people": 0, "unreadable": 0}
    with transaction.atomic():
        field.type = to
        field.choices = [one.model_dump(mode="json") for one in choices]
        after = field_facts(field)

        def change(row: Subscriber) -> tuple[Kept | None, Kept | None]:
            old = _kept(row.values[field.key])
            value = read(to, _as_text(before, old), options)
            counts["people"] += 1
            if isinstance(value, Problem):
                counts["unreadable"] += 1
                if len(examples) < _EXAMPLES:
                    examples.append((before.shown(old), value.sentence))
                return old, None
            return old, value

        sentence = f"{field.label} became a field of another type"
        _change_all(field, before, after, change, sentence, member)
        field.save(update_fields=["type", "choices"])
        catalogue_changed(field.workspace)
    return Retyping(counts["people"], counts["unreadable"], examples)


@changes("merged the field “{gone.label}” into “{kept.label}”")
def merge_fields(gone: Field, kept: Field, member: Member | None) -> int:
    """Values of `gone` go to `kept` where that is empty; `gone` is removed. How many moved."""
    if gone.pk == kept.pk or gone.built_in:
        raise refuse("bad_merge", "into", f"{gone.label} cannot be merged into that field.")
    source, target = field_facts(gone), field_facts(kept)
    options = _options(kept, target.choices, "unstated")
    moved = 0
    with transaction.atomic():
        for chunk in _locked_chunks(_with_value(gone)):
            ledger = Ledger()
            for row in chunk:
                old = row.values.pop(gone.key)
                value = read(target.type, _as_text(source, old), options)
                if kept.key not in row.values and not isinstance(value, Problem) and value:
                    row.values[kept.key] = value
                    moved += 1
                    sentence = f"{gone.label} was merged into {kept.label}"
                    _enter(ledger, row, target, None, value, sentence, member)
                index(row)
                ledger.change(row)
            ledger.write()
        workspace = gone.workspace
        gone.delete()
        catalogue_changed(workspace)
    return moved


@changes("removed the field “{field.label}”")
def remove_field(field: Field) -> int:
    """Remove a field and every value in it; of how many people."""
    if field.built_in:
        raise refuse("built_in", "field", f"{field.label} is built in and stays.")
    with transaction.atomic():
        rows = _with_value(field)
        count = rows.count()
        key = Cast(Value(field.key), TextField())
        without = {
            column: Func(F(column), key, template="(%(expressions)s)", arg_joiner=" - ")
            for column in ("values", "folded")
        }
        Subscriber.everywhere.filter(pk__in=rows.values("pk")).update(**without)
        workspace = field.workspace
        field.delete()
        catalogue_changed(workspace)
    return count


def _change_all(
    field: Field,
    before: FieldFacts,
    after: FieldFacts,
    change: Callable[[Subscriber], tuple[Kept | None, Kept | None]],
    sentence: str,
    member: Member | None,
) -> None:
    for chunk in _locked_chunks(_with_value(field)):
        ledger = Ledger()
        for row in chunk:
            old, value = change(row)
            if value == old:
                continue
            if value in (None, "", ()):
                del row.values[field.key]
            else:
                row.values[field.key] = value
            _enter(ledger, row, after, before.shown(old) if old else "", value, sentence, member)
            index(row)
            ledger.change(row)
        ledger.write()


def _enter(
    ledger: Ledger,
    row: Subscriber,
    field: FieldFacts,
    shown_before: str | None,
    value: Kept | None,
    sentence: str,
    member: Member | None,
) -> None:
    at: datetime = clock.now(row.workspace)
    name = (member.user.name or member.user.email) if member else ""
    what: Json = {
        "field": field.label,
        "key": field.key,
        "before": shown_before,
        "after": value,
        "shown_before": shown_before or "",
        "shown": field.shown(value) if value is not None else "",
    }
    because = Because(kind="member", sentence=sentence, member=name)
    ledger.facts.append(fact(row, Fact.Kind.FIELD, what, because, at))


def _with_value(field: Field) -> QuerySet[Subscriber]:
    return Subscriber.objects.of(field.workspace).filter(values__has_key=field.key)


def _locked_chunks(rows: QuerySet[Subscriber]) -> Iterator[list[Subscriber]]:
    """The same, each row locked and as it is then, in the order in which everybody locks them."""
    return _chunks(rows.select_for_update(of=("self",), no_key=True))


def _chunks(rows: QuerySet[Subscriber]) -> Iterator[list[Subscriber]]:
    """All rows in chunks, by key, whatever the caller changes on the way."""
    last = None
    while True:
        chunk = rows.order_by("pk") if last is None else rows.filter(pk__gt=last).order_by("pk")
        found = list(chunk.select_related("workspace")[:_CHUNK])
        if not found:
            return
        yield found
        last = found[-1].pk


def _options(field: Field, choices: tuple[Choice, ...], order: DateOrder) -> ReadingOptions:
    return ReadingOptions(choices=choices, date_order=order, country=field.workspace.country)


def _kept(value: Kept | list[str]) -> Kept:
    return tuple(value) if isinstance(value, list) else value


def _as_text(field: FieldFacts, value: Kept | list[str]) -> str:
    """A value as a visitor would have written it."""
    kept = _kept(value)
    if isinstance(kept, tuple):
        return "\n".join(field.shown(one) for one in kept)
    return field.shown(kept) if field.type in ("choice", "yes_no") else str(kept)
