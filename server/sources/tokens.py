"""Signed tokens of the public form: which revision a rendering showed and when, and a member's try."""

import secrets
import time
from dataclasses import dataclass

from django.core import signing

from .models import Source

_RENDERING = "yalla.rendering"
_TRY = "yalla.try"
_TRY_SECONDS = 24 * 3600


@dataclass(frozen=True)
class Rendering:
    """One showing of a form: its name, the revision shown, and when (seconds since 1970)."""

    name: str
    revision: str
    shown_at: float


def new_rendering(revision: str, shown_at: float | None = None) -> str:
    """The token of a new rendering."""
    at = time.time() if shown_at is None else shown_at
    text = f"{revision}:{secrets.token_urlsafe(12)}:{int(at * 1000)}"
    return signing.Signer(salt=_RENDERING).sign(text)


def read_rendering(token: str) -> Rendering | None:
    """The rendering, or None where the token is not one of ours."""
    try:
        revision, name, at = signing.Signer(salt=_RENDERING).unsign(token).split(":")
        return Rendering(name, revision, int(at) / 1000)
    except (signing.BadSignature, ValueError):
        return None


def try_token(source: Source) -> str:
    """Lets whoever holds it send test submissions through this source, for a day."""
    return signing.TimestampSigner(salt=_TRY).sign(str(source.pk))


def read_try(token: str) -> str | None:
    """The id of the source that may be tried, or None."""
    try:
        return signing.TimestampSigner(salt=_TRY).unsign(token, max_age=_TRY_SECONDS)
    except signing.BadSignature:
        return None
