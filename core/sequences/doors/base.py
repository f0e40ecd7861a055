"""What every door of a sequence is: how people come in, into which lane, and who."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ...conditions import Group, say
from ...deciding import Unknown, check_condition
from ...documents import Finding, Frozen, Use, value
from ...people import Again, Catalogue


@value
class Signal:
    """Something became so with a person: what a door that opens at once looks at."""

    kind: str
    """tag, membership, field or event."""
    about: str
    """Id of the tag or the list, key of the field, name of the event."""
    state: str = ""
    """Of a membership the new state, of a field its new value."""
    act: str = ""
    """The act of the person's own by which it became so (`Because.act`); empty: by none."""


@dataclass(frozen=True)
class DoorCheck:
    """What pre-flight knows beside the door itself."""

    catalogue: Catalogue
    lanes: Mapping[str, str]
    unknown: Unknown


class BaseDoor(Frozen):
    """The base of all doors. Adding one: a module here, and its name in `__init__.py`."""

    id: str
    lane: str | None = None
    """The lane that it leads to; None: the first one."""
    open: bool = True
    only: Group | None = None
    """Only people whom the condition fits come in; None: everybody."""
    stays: bool = True
    """Whether somebody stays in the sequence when `only` no longer holds for them."""
    again: Again | None = None
    """What a second entry means; None: as the sequence says."""

    @property
    def asked(self) -> bool:
        """Whether an act of somebody's own can open it, so that they have asked for what is promised: if it
        was one, the signal says."""
        return False

    def opens_for(self, signal: Signal, catalogue: Catalogue) -> bool:
        """Whether somebody comes in by what has just become so."""
        return False

    def conditions(self) -> Iterator[Group]:
        """The conditions that it looks at."""
        if self.only is not None:
            yield self.only

    def check(self, at: DoorCheck) -> Iterator[Finding]:
        """What is missing or gone, each with its fix."""
        if self.lane is not None and self.lane not in at.lanes:
            yield Finding(
                code="lane_gone",
                place=self.id,
                sentence="The lane that this door leads to is gone.",
                fix="Choose the lane again.",
            )
        for condition in self.conditions():
            yield from check_condition(condition, self.id, "door", at.catalogue, at.unknown)

    def named(self, catalogue: Catalogue) -> str:
        """What opens it, in words."""
        raise NotImplementedError

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """The whole door in words, for differences of revisions."""
        sentence = self.named(catalogue)
        if self.only is not None:
            sentence += f", only {say(self.only, catalogue)}"
        if self.lane:
            sentence += f" → {lanes.get(self.lane, 'a lane that is gone')}"
        if self.again:
            sentence += f", again: {AGAIN[self.again]}"
        if not self.stays:
            sentence += ", leaves when this no longer holds"
        return sentence if self.open else f"{sentence} (closed)"

    def uses(self) -> Iterator[Use]:
        """What of the workspace it names, and what it does with it."""
        yield from ()

    def unfinished(self, sentence: str, fix: str) -> Finding:
        """Something has to be said before anybody can come in."""
        return Finding(code="line_unfinished", place=self.id, sentence=sentence, fix=fix)


AGAIN: Mapping[Again, str] = {
    "once_only": "once only",
    "start_over": "starts over",
    "run_alongside": "runs alongside",
}
