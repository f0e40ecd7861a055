"""Watched sheets: where they are, and looking now."""

from datetime import datetime
from uuid import UUID

from ninja import Router, Schema

from core.documents import Problem
from server.sources.models import Source, Watch
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.errors import refuse
from server.workspaces.forms import Based, Versioned, saving, version_of

from .sheets import look_now, set_watch

router = Router(tags=["connections"], auth=member)


class WatchIn(Schema):
    address: str
    minutes: int = 15
    key_heading: str = ""


class WatchSave(WatchIn, Based):
    """Settings as they are saved."""


class WatchOut(WatchIn, Versioned):
    headings: list[str]
    next_at: datetime | None
    looked_at: datetime | None
    rows: int
    came: int
    problem: Problem | None


@router.get("/sources/{source}/watch", response=WatchOut)
def get_watch(request: MemberRequest, workspace: InPath, source: UUID) -> WatchOut:
    return _watch(_find(request, source, Source.Kind.SHEET).watch)


@router.put("/sources/{source}/watch", response=WatchOut)
def put_watch(request: MemberRequest, workspace: InPath, source: UUID, body: WatchSave) -> WatchOut:
    watch = _find(request, source, Source.Kind.SHEET).watch
    with saving(watch, body.based_on, lambda row: _watch(row).version) as row:
        return _watch(set_watch(row, body.address, body.minutes, body.key_heading))


@router.post("/sources/{source}/watch/look", response=WatchOut)
def post_look(request: MemberRequest, workspace: InPath, source: UUID) -> WatchOut:
    return _watch(look_now(_find(request, source, Source.Kind.SHEET).watch))


def _find(request: MemberRequest, source: UUID, kind: Source.Kind) -> Source:
    row: Source = find(Source, request, source, "source")
    if row.kind != kind:
        raise refuse("other_kind", "source", f"This source is not a {kind.value}.")
    return row


def _watch(row: Watch) -> WatchOut:
    held = WatchIn(address=row.address, minutes=row.minutes, key_heading=row.key_heading)
    return WatchOut(
        **dict(held),
        version=version_of(held, WatchIn),
        headings=row.headings,
        next_at=row.next_at,
        looked_at=row.looked_at,
        rows=row.rows,
        came=row.came,
        problem=Problem.model_validate(row.problem) if row.problem else None,
    )
