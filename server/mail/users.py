"""Whether a message is in use: then an edit of it is a draft until somebody turns it on.

The rooms above say so for what they know of (`used_by`), since this room does not know them.
"""

from collections.abc import Callable

from django.db.models import Q

from .models import ListMail, Message

_SAYS: list[Callable[[Message], bool]] = []


def used_by(says: Callable[[Message], bool]) -> None:
    """Register a way to ask whether something live uses a message."""
    _SAYS.append(says)


def is_used(message: Message) -> bool:
    """Whether a list, or something that is live, sends this message."""
    lists = ListMail.everywhere.filter(Q(asking=message.pk) | Q(welcome=message.pk))
    return lists.exists() or any(says(message) for says in _SAYS)
