"""What several rooms take and give."""

from datetime import datetime
from typing import TypeVar

from django.db.models import QuerySet
from ninja import Schema

from .models import Revision

R = TypeVar("R", bound=Revision)
_LISTED = 50
"""Revisions in a list."""


class NameIn(Schema):
    name: str


class TurnOnIn(Schema):
    """`based_on`: the edits of the draft that was seen; null turns on whatever is there."""

    note: str = ""
    based_on: int | None = None


class BasedOn(Schema):
    """The edits of the draft that was seen, which is replaced; null: whatever is there."""

    based_on: int | None = None


class Done(Schema):
    """How many an action touched."""

    count: int


class RevisionLine(Schema):
    """One entry of the revisions of a document."""

    number: int
    live_at: datetime
    author: str
    note: str
    live: bool


def revision_lines(revisions: QuerySet[R]) -> list[RevisionLine]:
    """The newest revisions that are or were live, as a sheet lists them."""
    past = revisions.exclude(state=Revision.State.DRAFT).select_related("author__user")
    return [revision_line(one) for one in past.order_by("-number")[:_LISTED]]


def revision_line(one: Revision) -> RevisionLine:
    """A revision that is or was live, as the list of them shows it."""
    assert one.number is not None and one.live_at is not None
    author = one.author.user if one.author else None
    return RevisionLine(
        number=one.number,
        live_at=one.live_at,
        author=(author.name or author.email) if author else "",
        note=one.note,
        live=one.state == Revision.State.LIVE,
    )
