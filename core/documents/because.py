"""Because: the recorded cause of a fact.

Names are kept as they were when the fact came to be, so that the trail still makes
sense after a source is renamed or removed; ids are kept beside them, for the links.
"""

from typing import Any, Literal

from pydantic import TypeAdapter

from .base import value


@value
class Because:
    """Why a fact is so: a submission and the line of its route, a step, a broadcast, a member, the person, or a
    service that told it."""

    kind: Literal["route", "step", "broadcast", "member", "person", "service"]
    sentence: str
    source_id: str | None = None
    source_name: str | None = None
    submission_id: str | None = None
    revision: int | None = None
    band: str | None = None
    line_id: str | None = None
    sequence_id: str | None = None
    sequence_name: str | None = None
    run_id: str | None = None
    step_id: str | None = None
    send_id: str | None = None
    member: str | None = None
    service_id: str | None = None
    service_name: str | None = None
    broadcast_id: str | None = None
    broadcast_name: str | None = None
    replay_id: str | None = None
    """Of a fact that a replay of the submission brought about."""
    own: bool | None = None
    """Whether it is an act of the person's own just now: a form that they sent, a confirmation, a click.
    None: it is not, or nobody knows."""

    @property
    def act(self) -> str:
        """The act of the person's own that this is, as emails that answer it name it; empty: it is none."""
        if not self.own or self.replay_id:
            return ""
        if self.send_id:
            return f"email/{self.send_id}"
        return f"submission/{self.submission_id}" if self.submission_id else "confirmation"

    def as_json(self) -> dict[str, Any]:
        """As it is stored, with everything that it does not say as None."""
        stored: dict[str, Any] = _BECAUSE.dump_python(self, mode="json")
        return stored

    @staticmethod
    def from_json(stored: Any) -> "Because":
        """A because as it was stored."""
        return _BECAUSE.validate_python(stored)


_BECAUSE = TypeAdapter(Because)
