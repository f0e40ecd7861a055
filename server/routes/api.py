"""Sources and their route sheets, and the sample."""

from datetime import datetime, timedelta
from typing import Literal
from urllib.parse import urlencode
from uuid import UUID

from django.conf import settings
from django.db.models import Count, Max, Q, QuerySet
from ninja import Router, Schema

from core.checking import RuleWords, rules_in_words
from core.deciding import Decision, RouteDocument, next_page
from core.documents import Finding
from core.reading import Proposal, SeenQuestion, propose
from core.sequences import Way
from core.sources import KINDS
from server.mail.models import Message
from server.people.fields import people_by_key
from server.people.models import Field
from server.sequences.facts import catalogue_of
from server.sequences.models import Sequence
from server.snags.attention import attention_of
from server.sources.actions import (
    address_of,
    discard,
    go_back,
    make_source,
    pause,
    rename_source,
    resume,
    save_route_draft,
    shown_revision,
)
from server.sources.catalogue import full_catalogue
from server.sources.models import RouteRevision, Source
from server.sources.tokens import try_token
from server.submissions.receiving import send_test
from server.submissions.schemas import Answer
from server.submissions.seen import seen_of
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.documents import draft_of, edits_of, live_of
from server.workspaces.endpoints import DocumentKind, add_document
from server.workspaces.models import Revision
from server.workspaces.schemas import (
    Done,
    NameIn,
    RevisionLine,
    TurnOnIn,
    revision_line,
    revision_lines,
)
from server.workspaces.shapes import Json

from .actions import changes_of, check, differences_from_stored, turn_on
from .path import (
    PathOut,
    lead_in_by_new_form,
    lead_into,
    lead_no_more,
    path_of,
    starts,
    turn_on_path,
)
from .sample import sample

router = Router(tags=["sources"], auth=member)


class SourceLine(Schema):
    id: UUID
    name: str
    kind: Source.Kind
    state: str
    arrived: int
    this_week: int
    last_at: datetime | None
    attention: int = 0
    """How often something went wrong, where that is enough for it to need attention."""


class Arrivals(Schema):
    """Figures of a source: all time, the last seven days, and what is not routed."""

    arrived: int
    this_week: int
    waiting: int
    stuck: int
    held: int


class SourceOut(Schema):
    id: UUID
    name: str
    kind: Source.Kind
    state: str
    key: str
    address: str
    try_address: str
    """Opens the form to try it, as the draft is; what is sent there is a test."""
    document: RouteDocument
    edits: int
    differs: bool
    changes: list[str]
    """What the draft has different from the live revision."""
    live_number: int | None
    findings: list[Finding]
    words: dict[str, RuleWords]
    """Each rule as a sentence, by its id."""
    arrivals: Arrivals
    revisions: list[RevisionLine]


class RouteRevisionOut(RevisionLine):
    changes: list[str]
    """What it has different from the revision before it."""
    document: RouteDocument
    words: dict[str, RuleWords]
    """Each rule as a sentence, by its id."""


class RouteDraftIn(Schema):
    document: RouteDocument
    based_on: int


class SampleIn(Schema):
    document: RouteDocument
    answers: list[Answer]
    context: Json = {}


class SourceIn(Schema):
    name: str
    kind: Source.Kind = Source.Kind.FORM


class SeenOut(Schema):
    """The questions of a source as they came, and lines that would read those without one."""

    questions: list[SeenQuestion]
    proposals: list[Proposal]


class TestIn(Schema):
    answers: list[Answer]


class TestOut(Schema):
    submission: UUID


class SampleOut(Schema):
    decision: Decision
    next_page: str | None
    findings: list[Finding]
    words: dict[str, RuleWords]


class Filler(Schema):
    """A route that fills a field; not live where only its draft does."""

    source: UUID
    name: str
    live: bool


class FieldUse(Schema):
    field: UUID
    people: int
    routes: list[Filler]


class DoorOut(Schema):
    """A route that starts a sequence; not live where only its draft does."""

    source: UUID
    name: str
    rule: str
    live: bool
    lane: str
    lane_id: str


class LeadIn(Schema):
    """The source that leads into a sequence, or the name of a new form; at the first lane, where none is
    named."""

    source: UUID | None = None
    new_form: str = ""
    lane: str | None = None
    wording: str = ""
    """What people read above the button of the new form, and agree to: they join the sequence's list."""


class PartIn(Schema):
    kind: Literal["source", "message"]
    id: UUID
    based_on: int


class TurnOnPathIn(TurnOnIn):
    """`parts`: what is turned on along with the sequence; `removed`: what becomes of those at steps that
    are gone."""

    parts: list[PartIn] = []
    removed: dict[str, Way] = {}


