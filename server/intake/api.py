"""Sources and their route sheets, the sample, and the log of submissions."""

from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from django.conf import settings
from django.db.models import Count, Max, Q
from ninja import Router, Schema

from core.documents import Finding
from core.routes import Decision, RouteDocument, StartSequence, next_page
from server.sequences.api import RevisionLine, revision_line
from server.sequences.facts import catalogue_of
from server.sequences.models import Sequence
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.documents import draft_of, live_of
from server.workspaces.errors import NotFound
from server.workspaces.models import Revision
from server.workspaces.paging import page_by_key
from server.workspaces.schemas import Done, NameIn, TurnOnIn

from .actions import (
    check,
    make_source,
    pause,
    resume,
    route_again,
    sample,
    save_route_draft,
    turn_on,
)
from .models import RouteRevision, Source, Submission

router = Router(tags=["intake"], auth=member)


class SourceLine(Schema):
    id: UUID
    name: str
    kind: str
    state: str
    arrived: int
    this_week: int
    last_at: datetime | None


class Arrivals(Schema):
    """Figures of a source: all time, the last seven days, and what is not routed."""

    arrived: int
    this_week: int
    waiting: int
    stuck: int


class SourceOut(Schema):
    id: UUID
    name: str
    kind: str
    state: str
    address: str
    document: RouteDocument
    edits: int
    differs: bool
    live_number: int | None
    findings: list[Finding]
    arrivals: Arrivals
    revisions: list[RevisionLine]


class RevisionOut(Schema):
    number: int
    live: bool
    live_at: datetime
    author: str
    document: RouteDocument


class RouteDraftIn(Schema):
    document: RouteDocument
    based_on: int


class Answer(Schema):
    """The answer to one question, exactly as received."""

    name: str
    text: str


class SampleIn(Schema):
    document: RouteDocument
    answers: list[Answer]


class SampleOut(Schema):
    decision: Decision
    next_page: str | None
    findings: list[Finding]


class SubmissionLine(Schema):
    id: UUID
    source: UUID
    source_name: str
    received_at: datetime
    routed_at: datetime | None
    state: str
    answers: list[Answer]
    person: UUID | None
    address: str
    problems: list[str]


class SubmissionPage(Schema):
    submissions: list[SubmissionLine]
    next: str | None


class SubmissionOut(SubmissionLine):
    context: dict[str, Any]
    revision: int | None
    decision: Decision | None


class DoorOut(Schema):
    """A route that starts a sequence; not live where only its draft does."""

    source: UUID
    name: str
    rule: str
    live: bool
    lane: str


@router.get("/sources", response=list[SourceLine])
def sources(request: MemberRequest, workspace: InPath) -> Any:
    week = clock.now(request.workspace) - timedelta(days=7)
    return (
        Source.objects.of(request.workspace)
        .annotate(
            arrived=Count("submissions"),
            this_week=Count("submissions", filter=Q(submissions__received_at__gte=week)),
            last_at=Max("submissions__received_at"),
        )
        .order_by("name")
    )


@router.post("/sources", response=SourceOut)
def add_source(request: MemberRequest, workspace: InPath, body: NameIn) -> SourceOut:
    return _out(make_source(request.workspace, body.name, request.member))


@router.get("/sources/{source}", response=SourceOut)
def get_source(request: MemberRequest, workspace: InPath, source: UUID) -> SourceOut:
    return _out(find(Source, request, source, "source"))


@router.put("/sources/{source}/draft", response=SourceOut)
def put_draft(
    request: MemberRequest, workspace: InPath, source: UUID, body: RouteDraftIn
) -> SourceOut:
    row = find(Source, request, source, "source")
    save_route_draft(row, body.document, body.based_on, request.member)
    return _out(row)


@router.post("/sources/{source}/turn-on", response=SourceOut)
def post_turn_on(
    request: MemberRequest, workspace: InPath, source: UUID, body: TurnOnIn
) -> SourceOut:
    row = find(Source, request, source, "source")
    turn_on(row, request.member, body.note)
    return _out(row)


@router.post("/sources/{source}/pause", response=SourceOut)
def post_pause(request: MemberRequest, workspace: InPath, source: UUID) -> SourceOut:
    row = find(Source, request, source, "source")
    pause(row)
    return _out(row)


@router.post("/sources/{source}/resume", response=SourceOut)
def post_resume(request: MemberRequest, workspace: InPath, source: UUID) -> SourceOut:
    row = find(Source, request, source, "source")
    resume(row)
    return _out(row)


@router.get("/sources/{source}/revisions/{number}", response=RevisionOut)
def get_revision(
    request: MemberRequest, workspace: InPath, source: UUID, number: int
) -> RevisionOut:
    row = find(Source, request, source, "source")
    one = row.revisions.select_related("author__user").filter(number=number).first()
    if one is None:
        raise NotFound(f"There is no revision {number} of this route.")
    line = revision_line(one)
    return RevisionOut(
        number=line.number,
        live=line.live,
        live_at=line.live_at,
        author=line.author,
        document=RouteDocument.model_validate(one.document),
    )


