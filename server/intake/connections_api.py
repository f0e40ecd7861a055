"""Webhooks and watched sheets: addresses, secrets, the last calls, looking now."""

import json
import shlex
from datetime import datetime
from uuid import UUID

from ninja import Router, Schema

from core.documents import Problem
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.errors import refuse
from server.workspaces.models import Role

from .actions import address_of, set_signed
from .models import Source, Watch
from .sealing import opened
from .sheets import look_now, set_watch

router = Router(tags=["connections"], auth=member)


class CallOut(Schema):
    """A call as it came."""

    id: UUID
    at: datetime
    status: int
    said: str
    headers: dict[str, str]
    body: str
    submission: UUID | None


class HookOut(Schema):
    address: str
    signed: bool
    secret: str
    """Shown to those who may change the workspace; empty for readers."""
    curl: str
    calls: list[CallOut]


class SignedIn(Schema):
    signed: bool


class WatchIn(Schema):
    address: str
    minutes: int = 15
    key_heading: str = ""


class WatchOut(WatchIn):
    headings: list[str]
    next_at: datetime | None
    looked_at: datetime | None
    rows: int
    came: int
    problem: Problem | None


@router.get("/sources/{source}/hook", response=HookOut)
def get_hook(request: MemberRequest, workspace: InPath, source: UUID) -> HookOut:
    return _hook(_find(request, source, Source.Kind.WEBHOOK), request.member.role)


@router.put("/sources/{source}/hook", response=HookOut)
def put_hook(request: MemberRequest, workspace: InPath, source: UUID, body: SignedIn) -> HookOut:
    """Make a new secret, or take calls that are not signed."""
    row = _find(request, source, Source.Kind.WEBHOOK)
    set_signed(row, body.signed)
    return _hook(row, request.member.role)


@router.get("/sources/{source}/watch", response=WatchOut)
def get_watch(request: MemberRequest, workspace: InPath, source: UUID) -> WatchOut:
    return _watch(_find(request, source, Source.Kind.SHEET).watch)


@router.put("/sources/{source}/watch", response=WatchOut)
def put_watch(request: MemberRequest, workspace: InPath, source: UUID, body: WatchIn) -> WatchOut:
    watch = _find(request, source, Source.Kind.SHEET).watch
    return _watch(set_watch(watch, body.address, body.minutes, body.key_heading))


@router.post("/sources/{source}/watch/look", response=WatchOut)
def post_look(request: MemberRequest, workspace: InPath, source: UUID) -> WatchOut:
    return _watch(look_now(_find(request, source, Source.Kind.SHEET).watch))


def _find(request: MemberRequest, source: UUID, kind: Source.Kind) -> Source:
    row: Source = find(Source, request, source, "source")
    if row.kind != kind:
        raise refuse("other_kind", "source", f"This source is not a {kind.value}.")
    return row


def _hook(row: Source, role: str) -> HookOut:
    return HookOut(
        address=address_of(row) if role != Role.READER else "",
        signed=bool(row.secret),
        secret=opened(row.secret) if role != Role.READER else "",
        curl=_curl(row) if role != Role.READER else "",
        calls=[
            CallOut(
                id=one.pk,
                at=one.at,
                status=one.status,
                said=one.said,
                headers=one.headers,
                body=bytes(one.body).decode("utf-8", "replace"),
                submission=one.submission_id,
            )
            for one in row.calls.order_by("-at", "-pk")[:20]
        ],
    )


def _curl(row: Source) -> str:
    """A line that sends one call, signed where calls are (Standard Webhooks: HMAC-SHA256 of
    id, time and body, with the secret's bytes as the key)."""
    body = json.dumps({"email": "ines@example.com", "person": {"first_name": "Ines"}})
    parts = ["curl", "-i", shlex.quote(address_of(row)), "-H 'Content-Type: application/json'"]
    if not row.secret:
        return " ".join([*parts, "--data", shlex.quote(body)])
    key = opened(row.secret).removeprefix("whsec_")
    return (
        f"body={shlex.quote(body)}; id=msg_$(date +%s%N); at=$(date +%s); "
        f"key=$(printf %s {shlex.quote(key)} | base64 -d | od -An -vtx1 | tr -d ' \\n'); "
        'sig=$(printf %s "$id.$at.$body" | openssl dgst -sha256 -mac HMAC '
        '-macopt hexkey:"$key" -binary | base64); '
        + " ".join(parts)
        + ' -H "webhook-id: $id" -H "webhook-timestamp: $at" -H "webhook-signature: v1,$sig"'
        ' --data "$body"'
    )


def _watch(row: Watch) -> WatchOut:
    return WatchOut(
        address=row.address,
        minutes=row.minutes,
        key_heading=row.key_heading,
        headings=row.headings,
        next_at=row.next_at,
        looked_at=row.looked_at,
        rows=row.rows,
        came=row.came,
        problem=Problem.model_validate(row.problem) if row.problem else None,
    )
