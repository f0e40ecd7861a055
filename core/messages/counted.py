"""What is counted of an email."""

from ..documents import value
from .document import MessageDocument


@value
class Counts:
    """Whether it is counted who loads its pictures, and who follows its links."""

    opens: bool
    clicks: bool


def counts_of(document: MessageDocument, house: Counts) -> Counts:
    """As the message says, or where it says nothing, the workspace."""
    return Counts(
        opens=house.opens if document.opens is None else document.opens,
        clicks=house.clicks if document.clicks is None else document.clicks,
    )
