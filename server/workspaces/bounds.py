"""Dates and numbers from outside, bounded once, at the edge: what lies beyond is an error in words, never a
fault of the calendar or the database further in."""

from datetime import UTC, datetime
from typing import Annotated

from pydantic import AfterValidator, Field

EARLIEST, LATEST = datetime(1970, 1, 1, tzinfo=UTC), datetime(2200, 1, 1, tzinfo=UTC)


def bounded_moment(moment: datetime) -> datetime:
    """The moment in UTC; one without a zone is read as UTC. ValueError: it lies beyond every use."""
    aware = moment if moment.tzinfo is not None else moment.replace(tzinfo=UTC)
    try:
        found = aware.astimezone(UTC)
    except (OverflowError, ValueError):
        found = None
    if found is None or not EARLIEST <= found < LATEST:
        raise ValueError("a moment lies between 1970 and 2199")
    return found


Moment = Annotated[datetime, AfterValidator(bounded_moment)]
"""A moment that somebody sends."""
Offset = Annotated[int, Field(ge=0, le=10_000_000)]
"""How many rows are passed over."""
