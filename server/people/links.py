"""Signed links that let a person act for themselves, without signing in; each of one purpose."""

from base64 import urlsafe_b64decode, urlsafe_b64encode
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from uuid import UUID

from django.conf import settings
from django.core import signing

_SALT = "yalla.leave"
_OWN = "yalla.own"
_REQUEST = "yalla.request"
_PAGE = "yalla.page"
PAGE_LASTS = timedelta(days=60)
"""How long a link to the person's own page works; after that the page sends a fresh one."""
REQUEST_LASTS = timedelta(days=7)
"""How long the link that confirms a request works."""
READ_LASTS = timedelta(days=30)
"""How long a letter's page is the person's own; after that it is the one for everybody."""


def leave_token(send_id: str) -> str:
    """The token of one send: names who it went to, and the list it belongs to."""
    return signing.Signer(salt=_SALT).sign(send_id)


def read_leave_token(token: str) -> str | None:
    """The id of the send, or None where the token is not one of ours."""
    try:
        return signing.Signer(salt=_SALT).unsign(token)
    except signing.BadSignature:
        return None


def leave_address(send_id: str) -> str:
    """The address for unsubscribing, for one send. It never runs out."""
    return f"{settings.PUBLIC_ADDRESS}/u/{leave_token(send_id)}"


@dataclass(frozen=True)
class Named:
    """What a link names, and when it was made."""

    pk: UUID
    at: datetime


def own_address(subscriber_id: UUID, at: datetime) -> str:
    """The address of a person's own page, made at `at` (of the workspace)."""
    return f"{settings.PUBLIC_ADDRESS}/p/{_named(_OWN, subscriber_id, at)}"


def read_own_token(token: str) -> Named | None:
    """Whose page a link opens; None where it is not one of ours."""
    return _read(_OWN, token)


def request_address(request_id: UUID, at: datetime) -> str:
    """The address that confirms what somebody asked for."""
    return f"{settings.PUBLIC_ADDRESS}/q/{_named(_REQUEST, request_id, at)}"


def read_request_token(token: str) -> Named | None:
    """Which request a link confirms; None where it is not one of ours."""
    return _read(_REQUEST, token)


def page_address(page: str, send_id: UUID, at: datetime) -> str:
    """The page of a letter (its address for everybody) as one person got it."""
    return f"{page}/{_named(_PAGE, send_id, at)}"


def read_page_token(token: str) -> Named | None:
    """Which send a link shows in a browser; None where it is not one of ours."""
    return _read(_PAGE, token)


def _named(salt: str, pk: UUID, at: datetime) -> str:
    short = urlsafe_b64encode(pk.bytes).decode().rstrip("=")
    return signing.Signer(salt=salt).sign(f"{short}.{int(at.timestamp()):x}")


def _read(salt: str, token: str) -> Named | None:
    try:
        short, _, at = signing.Signer(salt=salt).unsign(token).partition(".")
        return Named(
            UUID(bytes=urlsafe_b64decode(short + "==")),
            datetime.fromtimestamp(int(at, 16), UTC),
        )
    except (signing.BadSignature, ValueError):
        return None
