"""What members want to be told of by email, noticed once each: something needs attention, somebody turned
on a change, many people enter or leave a sequence."""

from collections.abc import Iterable, Iterator
from datetime import datetime, time, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction
from django.db.models import Count

from server.sequences.models import Run
from server.snags.attention import needing_attention
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.models import TOLD_OF, HistoryEntry, Member, Workspace
from server.workspaces.queues import defer_each

from .jobs import SEND
from .models import Notice

KEPT = timedelta(days=90)
_LATELY = timedelta(days=1)
_NO_LEAVING = ("finished", "goal", "started_over")
"""Ends of a run that are as they should be."""


def notice_all(workspace: Workspace) -> int:
    """Notice what is new, and have those members told who want it; how much was new."""
    now = clock.now(workspace)
    found = [
        *_attention(workspace, now),
        *_turned_on(workspace, now),
        *_many(workspace, now),
    ]
    if not found:
        return 0
    with transaction.atomic():
        there = set(
            Notice.objects.of(workspace)
            .filter(about__in=[one.about for one in found])
            .values_list("kind", "about")
        )
        fresh = [one for one in found if (one.kind, one.about) not in there]
        Notice.everywhere.bulk_create(fresh)
        _tell(workspace, fresh)
    return len(fresh)


def _attention(workspace: Workspace, now: datetime) -> Iterator[Notice]:
    for needing in needing_attention(workspace):
        for snag in needing.snags:
            yield Notice(workspace=workspace, kind="attention", about=str(snag.pk), at=now)


def _turned_on(workspace: Workspace, now: datetime) -> Iterator[Notice]:
    rows = HistoryEntry.objects.of(workspace).filter(kind="turned_on", at__gt=now - _LATELY)
    for pk in rows.order_by("at").values_list("pk", flat=True):
        yield Notice(workspace=workspace, kind="turned_on", about=str(pk), at=now)


def _many(workspace: Workspace, now: datetime) -> Iterator[Notice]:
    today = now.astimezone(ZoneInfo(workspace.time_zone)).date()
    begin = datetime.combine(today, time.min, tzinfo=ZoneInfo(workspace.time_zone))
    runs = Run.objects.of(workspace).filter(subscriber__is_test=False)
    entered = runs.filter(entered_at__gte=begin)
    left = runs.filter(ended_at__gte=begin).exclude(ended__in=_NO_LEAVING)
    for what, rows in (("entered", entered), ("left", left)):
        counted = rows.values_list("sequence").annotate(many=Count("pk")).order_by("sequence")
        for sequence, many in counted.filter(many__gte=workspace.many_in_a_day):
            yield Notice(
                workspace=workspace,
                kind="many",
                about=f"{sequence}/{what}/{today.isoformat()}",
                at=now,
                count=many,
            )


def _tell(workspace: Workspace, fresh: list[Notice]) -> None:
    """A job for each member and kind. Nobody is told of what they did themselves."""
    whose = dict(
        HistoryEntry.objects.of(workspace)
        .filter(pk__in=[UUID(one.about) for one in fresh if one.kind == "turned_on"])
        .values_list("pk", "member")
    )
    jobs = []
    for member in Member.objects.filter(workspace=workspace).order_by("pk"):
        for kind in TOLD_OF:
            ids = [
                str(one.pk)
                for one in fresh
                if one.kind == kind
                and kind in member.wants
                and not (kind == "turned_on" and whose.get(UUID(one.about)) == member.pk)
            ]
            jobs += [
                {"member_id": str(member.pk), "notices": ",".join(part)} for part in _parts(ids)
            ]
    defer_each(SEND, jobs)


def _parts(ids: list[str], size: int = 200) -> Iterable[list[str]]:
    return [ids[first : first + size] for first in range(0, len(ids), size)]


def forget() -> None:
    """Delete old notices, but for those of snags that are open: they would be told of again."""
    now = clock.workspace_now()
    open_snags = [
        str(pk) for pk in Snag.everywhere.filter(closed_at=None).values_list("pk", flat=True)
    ]
    Notice.everywhere.filter(at__lt=now - KEPT).exclude(about__in=open_snags).delete()