@router.post("/sources/{source}/sample", response=SampleOut, auth=member_reads)
def post_sample(
    request: MemberRequest, workspace: InPath, source: UUID, body: SampleIn
) -> SampleOut:
    row = find(Source, request, source, "source")
    answers = tuple((one.name, one.text) for one in body.answers)
    decision = sample(row, body.document, answers, clock.now(request.workspace))
    return SampleOut(
        decision=decision,
        next_page=next_page(body.document.visitor_sees, answers),
        findings=list(check(request.workspace, body.document)),
    )


@router.get("/sequences/{sequence}/doors", response=list[DoorOut])
def doors(request: MemberRequest, workspace: InPath, sequence: UUID) -> list[DoorOut]:
    row: Sequence = find(Sequence, request, sequence, "sequence")
    lanes = catalogue_of(request.workspace).sequences[str(row.pk)].lanes
    revisions = (
        RouteRevision.objects.of(request.workspace)
        .exclude(state=Revision.State.PAST)
        .select_related("source")
        .order_by("source__name", "-state")
    )
    found: dict[UUID, DoorOut] = {}
    for revision in revisions:
        for rule in RouteDocument.model_validate(revision.document).then:
            action = rule.action
            if rule.on and isinstance(action, StartSequence) and action.sequence == str(row.pk):
                first = next(iter(lanes.values()), "A")
                door = DoorOut(
                    source=revision.source_id,
                    name=revision.source.name,
                    rule=rule.id,
                    live=revision.state == Revision.State.LIVE,
                    lane=lanes.get(action.lane or "", first),
                )
                found.setdefault(revision.source_id, door)
    return list(found.values())


@router.get("/submissions", response=SubmissionPage)
def submissions(
    request: MemberRequest,
    workspace: InPath,
    source: UUID | None = None,
    state: str | None = None,
    after: str | None = None,
) -> SubmissionPage:
    rows = Submission.objects.of(request.workspace).select_related("source", "subscriber")
    if source:
        rows = rows.filter(source=source)
    if state:
        rows = rows.filter(state=state)
    page, next_mark = page_by_key(rows, "received_at", after)
    return SubmissionPage(submissions=[_line(one) for one in page], next=next_mark)


@router.get("/submissions/{submission}", response=SubmissionOut)
def get_submission(request: MemberRequest, workspace: InPath, submission: UUID) -> SubmissionOut:
    row: Submission = find(Submission, request, submission, "submission")
    return SubmissionOut(
        **_line(row).dict(),
        context=row.context,
        revision=row.revision.number if row.revision else None,
        decision=Decision.model_validate(row.decision) if row.decision else None,
    )


@router.post("/submissions/again/{snag}", response=Done)
def again(request: MemberRequest, workspace: InPath, snag: UUID) -> Done:
    return Done(count=route_again(request.workspace, find(Snag, request, snag, "snag")))


def _line(row: Submission) -> SubmissionLine:
    return SubmissionLine(
        id=row.pk,
        source=row.source_id,
        source_name=row.source.name,
        received_at=row.received_at,
        routed_at=row.routed_at,
        state=row.state,
        answers=[Answer(name=name, text=text) for name, text in row.answers],
        person=row.subscriber_id,
        address=row.subscriber.address if row.subscriber else "",
        problems=[one["sentence"] for one in (row.decision or {}).get("problems", [])],
    )


def _arrivals(row: Source) -> Arrivals:
    week = clock.now(row.workspace) - timedelta(days=7)
    counts = row.submissions.aggregate(
        arrived=Count("pk"),
        this_week=Count("pk", filter=Q(received_at__gte=week)),
        waiting=Count("pk", filter=Q(state="received")),
        stuck=Count("pk", filter=Q(state="stuck")),
    )
    return Arrivals(**counts)


def _out(row: Source) -> SourceOut:
    revisions = row.revisions.all()
    draft, live = draft_of(revisions), live_of(revisions)
    shown: RouteRevision = draft or live  # type: ignore[assignment]
    document = RouteDocument.model_validate(shown.document)
    numbered = (
        row.revisions.exclude(state=Revision.State.DRAFT)
        .select_related("author__user")
        .order_by("-number")[:50]
    )
    return SourceOut(
        id=row.pk,
        name=row.name,
        kind=row.kind,
        state=row.state,
        address=f"{settings.PUBLIC_ADDRESS}/f/{row.key}",
        document=document,
        edits=draft.edits if draft else 0,
        differs=bool(draft and live and draft.document != live.document),
        live_number=live.number if live else None,
        findings=list(check(row.workspace, document)),
        arrivals=_arrivals(row),
        revisions=[revision_line(one) for one in numbered],
    )
