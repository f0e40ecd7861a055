"""Doors that open as time passes: a condition that becomes true, a date, a schedule.

Who is due is found by a statement for each door, and comes in page by page; each page and how far it
got are one transaction, so that a worker that dies loses and doubles nobody.
"""

import hashlib
from collections.abc import Iterable, Iterator
from datetime import date, datetime, timedelta
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import connection, transaction
from django.db.models import Q, QuerySet
from django.db.models.fields.json import KeyTextTransform

from core.conditions import Circumstances, Group, holds, leaves
from core.delivering import clock_times_between, next_clock_time
from core.people import Catalogue, Person
from core.sequences import ConditionDoor, DateDoor, ScheduleDoor
from server.audiences.query import audience_query
from server.people.locks import retried
from server.people.models import Fact, Subscriber
from server.routing.routing import make_way
from server.sequences.facts import catalogue_of
from server.sequences.listening import LiveSequence, live_sequences
from server.sequences.looks import LOOKS, Look
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.copying import plain, store_all
from server.workspaces.models import Workspace

from .coming_in import PAGE, let_in
from .models import DoorSeen, DoorWatch

TimedDoor = ConditionDoor | DateDoor | ScheduleDoor
_HOLD = """
INSERT INTO doors_doorheld (id, workspace_id, watch_id, subscriber_id)
SELECT gen_random_uuid(), %s, %s, fits.id FROM ({}) AS fits (id)
ON CONFLICT (watch_id, subscriber_id) DO NOTHING
"""
_HOLDS_NO_MORE = """
DELETE FROM doors_doorheld WHERE watch_id = %s AND subscriber_id NOT IN ({})
"""
_BECAME = """
SELECT fits.id FROM ({}) AS fits (id)
WHERE NOT EXISTS (
    SELECT 1 FROM doors_doorheld AS held
    WHERE held.watch_id = %s AND held.subscriber_id = fits.id
) ORDER BY fits.id LIMIT %s
"""
_APART = timedelta(hours=27)
"""No two places are further apart by their clocks (UTC+14 and UTC-12)."""
_KEPT = timedelta(days=4)
_TIMELY = timedelta(hours=6)
"""How often moving the clock stops for a condition that time alone can make true."""


def look(workspace: Workspace) -> None:
    """Let in everybody who is due at the doors of a workspace."""
    workspace = Workspace.objects.get(pk=workspace.pk)
    doors = list(_timed_doors(workspace))
    _forget_others(workspace, doors)
    for sequence, door in doors:
        _look_at(workspace, sequence, door)


def next_due(workspace: Workspace, until: datetime) -> datetime | None:
    """When somebody is due next, up to `until`: what moving the clock stops at."""
    now = clock.now(workspace)
    found = [
        at
        for _, door in _timed_doors(Workspace.objects.get(pk=workspace.pk))
        if (at := _next_of(workspace, door, now, until)) is not None
    ]
    return min(found, default=None)


LOOKS.append(Look(look=look, next=next_due))


def _timed_doors(workspace: Workspace) -> Iterator[tuple[LiveSequence, TimedDoor]]:
    for sequence in live_sequences(workspace):
        for door in sequence.document.doors:
            if door.open and isinstance(door, TimedDoor):
                yield sequence, door


def _forget_others(workspace: Workspace, doors: list[tuple[LiveSequence, TimedDoor]]) -> None:
    """A door that is closed or gone, or opens by something else by now, is watched anew."""
    now = {(sequence.id, door.id, _definition(door)) for sequence, door in doors}
    watches = DoorWatch.objects.of(workspace).values_list("pk", "sequence", "door", "definition")
    gone = [
        pk for pk, sequence, door, sentence in watches if (str(sequence), door, sentence) not in now
    ]
    if gone:
        DoorWatch.objects.of(workspace).filter(pk__in=gone).delete()


def _definition(door: TimedDoor) -> str:
    told = door.model_dump_json(exclude={"lane", "again", "stays"})
    return hashlib.sha256(told.encode()).hexdigest()


def _look_at(workspace: Workspace, sequence: LiveSequence, door: TimedDoor) -> None:
    watch = _watch_of(workspace, sequence, door)
    if isinstance(door, ConditionDoor):
        _drop_those_it_no_longer_fits(workspace, door, watch)
    while _page(workspace, sequence, door, watch.pk):
        make_way()


@retried
def _watch_of(workspace: Workspace, sequence: LiveSequence, door: TimedDoor) -> DoorWatch:
    """The watch of a door; a new one begins now, and nobody is due who was before."""
    with transaction.atomic():
        watch, is_new = DoorWatch.objects.of(workspace).get_or_create(
            sequence_id=sequence.id,
            door=door.id,
            defaults={
                "workspace": workspace,
                "definition": _definition(door),
                "made_at": clock.now(workspace),
                "looked_at": clock.now(workspace),
            },
        )
        if is_new and isinstance(door, ConditionDoor):
            _hold(workspace, watch.pk, _fits(workspace, door))
        return watch


