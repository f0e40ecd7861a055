"""What needs attention: the things whose open snags pass the number that the workspace sets."""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from server.workspaces.models import Workspace

from .models import Snag

KINDS = ("service", "sequence", "source", "message")
"""Of what a snag names, that which it is counted for: the first of these."""


@dataclass(frozen=True)
class Needing:
    """A thing with its open snags."""

    kind: str
    """One of `KINDS`; empty: the workspace itself."""
    id: str
    snags: Sequence[Snag]

    @property
    def times(self) -> int:
        """How often something went wrong."""
        return sum(one.times for one in self.snags)


def needing_attention(workspace: Workspace) -> list[Needing]:
    """The things that need attention, the worst first."""
    snags = Snag.objects.of(workspace).filter(closed_at=None).order_by("first_at", "pk")
    by_thing: dict[tuple[str, str], list[Snag]] = {}
    for one in snags:
        kind = next((kind for kind in KINDS if one.place.get(kind)), "")
        by_thing.setdefault((kind, str(one.place.get(kind, ""))), []).append(one)
    found = [Needing(kind, pk, some) for (kind, pk), some in by_thing.items()]
    enough = [one for one in found if one.times >= workspace.attention_after]
    return sorted(enough, key=lambda one: -one.times)


def attention_of(workspace: Workspace, kind: str) -> dict[UUID, int]:
    """How often something went wrong with the things of a kind that need attention, by their ids."""
    return {UUID(one.id): one.times for one in needing_attention(workspace) if one.kind == kind}
