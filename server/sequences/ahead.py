"""The next days of everybody under way, by the very rules that run live: computed in batches by a worker,
kept, and refreshed."""

import time
from collections import Counter
from collections.abc import Sequence as Sequence_
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction

from core.sequences import Coming, Journey, SequenceDocument, UnderWay, ahead_of
from server.mail.models import Send
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.copying import plain, store_all
from server.workspaces.models import Workspace

from .facts import document_of_revision
from .going_on import state_in_live, with_their_rows
from .journeys import base_journey, journey_of, looks_back
from .listening import LiveSequence, live_sequences
from .models import Forecast, ForecastPerson, Run, SequenceRevision
from .people import persons_by_id

DAYS = 30
MANY = 3
"""Emails within a week from which somebody is noted by name."""
_PAGE = 400
_WEEK = timedelta(days=7)


class _Counting:
    """What the emails of everybody come to."""

    def __init__(self, zone: ZoneInfo) -> None:
        self.zone = zone
        self.people = 0
        self.days: Counter[tuple[str, str, str]] = Counter()
        self.moved: Counter[str] = Counter()
        self.many: list[tuple[UUID, int, datetime]] = []

    def add(self, person: UUID, emails: Sequence_[Coming]) -> None:
        """The emails of one person."""
        self.people += 1
        for one in emails:
            day = one.at.astimezone(self.zone).date().isoformat()
            self.days[day, one.sequence, one.message] += 1
            if one.moves:
                self.moved[one.moves[-1].why] += 1
        at = [one.at for one in emails if not one.asked_for]
        best, begins = 0, None
        for first, begin in enumerate(at):
            within = sum(1 for other in at[first:] if other - begin < _WEEK)
            if within > best:
                best, begins = within, begin
        if best >= MANY and begins is not None:
            self.many.append((person, best, begins))

    def content(self, first: datetime) -> dict[str, Any]:
        """By day, as it is stored."""
        begin = first.astimezone(self.zone).date()
        by_day: dict[str, list[dict[str, Any]]] = {
            (begin + timedelta(days=n)).isoformat(): [] for n in range(DAYS + 1)
        }
        for (day, sequence, message), count in sorted(self.days.items()):
            by_day.setdefault(day, []).append(
                {"sequence": sequence, "message": message, "count": count}
            )
        return {
            "days": [{"day": day, "emails": emails} for day, emails in sorted(by_day.items())],
            "moved": [{"why": why, "count": n} for why, n in self.moved.most_common(40)],
        }


def look_ahead(workspace: Workspace) -> Forecast:
    """Compute the next days anew, and keep them."""
    workspace = Workspace.objects.get(pk=workspace.pk)
    started, now = time.monotonic(), clock.now(workspace)
    counting = _Counting(ZoneInfo(workspace.time_zone))
    live = {UUID(one.id): one for one in live_sequences(workspace) if not one.paused}
    base = base_journey(workspace)
    after: UUID | None = None
    while people := _page(workspace, live, after):
        after = people[-1]
        _look_at(workspace, people, live, base, now, counting)
    many = [
        plain(ForecastPerson)(
            workspace_id=workspace.pk, subscriber_id=person, emails=emails, first_at=first
        )
        for person, emails, first in counting.many
    ]
    with transaction.atomic():
        ForecastPerson.objects.of(workspace).delete()
        store_all(many)
        row, _ = Forecast.objects.of(workspace).update_or_create(
            workspace=workspace,
            defaults={
                "made_at": now,
                "seconds": time.monotonic() - started,
                "people": counting.people,
                "content": counting.content(now),
            },
        )
    return row


def _page(workspace: Workspace, live: dict[UUID, LiveSequence], after: UUID | None) -> list[UUID]:
    runs = Run.objects.of(workspace).filter(ended_at=None, snag=None, sequence__in=live)
    runs = runs.filter(subscriber__is_test=False)
    if after is not None:
        runs = runs.filter(subscriber__gt=after)
    found = runs.order_by("subscriber").values_list("subscriber", flat=True).distinct()
    return list(found[:_PAGE])


def _look_at(
    workspace: Workspace,
    people: Sequence_[UUID],
    live: dict[UUID, LiveSequence],
    base: Journey,
    now: datetime,
    counting: _Counting,
) -> None:
    rows = Run.objects.of(workspace).filter(among("subscriber", people), ended_at=None, snag=None)
    runs = list(rows.filter(sequence__in=live).select_related("subscriber", "cause").order_by("pk"))
    with_their_rows(runs)
    held = Send.objects.of(workspace).filter(
        among("holds", [run.pk for run in runs]), state=Send.State.HELD
    )
    stopped = set(held.values_list("holds", flat=True))
    revisions = SequenceRevision.objects.of(workspace).in_bulk(
        [UUID(one.revision) for one in live.values()]
    )
    documents = {key: document_of_revision(one.revision) for key, one in live.items()}
    back = any(looks_back(one) for one in documents.values())
    persons = persons_by_id(workspace, people, history=back)
    by_person: dict[UUID, list[UnderWay]] = {}
    for run in runs:
        if run.pk in stopped:
            continue
        document: SequenceDocument = documents[run.sequence_id]
        revision = revisions[UUID(live[run.sequence_id].revision)]
        state = state_in_live(run, revision, document)
        way = UnderWay(state, document, journey_of(run, base))
        by_person.setdefault(run.subscriber_id, []).append(way)
    until = now + timedelta(days=DAYS)
    for person, ways in by_person.items():
        counting.add(person, ahead_of(persons[person], ways, now, until))