def _fits(workspace: Workspace, door: ConditionDoor) -> QuerySet[Subscriber, Any]:
    rows = audience_query(door.when, workspace, catalogue_of(workspace), clock.now(workspace))
    return rows.order_by().values("pk")


def _sql(rows: QuerySet[Subscriber, Any]) -> tuple[str, tuple[Any, ...]]:
    return rows.query.sql_with_params()


def _hold(workspace: Workspace, watch: UUID, rows: QuerySet[Subscriber, Any]) -> None:
    statement, values = _sql(rows)
    with connection.cursor() as cursor:
        cursor.execute(_HOLD.format(statement), [workspace.pk, watch, *values])


def _drop_those_it_no_longer_fits(
    workspace: Workspace, door: ConditionDoor, watch: DoorWatch
) -> None:
    statement, values = _sql(_fits(workspace, door))
    with connection.cursor() as cursor:
        cursor.execute(_HOLDS_NO_MORE.format(statement), [watch.pk, *values])


@retried
def _page(workspace: Workspace, sequence: LiveSequence, door: TimedDoor, watch_id: UUID) -> bool:
    """Let in one page of those who are due; whether there may be more."""
    with transaction.atomic():
        watch = DoorWatch.objects.of(workspace).select_for_update().filter(pk=watch_id).first()
        if watch is None:
            return False
        if isinstance(door, ConditionDoor):
            return _condition_page(workspace, sequence, door, watch)
        return _timed_page(workspace, sequence, door, watch)


def _condition_page(
    workspace: Workspace, sequence: LiveSequence, door: ConditionDoor, watch: DoorWatch
) -> bool:
    statement, values = _sql(_fits(workspace, door))
    with connection.cursor() as cursor:
        cursor.execute(_BECAME.format(statement), [*values, watch.pk, PAGE])
        people = [pk for (pk,) in cursor.fetchall()]
    if people:
        catalogue, now = catalogue_of(workspace), clock.now(workspace)
        _hold(
            workspace, watch.pk, Subscriber.objects.of(workspace).filter(pk__in=people).values("pk")
        )
        seen = Circumstances(now=now, zone=workspace.time_zone)

        let_in(
            workspace,
            sequence,
            door,
            people,
            lambda _, person: holds(door.when, person, seen, catalogue),
        )
    watch.looked_at = clock.now(workspace)
    watch.save(update_fields=["looked_at"])
    return len(people) == PAGE


def _timed_page(
    workspace: Workspace,
    sequence: LiveSequence,
    door: DateDoor | ScheduleDoor,
    watch: DoorWatch,
) -> bool:
    until = watch.until or clock.now(workspace)
    since = watch.looked_at
    if until <= since:
        return False
    # Whoever has moved since may be due for a moment that has passed where they are now.
    moved = _moved_lately(workspace, since, until)
    earliest = max(since - _APART, watch.made_at or since - _APART) if moved else since
    rows = _due(workspace, door, earliest, until)
    if rows is None:
        people: list[UUID] = []
    else:
        if watch.after is not None:
            rows = rows.filter(pk__gt=watch.after)
        people = list(rows.order_by("pk").values_list("pk", flat=True)[:PAGE])
    if people:
        seen = _Seen(watch, people)
        catalogue = catalogue_of(workspace)

        def still(pk: UUID, person: Person) -> bool:
            begins = earliest if pk in moved else since
            return seen.is_new(pk, _days_due(person, door, begins, until, catalogue))

        let_in(workspace, sequence, door, people, still)
        seen.store()
    if len(people) == PAGE:
        watch.until, watch.after = until, people[-1]
    else:
        watch.looked_at, watch.until, watch.after = until, None, None
        watch.seen.filter(day__lt=(until - _KEPT).date()).delete()
    watch.save(update_fields=["looked_at", "until", "after"])
    return len(people) == PAGE


def _moved_lately(workspace: Workspace, since: datetime, until: datetime) -> frozenset[UUID]:
    """Who has come to another time zone so lately that a moment may have passed them by."""
    facts = Fact.objects.of(workspace).filter(
        kind=Fact.Kind.ZONE, at__gt=since - _APART, at__lte=until
    )
    return frozenset(facts.values_list("subscriber", flat=True))