@router.get("/sources", response=list[SourceLine])
def sources(request: MemberRequest, workspace: InPath, archived: bool = False) -> object:
    week = clock.now(request.workspace) - timedelta(days=7)
    wrong = attention_of(request.workspace, "source")
    rows = (
        Source.objects.of(request.workspace)
        .filter(archived_at__isnull=not archived)
        .annotate(
            arrived=Count("submissions", filter=Q(submissions__is_test=False)),
            this_week=Count(
                "submissions",
                filter=Q(submissions__received_at__gte=week, submissions__is_test=False),
            ),
            last_at=Max("submissions__received_at", filter=Q(submissions__is_test=False)),
        )
        .order_by("name")
    )
    for one in rows:
        one.attention = wrong.get(one.pk, 0)
    return rows


@router.post("/sources", response=SourceOut)
def add_source(request: MemberRequest, workspace: InPath, body: SourceIn) -> SourceOut:
    return _out(make_source(request.workspace, body.name, request.member, kind=body.kind))


@router.get("/sources/{source}", response=SourceOut)
def get_source(request: MemberRequest, workspace: InPath, source: UUID) -> SourceOut:
    return _out(find(Source, request, source, "source"))


@router.put("/sources/{source}/name", response=SourceOut)
def put_name(request: MemberRequest, workspace: InPath, source: UUID, body: NameIn) -> SourceOut:
    row = find(Source, request, source, "source")
    rename_source(row, body.name)
    return _out(row)


@router.get("/sources/{source}/seen", response=SeenOut)
def get_seen(request: MemberRequest, workspace: InPath, source: UUID) -> SeenOut:
    row: Source = find(Source, request, source, "source")
    seen = seen_of(row)
    document = RouteDocument.model_validate(shown_revision(row).document)
    names = {**{one.name: one.name for one in seen}, **document.form.names}
    if KINDS[row.kind].asks:
        names = document.form.names
    read = {name for line in document.read_as for name in (line.question, *line.also)}
    read |= {line.question for line in document.consent}
    fields = full_catalogue(request.workspace).fields.values()
    proposals = propose(
        {name: label for name, label in names.items() if name not in read},
        document.form.questions,
        seen,
        fields,
        frozenset(line.field for line in document.read_as if line.field),
    )
    return SeenOut(questions=list(seen), proposals=list(proposals))


@router.post("/sources/{source}/test", response=TestOut)
def post_test(request: MemberRequest, workspace: InPath, source: UUID, body: TestIn) -> TestOut:
    row: Source = find(Source, request, source, "source")
    answers = tuple((one.name, one.text) for one in body.answers)
    return TestOut(submission=send_test(row, answers, request.member).pk)


@router.post("/sources/{source}/sample", response=SampleOut, auth=member_reads)
def post_sample(
    request: MemberRequest, workspace: InPath, source: UUID, body: SampleIn
) -> SampleOut:
    row = find(Source, request, source, "source")
    answers = tuple((one.name, one.text) for one in body.answers)
    now = clock.now(request.workspace)
    decision = sample(row, body.document, answers, body.context, now)
    return SampleOut(
        decision=decision,
        next_page=next_page(body.document.visitor_sees, answers),
        findings=list(check(row, body.document)),
        words=rules_in_words(body.document, catalogue_of(request.workspace)),
    )


@router.get("/fields/use", response=list[FieldUse])
def field_use(request: MemberRequest, workspace: InPath) -> list[FieldUse]:
    people = people_by_key(request.workspace)
    filled: dict[str, dict[UUID, Filler]] = {}
    for revision in _current_revisions(request):
        for line in RouteDocument.model_validate(revision.document).read_as:
            live = revision.state == Revision.State.LIVE
            filler = Filler(source=revision.source_id, name=revision.source.name, live=live)
            filled.setdefault(line.field or "", {}).setdefault(revision.source_id, filler)
    return [
        FieldUse(
            field=field.pk,
            people=people.get(field.key, 0),
            routes=list(filled.get(str(field.pk), {}).values()),
        )
        for field in Field.objects.of(request.workspace).order_by("pk")
    ]


def _current_revisions(request: MemberRequest) -> QuerySet[RouteRevision]:
    """The live revision and the draft of every route, the live one first."""
    rows: QuerySet[RouteRevision] = RouteRevision.objects.of(request.workspace)
    current = rows.exclude(state=Revision.State.PAST).select_related("source")
    return current.order_by("source__name", "-state")


@router.get("/sequences/{sequence}/doors", response=list[DoorOut])
def doors(request: MemberRequest, workspace: InPath, sequence: UUID) -> list[DoorOut]:
    return _doors(request, find(Sequence, request, sequence, "sequence"))


