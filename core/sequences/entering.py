"""Who comes in by a door, and what becomes of a run that they have been in before."""

from typing import Literal

from ..conditions import Circumstances, Group, holds
from ..documents import value
from ..people import Again, Catalogue, Person
from .document import Lane, SequenceDocument
from .doors import Door

Refusal = Literal["closed", "does_not_fit", "once_only", "no_lane"]


@value
class Entrance:
    """Whether somebody comes in by a door: into which lane, and what becomes of their run before;
    or why not."""

    lane: Lane | None = None
    again: Again = "once_only"
    door: str = ""
    act: str = ""
    """The act of the person's own that opened the door, where what it leads to may answer one."""
    refused: Refusal | None = None


def entrance(
    sequence: SequenceDocument,
    door: Door,
    person: Person,
    seen: Circumstances,
    catalogue: Catalogue,
    *,
    was_in: bool,
    act: str = "",
) -> Entrance:
    """What becomes of somebody at a door that has opened for them; `was_in`: they are in the sequence,
    or have been; `act`: the act of their own that opened it (`Because.act`)."""
    lane = sequence.lane(door.lane)
    if lane is None:
        return Entrance(refused="no_lane")
    if not door.open:
        return Entrance(refused="closed")
    if not _fits(door.only, person, seen, catalogue):
        return Entrance(refused="does_not_fit")
    again = sequence.again_at(door)
    if was_in and again == "once_only":
        return Entrance(refused="once_only")
    return Entrance(lane=lane, again=again, door=door.id, act=act if door.asked else "")


def _fits(
    condition: Group | None, person: Person, seen: Circumstances, catalogue: Catalogue
) -> bool:
    return condition is None or holds(condition, person, seen, catalogue)
