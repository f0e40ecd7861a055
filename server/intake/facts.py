"""What exists in a workspace with its sources and members, and people with their history."""

from collections.abc import Iterable
from dataclasses import replace
from functools import lru_cache
from uuid import UUID

from core.people import Catalogue, Happening, Person
from server.people.facts import person_of
from server.people.models import Fact, Subscriber
from server.people.suppression import suppressed_among
from server.sequences.facts import catalogue_of
from server.sequences.models import Run
from server.workspaces.models import Member, Workspace

from .models import Source


def full_catalogue(workspace: Workspace) -> Catalogue:
    """Everything that a route may refer to, as of the workspace's count of changes."""
    return _full(workspace.pk, workspace.catalogue_edits)


@lru_cache(maxsize=128)
def _full(workspace_id: UUID, edits: int) -> Catalogue:
    workspace = Workspace(pk=workspace_id, catalogue_edits=edits)
    members = Member.objects.filter(workspace=workspace).select_related("user").order_by("pk")
    return replace(
        catalogue_of(workspace),
        sources={
            str(pk): name
            for pk, name in Source.objects.of(workspace).order_by("name").values_list("pk", "name")
        },
        members={str(one.pk): one.user.name or one.user.email for one in members},
    )


def people_of(
    subscribers: Iterable[Subscriber], workspace: Workspace, *, history: bool
) -> dict[UUID, Person]:
    """Subscribers for the core, in few statements; `history`: with what happened before."""
    rows = list(subscribers)
    ids = [one.pk for one in rows]
    entered: dict[UUID, set[str]] = {}
    under_way: dict[UUID, set[str]] = {}
    runs = Run.objects.of(workspace).filter(subscriber__in=ids)
    for person, sequence, ended in runs.values_list("subscriber_id", "sequence_id", "ended_at"):
        entered.setdefault(person, set()).add(str(sequence))
        if ended is None:
            under_way.setdefault(person, set()).add(str(sequence))
    happened: dict[UUID, list[Happening]] = {}
    if history:
        facts = Fact.objects.of(workspace).filter(
            subscriber__in=ids, kind__in=["submitted", "sent", "event"]
        )
        for person, kind, about, at in facts.values_list("subscriber_id", "kind", "about", "at"):
            one = Happening(what=kind, about=about, at=at)
            happened.setdefault(person, []).append(one)
    suppressed = suppressed_among(workspace, [one.address for one in rows])
    return {
        one.pk: replace(
            person_of(one, frozenset(entered.get(one.pk, ()))),
            under_way=frozenset(under_way.get(one.pk, ())),
            happened=tuple(happened.get(one.pk, ())),
            suppressed=one.address in suppressed,
        )
        for one in rows
    }
