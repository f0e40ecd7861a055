"""What happens on a run's way, for the server to carry out."""

from datetime import datetime
from typing import Annotated, Literal, get_args

from pydantic import Field

from ..deciding import Effect
from ..documents import Problem, value

EndReason = Literal[
    "finished",
    "goal",
    "excluded",
    "no_longer_fits",
    "unsubscribed",
    "not_on_list",
    "suppressed",
    "stopped",
    "started_over",
    "taken_over",
    "member",
    "step_gone",
]


WITHDRAWS: frozenset[EndReason] = frozenset(get_args(EndReason)) - {"finished", "step_gone"}
"""Why a run ends so that nothing of it goes out any more, whatever is queued. What it sent before it came to
its end still does."""


@value
class CameTo:
    """The run came to a step; `lap`: how often it goes round, from 1."""

    kind: Literal["came_to"] = "came_to"
    step: str
    at: datetime
    lap: int = 1


@value
class WentOn:
    """The run went on from a step, by one of its ways where it has several."""

    kind: Literal["went_on"] = "went_on"
    step: str
    at: datetime
    lap: int = 1
    way: str = ""


@value
class SendMessage:
    """A message is to be sent."""

    kind: Literal["send_message"] = "send_message"
    step: str
    message: str
    act: str
    """The act of the person's own that it answers; empty: it is marketing."""
    at: datetime
    any_hour: bool = False
    """Whether sending hours and quiet dates do not count for it."""
    holds: bool = True
    """Whether the run waits while the email is held."""
    lap: int = 1


@value
class Acted:
    """What a step does to the person: effects as rules have them, and the problems found."""

    kind: Literal["acted"] = "acted"
    step: str
    at: datetime
    effects: tuple[Effect, ...]
    sentence: str
    problems: tuple[Problem, ...] = ()


@value
class ReachedGoal:
    """A goal is reached: what is queued of the run is withdrawn, unless it `stays` where it is."""

    kind: Literal["reached_goal"] = "reached_goal"
    goal: str
    name: str
    at: datetime
    stays: bool = False


@value
class Ended:
    """The run ended."""

    kind: Literal["ended"] = "ended"
    reason: EndReason
    at: datetime


RunEffect = Annotated[
    CameTo | WentOn | SendMessage | Acted | ReachedGoal | Ended, Field(discriminator="kind")
]