class _Seen:
    """The local dates for which people of a page were due before, and those for which they are now."""

    def __init__(self, watch: DoorWatch, people: list[UUID]) -> None:
        self._watch = watch
        rows = watch.seen.filter(among("subscriber", people))
        self._before = set(rows.values_list("subscriber", "day"))
        self._now: set[tuple[UUID, date]] = set()

    def is_new(self, person: UUID, days: Iterable[date]) -> bool:
        """Whether one of the days is new for somebody; all of them are noted."""
        fresh = {(person, day) for day in days} - self._before
        self._now |= fresh
        return bool(fresh)

    def store(self) -> None:
        """Note for which dates they were due, whether they came in or not."""
        store_all(
            [
                plain(DoorSeen)(
                    workspace_id=self._watch.workspace_id,
                    watch_id=self._watch.pk,
                    subscriber_id=person,
                    day=day,
                )
                for person, day in sorted(self._now)
            ]
        )


def _due(
    workspace: Workspace, door: DateDoor | ScheduleDoor, since: datetime, until: datetime
) -> QuerySet[Subscriber] | None:
    """Those who may be due after `since` and up to `until`, in one statement; None: nobody."""
    catalogue = catalogue_of(workspace)
    everybody = door.only or Group()
    rows = audience_query(everybody, workspace, catalogue, clock.now(workspace))
    if isinstance(door, DateDoor):
        target = catalogue.fields.get(door.field or "")
        if target is None:
            return None
        days = _days_between(door, since, until)
        # By the key as it is: as part of a lookup a name could mean something else to Django.
        rows = rows.annotate(stored=KeyTextTransform(target.key, "values"))
        if not door.yearly:
            return rows.filter(stored__in=[one.isoformat() for one in days])
        ends = Q(pk__in=[])
        for month_and_day in sorted({f"-{one:%m-%d}" for one in days}):
            ends |= Q(stored__endswith=month_and_day)
        return rows.filter(ends)
    zones = list(_zones(workspace))
    due = [
        zone
        for zone in zones
        if any(
            clock_times_between(
                since, until, door.weekdays, door.at, ZoneInfo(zone or workspace.time_zone)
            )
        )
    ]
    return rows.filter(time_zone__in=due) if due else None


def _days_between(door: DateDoor, since: datetime, until: datetime) -> list[date]:
    """The dates that a field may hold of somebody who is due; a day more on both sides, for the zones,
    and 29 February beside the 28th."""
    first = (since - timedelta(days=1)).date() - timedelta(days=door.days)
    last = (until + timedelta(days=1)).date() - timedelta(days=door.days)
    if door.yearly and (last - first).days > 366:
        first = last - timedelta(days=366)
    found = [first + timedelta(days=n) for n in range((last - first).days + 1)]
    if door.yearly and any((one.month, one.day) == (2, 28) for one in found):
        found.append(date(2024, 2, 29))
    return found


def _days_due(
    person: Person,
    door: DateDoor | ScheduleDoor,
    since: datetime,
    until: datetime,
    catalogue: Catalogue,
) -> Iterator[date]:
    """The local dates for which somebody is due, to the minute, where they are."""
    zone = ZoneInfo(person.time_zone)
    if isinstance(door, ScheduleDoor):
        moments = clock_times_between(since, until, door.weekdays, door.at, zone)
    else:
        target = catalogue.fields.get(door.field or "")
        stored = person.values.get(target.key) if target else None
        moments = door.moments(str(stored or ""), zone, since, until)
    return (at.astimezone(zone).date() for at in moments)


def _zones(workspace: Workspace) -> QuerySet[Subscriber, str]:
    """The time zones that people of a workspace are in; empty where it is not known."""
    rows = Subscriber.objects.of(workspace).order_by()
    return rows.values_list("time_zone", flat=True).distinct()


def _next_of(
    workspace: Workspace, door: TimedDoor, now: datetime, until: datetime
) -> datetime | None:
    if isinstance(door, ConditionDoor):
        timely = any(
            getattr(one, "op", "") in ("in_last_days", "in_next_days")
            or getattr(one, "within_hours", None)
            for one in leaves(door.when)
        )
        return now + _TIMELY if timely and now + _TIMELY <= until else None
    moments: list[datetime] = []
    if isinstance(door, ScheduleDoor):
        for name in _zones(workspace):
            zone = ZoneInfo(name or workspace.time_zone)
            later = now + timedelta(microseconds=1)
            moments.append(next_clock_time(later, door.weekdays, door.at, zone))
    else:
        target = catalogue_of(workspace).fields.get(door.field or "")
        if target is None:
            return None
        people = Subscriber.objects.of(workspace).annotate(
            stored=KeyTextTransform(target.key, "values")
        )
        pairs = people.exclude(stored=None).order_by().values_list("stored", "time_zone")
        for stored, name in pairs.distinct():
            zone = ZoneInfo(name or workspace.time_zone)
            moments += door.moments(str(stored), zone, now, until)
    return min((at for at in moments if now < at <= until), default=None)
