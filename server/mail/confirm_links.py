"""Signed links that open the page on which a person confirms a subscription."""

from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import UUID

from django.conf import settings
from django.core import signing

from server.people.models import Membership

from .models import Send

_SALT = "yalla.confirm"
_SHOWN = "yalla.confirm.shown"
ORIGIN = "confirm/"
"""Begins the origin of every send that asks; the membership and the moment follow."""


@dataclass(frozen=True)
class Asked:
    """What a confirmation link says: which membership, and when it was asked for."""

    membership: UUID
    at: datetime


def confirm_address(membership: Membership, at: datetime) -> str:
    """The address that opens the page on which the person confirms."""
    token = signing.Signer(salt=_SALT).sign(f"{membership.pk}:{int(at.timestamp())}")
    return f"{settings.PUBLIC_ADDRESS}/c/{token}"


def read_confirm(token: str) -> Asked | None:
    """What a link says, or None where it is not one of ours."""
    try:
        membership, at = signing.Signer(salt=_SALT).unsign(token).split(":")
        return Asked(UUID(membership), datetime.fromtimestamp(int(at), UTC))
    except (signing.BadSignature, ValueError):
        return None


def shown_token(asked: Asked, wording: str) -> str:
    """What the page that asks says, for the form on it: the evidence keeps what was shown, whatever the
    list says by the time somebody presses the button."""
    return signing.Signer(salt=_SHOWN).sign_object([str(asked.membership), wording])


def read_shown(asked: Asked, token: str) -> str | None:
    """What the page of this link said; None where that did not come along unharmed."""
    try:
        membership, wording = signing.Signer(salt=_SHOWN).unsign_object(token)
    except (signing.BadSignature, ValueError):
        return None
    return str(wording) if membership == str(asked.membership) else None


def confirm_link_of(send: Send) -> str:
    """The link that belongs to a send that asks; empty for every other."""
    if not send.origin.startswith(ORIGIN):
        return ""
    membership, _, at = send.origin.removeprefix(ORIGIN).partition("/")
    found = Membership.everywhere.filter(pk=membership).first()
    return confirm_address(found, datetime.fromtimestamp(int(at), UTC)) if found else ""
