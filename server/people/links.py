"""Signed links that let a person act on their own memberships, without signing in."""

from django.conf import settings
from django.core import signing

_SALT = "yalla.leave"


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
