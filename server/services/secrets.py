"""What a connection signs in with: sealed in its row, opened for a request alone, never shown."""

import json

from server.workspaces.sealing import opened, sealed
from server.workspaces.shapes import Json

from .models import Service

HIDDEN = "•••"
_SHORTEST = 6
"""Shorter secrets are not looked for in texts: they would hide half of any answer."""


def secrets_of(service: Service) -> Json:
    """The secrets, by name."""
    found = opened(service.secret)
    return json.loads(found) if found else {}


def keep_secrets(service: Service, secrets: Json) -> None:
    """Seal them into the row, which the caller stores."""
    service.secret = sealed(json.dumps(secrets)) if secrets else ""


def without_secrets(text: str, secrets: Json) -> str:
    """A text in which no secret stands."""
    for one in secrets.values():
        if isinstance(one, str) and len(one) >= _SHORTEST:
            text = text.replace(one, HIDDEN)
    return text
