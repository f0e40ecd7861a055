"""Sequences: the sheet, its draft and revisions, and who stands where."""

from datetime import date, datetime
from uuid import UUID

from django.db.models import Count, Exists, F, OuterRef, Q
from ninja import Router, Schema
from pydantic import Field

from core.delivering import Move
from core.documents import Finding, Problem
from core.people import MembershipState
from core.sequences import (
    STARTS,
    Assumption,
    Heading,
    Rehearsal,
    SequenceDocument,
    Way,
    headings,
    in_words,
    step_that_remains,
)
from server.mail.models import Send
from server.people.api import full_name
from server.people.models import Subscriber
from server.snags.attention import attention_of
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.bounds import Moment, Offset
from server.workspaces.deadlines import only_reads
from server.workspaces.documents import draft_of, edits_of, live_of
from server.workspaces.endpoints import DocumentKind, add_document
from server.workspaces.expensive import expensive_read
from server.workspaces.queues import defer_once
from server.workspaces.schemas import (
    Done,
    NameIn,
    RevisionLine,
    TurnOnIn,
    revision_line,
    revision_lines,
)

from .actions import (
    changes_of,
    check,
    differences_from_stored,
    discard,
    due_while_paused,
    go_back,
    make_sequence,
    pause,
    resume,
    save_sequence_draft,
    turn_on,
)
from .ahead import change_ahead
from .facts import catalogue_of, document_of_revision
from .figures import (
    GoalFigures,
    goal_figures,
    goals_after,
    goals_by,
    real_runs,
    removed_steps,
    step_figures,
)
from .going_on import advance_again, one_goes_on_again
from .jobs import AHEAD
from .models import Forecast, ForecastPerson, Run, Sequence, SequenceRevision, Visit
from .moving_time import move_time
from .rehearsing import MadeUp, rehearse_for
from .trying import try_on

router = Router(tags=["sequences"], auth=member)


class SequenceLine(Schema):
    id: UUID
    name: str
    state: str
    under_way: int
    entered: int
    reached: int
    """How many of them reached a goal."""
    stuck: int
    """How many people wait for an email that is held, or cannot go on."""
    attention: int = 0
    """How often something went wrong, where that is enough for it to need attention."""


class SequenceIn(NameIn):
    """`start`: one of the sequences to begin from; empty: one empty lane."""

    start: str = ""


class StartOut(Schema):
    key: str
    name: str
    says: str


class StepCount(Schema):
    """At one step: how many came, went on, and are there now; who left there, by reason."""

    step: str
    came: int
    went_on: int = 0
    waiting: int = 0
    until: int = 0
    next_at: datetime | None = None
    """How many wait there until a moment (of an email: that it may go out), and the first of these."""
    left: dict[str, int] = {}
    ways: dict[str, int] = {}
    """Of a split: how many went by each branch."""
    sent: int = 0
    held: int = 0
    failed: int = 0
    """Of a send: its emails that went out, that are held, and that no server took."""
    opened: int = 0
    """Of those that went out: an estimate."""
    clicked: int = 0
    unsubscribed: int = 0
    came_back: int = 0


class GoalCount(Schema):
    """How many of those who entered reached a goal, and the median of the days it took."""

    group: str = ""
    entered: int
    reached: int
    median_days: float | None


class RemovedStep(Schema):
    """A step of the live revision that the draft no longer has, and how many people stand there."""

    step: str
    sentence: str
    people: int
    next: str
    """Where they continue by themselves, in words."""


class SequenceOut(Schema):
    id: UUID
    name: str
    state: str
    document: SequenceDocument
    edits: int
    differs: bool
    changes: list[str]
    """What the draft has different from the live revision."""
    live_number: int | None
    live: SequenceDocument | None
    findings: list[Finding]
    counts: list[StepCount]
    under_way: int
    entered: int
    ended: dict[str, int]
    goal: GoalCount
    overdue: int
    """Of a paused sequence: how many people would go on at once on resuming."""
    removed: list[RemovedStep]
    words: dict[str, str]
    """Steps, doors, goals, leaving and times in words, by their ids."""
    headings: dict[str, Heading]
    """Steps by their ids."""
    revisions: list[RevisionLine]


class SequenceTurnOn(TurnOnIn):
    """`removed`: what becomes of those who stand at a step that the draft no longer has."""

    removed: dict[str, Way] = {}


