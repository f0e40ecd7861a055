"""The descriptions that ship: of the simulated services, and of open standards."""

import json
from functools import lru_cache
from pathlib import Path

from django.conf import settings

from core.services import ServiceDescription

_FOLDER = Path(__file__).parent / "descriptions"
_STANDARD = ("webhook", "cloudevents", "address-book")
"""Those of standards, which any program may speak: they stand wherever there is no simulated world."""
_OUTSIDE = "http://outside.example"


def shipped() -> dict[str, ServiceDescription]:
    """By their names; those of the simulated services where these are."""
    return dict(_shipped(settings.OUTSIDE_ADDRESS))


@lru_cache(maxsize=8)
def _shipped(outside: str) -> dict[str, ServiceDescription]:
    found = {}
    for file in sorted(_FOLDER.glob("*.json")):
        if outside or file.stem in _STANDARD:
            text = file.read_text().replace(_OUTSIDE, outside or "https://contacts.example.com")
            found[file.stem] = ServiceDescription.model_validate(json.loads(text))
    return found
