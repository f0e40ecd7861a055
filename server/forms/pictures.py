"""Pictures for forms."""

from server.workspaces.history import changes
from server.workspaces.images import read_picture, written
from server.workspaces.models import Workspace

from .models import Picture

_WIDEST = 1600


@changes("added a picture")
def keep_picture(workspace: Workspace, content: bytes) -> Picture:
    """Keep a PNG, JPEG or WebP, at most 1600 pixels wide, without what else was in the file."""
    data, content_type, width, height = written(read_picture(content), _WIDEST)
    return Picture.everywhere.create(
        workspace=workspace, content=data, content_type=content_type, width=width, height=height
    )
