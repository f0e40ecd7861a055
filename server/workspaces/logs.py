"""What may stand in a log: no address, no token of a link, no values of a row."""

import re
from collections.abc import MutableMapping

_ADDRESS = re.compile(r"[^\s<>()\"'=,;:]+@[^\s<>()\"'=,;]+")
_LINK = re.compile(r"/([a-z])/[A-Za-z0-9_:.-]{12,}(?:/[A-Za-z0-9_:.-]+)*")
# PostgreSQL names the values of a row that broke a constraint.
_DETAIL = re.compile(r"(DETAIL|CONTEXT): .*")


def without_people(
    logger: object, method: str, event: MutableMapping[str, object]
) -> MutableMapping[str, object]:
    """A processor of structlog: the event with everything personal taken out of its texts."""
    for key, value in event.items():
        if isinstance(value, str):
            event[key] = cleared(value)
    return event


def cleared(text: str) -> str:
    """The text without addresses, tokens and details of rows."""
    text = _DETAIL.sub(r"\1: (left out)", text)
    text = _LINK.sub(r"/\1/(token)", text)
    return _ADDRESS.sub("(address)", text)
