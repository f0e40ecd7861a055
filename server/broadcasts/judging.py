"""What a trial comes to: how many got each version, and how many of them did what is counted."""

from collections.abc import Iterator

from django.db.models import Count, Q
from ninja import Schema

from core.broadcasts import BroadcastDocument, Tried, difference, judge_trial
from server.audiences.query import audience_query
from server.mail.models import Send
from server.workspaces import clock

from .catalogue import whole_catalogue
from .models import Broadcast


class TriedVersion(Schema):
    """One version in its trial."""

    version: str
    sent: int
    count: int
    low: float
    high: float
    """Where the share of those who did it lies in 95 of 100 cases (Wilson's interval)."""
    less_first_low: float
    less_first_high: float
    """The same of its share less that of the first version (Newcombe's interval)."""


class BroadcastTrial(Schema):
    """What a trial says at a moment."""

    versions: list[TriedVersion]
    version: str
    """The one that goes to the rest, if it is judged now."""
    clear: bool
    """Whether it is the better one; else it is too early to say, and the first goes."""
    needed: int | None
    """How many would have to get each of the two best, for such a difference to show."""


def tried(row: Broadcast, document: BroadcastDocument) -> list[Tried]:
    """How the versions of a trial did, in their order."""
    sends = Send.objects.of(row.workspace).filter(broadcast=row.pk, state=Send.State.SENT)
    if row.began_at and row.chosen:
        # The rest was queued later, and is no part of the trial.
        sends = sends.filter(queued_at=row.began_at)
    did = {
        "clicked": Q(clicked_at__isnull=False),
        "opened": Q(opened_at__isnull=False) | Q(clicked_at__isnull=False),
        "fewest_left": Q(left_at__isnull=False) | Q(came_back="complaint"),
        "member": Q(clicked_at__isnull=False),
    }.get(document.trial.by)
    if did is None and document.trial.goal is not None:
        reached = audience_query(
            document.trial.goal,
            row.workspace,
            whole_catalogue(row.workspace),
            clock.now(row.workspace),
        )
        did = Q(subscriber__in=reached.values("pk"))
    counts = {
        version: (sent, count)
        for version, sent, count in sends.values_list("version")
        .annotate(sent=Count("pk"), did=Count("pk", filter=did or Q(pk__in=[])))
        .order_by()
    }
    return [
        Tried(version=one.id, sent=sent, count=count)
        for one in document.versions
        for sent, count in (counts.get(one.id, (0, 0)),)
    ]


def trial_of(row: Broadcast, document: BroadcastDocument) -> BroadcastTrial:
    """What the trial of a broadcast says by now."""
    found = tried(row, document)
    judged = judge_trial(found, document.trial.by)

    def versions() -> Iterator[TriedVersion]:
        for one in found:
            interval, less = judged.intervals[one.version], difference(one, found[0])
            yield TriedVersion(
                version=one.version,
                sent=one.sent,
                count=one.count,
                low=interval.low,
                high=interval.high,
                less_first_low=less.low,
                less_first_high=less.high,
            )

    return BroadcastTrial(
        versions=list(versions()), version=judged.version, clear=judged.clear, needed=judged.needed
    )
