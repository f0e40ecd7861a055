"""Replays of a source: choosing, seeing, running, undoing; and the rehearsal of a sheet."""

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from django.db.models import Q
from ninja import Query, Router, Schema

from core.deciding import RouteDocument
from core.history import Allowed
from server.sources.models import Source
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.bounds import Moment, Offset
from server.workspaces.endpoints import add_acts
from server.workspaces.errors import refuse
from server.workspaces.shapes import Json

from .models import Replay, ReplayLine
from .rehearsal import MOST, rehearse
from .replays import begin_replay, replays_of, run_replay, stop_replay, undo_replay

router = Router(tags=["replay"], auth=member)
LINES = 50


class ReplayIn(Schema):
    state: Literal["routed", "stuck"] | None = None
    since: Moment | None = None
    until: Moment | None = None
    first_day: date | None = None
    last_day: date | None = None
    text: str = ""
    snag: UUID | None = None
    since_revision: int | None = None
    submissions: list[UUID] = []
    allowed: list[Allowed] = ["removals"]


class ReplayOut(Schema):
    id: UUID
    source: UUID
    revision: int
    member_name: str
    state: str
    allowed: list[str]
    wanted: Json
    submissions: int
    people: int
    next_line: int
    counts: dict[str, int]
    failure: str
    created_at: datetime
    ran_at: datetime | None


class EffectLine(Schema):
    kind: str
    text: str


class ReplayLineOut(Schema):
    number: int
    person: UUID | None
    address: str
    submissions: list[UUID]
    effects: list[EffectLine]
    kept: list[str]
    done: bool


class ReplayPage(Schema):
    lines: list[ReplayLineOut]
    next: int | None


class LineFilter(Schema):
    what: Literal["changed", "left"] = "changed"
    kind: Literal["", "adds", "changes", "removes"] = ""
    after: Offset = 0


@router.get("/sources/{source}/replays", response=list[ReplayOut])
def replays(request: MemberRequest, workspace: InPath, source: UUID) -> list[ReplayOut]:
    return [_out(one) for one in replays_of(find(Source, request, source, "source"))[:50]]


@router.post("/sources/{source}/replays", response=ReplayOut)
def post_replay(
    request: MemberRequest, workspace: InPath, source: UUID, body: ReplayIn
) -> ReplayOut:
    row: Source = find(Source, request, source, "source")
    wanted = body.dict(exclude={"allowed"})
    if len(body.submissions) > 500:
        raise refuse("too_many", "submissions", "At most 500 by themselves; use a filter.")
    return _out(begin_replay(row, wanted, body.allowed, request.member))


@router.get("/replays/{replay}", response=ReplayOut)
def get_replay(request: MemberRequest, workspace: InPath, replay: UUID) -> ReplayOut:
    return _out(_find(request, replay))


@router.get("/replays/{replay}/lines", response=ReplayPage)
def lines(
    request: MemberRequest, workspace: InPath, replay: UUID, wanted: Query[LineFilter]
) -> ReplayPage:
    rows = _find(request, replay).lines.filter(number__gt=wanted.after)
    rows = rows.exclude(effects=[]) if wanted.what == "changed" else rows.exclude(kept=[])
    if wanted.kind:
        rows = rows.filter(Q(effects__contains=[{"kind": wanted.kind}]))
    page = list(rows.order_by("number")[: LINES + 1])
    more = len(page) > LINES
    page = page[:LINES]
    return ReplayPage(lines=[_line(one) for one in page], next=page[-1].number if more else None)


class RehearseIn(Schema):
    document: RouteDocument
    most: int = MOST


class RehearsedOut(Schema):
    """What the sheet would make of one submission, and what it would do differently."""

    submission: UUID
    received_at: datetime
    address: str
    person: UUID | None
    outcomes: list[str]
    problems: list[str]
    effects: list[EffectLine]
    """What differs from what was done."""


class RehearsalOut(Schema):
    lines: list[RehearsedOut]
    people: int
    stuck: int
    different: int


@router.post("/sources/{source}/rehearse", response=RehearsalOut, auth=member_reads)
def post_rehearse(
    request: MemberRequest, workspace: InPath, source: UUID, body: RehearseIn
) -> RehearsalOut:
    row: Source = find(Source, request, source, "source")
    found = rehearse(row, body.document, min(max(body.most, 1), MOST))
    table = [
        RehearsedOut(
            submission=one.submission.pk,
            received_at=one.submission.received_at,
            address=one.address,
            person=one.submission.subscriber_id,
            outcomes=list(one.outcomes),
            problems=list(one.problems),
            effects=[
                EffectLine(kind=effect.change(), text=effect.in_words()) for effect in one.effects
            ],
        )
        for one in found
    ]
    return RehearsalOut(
        lines=table,
        people=len({one.address for one in table if one.address}),
        stuck=sum(not one.address for one in table),
        different=sum(bool(one.effects) for one in table),
    )


def _find(request: MemberRequest, replay: UUID) -> Replay:
    row: Replay = find(Replay, request, replay, "replay")
    row.source.workspace = request.workspace
    return row


def _out(row: Replay) -> ReplayOut:
    return ReplayOut(
        id=row.pk,
        source=row.source_id,
        revision=row.revision.number or 0,
        member_name=row.member_name,
        state=row.state,
        allowed=row.allowed,
        wanted=row.wanted,
        submissions=row.submissions,
        people=row.people,
        next_line=row.next_line,
        counts=row.counts,
        failure=row.failure,
        created_at=row.created_at,
        ran_at=row.ran_at,
    )


def _line(row: ReplayLine) -> ReplayLineOut:
    return ReplayLineOut(
        number=row.number,
        person=row.subscriber_id,
        address=row.address,
        submissions=row.submissions,
        effects=row.effects,
        kept=row.kept,
        done=row.done,
    )


_ACTS = {"run": run_replay, "stop": stop_replay, "undo": undo_replay}
add_acts(router, "replay", _find, ReplayOut, _out, _ACTS)