class FiguresOut(Schema):
    """How it goes, of those who entered between two dates."""

    steps: list[StepCount]
    entered: int
    under_way: int
    ended: dict[str, int]
    goal: GoalCount
    by_door: list[GoalCount]
    by_source: list[GoalCount]
    by_month: list[GoalCount]


class MadeUpIn(Schema):
    """Somebody who does not exist, with the fields that matter, by their keys."""

    time_zone: str = ""
    values: dict[str, str] = {}
    tags: list[str] = []
    on_list: MembershipState = "subscribed"


class SequenceRehearseIn(Schema):
    """Who enters which lane, when (now, where it is null), and what is assumed to happen."""

    person: UUID | None = None
    made_up: MadeUpIn | None = None
    lane: str | None = None
    door: str = ""
    start: Moment | None = None
    assumptions: list[Assumption] = Field(default=[], max_length=50)


class SequenceRehearsalOut(Rehearsal):
    time_zone: str
    name: str
    start: datetime


class TrialOut(Schema):
    """A test on a person: how many emails went to the member, and what could not be made."""

    sent: int
    to: str
    problems: list[Problem]


class ResumeIn(Schema):
    """Hours over which those who are due go on, one after the other; 0: all at once."""

    spread_hours: int = Field(default=0, ge=0, le=336)


class RunLine(Schema):
    """Somebody's run: where it stands, or how it ended."""

    run: UUID
    person: UUID
    address: str
    name: str
    entered_at: datetime
    step: str | None
    came_at: datetime | None
    due_at: datetime | None
    moved: list[Move]
    ended: str
    ended_at: datetime | None
    held: str
    """Why they cannot go on."""


class RunsOut(Schema):
    total: int
    runs: list[RunLine]


class AheadEmails(Schema):
    sequence: str
    message: str
    count: int


class AheadExpected(Schema):
    """Emails that ask to confirm: a forecast, as many as on such weekdays lately."""

    message: str
    count: int


class AheadDay(Schema):
    day: date
    emails: list[AheadEmails]
    expected: list[AheadExpected] = []


class AlteredOut(Schema):
    message: str
    before: int
    after: int
    at_another_time: int


class ChangeAheadOut(Schema):
    """What the draft would alter in the next thirty days, for the first people who are in it now."""

    looked_at: int
    people: int
    emails: list[AlteredOut]


class AheadMoved(Schema):
    """How many emails something moves."""

    why: str
    count: int


class AheadPerson(Schema):
    """Somebody who would get so many emails within seven days."""

    person: UUID
    name: str
    emails: int
    first_at: datetime


class AheadOut(Schema):
    """The next thirty days; `made_at` is null where nothing has been looked at yet."""

    made_at: datetime | None
    people: int
    days: list[AheadDay]
    moved: list[AheadMoved]
    many: list[AheadPerson]
    many_total: int


class SequenceRevisionOut(RevisionLine):
    changes: list[str]
    """What it has different from the revision before it."""
    document: SequenceDocument
    words: dict[str, str]
    """Its parts in words, by their ids."""
    headings: dict[str, Heading]


class SequenceDraftIn(Schema):
    document: SequenceDocument
    based_on: int


class PersonRun(Schema):
    """Where somebody is in a sequence: at a step (of its lane, from 1), since when, until when."""

    run: UUID
    sequence: UUID
    name: str
    lane: str
    step: int
    of: int
    what: str
    """send, wait; empty where the run is over or its step is gone."""
    entered_at: datetime
    due_at: datetime | None
    ended: str
    ended_at: datetime | None
    moved: list[Move]
    """What moved the next email from when it was wanted."""
    held: str
    """Why they cannot go on."""


class MoveIn(Schema):
    to: Moment


class ClockOut(Schema):
    now: datetime


_REAL = Q(runs__subscriber__is_test=False)
_STUCK = Q(runs__snag__isnull=False) | Q(
    Exists(Send.everywhere.filter(holds=OuterRef("runs__pk"), state=Send.State.HELD))
)


@router.get("/sequences", response=list[SequenceLine])
def sequences(request: MemberRequest, workspace: InPath, archived: bool = False) -> object:
    wrong = attention_of(request.workspace, "sequence")
    rows = (
        Sequence.objects.of(request.workspace)
        .filter(archived_at__isnull=not archived)
        .annotate(
            under_way=Count("runs", filter=_REAL & Q(runs__ended_at=None)),
            entered=Count("runs", filter=_REAL),
            reached=Count("runs", filter=_REAL & Q(runs__goal_at__isnull=False)),
            stuck=Count("runs", filter=_REAL & Q(runs__ended_at=None) & _STUCK),
        )
        .order_by("name")
    )
    for one in rows:
        one.attention = wrong.get(one.pk, 0)
    return rows


