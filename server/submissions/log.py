"""What members and time do with submissions: route again, hold, let through, mark, remove."""

from collections.abc import Iterable
from datetime import date, datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction
from django.db.models import F, Q, QuerySet, Subquery

from core.documents import folded
from server.people.erasing import erase_person
from server.people.locks import locked_people
from server.people.models import Subscriber
from server.snags.actions import close, report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

from .arrivals import defer_again, take_jobs
from .models import Submission

State = Submission.State
_ATTENTION = (State.HELD, State.STUCK)
"""Somebody has to look at it."""

_CHUNK = 1000


@changes("routed {result} again that a snag had stopped")
def route_again(workspace: Workspace, snag: Snag) -> int:
    """Route again what the snag stopped, by the route of now; how many."""
    count = 0
    with transaction.atomic():
        rows = Submission.objects.of(workspace).select_for_update().filter(snag=snag)
        while ids := list(rows.order_by("pk").values_list("pk", flat=True)[:_CHUNK]):
            Submission.objects.of(workspace).filter(pk__in=ids).update(
                state=State.RECEIVED, snag=None
            )
            defer_again(ids)
            count += len(ids)
        close(snag)
    return count


def give_up(submission_id: str, reason: str) -> None:
    """A submission that cannot be routed, after some tries: it is stuck, and nothing is lost."""
    with transaction.atomic():
        submission = (
            Submission.everywhere.select_for_update(of=("self",))
            .select_related("workspace", "source")
            .get(pk=submission_id)
        )
        if submission.state == State.ROUTED:
            return
        submission.state = State.STUCK
        submission.snag = report(
            submission.workspace,
            Snag.About.SUBMISSION,
            f"{submission.source_id}/failed",
            f"{submission.source.name}: a submission could not be routed: {reason}.",
            "Route it again; if that fails too, the server's log holds the reason.",
            {"source": str(submission.source_id), "submission": str(submission.pk)},
        )
        submission.save(update_fields=["state", "snag"])


@changes("held {result} of the submissions")
def hold(workspace: Workspace, submissions: Iterable[UUID], why: str) -> int:
    """Keep what waits from being routed; how many. What is routed already cannot be held."""
    with transaction.atomic():
        rows = Submission.objects.of(workspace).select_for_update()
        waiting = list(rows.filter(pk__in=submissions, state=State.RECEIVED))
        for row in waiting:
            row.state, row.held_because = State.HELD, why[:200]
            row.save(update_fields=["state", "held_because"])
        take_jobs(row.pk for row in waiting)
        return len(waiting)


@changes("let {result} of the held submissions through")
def release(workspace: Workspace, submissions: Iterable[UUID]) -> int:
    """Let what is held through; how many."""
    with transaction.atomic():
        rows = Submission.objects.of(workspace).select_for_update()
        held = list(rows.filter(pk__in=submissions, state=State.HELD))
        for row in held:
            row.state, row.released = State.RECEIVED, True
            row.save(update_fields=["state", "released"])
        defer_again([row.pk for row in held])
        return len(held)


@changes("marked {result} of the submissions as test or not")
def mark_test(workspace: Workspace, submissions: Iterable[UUID], is_test: bool) -> int:
    """Say whether these are tests, which count nowhere; how many changed.

    What came to a draft stays a test: the draft has changed since, so nothing says what its sender
    was shown and agreed to.
    """
    rows = Submission.objects.of(workspace).filter(pk__in=submissions)
    if not is_test:
        shown_live = rows.filter(is_test=True, shown__live_at__lte=F("received_at"))
        tries = rows.filter(is_test=True).count() - shown_live.count()
        if tries:
            raise refuse(
                "shown_a_draft",
                "submissions",
                f"{tries:,} of these came in before their sheet was turned on.",
                "They stay tests: nothing proves what their senders were shown. Select the others.",
            )
    return rows.exclude(is_test=is_test).update(is_test=is_test)


