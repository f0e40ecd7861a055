"""Pictures of forms."""

from uuid import UUID

from ninja import Router, Schema

from server.workspaces.auth import InPath, MemberRequest, member
from server.workspaces.images import LARGEST

from .models import Picture
from .pictures import keep_picture

router = Router(tags=["forms"], auth=member)


class PictureOut(Schema):
    id: UUID
    width: int
    height: int


@router.post("/pictures", response=PictureOut)
def post_picture(request: MemberRequest, workspace: InPath) -> Picture:
    return keep_picture(request.workspace, request.read(LARGEST + 1))
