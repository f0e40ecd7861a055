"""The API of frozen groups."""

from datetime import datetime
from uuid import UUID

from django.db.models import Count
from django.http import HttpResponseBase, StreamingHttpResponse
from django.utils.http import content_disposition_header
from ninja import Router, Schema

from core.conditions import Group
from server.people.models import FrozenGroup, FrozenMember
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.schemas import Done, NameIn

from .exports import TYPES, Form, export_group
from .groups import freeze, remove_group, rename_group

router = Router(tags=["groups"], auth=member)


class FrozenGroupOut(Schema):
    id: UUID
    name: str
    of: str
    """Whom it was made of, in words."""
    made_at: datetime
    made_by: str
    people: int


class FreezeIn(NameIn):
    who: Group


@router.get("/groups", response=list[FrozenGroupOut])
def frozen_groups(request: MemberRequest, workspace: InPath) -> list[FrozenGroupOut]:
    """All of them, the newest first."""
    rows = FrozenGroup.objects.of(request.workspace).select_related("made_by__user")
    counts = dict(
        FrozenMember.objects.of(request.workspace)
        .filter(subscriber__is_test=False)
        .values_list("group")
        .annotate(Count("pk"))
        .order_by()
    )
    return [_out(row, counts.get(row.pk, 0)) for row in rows.order_by("-made_at", "-pk")]


@router.post("/groups", response=FrozenGroupOut)
def add_group(request: MemberRequest, workspace: InPath, body: FreezeIn) -> FrozenGroupOut:
    """Keep everybody whom a condition fits now."""
    row = freeze(request.workspace, body.name, body.who, request.member)
    return _out(row, row.members.count())


@router.put("/groups/{group}/name", response=FrozenGroupOut)
def put_group_name(
    request: MemberRequest, workspace: InPath, group: UUID, body: NameIn
) -> FrozenGroupOut:
    row = rename_group(_found(request, group), body.name)
    return _out(row, row.members.count())


@router.delete("/groups/{group}", response=Done)
def delete_group(request: MemberRequest, workspace: InPath, group: UUID) -> Done:
    remove_group(_found(request, group))
    return Done(count=1)


@router.get("/groups/{group}/export", response={200: object})
def export_people(
    request: MemberRequest, workspace: InPath, group: UUID, form: Form = "csv"
) -> HttpResponseBase:
    """Everybody in it as a file."""
    row = _found(request, group)
    parts = (part.encode() for part in export_group(row, form))
    response = StreamingHttpResponse(parts, content_type=TYPES[form])
    response["Content-Disposition"] = content_disposition_header(True, f"{row.name}.{form}") or ""
    return response


def _found(request: MemberRequest, pk: UUID) -> FrozenGroup:
    row: FrozenGroup = find(FrozenGroup, request, pk, "frozen group")
    return row


def _out(row: FrozenGroup, people: int) -> FrozenGroupOut:
    by = row.made_by
    return FrozenGroupOut(
        id=row.pk,
        name=row.name,
        of=row.of,
        made_at=row.made_at,
        made_by=(by.user.name or by.user.email) if by else "",
        people=people,
    )
