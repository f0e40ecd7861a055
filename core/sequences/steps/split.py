"""Split by conditions: the first that holds says which way, and otherwise."""

from collections.abc import Iterator, Mapping
from typing import Literal

from pydantic import Field

from ...conditions import Group, say
from ...deciding import check_condition
from ...documents import Finding, Frozen
from ...people import Catalogue
from ..journey import Walk
from ..ways import ON, Way
from .base import Branch, Heading, LaneStep, StepCheck, heading_of


class SplitBranch(Frozen):
    """Whoever the condition fits goes this way."""

    id: str
    name: str = Field(default="", max_length=60)
    when: Group = Group()
    way: Way = ON


class SplitStep(LaneStep):
    """Split by conditions, in order; whoever none of them fits goes `otherwise`."""

    kind: Literal["split"] = "split"
    of: tuple[SplitBranch, ...] = Field(default=(), max_length=20)
    otherwise: Way = ON

    def go(self, walk: Walk) -> str:
        """The first that holds by what had happened by its moment, however late a worker comes."""
        found = (one.id for one in self.of if walk.fits(one.when, walk.moment))
        return next(found, "otherwise")

    def branches(self) -> tuple[Branch, ...]:
        """Each condition, and otherwise."""
        named = (Branch(one.id, one.name, one.way) for one in self.of)
        return *named, Branch("otherwise", "otherwise", self.otherwise)

    def conditions(self) -> Iterator[Group]:
        """Each branch's."""
        yield from (one.when for one in self.of)

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """Each branch has a condition, and they lead to different places."""
        if not self.of:
            yield self.unfinished("The split has no condition.", "Add one, or remove the split.")
        for one in self.of:
            yield from check_condition(one.when, self.id, "branch", at.catalogue, at.unknown)
        if self.of and all(one.way == self.otherwise for one in self.of):
            yield Finding(
                code="split_without_difference",
                place=self.id,
                sentence="Every branch of this split leads to the same place.",
                fix="Choose another way for one of them, or remove the split.",
                stops=False,
            )

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """split: has the tag customer → leaves; otherwise continues"""
        words = [f"{say(one.when, catalogue)} → {one.way.describe(lanes)}" for one in self.of]
        return f"split: {'; '.join([*words, f'otherwise {self.otherwise.describe(lanes)}'])}"

    def heading(self, catalogue: Catalogue) -> Heading:
        """split: has the tag customer?"""
        named = [one.name or say(one.when, catalogue) for one in self.of]
        return heading_of(f"split: {' / '.join(named)}?" if named else "split: no condition yet")
