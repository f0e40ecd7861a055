"""Addresses that name a send, for what comes back: the sender of the envelope, and where to write to
unsubscribe. Each is signed, so that nobody makes somebody else's address bounce."""

import base64
import hashlib
import hmac
from uuid import UUID

from django.conf import settings

from .models import Send

BOUNCE, LEAVE = "b", "u"


def return_path_of(send: Send) -> str:
    """The sender of the envelope; empty where nothing that comes back reaches this server."""
    return _address(BOUNCE, send)


def leave_mail_of(send: Send) -> str:
    """Where an email unsubscribes; empty where no email reaches this server."""
    return _address(LEAVE, send)


def _address(kind: str, send: Send) -> str:
    domain = settings.RETURN_DOMAIN
    return f"{kind}-{_token(kind, send.pk)}@{domain}" if domain else ""


def _token(kind: str, pk: UUID, key: str = "") -> str:
    secret = f"yalla.return/{key or settings.SIGNING_KEYS[0]}".encode()
    mac = hmac.new(secret, kind.encode() + pk.bytes, hashlib.sha256).digest()[:8]
    # Mail servers fold the case of addresses, so there is none: base32 alone.
    return base64.b32encode(pk.bytes + mac).decode().lower().rstrip("=")


def read_return_address(address: str) -> tuple[str, UUID] | None:
    """What an address says: its kind, and the send; None where it is not one of ours."""
    local, _, domain = address.strip().strip("<>").rpartition("@")
    kind, _, token = local.lower().partition("-")
    if domain.lower() != settings.RETURN_DOMAIN.lower() or kind not in (BOUNCE, LEAVE):
        return None
    try:
        raw = base64.b32decode(token.upper() + "=" * (-len(token) % 8))
        pk = UUID(bytes=raw[:16])
    except ValueError:
        return None
    # The text is compared, not its bytes: the last letter holds bits that decoding ignores.
    good = any(
        hmac.compare_digest(_token(kind, pk, key).encode(), token.encode())
        for key in settings.SIGNING_KEYS
    )
    return (kind, pk) if good else None
