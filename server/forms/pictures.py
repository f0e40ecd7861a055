"""Pictures for forms: read, bounded, and written anew, so that nothing else comes with them."""

import io
import warnings

from PIL import Image, UnidentifiedImageError

from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Workspace

from .models import Picture

LARGEST = 8 * 2**20
_WIDEST = 1600
_MOST_PIXELS = 40_000_000


@changes("added a picture")
def keep_picture(workspace: Workspace, content: bytes) -> Picture:
    """Keep a PNG, JPEG or WebP, at most 1600 pixels wide, without what else was in the file."""
    if not content or len(content) > LARGEST:
        raise refuse(
            "picture_size",
            "picture",
            "A picture has at most 8 MB." if content else "The file is empty.",
            "Choose another one, or make it smaller.",
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image: Image.Image = Image.open(io.BytesIO(content), formats=("PNG", "JPEG", "WEBP"))
            if image.width * image.height > _MOST_PIXELS:
                raise refuse(
                    "picture_size",
                    "picture",
                    "The picture has too many pixels.",
                    "Make it smaller.",
                )
            image.load()
    except (
        UnidentifiedImageError,
        OSError,
        ValueError,
        Image.DecompressionBombError,
        Image.DecompressionBombWarning,
    ):
        raise refuse(
            "not_a_picture",
            "picture",
            "This is not a picture that can be shown.",
            "Choose a PNG, a JPEG or a WebP.",
        ) from None
    if image.width > _WIDEST:
        image = image.resize((_WIDEST, max(1, round(image.height * _WIDEST / image.width))))
    has_alpha = image.mode in ("RGBA", "LA", "P")
    out = io.BytesIO()
    if has_alpha:
        image.convert("RGBA").save(out, "PNG", optimize=True)
    else:
        image.convert("RGB").save(out, "JPEG", quality=85)
    return Picture.everywhere.create(
        workspace=workspace,
        content=out.getvalue(),
        content_type="image/png" if has_alpha else "image/jpeg",
        width=image.width,
        height=image.height,
    )
