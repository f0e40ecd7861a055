"""People as the core sees them, with their runs and their history, a set at a time."""

from collections.abc import Iterable
from collections.abc import Sequence as Sequence_
from dataclasses import replace
from datetime import datetime
from operator import attrgetter
from typing import Any
from uuid import UUID

from core.people import Happening, MembershipState, Person
from server.mail.deciding import last_marketing
from server.people.facts import happenings, kept_values, person_of
from server.people.models import Fact, Membership, Subscriber, Tagging
from server.people.suppression import suppressed_among
from server.sequences.models import Run
from server.workspaces.among import among
from server.workspaces.models import Workspace


def people_of(
    subscribers: Iterable[Subscriber], workspace: Workspace, *, history: bool
) -> dict[UUID, Person]:
    """Subscribers for the core, in few statements; `history`: with what happened before."""
    rows = list(subscribers)
    past = _past(workspace, {one.pk: one.address for one in rows}, history=history)
    return {one.pk: replace(person_of(one), **past[one.pk]) for one in rows}


def full_people(workspace: Workspace, subscribers: Iterable[Subscriber]) -> dict[UUID, Person]:
    """The same, with all that a condition can look at."""
    return people_of(subscribers, workspace, history=True)


def persons_by_id(
    workspace: Workspace, people: Iterable[UUID], *, history: bool
) -> dict[UUID, Person]:
    """The same for people who are only looked at: without a row of Django's for each."""
    rows = Subscriber.objects.of(workspace).filter(among("pk", people))
    return _persons(workspace, list(rows.values_list(*_COLUMNS)), history=history)


def persons_of_rows(
    workspace: Workspace, rows: Iterable[Subscriber], *, history: bool
) -> dict[UUID, Person]:
    """The same for people whose rows were read since they were locked."""
    return _persons(workspace, [_columns(one) for one in rows], history=history)


_COLUMNS = (
    "pk",
    "address",
    "values",
    "score",
    "owner_id",
    "time_zone",
    "left_all_at",
    "gap_days",
)
_columns = attrgetter(*_COLUMNS)


def _persons(
    workspace: Workspace, found: Sequence_[tuple[Any, ...]], *, history: bool
) -> dict[UUID, Person]:
    ids = [row[0] for row in found]
    past = _past(workspace, {row[0]: row[1] for row in found}, history=history)
    # Only where something depends on it.
    asked = ids if workspace.email_gap_days else [row[0] for row in found if row[7]]
    last = last_marketing(workspace, asked, planned=True) if asked else {}
    tags: dict[UUID, set[str]] = {}
    taggings = Tagging.objects.of(workspace).filter(among("subscriber", ids))
    for person, tag in taggings.values_list("subscriber_id", "tag_id"):
        tags.setdefault(person, set()).add(str(tag))
    states: dict[UUID, dict[str, MembershipState]] = {}
    memberships = Membership.objects.of(workspace).filter(among("subscriber", ids))
    left: dict[UUID, dict[str, datetime]] = {}
    for person, one, state, left_at in memberships.values_list(
        "subscriber_id", "list_id", "state", "left_at"
    ):
        states.setdefault(person, {})[str(one)] = state
        if left_at:
            left.setdefault(person, {})[str(one)] = left_at
    return {
        pk: Person(
            address=address,
            values=kept_values(values, address),
            tags=frozenset(tags.get(pk, ())),
            memberships=states.get(pk, {}),
            score=score,
            owner=str(owner) if owner else None,
            time_zone=time_zone or workspace.time_zone,
            own_zone=time_zone,
            left_at=left.get(pk, {}),
            left_all_at=left_all_at,
            gap_days=gap_days,
            last_marketing_at=last.get(pk),
            **past[pk],
        )
        for pk, address, values, score, owner, time_zone, left_all_at, gap_days in found
    }


def _past(
    workspace: Workspace, addresses: dict[UUID, str], *, history: bool
) -> dict[UUID, dict[str, Any]]:
    """What of a person is not in their own row: runs, what happened, whether they are suppressed."""
    if not addresses:
        return {}
    entered: dict[UUID, set[str]] = {}
    under_way: dict[UUID, set[str]] = {}
    runs = Run.objects.of(workspace).filter(among("subscriber", addresses))
    for person, sequence, ended in runs.values_list("subscriber_id", "sequence_id", "ended_at"):
        entered.setdefault(person, set()).add(str(sequence))
        if ended is None:
            under_way.setdefault(person, set()).add(str(sequence))
    happened: dict[UUID, list[Happening]] = {}
    if history:
        facts = Fact.objects.of(workspace).filter(among("subscriber", addresses))
        for person, one in happenings(facts):
            happened.setdefault(person, []).append(one)
    suppressed = suppressed_among(workspace, addresses.values())
    return {
        pk: {
            "entered": frozenset(entered.get(pk, ())),
            "under_way": frozenset(under_way.get(pk, ())),
            "happened": tuple(happened.get(pk, ())),
            "suppressed": address in suppressed,
        }
        for pk, address in addresses.items()
    }