@router.post("/sequences", response=SequenceOut)
def add_sequence(request: MemberRequest, workspace: InPath, body: SequenceIn) -> SequenceOut:
    return sequence_out(make_sequence(request.workspace, body.name, request.member, body.start))


@router.get("/sequence-starts", response=list[StartOut])
def sequence_starts(request: MemberRequest, workspace: InPath) -> object:
    """The sequences to begin from."""
    return [StartOut(key=one.key, name=one.name, says=one.says) for one in STARTS]


@router.get("/sequences/{sequence}", response=SequenceOut)
def get_sequence(request: MemberRequest, workspace: InPath, sequence: UUID) -> SequenceOut:
    return sequence_out(find(Sequence, request, sequence, "sequence"))


@router.post("/runs/again/{snag}", response=Done)
def post_runs_again(request: MemberRequest, workspace: InPath, snag: UUID) -> Done:
    """Try again with the runs that a snag stopped."""
    return Done(count=advance_again(request.workspace, find(Snag, request, snag, "snag")))


@router.post("/runs/{run}/again", response=Done)
def post_run_again(request: MemberRequest, workspace: InPath, run: UUID) -> Done:
    """Try again with one run."""
    one_goes_on_again(find(Run, request, run, "entry of a sequence"))
    return Done(count=1)


@router.get("/sequences/{sequence}/runs", response=RunsOut)
def get_runs(
    request: MemberRequest,
    workspace: InPath,
    sequence: UUID,
    step: str | None = None,
    ended: str | None = None,
    way: str | None = None,
    after: Offset = 0,
) -> RunsOut:
    """Who is where: at a step, or ended for a reason ("" for those in progress), the next due first."""
    row: Sequence = find(Sequence, request, sequence, "sequence")
    runs = real_runs(row)
    if step is not None and way is not None:
        runs = runs.filter(Exists(Visit.everywhere.filter(run=OuterRef("pk"), step=step, way=way)))
    elif step is not None:
        runs = runs.filter(step=step)
    if ended is not None:
        runs = runs.filter(ended=ended)
    total = runs.count()
    page = list(
        runs.select_related("subscriber", "snag").order_by(F("due_at").asc(nulls_last=True), "pk")[
            after : after + 100
        ]
    )
    held = dict(
        Send.objects.of(request.workspace)
        .filter(holds__in=[one.pk for one in page], state=Send.State.HELD)
        .values_list("holds", "reply")
    )
    return RunsOut(
        total=total,
        runs=[
            RunLine(
                run=run.pk,
                person=run.subscriber_id,
                address=run.subscriber.address,
                name=full_name(run.subscriber),
                entered_at=run.entered_at,
                step=run.step,
                came_at=run.came_at,
                due_at=run.due_at,
                moved=run.moved,
                ended=run.ended,
                ended_at=run.ended_at,
                held=held.get(run.pk, "") or (run.snag.sentence if run.snag else ""),
            )
            for run in page
        ],
    )


@router.get("/sequences/{sequence}/figures", response=FiguresOut)
def get_figures(
    request: MemberRequest,
    workspace: InPath,
    sequence: UUID,
    since: Moment | None = None,
    until: Moment | None = None,
) -> FiguresOut:
    """Counts at each step and goal rates, of those who entered between two dates."""
    row: Sequence = find(Sequence, request, sequence, "sequence")
    runs = real_runs(row, since, until)
    ended = dict(runs.exclude(ended_at=None).values_list("ended").annotate(Count("pk")).order_by())
    return FiguresOut(
        steps=[StepCount(**vars(one)) for one in step_figures(row, since, until)],
        entered=runs.count(),
        under_way=runs.filter(ended_at=None).count(),
        ended=ended,
        goal=_goal_out(goal_figures(runs)),
        by_door=[_goal_out(one) for one in goals_by(runs, "door")],
        by_source=[_goal_out(one) for one in goals_by(runs, "source")],
        by_month=[_goal_out(one) for one in goals_by(runs, "month")],
    )


