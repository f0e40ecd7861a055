"""What the rules know: one person, and what exists in the workspace."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Literal

from ..services import ServiceFacts
from ..values import Choice, FieldType, Kept, country_name, language_name, shown_date

Again = Literal["once_only", "start_over", "run_alongside"]
"""What a second entry of the same person into a sequence means."""
Happened = Literal["submitted", "confirmed", "sent", "opened", "clicked", "event"]
MembershipState = Literal["none", "pending", "subscribed", "unsubscribed", "bounced", "complained"]


@dataclass(frozen=True)
class Happening:
    """Something that happened to a person: a submission, a confirmation, a send, an open, a click,
    an event."""

    what: Happened
    about: str
    """Id of the source, list or message, or the name of the event."""
    at: datetime
    link: str = ""
    """Of a click: where the link leads, as it was written."""
    data: Mapping[str, str] = field(default_factory=dict)
    """Of an event: what was said with it, a product, an amount."""


@dataclass(frozen=True)
class Person:
    """A subscriber as the rules see them. Fields by key; tags, lists, sequences by id."""

    address: str
    values: Mapping[str, Kept] = field(default_factory=dict)
    tags: frozenset[str] = frozenset()
    memberships: Mapping[str, MembershipState] = field(default_factory=dict)
    entered: frozenset[str] = frozenset()
    """Sequences that this person is in, or has been in."""
    under_way: frozenset[str] = frozenset()
    """Those that this person is in now."""
    groups: frozenset[str] = frozenset()
    """The frozen groups that hold them."""
    score: int = 0
    happened: tuple[Happening, ...] = ()
    owner: str | None = None
    """The member who looks after them."""
    suppressed: bool = False
    """Whether the address is on the suppression list."""
    time_zone: str = "UTC"
    """Theirs, or the workspace's where theirs is not known."""
    own_zone: str = ""
    """Theirs alone; empty where it is not known."""
    left_at: Mapping[str, datetime] = field(default_factory=dict)
    """When they last left a list, by its id."""
    left_all_at: datetime | None = None
    """When they last left every list at once."""
    last_marketing_at: datetime | None = None
    """When the last marketing email went, or is to go, to them."""
    gap_days: int = 0
    """They asked for at most one marketing email in so many days; 0: they did not."""

    def membership(self, list_id: str) -> MembershipState:
        """The state on a list; "none" where there is no membership."""
        return self.memberships.get(list_id, "none")


@dataclass(frozen=True)
class FieldFacts:
    """A field of the workspace."""

    id: str
    key: str
    label: str
    type: FieldType
    choices: tuple[Choice, ...] = ()

    def shown(self, value: Kept) -> str:
        """A value of this field as people read it."""
        if isinstance(value, bool):
            return "yes" if value else "no"
        if not isinstance(value, str):
            return ", ".join(self.shown(one) for one in value)
        match self.type:
            case "choice" | "choices":
                return next((one.label for one in self.choices if one.key == value), value)
            case "country":
                return country_name(value)
            case "language":
                return language_name(value)
            case "date":
                return shown_date(value)
            case _:
                return value


@dataclass(frozen=True)
class SequenceFacts:
    """What a route needs to know of a sequence."""

    id: str
    name: str
    live: bool
    lanes: Mapping[str, str] = field(default_factory=dict)
    """Names of the lanes, by id."""
    list_id: str | None = None
    again: Again = "once_only"
    """What a second entry of the same person means."""
    doors: Mapping[str, "DoorFacts"] = field(default_factory=dict)
    """How a rule of a route comes in, by the id of the lane that it leads to; where there is none, as
    the sequence says for all."""

    def door_to(self, lane: str | None) -> "DoorFacts":
        """How a rule of a route comes into a lane (None: the first one)."""
        return self.doors.get(lane or next(iter(self.lanes), ""), DoorFacts(again=self.again))


@dataclass(frozen=True)
class DoorFacts:
    """How a rule of a route comes into a lane of a sequence."""

    again: Again
    open: bool = True
    only: Any = None
    """A condition (`core.conditions.Group`) that narrows it; None: everybody comes in."""


@dataclass(frozen=True)
class Catalogue:
    """What exists in the workspace, by id: what a document may refer to."""

    fields: Mapping[str, FieldFacts] = field(default_factory=dict)
    tags: Mapping[str, str] = field(default_factory=dict)
    lists: Mapping[str, str] = field(default_factory=dict)
    sequences: Mapping[str, SequenceFacts] = field(default_factory=dict)
    messages: Mapping[str, str] = field(default_factory=dict)
    audiences: Mapping[str, str] = field(default_factory=dict)
    groups: Mapping[str, str] = field(default_factory=dict)
    """Frozen groups: the people of a moment."""
    confirmed_lists: frozenset[str] = frozenset()
    """Lists that ask for a confirmation by email first."""
    sources: Mapping[str, str] = field(default_factory=dict)
    members: Mapping[str, str] = field(default_factory=dict)
    services: Mapping[str, ServiceFacts] = field(default_factory=dict)
    """The connected services, with what they take."""
    country: str = ""
    """The country of phone numbers that name none (alpha-2), if the workspace has one."""
