"""Split by chance: the same person always falls the same way."""

from collections.abc import Iterator, Mapping
from typing import Literal

from pydantic import Field

from ...documents import Finding, Frozen
from ...people import Catalogue
from ..journey import Walk, share_of
from ..ways import ON, Way
from .base import Branch, Heading, LaneStep, StepCheck, heading_of


class ChanceBranch(Frozen):
    """One way, and its weight beside the others'."""

    id: str
    name: str = Field(default="", max_length=60)
    weight: int = Field(default=1, ge=0, le=1000)
    way: Way = ON


class ChanceStep(LaneStep):
    """Split by chance, by weights; told by the sequence, the step and the subscriber alone."""

    kind: Literal["chance"] = "chance"
    of: tuple[ChanceBranch, ...] = Field(default=(), max_length=20)

    def go(self, walk: Walk) -> str:
        """Where the person falls."""
        journey = walk.journey
        return self.falls(share_of(journey.sequence_id, self.id, journey.subscriber_id))

    def falls(self, share: float) -> str:
        """The branch at `share` (0 to 1) of the weights."""
        left = share * sum(one.weight for one in self.of)
        for one in self.of:
            left -= one.weight
            if left < 0:
                return one.id
        return ""

    def branches(self) -> tuple[Branch, ...]:
        """Each of them."""
        return tuple(Branch(one.id, one.name, one.way) for one in self.of)

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """Chance needs two that can happen."""
        if sum(one.weight > 0 for one in self.of) < 2:
            yield self.unfinished(
                "A split by chance needs two branches with a weight.",
                "Add a branch or a weight, or remove the split.",
            )

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """split by chance: A 1, B 1"""
        return f"split by chance: {', '.join(f'{one.name} {one.weight}' for one in self.of)}"

    def heading(self, catalogue: Catalogue) -> Heading:
        """split by chance"""
        return heading_of("split by chance")
