"""The suppression list."""

from datetime import datetime
from uuid import UUID

from django.http import HttpResponseBase, StreamingHttpResponse
from ninja import Router, Schema

from core.documents import Problem
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.paging import page_by_key
from server.workspaces.schemas import Done

from .models import Suppression
from .suppression import as_csv, suppress, unsuppress

router = Router(tags=["suppression"], auth=member)


class SuppressionLine(Schema):
    id: UUID
    kind: str
    key: str
    reason: str
    member: str
    added_at: datetime


class SuppressionPage(Schema):
    entries: list[SuppressionLine]
    next: str | None
    total: int


class SuppressIn(Schema):
    lines: list[str]
    reason: str = ""


class SuppressOut(Schema):
    added: int
    problems: list[Problem]


@router.get("/suppression", response=SuppressionPage)
def suppression(
    request: MemberRequest, workspace: InPath, search: str = "", after: str | None = None
) -> SuppressionPage:
    rows = Suppression.objects.of(request.workspace).select_related("member__user")
    if search.strip():
        rows = rows.filter(key__contains=search.strip().lower())
    page, following = page_by_key(rows, "added_at", after)
    return SuppressionPage(
        entries=[
            SuppressionLine(
                id=one.pk,
                kind=one.kind,
                key=one.key,
                reason=one.reason,
                member=(one.member.user.name or one.member.user.email) if one.member else "",
                added_at=one.added_at,
            )
            for one in page
        ],
        next=following,
        total=rows.count(),
    )


@router.post("/suppression", response=SuppressOut)
def post_suppression(request: MemberRequest, workspace: InPath, body: SuppressIn) -> SuppressOut:
    added, problems = suppress(request.workspace, body.lines, body.reason, request.member)
    return SuppressOut(added=added, problems=problems[:50])


@router.get("/suppression/export", response={200: object})
def export(request: MemberRequest, workspace: InPath) -> HttpResponseBase:
    lines = as_csv(request.workspace)
    kind = "text/csv; charset=utf-8; header=present"
    response = StreamingHttpResponse((line.encode() for line in lines), content_type=kind)
    response["Content-Disposition"] = 'attachment; filename="suppression.csv"'
    return response


@router.delete("/suppression/{entry}", response=Done)
def delete_suppression(request: MemberRequest, workspace: InPath, entry: UUID) -> Done:
    unsuppress(find(Suppression, request, entry, "entry"))
    return Done(count=1)
