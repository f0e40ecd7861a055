"""The document of a sequence: doors, lanes of steps, goals, and how people leave."""

from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import Literal

from pydantic import Field

from ..conditions import Group
from ..delivering import SendingTimes
from ..documents import Frozen
from ..people import Again, DoorFacts
from .doors import Door, RouteDoor
from .steps import Step
from .ways import END, Way


class Lane(Frozen):
    """A column of steps, read downwards; after the last one the run ends, or goes on in another."""

    id: str
    name: str = Field(default="A", max_length=60)
    steps: tuple[Step, ...] = Field(default=(), max_length=1000)
    then: Way = END


class Goal(Frozen):
    """What the sequence is for. Reached, it ends the run, or moves it to a named step at once.

    An event counts from the moment somebody entered; a condition that held by then does not count.
    """

    id: str
    name: str = Field(default="", max_length=80)
    event: str = Field(default="", max_length=60)
    """The event by its name; where it is empty, `when` has to come to hold."""
    when: Group | None = None
    within_days: int | None = Field(default=None, ge=1, le=3650)
    """How long after the entry it counts; None: as long as the run goes."""
    then: Way = END
    may_lead_back: bool = False
    """Whether it moves somebody also to what they have passed, so that they get it again. Otherwise it counts
    for them, and they go on where they stand."""


class Leaving(Frozen):
    """How people leave before the end, besides leaving the list."""

    when: Group | None = None
    """Whoever it comes to fit leaves, before any step but one that was promised."""
    takes_over: Literal["none", "these", "all"] = "none"
    """Whose runs of other sequences end when they enter this one."""
    these: tuple[str, ...] = ()


class EmailSender(Frozen):
    """Who the emails of a sequence are from; what is empty is as its list says, or the workspace."""

    name: str = Field(default="", max_length=120)
    address: str = Field(default="", max_length=254)
    reply_to: str = Field(default="", max_length=254)
    """Where replies go."""


class SequenceDocument(Frozen):
    """A sequence; its emails go to subscribers of `list`."""

    list: str | None = None
    sender: EmailSender = EmailSender()
    doors: tuple[Door, ...] = Field(default=(), max_length=50)
    again: Again | None = None
    """What a second entry means; None: not decided yet, which is once only."""
    lanes: tuple[Lane, ...] = Field(default=(), max_length=26)
    goals: tuple[Goal, ...] = Field(default=(), max_length=20)
    leaving: Leaving = Leaving()
    times: SendingTimes | None = None
    """When its emails go out; None: in the workspace's sending times."""
    no_broadcasts: bool = False
    """Whether broadcasts leave those alone who are under way in it."""
    priority: int = Field(default=0, ge=-9, le=9)
    """Of two emails that are due together and may not both go, that of the higher one goes."""

    def lane(self, lane_id: str | None) -> Lane | None:
        """The lane of that id; the first one where None is asked for."""
        if lane_id is None:
            return self.lanes[0] if self.lanes else None
        return self._lanes.get(lane_id)

    @cached_property
    def _lanes(self) -> Mapping[str, Lane]:
        return {lane.id: lane for lane in reversed(self.lanes)}

    def number_of(self, lane_id: str, step_id: str) -> int | None:
        """How many steps stand before a step in its lane."""
        return self._numbers.get((lane_id, step_id))

    @cached_property
    def _numbers(self) -> Mapping[tuple[str, str], int]:
        return {(lane.id, step.id): n for lane in self.lanes for n, step in enumerate(lane.steps)}

    def lane_of(self, step_id: str) -> Lane | None:
        """The lane that holds the step."""
        return next(
            (lane for lane in self.lanes if any(step.id == step_id for step in lane.steps)), None
        )

    def step(self, step_id: str) -> Step | None:
        """The step of that id."""
        return next((one for one in self.steps if one.id == step_id), None)

    @property
    def steps(self) -> Iterator[Step]:
        """Every step, lane by lane."""
        return (step for lane in self.lanes for step in lane.steps)

    @property
    def lane_names(self) -> Mapping[str, str]:
        """Names of the lanes, by id."""
        return {lane.id: lane.name for lane in self.lanes}

    def door(self, door_id: str) -> Door | None:
        """The door of that id."""
        return next((one for one in self.doors if one.id == door_id), None)

    def again_at(self, door: Door | None) -> Again:
        """What a second entry by a door means; the safe choice where nothing is decided."""
        return (door.again if door else None) or self.again or "once_only"

    def doors_of_routes(self) -> dict[str, DoorFacts]:
        """How rules of routes come in, by the id of the lane."""
        first = self.lanes[0].id if self.lanes else ""
        return {
            one.lane or first: DoorFacts(again=self.again_at(one), open=one.open, only=one.only)
            for one in reversed(self.doors)
            if isinstance(one, RouteDoor)
        }

    def route_door(self, lane_id: str) -> RouteDoor | None:
        """The door by which rules of routes come into a lane."""
        first = self.lanes[0].id if self.lanes else ""
        for one in self.doors:
            if isinstance(one, RouteDoor) and (one.lane or first) == lane_id:
                return one
        return None

    def conditions(self) -> Iterator[Group]:
        """Every condition in it."""
        return (group for _, group in self.placed_conditions())

    def placed_conditions(self) -> Iterator[tuple[str, Group]]:
        """Every condition, with the id of the door, step or goal that asks it, or "leaving"."""
        for one in (*self.doors, *self.steps):
            yield from ((one.id, group) for group in one.conditions())
        for goal in self.goals:
            if goal.when is not None:
                yield goal.id, goal.when
        if self.leaving.when is not None:
            yield "leaving", self.leaving.when


def step_that_remains(
    step_id: str, before: SequenceDocument, now: SequenceDocument
) -> tuple[str, str] | None:
    """Where a run that stands at `step_id` goes on in the new revision.

    Lane and step of the same step where it is still there, else of the next one that
    remains of its old lane; None where nothing of the lane remains after it.
    """
    lane = before.lane_of(step_id) or now.lane_of(step_id)
    if lane is None:
        return None
    ids = [step.id for step in lane.steps]
    for candidate in ids[ids.index(step_id) :]:
        found = now.lane_of(candidate)
        if found:
            return found.id, candidate
    return None