@router.post("/sequences/{sequence}/doors", response=list[DoorOut])
def add_door(
    request: MemberRequest, workspace: InPath, sequence: UUID, body: LeadIn
) -> list[DoorOut]:
    """Let a source lead into the sequence, or make a form that does."""
    row: Sequence = find(Sequence, request, sequence, "sequence")
    if body.source:
        lead_into(find(Source, request, body.source, "source"), row, body.lane, request.member)
    else:
        lead_in_by_new_form(row, body.new_form, body.lane, body.wording, request.member)
    return _doors(request, row)


@router.delete("/sequences/{sequence}/doors/{source}", response=list[DoorOut])
def remove_door(
    request: MemberRequest, workspace: InPath, sequence: UUID, source: UUID, lane: str = ""
) -> list[DoorOut]:
    """In the draft of the source; what is live goes on until it is turned on. No lane: the first one."""
    row: Sequence = find(Sequence, request, sequence, "sequence")
    lead_no_more(find(Source, request, source, "source"), row, lane, request.member)
    return _doors(request, row)


@router.get("/sequences/{sequence}/path", response=PathOut)
def path(request: MemberRequest, workspace: InPath, sequence: UUID) -> PathOut:
    return path_of(find(Sequence, request, sequence, "sequence"))


@router.post("/sequences/{sequence}/turn-on-path", response=Done)
def post_turn_on_path(
    request: MemberRequest, workspace: InPath, sequence: UUID, body: TurnOnPathIn
) -> Done:
    row: Sequence = find(Sequence, request, sequence, "sequence")
    parts: list[tuple[Source | Message, int]] = []
    for one in body.parts:
        if one.kind == "source":
            parts.append((find(Source, request, one.id, "source"), one.based_on))
        else:
            parts.append((find(Message, request, one.id, "message"), one.based_on))
    turn_on_path(row, parts, request.member, body.note, body.based_on, body.removed)
    return Done(count=len(parts))


def _doors(request: MemberRequest, row: Sequence) -> list[DoorOut]:
    lanes = full_catalogue(request.workspace).sequences[str(row.pk)].lanes
    found: dict[tuple[UUID, str], DoorOut] = {}
    for revision in _current_revisions(request):
        for rule, named in starts(RouteDocument.model_validate(revision.document), row):
            lane = named if named in lanes else next(iter(lanes), "")
            door = DoorOut(
                source=revision.source_id,
                name=revision.source.name,
                rule=rule.id,
                live=revision.state == Revision.State.LIVE,
                lane=lanes.get(lane or "", "A"),
                lane_id=lane or "",
            )
            found.setdefault((revision.source_id, lane or ""), door)
    return list(found.values())


def _arrivals(row: Source) -> Arrivals:
    week = clock.now(row.workspace) - timedelta(days=7)
    counts = row.submissions.filter(is_test=False).aggregate(
        arrived=Count("pk"),
        this_week=Count("pk", filter=Q(received_at__gte=week)),
        waiting=Count("pk", filter=Q(state="received")),
        stuck=Count("pk", filter=Q(state="stuck")),
        held=Count("pk", filter=Q(state="held")),
    )
    return Arrivals(**counts)


def _out(row: Source) -> SourceOut:
    revisions = row.revisions.all()
    draft, live = draft_of(revisions), live_of(revisions)
    document = RouteDocument.model_validate(shown_revision(row).document)
    return SourceOut(
        id=row.pk,
        name=row.name,
        kind=Source.Kind(row.kind),
        state=row.state,
        key=row.key,
        address=address_of(row),
        try_address=f"{settings.PUBLIC_ADDRESS}/f/{row.key}?{urlencode({'try': try_token(row)})}",
        document=document,
        edits=edits_of(draft, live),
        differs=bool(draft and live and draft.document != live.document),
        changes=changes_of(row, live, draft) if draft else [],
        live_number=live.number if live else None,
        findings=list(check(row, document)),
        words=rules_in_words(document, catalogue_of(row.workspace)),
        arrivals=_arrivals(row),
        revisions=revision_lines(row.revisions.all()),
    )


def _revision_out(
    row: Source, one: RouteRevision, earlier: RouteRevision | None
) -> RouteRevisionOut:
    document = RouteDocument.model_validate(one.document)
    return RouteRevisionOut(
        **revision_line(one).dict(),
        changes=changes_of(row, earlier, one),
        document=document,
        words=rules_in_words(document, catalogue_of(row.workspace)),
    )


add_document(
    router,
    DocumentKind(
        name="source",
        model=Source,
        out=SourceOut,
        shown=_out,
        turn_on_in=TurnOnIn,
        draft_in=RouteDraftIn,
        revision_out=RouteRevisionOut,
        revision_shown=_revision_out,
        save=save_route_draft,
        turn_on=turn_on,
        discard=discard,
        go_back=go_back,
        document=RouteDocument,
        differences=differences_from_stored,
        pause=pause,
        resume=resume,
    ),
)
