"""Pictures that members add: read, bounded, and written anew, so that nothing else comes with them."""

import io
import warnings

from PIL import Image, UnidentifiedImageError

from .errors import refuse

LARGEST = 8 * 2**20
_MOST_PIXELS = 40_000_000


def read_picture(content: bytes) -> Image.Image:
    """A PNG, JPEG or WebP; refused where it is something else, or too large."""
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
    return image


def has_alpha(image: Image.Image) -> bool:
    """Whether parts of the picture may let what is behind it through."""
    return image.mode in ("RGBA", "LA", "P")


def written(image: Image.Image, widest: int) -> tuple[bytes, str, int, int]:
    """The picture at most `widest` pixels wide: its bytes, its type, its width and height."""
    if image.width > widest:
        image = image.resize((widest, max(1, round(image.height * widest / image.width))))
    out = io.BytesIO()
    if has_alpha(image):
        image.convert("RGBA").save(out, "PNG", optimize=True)
        return out.getvalue(), "image/png", image.width, image.height
    image.convert("RGB").save(out, "JPEG", quality=85)
    return out.getvalue(), "image/jpeg", image.width, image.height
