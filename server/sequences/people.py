"""People as the core sees them, with their runs and their history, a set at a time."""

from collections.abc import Iterable
from collections.abc import Sequence as Sequence_
from datetime import datetime
from uuid import UUID

from core.people import Happening, Person
from server.mail.deciding import last_marketing
from server.people.facts import PersonColumns, columns_of, happenings, make_person, person_of
from server.people.models import Fact, FrozenMember, Membership, Subscriber, Tagging
from server.people.suppression import suppressed_among
from server.sequences.models import Run
from server.workspaces.among import among
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json


def people_of(
    subscribers: Iterable[Subscriber], workspace: Workspace, *, history: bool
) -> dict[UUID, Person]:
    """Subscribers for the core, in few statements; `history`: with what happened before."""
    rows = list(subscribers)
    past = _past(workspace, {one.pk: one.address for one in rows}, history=history)
    return {one.pk: person_of(one, **past[one.pk]) for one in rows}


def full_people(workspace: Workspace, subscribers: Iterable[Subscriber]) -> dict[UUID, Person]:
    """The same, with all that a condition can look at."""
    return people_of(subscribers, workspace, history=True)


def persons_by_id(
    workspace: Workspace, people: Iterable[UUID], *, history: bool
) -> dict[UUID, Person]:
    """The same for people who are only looked at: without a row of Django's for each."""
    rows = Subscriber.objects.of(workspace).filter(among("pk", people))
    return _persons(
        workspace,
        [PersonColumns(*one) for one in rows.values_list(*PersonColumns._fields)],
        history=history,
    )


def persons_of_rows(
    workspace: Workspace, rows: Iterable[Subscriber], *, history: bool
) -> dict[UUID, Person]:
    """The same for people whose rows were read since they were locked."""
    return _persons(workspace, [columns_of(one) for one in rows], history=history)


def _persons(
    workspace: Workspace, found: Sequence_[PersonColumns], *, history: bool
) -> dict[UUID, Person]:
    ids = [row.pk for row in found]
    past = _past(workspace, {row.pk: row.address for row in found}, history=history)
    # Only where something depends on it.
    asked = ids if workspace.email_gap_days else [row.pk for row in found if row.gap_days]
    last = last_marketing(workspace, asked, planned=True) if asked else {}
    tags: dict[UUID, list[UUID]] = {}
    taggings = Tagging.objects.of(workspace).filter(among("subscriber", ids))
    for person, tag in taggings.values_list("subscriber_id", "tag_id"):
        tags.setdefault(person, []).append(tag)
    memberships: dict[UUID, list[tuple[UUID, str, datetime | None]]] = {}
    theirs = Membership.objects.of(workspace).filter(among("subscriber", ids))
    for person, *one in theirs.values_list("subscriber_id", "list_id", "state", "left_at"):
        memberships.setdefault(person, []).append(tuple(one))
    return {
        row.pk: make_person(
            row,
            workspace,
            tags.get(row.pk, ()),
            memberships.get(row.pk, ()),
            last_marketing_at=last.get(row.pk),
            **past[row.pk],
        )
        for row in found
    }


def _past(workspace: Workspace, addresses: dict[UUID, str], *, history: bool) -> dict[UUID, Json]:
    """What of a person is not in their own row: runs, groups, what happened, whether they are suppressed."""
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
    groups: dict[UUID, set[str]] = {}
    if history:
        held = FrozenMember.objects.of(workspace).filter(among("subscriber", addresses))
        for person, group in held.values_list("subscriber_id", "group_id"):
            groups.setdefault(person, set()).add(str(group))
    suppressed = suppressed_among(workspace, addresses.values())
    return {
        pk: {
            "entered": frozenset(entered.get(pk, ())),
            "under_way": frozenset(under_way.get(pk, ())),
            "groups": frozenset(groups.get(pk, ())),
            "happened": tuple(happened.get(pk, ())),
            "suppressed": address in suppressed,
        }
        for pk, address in addresses.items()
    }
