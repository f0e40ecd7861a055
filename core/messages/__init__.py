"""The text of an email for its person, and what comes back."""

from .bounces import refuses_address
from .personal import (
    TOO_COSTLY,
    MessageText,
    Personalised,
    asks_to_confirm,
    check_message,
    context_of,
    links_to,
    needed,
    personalise,
    with_links,
)

__all__ = [
    "TOO_COSTLY",
    "MessageText",
    "Personalised",
    "asks_to_confirm",
    "check_message",
    "context_of",
    "links_to",
    "needed",
    "personalise",
    "refuses_address",
    "with_links",
]
