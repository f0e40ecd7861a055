"""The next days of everybody under way, by the very rules that run live: computed in batches by a worker,
kept, and refreshed."""

from collections import Counter
from collections.abc import Sequence as Sequence_
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from time import monotonic
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction
from django.db.models import Count
from django.db.models.functions import TruncDate

from core.sequences import (
    WEEKS,
    Altered,
    Coming,
    Journey,
    SequenceDocument,
    UnderWay,
    ahead_of,
    altered,
    expected_by_day,
)
from server.mail.models import ListMail, Send
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.copying import plain, store_all
from server.workspaces.documents import draft_of
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

from .facts import document_of_revision
from .journeys import base_journey, journey_of, looks_back, with_their_rows
from .listening import LiveSequence, live_sequences
from .models import Forecast, ForecastPerson, Run, Sequence, SequenceRevision
from .moving import state_in_live
from .people import persons_of_rows

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

    def content(self, first: datetime, confirming: dict[str, dict[date, int]]) -> Json:
        """By day, as it is stored. `confirming`: the emails that will ask to confirm, as expected, by
        message and day."""
        begin = first.astimezone(self.zone).date()
        by_day: dict[str, list[Json]] = {
            (begin + timedelta(days=n)).isoformat(): [] for n in range(DAYS + 1)
        }
        for (day, sequence, message), count in sorted(self.days.items()):
            by_day.setdefault(day, []).append(
                {"sequence": sequence, "message": message, "count": count}
            )
        return {
            "days": [
                {
                    "day": day,
                    "emails": emails,
                    "expected": [
                        {"message": message, "count": count}
                        for message, days in sorted(confirming.items())
                        if (count := days.get(date.fromisoformat(day), 0))
                    ],
                }
                for day, emails in sorted(by_day.items())
            ],
            "moved": [{"why": why, "count": n} for why, n in self.moved.most_common(40)],
        }


def look_ahead(workspace: Workspace) -> Forecast:
    """Compute the next days anew, and keep them."""
    workspace = Workspace.objects.get(pk=workspace.pk)
    started, now = monotonic(), clock.now(workspace)
    counting = _Counting(ZoneInfo(workspace.time_zone))
    live = {UUID(one.id): one for one in live_sequences(workspace) if not one.paused}
    base = base_journey(workspace)
    after: UUID | None = None
    while people := _page(workspace, live, after):
        after = people[-1]
        for person, emails in _emails_of(workspace, people, live, base, now).items():
            counting.add(person, emails)
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
                "seconds": monotonic() - started,
                "people": counting.people,
                "content": counting.content(now, _confirming(workspace, now)),
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


def _emails_of(
    workspace: Workspace,
    people: Sequence_[UUID],
    live: dict[UUID, LiveSequence],
    base: Journey,
    now: datetime,
    draft: SequenceRevision | None = None,
) -> dict[UUID, tuple[Coming, ...]]:
    """What will go out to some people. `draft`: as if it were live already."""
    rows = Run.objects.of(workspace).filter(among("subscriber", people), ended_at=None, snag=None)
    runs = with_their_rows(rows.filter(sequence__in=live).order_by("pk"))
    held = Send.objects.of(workspace).filter(
        among("holds", [run.pk for run in runs]), state=Send.State.HELD
    )
    stopped = set(held.values_list("holds", flat=True))
    revisions = SequenceRevision.objects.of(workspace).in_bulk(
        [UUID(one.revision) for one in live.values()]
    )
    documents = {key: document_of_revision(one.revision) for key, one in live.items()}
    if draft is not None:
        documents[draft.sequence_id] = SequenceDocument.model_validate(draft.document)
    back = any(looks_back(one) for one in documents.values())
    there = {run.subscriber_id: run.subscriber for run in runs}
    persons = persons_of_rows(workspace, there.values(), history=back)
    by_person: dict[UUID, list[UnderWay]] = {}
    for run in runs:
        if run.pk in stopped:
            continue
        document: SequenceDocument = documents[run.sequence_id]
        revision = revisions[UUID(live[run.sequence_id].revision)]
        if draft is not None and run.sequence_id == draft.sequence_id:
            revision = draft
        state = state_in_live(run, revision, document)
        way = UnderWay(state, document, journey_of(run, base))
        by_person.setdefault(run.subscriber_id, []).append(way)
    until = now + timedelta(days=DAYS)
    return {
        person: ahead_of(persons[person], ways, now, until) for person, ways in by_person.items()
    }


def _confirming(workspace: Workspace, now: datetime) -> dict[str, dict[date, int]]:
    """The emails that will ask people to confirm: as many as on such a weekday in the last weeks."""
    zone = ZoneInfo(workspace.time_zone)
    today = now.astimezone(zone).date()
    since = datetime.combine(today - timedelta(weeks=WEEKS), time.min, tzinfo=zone)
    until = datetime.combine(today, time.min, tzinfo=zone)
    asking = list(
        ListMail.objects.of(workspace)
        .filter(list__confirms=True)
        .values_list("asking", flat=True)
        .distinct()
    )
    sends = Send.objects.of(workspace).filter(
        message__in=asking, sent_at__gte=since, sent_at__lt=until, subscriber__is_test=False
    )
    counted = sends.annotate(day=TruncDate("sent_at", tzinfo=zone)).values_list("message", "day")
    by_message: dict[str, dict[date, int]] = {}
    for message, day, count in counted.annotate(Count("pk")).order_by():
        by_message.setdefault(str(message), {})[day] = count
    return {message: expected_by_day(days, today, DAYS + 1) for message, days in by_message.items()}


@dataclass(frozen=True)
class ChangeAhead:
    """What the draft of a sequence would alter in the next days for who is in it now."""

    looked_at: int
    people: int
    """In it now; the first of them were looked at."""
    emails: tuple[Altered, ...]


def change_ahead(row: Sequence) -> ChangeAhead:
    """Compare the next days as they are with those as they would be with the draft."""
    workspace = row.workspace
    live = {UUID(one.id): one for one in live_sequences(workspace) if not one.paused}
    draft = draft_of(row.revisions.all())
    runs = Run.objects.of(workspace).filter(sequence=row, ended_at=None, snag=None)
    people = runs.filter(subscriber__is_test=False).order_by("subscriber")
    ids = list(people.values_list("subscriber", flat=True).distinct()[:_PAGE])
    if draft is None or row.pk not in live or not ids:
        return ChangeAhead(0, 0, ())
    now, base = clock.now(workspace), base_journey(workspace)
    before = _emails_of(workspace, ids, live, base, now)
    after = _emails_of(workspace, ids, live, base, now, draft)
    ways = [(before.get(one, ()), after.get(one, ())) for one in ids]
    total = people.values("subscriber").distinct().count()
    return ChangeAhead(len(ids), total, altered(ways))
