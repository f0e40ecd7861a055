"""Rows as the rules see them."""

from collections.abc import Iterator
from functools import lru_cache
from typing import Any
from uuid import UUID

from django.db.models import Q, QuerySet
from django.db.models.fields.json import KeyTextTransform, KeyTransform

from core.people import FieldFacts, Happening, MembershipState, Person
from core.values import Choice, Kept
from server.workspaces.models import Workspace

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
        said = subscriber.values.get(one.key) if one.type == "language" else None
        if isinstance(said, str) and said:
            return said
    return subscriber.workspace.language


def memberships_of(subscriber: Subscriber) -> dict[str, MembershipState]:
    """States on the lists, by id of the list."""
    rows = at_hand.memberships_of(subscriber)
    return {str(one.list_id): one.state for one in rows}  # type: ignore[misc]


def values_of(subscriber: Subscriber) -> dict[str, Kept]:
    """The values of the fields, the address among them; JSON's lists as the core has them."""
    return kept_values(subscriber.values, subscriber.address)


def kept_values(stored: dict[str, Any], address: str) -> dict[str, Kept]:
    """Values as they are stored, as the core has them."""
    values = {key: tuple(one) if isinstance(one, list) else one for key, one in stored.items()}
    return {**values, "email": address}


def person_of(subscriber: Subscriber, entered: frozenset[str] = frozenset()) -> Person:
    """A subscriber, for the core. `entered`: the sequences they are or were in."""
    return Person(
        address=subscriber.address,
        values=values_of(subscriber),
        tags=frozenset(map(str, at_hand.tags_of(subscriber))),
        memberships=memberships_of(subscriber),
        entered=entered,
        score=subscriber.score,
        owner=str(subscriber.owner_id) if subscriber.owner_id else None,
        time_zone=subscriber.time_zone or subscriber.workspace.time_zone,
        own_zone=subscriber.time_zone,
        left_at={
            str(one.list_id): one.left_at
            for one in at_hand.memberships_of(subscriber)
            if one.left_at
        },
        left_all_at=subscriber.left_all_at,
    )


def happenings(facts: QuerySet[Fact]) -> Iterator[tuple[UUID, Happening]]:
    """What of these facts a condition can count, each with whom it happened to."""
    link = KeyTextTransform("link", "what")
    data = KeyTransform("data", "what")
    rows = facts.filter(HAPPENED).values_list("subscriber_id", "kind", "about", "at", link, data)
    for person, kind, about, at, where, said in rows:
        what = "confirmed" if kind == "membership" else kind
        yield (
            person,
            Happening(what=what, about=about, at=at, link=where or "", data=said or {}),  # type: ignore[arg-type]
        )


def kinds_of(what: str) -> Q:
    """The facts that say that something of this kind happened."""
    return CONFIRMED if what == "confirmed" else Q(kind=what)


def reader_of(subscriber: Subscriber) -> Person:
    """A subscriber as the reader of a text: the values alone."""
    return Person(address=subscriber.address, values=values_of(subscriber))
