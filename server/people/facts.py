"""Rows as the rules see them."""

from collections.abc import Iterable, Iterator
from datetime import datetime
from functools import lru_cache
from operator import attrgetter
from typing import Any, NamedTuple
from uuid import UUID

from django.db.models import Q, QuerySet
from django.db.models.fields.json import KeyTextTransform, KeyTransform

from core.people import FieldFacts, Happening, Person
from core.values import Choice, Kept
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

from . import at_hand
from .models import CONFIRMED, HAPPENED, Fact, Field, Subscriber


def field_facts(field: Field) -> FieldFacts:
    """A field, for the core."""
    return FieldFacts(
        id=str(field.pk),
        key=field.key,
        label=field.label,
        type=field.type,  # type: ignore[arg-type]
        choices=tuple(Choice.model_validate(one) for one in field.choices),
    )


def fields_of(workspace: Workspace) -> dict[str, FieldFacts]:
    """The fields of a workspace, by id, as of its latest change."""
    return _fields(workspace.pk, workspace.catalogue_version)


@lru_cache(maxsize=256)
def _fields(workspace_id: UUID, version: UUID) -> dict[str, FieldFacts]:
    rows = Field.objects.of(Workspace(pk=workspace_id)).order_by("pk")
    return {str(one.pk): field_facts(one) for one in rows}


def language_of(subscriber: Subscriber) -> str:
    """The language of somebody, where a field says it; else that of the workspace."""
    for one in fields_of(subscriber.workspace).values():
        stated = subscriber.values.get(one.key) if one.type == "language" else None
        if isinstance(stated, str) and stated:
            return stated
    return subscriber.workspace.language


def values_of(subscriber: Subscriber) -> dict[str, Kept]:
    """The values of the fields, the address among them; JSON's lists as the core has them."""
    return kept_values(subscriber.values, subscriber.address)


def kept_values(stored: Json, address: str) -> dict[str, Kept]:
    """Values as they are stored, as the core has them."""
    values = {key: tuple(one) if isinstance(one, list) else one for key, one in stored.items()}
    return {**values, "email": address}


class PersonColumns(NamedTuple):
    """What the core sees of a subscriber's own row."""

    pk: UUID
    address: str
    values: Json
    score: int
    owner_id: UUID | None
    time_zone: str
    left_all_at: datetime | None
    gap_days: int


_columns = attrgetter(*PersonColumns._fields)


def columns_of(row: Subscriber) -> PersonColumns:
    """The columns of a row that was read."""
    return PersonColumns._make(_columns(row))


def make_person(
    row: PersonColumns,
    workspace: Workspace,
    tags: Iterable[UUID],
    memberships: Iterable[tuple[UUID, str, datetime | None]],
    **known: Any,
) -> Person:
    """Somebody as the core sees them: the one place that makes a person of rows. `memberships`: list, state
    and when they last left it; `known`: what stands in other rooms, by the names of `Person`."""
    own = list(memberships)
    return Person(
        address=row.address,
        values=kept_values(row.values, row.address),
        tags=frozenset(map(str, tags)),
        memberships={str(one): state for one, state, _ in own},  # type: ignore[misc]
        score=row.score,
        owner=str(row.owner_id) if row.owner_id else None,
        time_zone=row.time_zone or workspace.time_zone,
        own_zone=row.time_zone,
        left_at={str(one): left_at for one, _, left_at in own if left_at},
        left_all_at=row.left_all_at,
        gap_days=row.gap_days,
        **known,
    )


def person_of(subscriber: Subscriber, *, tags: bool = True, **known: Any) -> Person:
    """A subscriber, for the core. Without `tags` these are not read; `known` as in `make_person`."""
    return make_person(
        columns_of(subscriber),
        subscriber.workspace,
        at_hand.tags_of(subscriber) if tags else (),
        ((one.list_id, one.state, one.left_at) for one in at_hand.memberships_of(subscriber)),
        **known,
    )


def happenings(facts: QuerySet[Fact]) -> Iterator[tuple[UUID, Happening]]:
    """What of these facts a condition can count, each with whom it happened to."""
    link = KeyTextTransform("link", "what")
    data = KeyTransform("data", "what")
    rows = facts.filter(HAPPENED).values_list("subscriber_id", "kind", "about", "at", link, data)
    for person, kind, about, at, where, stated in rows:
        what = "confirmed" if kind == "membership" else kind
        yield (
            person,
            Happening(what=what, about=about, at=at, link=where or "", data=stated or {}),  # type: ignore[arg-type]
        )


def kinds_of(what: str) -> Q:
    """The facts that say that something of this kind happened."""
    return CONFIRMED if what == "confirmed" else Q(kind=what)


def reader_of(subscriber: Subscriber) -> Person:
    """A subscriber as the reader of a text: the values alone."""
    return Person(address=subscriber.address, values=values_of(subscriber))
