"""What a service tells of itself, read into an event."""

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any

from pydantic import Field

from ..documents import Frozen, Problem, value
from ..values import read_email
from .answers import text_at
from .description import HeardKind, Hearing
from .handover import Handover


class HeardRule(Frozen):
    """What one kind of event changes here."""

    take: bool = True
    event: str = Field(default="", max_length=80)
    """What it is called here; empty: as the description says."""
    fields: Mapping[str, str] = {}
    """By the key over there, the id of our field."""
    tags: tuple[str, ...] = Field(default=(), max_length=20)
    rows: tuple[Handover, ...] = Field(default=(), max_length=5)
    """Rows that it appends to sheets; lines that take an answer take what the event says."""


@value
class HeardEvent:
    """One event, as it is understood."""

    kind: HeardKind | None
    """None: of a kind that the description does not name."""
    type: str
    id: str
    """Empty where the service gives none."""
    at: datetime | None
    address: str
    data: Mapping[str, str]
    fields: Mapping[str, str]
    """Values by the key over there."""
    problem: Problem | None = None

    @property
    def answers(self) -> tuple[tuple[str, str], ...]:
        """What the event says, as the answers of a form are."""
        when = (("date", self.at.date().isoformat()),) if self.at else ()
        stated = {**self.fields, **self.data}
        return (("type", self.type), ("email", self.address), *when, *stated.items())


def understand(hearing: Hearing, event: Any) -> HeardEvent:
    """Read one event."""
    kind_said = text_at(hearing.type, event)
    kind = next((one for one in hearing.kinds if one.type == kind_said), None)
    address, problem = "", None
    given = text_at(hearing.address, event)
    if kind is not None:
        read = read_email(given) if given else ""
        if isinstance(read, Problem) or not read:
            problem = Problem(
                code="no_address",
                place=hearing.address,
                sentence=f"“{given}” is no address." if given else "The event names no address.",
                fix="Check where the description says that the address stands.",
            )
        else:
            address = read
    return HeardEvent(
        kind=kind,
        type=kind_said,
        id=text_at(hearing.id, event),
        at=moment(text_at(hearing.at, event)),
        address=address,
        data=_texts(kind.data, event) if kind else {},
        fields=_texts(kind.fields, event) if kind else {},
        problem=problem,
    )


def _texts(paths: Mapping[str, str], event: Any) -> dict[str, str]:
    found = {name: text_at(path, event) for name, path in paths.items()}
    return {name: one for name, one in found.items() if one}


def happened_at(stated: datetime | None, received: datetime) -> datetime:
    """When an event happened that was received then.

    One that is told to the second may have happened until its end: who buys in the second in which they
    entered a sequence has bought after it. Nothing happens after it was received.
    """
    if stated is None:
        return received
    if stated.microsecond == 0:
        stated = stated.replace(microsecond=999_999)
    return min(stated, received)


def moment(text: str) -> datetime | None:
    """A moment as ISO 8601 or seconds of the epoch; None where it is neither."""
    if not text:
        return None
    try:
        if text.isascii() and text.replace(".", "", 1).isdigit():
            return datetime.fromtimestamp(float(text), UTC)
        found = datetime.fromisoformat(text)
    except (ValueError, OverflowError, OSError):
        return None
    return found if found.tzinfo else found.replace(tzinfo=UTC)
