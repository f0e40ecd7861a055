"""The first screen: what came in, what is stuck, what goes out next; and a new workspace."""

from datetime import date, datetime, timedelta
from typing import cast
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction
from django.db.models import Count, Min
from django.db.models.functions import TruncDate
from django.http import HttpRequest
from ninja import Router, Schema

from server.mail.models import Message
from server.people.actions import furnish
from server.people.models import Subscriber
from server.sequences.models import Forecast, Run, Sequence
from server.snags.api import SnagOut
from server.snags.models import Snag
from server.sources.models import Source
from server.submissions.models import Submission
from server.workspaces import clock
from server.workspaces.actions import make_workspace
from server.workspaces.api import WorkspaceOut
from server.workspaces.auth import InPath, MemberRequest, member, signed_in
from server.workspaces.models import Role, User

router = Router(tags=["desk"])
DAYS = 14


class WorkspaceIn(Schema):
    name: str
    time_zone: str = "UTC"


class SourceDays(Schema):
    """What came in through one source, by day, the oldest first."""

    source: UUID
    name: str
    days: list[int]
    total: int


class NextSend(Schema):
    """Runs that go on within a day, by sequence."""

    sequence: UUID
    name: str
    count: int
    first_at: datetime


class ComingDay(Schema):
    """Emails that will go out on a day, as the last look ahead has them."""

    day: date
    emails: int


class DeskOut(Schema):
    days: list[date]
    sources: list[SourceDays]
    people: int
    people_before: int
    snags: list[SnagOut]
    waiting: int
    held: int
    next: list[NextSend]
    coming: list[ComingDay]
    """The next seven days; none where nobody has looked ahead yet."""
    has_sources: bool
    has_sequences: bool
    has_messages: bool
    has_sender: bool


@router.post("/workspaces", response=WorkspaceOut, auth=signed_in)
def add_workspace(request: HttpRequest, body: WorkspaceIn) -> WorkspaceOut:
    with transaction.atomic():
        workspace = make_workspace(body.name, cast(User, request.user), body.time_zone)
        furnish(workspace)
    return WorkspaceOut(slug=workspace.slug, name=workspace.name, role=Role.OWNER)


@router.get("/workspaces/{workspace}/desk", response=DeskOut, auth=member)
def desk(request: MemberRequest, workspace: InPath) -> DeskOut:
    here = request.workspace
    now = clock.now(here)
    zone = ZoneInfo(here.time_zone)
    today = now.astimezone(zone).date()
    days = [today - timedelta(days=back) for back in range(DAYS - 1, -1, -1)]
    since = datetime.combine(days[0], datetime.min.time(), tzinfo=zone)
    people = Subscriber.objects.of(here).filter(is_test=False)
    sources = Source.objects.of(here)
    return DeskOut(
        days=days,
        sources=_by_source(request, days, since, zone),
        people=people.count(),
        people_before=people.filter(added_at__lt=since).count(),
        snags=[
            SnagOut.from_orm(one)
            for one in Snag.objects.of(here).filter(closed_at=None).order_by("-last_at")[:8]
        ],
        waiting=Submission.objects.of(here).filter(state="received").count(),
        held=Submission.objects.of(here).filter(state="held", is_test=False).count(),
        next=_next(request, now),
        coming=_coming(request, today),
        has_sources=sources.exists(),
        has_sequences=Sequence.objects.of(here).exists(),
        has_messages=Message.objects.of(here).exists(),
        has_sender=bool(here.sender_address),
    )


def _by_source(
    request: MemberRequest, days: list[date], since: datetime, zone: ZoneInfo
) -> list[SourceDays]:
    counted = (
        Submission.objects.of(request.workspace)
        .filter(received_at__gte=since, is_test=False)
        .annotate(day=TruncDate("received_at", tzinfo=zone))
        .values_list("source_id", "source__name", "day")
        .annotate(Count("pk"))
    )
    found: dict[UUID, SourceDays] = {}
    for source, name, day, count in counted:
        line = found.setdefault(
            source, SourceDays(source=source, name=name, days=[0] * len(days), total=0)
        )
        if day in days:
            line.days[days.index(day)] = count
            line.total += count
    return sorted(found.values(), key=lambda line: -line.total)


def _coming(request: MemberRequest, today: date) -> list[ComingDay]:
    kept = Forecast.objects.of(request.workspace).first()
    days = kept.content["days"] if kept else []
    found = [
        ComingDay(
            day=date.fromisoformat(one["day"]), emails=sum(each["count"] for each in one["emails"])
        )
        for one in days
    ]
    return [one for one in found if one.day >= today][:7]


def _next(request: MemberRequest, now: datetime) -> list[NextSend]:
    soon = (
        Run.objects.of(request.workspace)
        .filter(
            ended_at=None,
            due_at__lte=now + timedelta(days=1),
            sequence__state="live",
            subscriber__is_test=False,
        )
        .values_list("sequence_id", "sequence__name")
        .annotate(Count("pk"), Min("due_at"))
        .order_by("due_at__min")
    )
    return [
        NextSend(sequence=sequence, name=name, count=count, first_at=first)
        for sequence, name, count, first in soon
    ]
