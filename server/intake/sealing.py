"""Secrets at rest: encrypted with a key that is made from the server's own."""

import base64
import hashlib
import secrets

from cryptography.fernet import Fernet, InvalidToken
from django.conf import settings


def sealed(secret: str) -> str:
    """The secret as it is stored."""
    return _box().encrypt(secret.encode()).decode()


def opened(stored: str) -> str:
    """A secret that `sealed` wrote; empty where the server's key is another one now."""
    try:
        return _box().decrypt(stored.encode()).decode() if stored else ""
    except InvalidToken:
        return ""


def new_signing_secret() -> str:
    """A secret for signing webhooks, in the form of the Standard Webhooks specification."""
    return f"whsec_{base64.b64encode(secrets.token_bytes(24)).decode()}"


def _box() -> Fernet:
    key = hashlib.sha256(b"yalla.secrets/" + settings.SECRET_KEY.encode()).digest()
    return Fernet(base64.urlsafe_b64encode(key))
