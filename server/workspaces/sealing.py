"""Secrets at rest: encrypted with the server's `SEALING_KEYS`, the newest first."""

import base64
import hashlib
import secrets

from cryptography.fernet import Fernet, InvalidToken, MultiFernet
from django.conf import settings


def sealed(secret: str) -> str:
    """The secret as it is stored."""
    return _box().encrypt(secret.encode()).decode()


def opened(stored: str) -> str:
    """A secret that `sealed` wrote; empty where none of the server's keys fits."""
    try:
        return _box().decrypt(stored.encode()).decode() if stored else ""
    except InvalidToken:
        return ""


def new_signing_secret() -> str:
    """A secret for signing webhooks, in the form of the Standard Webhooks specification."""
    return f"whsec_{base64.b64encode(secrets.token_bytes(24)).decode()}"


def _box() -> MultiFernet:
    """Seals with the newest key and opens with any of them."""
    digests = [hashlib.sha256(f"yalla.secrets/{key}".encode()) for key in settings.SEALING_KEYS]
    return MultiFernet([Fernet(base64.urlsafe_b64encode(one.digest())) for one in digests])