@changes("removed {result[0]} submissions and {result[1]} people")
def remove(workspace: Workspace, submissions: Iterable[UUID], with_people: bool) -> tuple[int, int]:
    """Remove submissions, and on request all that is known of their people; how many of each."""
    chosen = Submission.objects.of(workspace).filter(pk__in=submissions)
    with transaction.atomic():
        people: list[Subscriber] = []
        if with_people:
            theirs = chosen.exclude(subscriber=None)
            people = list(
                Subscriber.objects.of(workspace).filter(pk__in=theirs.values("subscriber"))
            )
            locked_people(workspace, [(one.address, one.is_test) for one in people])
        ids = list(chosen.select_for_update(of=("self",)).values_list("pk", flat=True))
        take_jobs(ids)
        for person in people:
            person.workspace = workspace
            # Their other submissions hold their answers too.
            more = Submission.objects.of(workspace).filter(subscriber=person)
            take_jobs(more.values_list("pk", flat=True))
            more.exclude(pk__in=ids).delete()
            erase_person(person)
        Submission.objects.of(workspace).filter(pk__in=ids).delete()
        return len(ids), len(people)


def _midnight(workspace: Workspace, day: date | str, plus: int = 0) -> datetime:
    """The beginning of a day in the workspace's zone; a replay keeps days as text."""
    found = date.fromisoformat(day) if isinstance(day, str) else day
    zone = ZoneInfo(workspace.time_zone)
    return datetime.combine(found + timedelta(days=plus), datetime.min.time(), tzinfo=zone)


def _some(people: QuerySet[Subscriber]) -> list[UUID] | Subquery:
    """Their ids where they are few, which an index takes; else the query."""
    found = list(people.values_list("pk", flat=True)[: _CHUNK + 1])
    return found if len(found) <= _CHUNK else Subquery(people.values("pk"))


def filtered_submissions(workspace: Workspace, wanted: Json) -> QuerySet[Submission]:
    """The submissions that a filter names: source, state, since, until, days, text, tests,
    import, snag, the first revision that decided them, or themselves by id."""
    rows = Submission.objects.of(workspace)
    if wanted.get("source"):
        rows = rows.filter(source=wanted["source"])
    if wanted.get("file_import"):
        rows = rows.filter(file_import=wanted["file_import"])
    if wanted.get("state"):
        states = _ATTENTION if wanted["state"] == "attention" else [wanted["state"]]
        rows = rows.filter(state__in=states)
    if wanted.get("snag"):
        rows = rows.filter(snag=wanted["snag"])
    if wanted.get("since_revision"):
        rows = rows.filter(revision__number__gte=wanted["since_revision"])
    if wanted.get("submissions"):
        rows = rows.filter(pk__in=wanted["submissions"])
    if wanted.get("since"):
        rows = rows.filter(received_at__gte=wanted["since"])
    if wanted.get("until"):
        rows = rows.filter(received_at__lt=wanted["until"])
    if wanted.get("first_day"):
        rows = rows.filter(received_at__gte=_midnight(workspace, wanted["first_day"]))
    if wanted.get("last_day"):
        rows = rows.filter(received_at__lt=_midnight(workspace, wanted["last_day"], 1))
    tests = wanted.get("tests", "without")
    if tests != "with":
        rows = rows.filter(is_test=tests == "only")
    for word in str(wanted.get("text") or "").split()[:6]:
        # Two conditions on columns of this table, each with an index: the trigrams of the answers,
        # and the people.
        people = Subscriber.objects.of(workspace).filter(searched__contains=folded(word))
        rows = rows.filter(Q(answers__icontains=word) | Q(subscriber__in=_some(people)))
    return rows


def forget_old(workspace: Workspace) -> int:
    """Empty the submissions older than the workspace's retention time; how many."""
    if workspace.retention_days is None:
        return 0
    before: datetime = clock.now(workspace) - timedelta(days=workspace.retention_days)
    # What waits or is held has not been dealt with, and is not lost.
    old = Submission.objects.of(workspace).filter(
        received_at__lt=before, forgotten_at=None, state__in=[State.ROUTED, State.STUCK]
    )
    count = 0
    while chunk := list(old.order_by("received_at").values_list("pk", flat=True)[:_CHUNK]):
        count += (
            Submission.objects.of(workspace)
            .filter(pk__in=chunk)
            .update(forgotten_at=clock.now(workspace), **Submission.EMPTIED)
        )
    return count
