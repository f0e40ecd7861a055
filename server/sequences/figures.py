"""How a sequence goes: who came to each step, who waits, who left and why, goals, and when."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import datetime
from uuid import UUID

from django.db.models import (
    Aggregate,
    Count,
    Exists,
    F,
    FloatField,
    Min,
    OuterRef,
    Q,
    QuerySet,
)
from django.db.models.functions import Coalesce, Extract, TruncMonth

from core.sequences import SequenceDocument
from server.mail.figures import LATELY, real_sends
from server.mail.models import Send
from server.workspaces import clock
from server.workspaces.models import Workspace

from .models import Run, Sequence


@dataclass
class StepFigures:
    """At one step: how many came, went on and are there now; who left there, by reason; by which
    branches they went; and its emails."""

    step: str
    came: int = 0
    went_on: int = 0
    waiting: int = 0
    until: int = 0
    next_at: datetime | None = None
    """How many wait there until a moment, in a wait or before an email and with it, and the first of these."""
    left: dict[str, int] = field(default_factory=dict)
    ways: dict[str, int] = field(default_factory=dict)
    sent: int = 0
    held: int = 0
    failed: int = 0
    opened: int = 0
    """Of those that went out; an estimate."""
    clicked: int = 0
    unsubscribed: int = 0
    came_back: int = 0


@dataclass(frozen=True)
class GoalFigures:
    """A goal: how many people entered, how many of them reached it, and the median of the days that
    it took. Who entered twice is one person."""

    group: str
    entered: int
    reached: int
    median_days: float | None


def step_figures(
    row: Sequence, since: datetime | None = None, until: datetime | None = None
) -> list[StepFigures]:
    """For each step that anybody has come to; of runs that were entered between two moments."""
    found: dict[str, StepFigures] = {}

    def at(step: str) -> StepFigures:
        return found.setdefault(step, StepFigures(step))

    visits = row.visits.filter(
        **{f"run__{name}": value for name, value in _entered(since, until).items()},
        run__subscriber__is_test=False,
    )
    counted = visits.values_list("step").annotate(
        came=Count("pk"), on=Count("pk", filter=Q(went_on_at__isnull=False))
    )
    for step, came, went_on in counted.order_by():
        at(step).came, at(step).went_on = came, went_on
    for step, way, count in (
        visits.exclude(way="").values_list("step", "way").annotate(Count("pk")).order_by()
    ):
        at(step).ways[way] = count
    runs = real_runs(row, since, until).filter(step__isnull=False)
    there = runs.values_list("step", "ended").annotate(
        Count("pk"), Count("due_at"), first=Min("due_at")
    )
    for step, ended, count, due, first in there.order_by():
        if not ended:
            at(step).waiting, at(step).until, at(step).next_at = count, due, first
        elif ended != "finished":
            at(step).left[ended] = count
    sends = Send.objects.of(row.workspace).filter(sequence=row.pk, subscriber__is_test=False)
    if since:
        sends = sends.filter(queued_at__gte=since)
    if until:
        sends = sends.filter(queued_at__lt=until)
    grouped = sends.values_list("step", "state").annotate(
        Count("pk"),
        Count("opened_at"),
        Count("clicked_at"),
        Count("left_at"),
        Count("came_back_at"),
        first=Min(Coalesce("not_before", "queued_at")),
    )
    for step, state, count, opened, clicked, gone, back, first in grouped.order_by():
        match state:
            case "sent":
                at(step).sent, at(step).opened, at(step).clicked = count, opened, clicked
                at(step).unsubscribed, at(step).came_back = gone, back
            case "queued":
                one = at(step)
                one.until += count
                one.next_at = min(one.next_at or first, first)
            case "held":
                at(step).held = count
            case "refused" | "unknown":
                at(step).failed += count
    return list(found.values())


def real_runs(
    row: Sequence, since: datetime | None = None, until: datetime | None = None
) -> QuerySet[Run]:
    """The runs of real people, entered between two moments."""
    return row.runs.filter(**_entered(since, until), subscriber__is_test=False)


def _entered(since: datetime | None, until: datetime | None) -> dict[str, datetime]:
    found = {}
    if since:
        found["entered_at__gte"] = since
    if until:
        found["entered_at__lt"] = until
    return found


class _Median(Aggregate):
    function = "PERCENTILE_CONT"
    template = "%(function)s(0.5) WITHIN GROUP (ORDER BY %(expressions)s)"
    output_field = FloatField()


_PEOPLE = Count("subscriber", distinct=True)


@dataclass(frozen=True)
class GoalAfter:
    """Of the emails of a message that sequences sent lately: after how many a goal was reached."""

    message: UUID
    sent: int
    reached: int


def goals_after(workspace: Workspace) -> list[GoalAfter]:
    """By message, of what went out in the last days (`LATELY`): the person reached a goal of that very
    sequence once the email was out, by whatever caused it."""
    runs = Run.everywhere.filter(
        sequence=OuterRef("sequence"),
        subscriber=OuterRef("subscriber"),
        goal_at__gte=OuterRef("sent_at"),
    )
    rows = (
        Send.everywhere.filter(
            real_sends(workspace),
            sent_at__gte=clock.now(workspace) - LATELY,
            sequence__isnull=False,
        )
        .annotate(after=Exists(runs))
        .values("message")
        .annotate(sent=Count("pk"), reached=Count("pk", filter=Q(after=True)))
        .order_by()
    )
    return [GoalAfter(**one) for one in rows]


_REACHED = Count("subscriber", distinct=True, filter=Q(goal_at__isnull=False))
_DAYS = _Median(Extract(F("goal_at") - F("entered_at"), "epoch") / 86400.0)


def goal_figures(runs: QuerySet[Run]) -> GoalFigures:
    """Of all these runs together."""
    found = runs.aggregate(n=_PEOPLE, reached=_REACHED, days=_DAYS)
    return GoalFigures("", found["n"], found["reached"], found["days"])


def goals_by(runs: QuerySet[Run], what: str) -> list[GoalFigures]:
    """The same by door, by source or by month of entry; groups as the documents name them."""
    match what:
        case "month":
            grouped = runs.annotate(group=TruncMonth("entered_at"))
        case "source":
            grouped = runs.annotate(group=F("cause__content__source_name"))
        case _:
            grouped = runs.annotate(group=F("door"))
    rows = grouped.values("group").annotate(n=_PEOPLE, reached=_REACHED, days=_DAYS)
    return [
        GoalFigures(_named(one["group"]), one["n"], one["reached"], one["days"])
        for one in rows.order_by("group")
    ]


def _named(group: object) -> str:
    return f"{group:%Y-%m}" if isinstance(group, datetime) else str(group or "")


def removed_steps(
    row: Sequence, live: SequenceDocument, draft: SequenceDocument
) -> Iterable[tuple[str, int]]:
    """The steps that the draft no longer has, with how many people stand at each."""
    remain = {step.id for step in draft.steps}
    gone = [step.id for step in live.steps if step.id not in remain]
    there = Run.objects.of(row.workspace).filter(sequence=row, ended_at=None, step__in=gone)
    counts = dict(there.values_list("step").annotate(Count("pk")).order_by())
    return [(step, counts.get(step, 0)) for step in gone]
