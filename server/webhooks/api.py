"""Webhooks: their address, their secret, the last calls."""

import json
import shlex
from datetime import datetime
from uuid import UUID

from ninja import Router, Schema

from server.sources.actions import address_of, set_signed
from server.sources.models import Source
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.errors import refuse
from server.workspaces.models import Role
from server.workspaces.sealing import opened

router = Router(tags=["connections"], auth=member)


class CallOut(Schema):
    """A call as it came."""

    id: UUID
    at: datetime
    status: int
    outcome: str
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


@router.get("/sources/{source}/hook", response=HookOut)
def get_hook(request: MemberRequest, workspace: InPath, source: UUID) -> HookOut:
    return _hook(_find(request, source, Source.Kind.WEBHOOK), request.member.role)


@router.put("/sources/{source}/hook", response=HookOut)
def put_hook(request: MemberRequest, workspace: InPath, source: UUID, body: SignedIn) -> HookOut:
    """Make a new secret, or take calls that are not signed."""
    row = _find(request, source, Source.Kind.WEBHOOK)
    set_signed(row, body.signed)
    return _hook(row, request.member.role)


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
                outcome=one.outcome,
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