@router.post("/sequences/{sequence}/rehearsal", response=SequenceRehearsalOut, auth=member_reads)
def post_rehearsal(
    request: MemberRequest, workspace: InPath, sequence: UUID, body: SequenceRehearseIn
) -> SequenceRehearsalOut:
    """Somebody's way through the sequence as it is shown; nothing is sent or stored."""
    row: Sequence = find(Sequence, request, sequence, "sequence")
    who = _who(request, body)
    only_reads(request)
    with expensive_read(request.workspace):
        found, person = rehearse_for(row, who, body.lane, body.door, body.start, body.assumptions)
    name = full_name(who) or who.address if isinstance(who, Subscriber) else "Somebody made up"
    return SequenceRehearsalOut(
        entries=found.entries,
        cut=found.cut,
        endless=found.endless,
        time_zone=person.time_zone,
        name=name,
        start=found.entries[0].at if found.entries else clock.now(request.workspace),
    )


@router.post("/sequences/{sequence}/test", response=TrialOut)
def post_test(
    request: MemberRequest, workspace: InPath, sequence: UUID, body: SequenceRehearseIn
) -> TrialOut:
    """Send the member every email that the person would get, as the rehearsal shows them."""
    row: Sequence = find(Sequence, request, sequence, "sequence")
    who = _who(request, body)
    found, person = rehearse_for(row, who, body.lane, body.door, body.start, body.assumptions)
    to = request.member.user.email
    count, problems = try_on(row, found, person, to, request.member)
    return TrialOut(sent=count, to=to, problems=problems)


def _who(request: MemberRequest, body: SequenceRehearseIn) -> Subscriber | MadeUp:
    if body.person is not None:
        found: Subscriber = find(Subscriber, request, body.person, "person")
        return found
    one = body.made_up or MadeUpIn()
    return MadeUp(one.time_zone, one.values, tuple(one.tags), one.on_list)


@router.post("/sequences/{sequence}/resume-over", response=SequenceOut)
def post_resume_over(
    request: MemberRequest, workspace: InPath, sequence: UUID, body: ResumeIn
) -> SequenceOut:
    """Resume, and let those who are due go on one after the other."""
    row = find(Sequence, request, sequence, "sequence")
    resume(row, body.spread_hours)
    return sequence_out(row)


@router.get("/ahead", response=AheadOut)
def get_ahead(request: MemberRequest, workspace: InPath) -> AheadOut:
    """What will go out in the next thirty days, as it was looked at last."""
    row = Forecast.objects.of(request.workspace).first()
    if row is None:
        return AheadOut(made_at=None, people=0, days=[], moved=[], many=[], many_total=0)
    many = ForecastPerson.objects.of(request.workspace).select_related("subscriber")
    return AheadOut(
        made_at=row.made_at,
        people=row.people,
        days=row.content["days"],
        moved=row.content["moved"],
        many=[
            AheadPerson(
                person=one.subscriber_id,
                name=full_name(one.subscriber) or one.subscriber.address,
                emails=one.emails,
                first_at=one.first_at,
            )
            for one in many.order_by("-emails", "first_at")[:50]
        ],
        many_total=many.count(),
    )


class GoalAfterOut(Schema):
    """After how many of the emails that sequences sent of a message in the last 30 days a goal was reached."""

    message: UUID
    sent: int
    reached: int


@router.get("/goals-after", response=list[GoalAfterOut])
def get_goals_after(request: MemberRequest, workspace: InPath) -> object:
    """By message."""
    return goals_after(request.workspace)


@router.get("/sequences/{sequence}/change-ahead", response=ChangeAheadOut)
def get_change_ahead(request: MemberRequest, workspace: InPath, sequence: UUID) -> object:
    row: Sequence = find(Sequence, request, sequence, "sequence")
    only_reads(request)
    with expensive_read(request.workspace, 10):
        return change_ahead(row)


@router.post("/ahead", response=Done, auth=member_reads)
def post_ahead(request: MemberRequest, workspace: InPath) -> Done:
    """Have it looked at anew, by a worker."""
    defer_once(AHEAD, request.workspace.pk)
    return Done(count=1)


@router.get("/people/{person}/runs", response=list[PersonRun])
def person_runs(request: MemberRequest, workspace: InPath, person: UUID) -> list[PersonRun]:
    """Where the person is in each sequence, the latest entered first."""
    row: Subscriber = find(Subscriber, request, person, "person")
    runs = Run.objects.of(request.workspace).filter(subscriber=row)
    runs = runs.select_related("sequence", "snag")
    held = Send.objects.of(request.workspace).filter(subscriber=row, state=Send.State.HELD)
    reasons = dict(held.exclude(holds=None).values_list("holds", "reply"))
    return [
        _person_run(run, reasons.get(run.pk, "") or (run.snag.sentence if run.snag else ""))
        for run in runs.order_by("-entered_at")[:50]
    ]


