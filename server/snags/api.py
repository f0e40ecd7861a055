"""What went wrong, by cause."""

from datetime import datetime
from uuid import UUID

from ninja import Router, Schema

from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.shapes import Json

from .actions import close
from .models import Snag

router = Router(tags=["snags"], auth=member)


class SnagOut(Schema):
    id: UUID
    about: str
    cause: str
    sentence: str
    fix: str
    place: Json
    times: int
    first_at: datetime
    last_at: datetime
    closed_at: datetime | None


@router.get("/snags", response=list[SnagOut])
def snags(request: MemberRequest, workspace: InPath, closed: bool = False) -> object:
    rows = Snag.objects.of(request.workspace).filter(closed_at__isnull=not closed)
    return rows.order_by("-last_at")[:200]


@router.post("/snags/{snag}/close", response=SnagOut)
def close_snag(request: MemberRequest, workspace: InPath, snag: UUID) -> Snag:
    row: Snag = find(Snag, request, snag, "snag")
    close(row)
    return row
