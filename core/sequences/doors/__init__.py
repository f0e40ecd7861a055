"""The doors of sequences, a module each.

To add one: a module here with a subclass of `BaseDoor`, and its name in `Door` below.
"""

from typing import Annotated

from pydantic import Field

from .base import AGAIN, BaseDoor, DoorCheck, Signal
from .by_hand import ByHandDoor
from .click import ClickDoor
from .condition import ConditionDoor
from .date import DateDoor
from .event import EventDoor
from .field import FieldDoor
from .list import ListDoor
from .route import RouteDoor
from .schedule import ScheduleDoor
from .tag import TagDoor

Door = Annotated[
    RouteDoor
    | TagDoor
    | ListDoor
    | FieldDoor
    | EventDoor
    | ClickDoor
    | ConditionDoor
    | DateDoor
    | ScheduleDoor
    | ByHandDoor,
    Field(discriminator="kind"),
]

__all__ = [
    "AGAIN",
    "BaseDoor",
    "ByHandDoor",
    "ClickDoor",
    "ConditionDoor",
    "DateDoor",
    "Door",
    "DoorCheck",
    "EventDoor",
    "FieldDoor",
    "ListDoor",
    "RouteDoor",
    "ScheduleDoor",
    "Signal",
    "TagDoor",
]