def _person_run(run: Run, held: str) -> PersonRun:
    lane = document_of_revision(str(run.revision_id)).lane(run.lane)
    steps = lane.steps if lane else ()
    place = next((n for n, one in enumerate(steps, 1) if one.id == run.step), 0)
    return PersonRun(
        run=run.pk,
        sequence=run.sequence_id,
        name=run.sequence.name,
        lane=lane.name if lane else "",
        step=place,
        of=len(steps),
        what=steps[place - 1].kind if place and not run.ended else "",
        entered_at=run.entered_at,
        due_at=run.due_at,
        ended=run.ended,
        ended_at=run.ended_at,
        moved=[Move.model_validate(one) for one in run.moved],
        held=held,
    )


@router.post("/clock", response=ClockOut)
def post_clock(request: MemberRequest, workspace: InPath, body: MoveIn) -> ClockOut:
    move_time(request.workspace, body.to)
    return ClockOut(now=clock.now(request.workspace))


def sequence_out(row: Sequence) -> SequenceOut:
    """The sheet of a sequence: the draft where there is one, else the live revision."""
    revisions = row.revisions.all()
    draft, live = draft_of(revisions), live_of(revisions)
    shown: SequenceRevision = draft or live  # type: ignore[assignment]
    document = SequenceDocument.model_validate(shown.document)
    runs = real_runs(row)
    ended = runs.exclude(ended_at=None).values_list("ended").annotate(Count("pk")).order_by()
    ended_by = dict(ended)
    under_way = runs.filter(ended_at=None).count()
    catalogue = catalogue_of(row.workspace)
    live_document = SequenceDocument.model_validate(live.document) if live else None
    return SequenceOut(
        id=row.pk,
        name=row.name,
        state=row.state,
        document=document,
        edits=edits_of(draft, live),
        differs=bool(draft and live and draft.document != live.document),
        changes=changes_of(row, live, draft) if draft else [],
        live_number=live.number if live else None,
        live=live_document,
        findings=list(check(row.workspace, document, str(row.pk))),
        counts=[StepCount(**vars(one)) for one in step_figures(row)],
        under_way=under_way,
        entered=under_way + sum(ended_by.values()),
        ended=ended_by,
        goal=_goal_out(goal_figures(runs)),
        overdue=due_while_paused(row) if row.state == Sequence.State.PAUSED else 0,
        removed=_removed(row, live_document, document) if live_document else [],
        words=in_words(document, catalogue),
        headings=headings(document, catalogue),
        revisions=revision_lines(row.revisions.all()),
    )


def _goal_out(one: GoalFigures) -> GoalCount:
    return GoalCount(**vars(one))


def _removed(row: Sequence, live: SequenceDocument, draft: SequenceDocument) -> list[RemovedStep]:
    catalogue = catalogue_of(row.workspace)
    sentences = {step.id: step.heading(catalogue).sentence for step in (*live.steps, *draft.steps)}
    found = []
    for step, people in removed_steps(row, live, draft):
        remains = step_that_remains(step, live, draft)
        following = sentences[remains[1]] if remains else "nothing: they leave"
        found.append(
            RemovedStep(step=step, sentence=sentences[step], people=people, next=following)
        )
    return found


def _revision_out(
    row: Sequence, one: SequenceRevision, earlier: SequenceRevision | None
) -> SequenceRevisionOut:
    document = SequenceDocument.model_validate(one.document)
    catalogue = catalogue_of(row.workspace)
    return SequenceRevisionOut(
        **revision_line(one).dict(),
        changes=changes_of(row, earlier, one),
        document=document,
        words=in_words(document, catalogue),
        headings=headings(document, catalogue),
    )


add_document(
    router,
    DocumentKind(
        name="sequence",
        model=Sequence,
        out=SequenceOut,
        shown=sequence_out,
        draft_in=SequenceDraftIn,
        turn_on_in=SequenceTurnOn,
        revision_out=SequenceRevisionOut,
        revision_shown=_revision_out,
        save=save_sequence_draft,
        turn_on=turn_on,
        discard=discard,
        go_back=go_back,
        document=SequenceDocument,
        differences=differences_from_stored,
        pause=pause,
        resume=resume,
    ),
)
