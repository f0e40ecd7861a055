"""What happens on a run's way, for the server to carry out."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from ..documents import Frozen

EndReason = Literal["finished", "unsubscribed", "not_on_list", "step_gone"]


class CameTo(Frozen):
    """The run came to a step."""

    kind: Literal["came_to"] = "came_to"
    step: str
    at: datetime


class WentOn(Frozen):
    """The run went on from a step."""

    kind: Literal["went_on"] = "went_on"
    step: str
    at: datetime


class SendMessage(Frozen):
    """A message is to be sent."""

    kind: Literal["send_message"] = "send_message"
    step: str
    message: str
    at_once: bool
    at: datetime
    holds: bool = True
    """Whether the run waits while the email is held."""


class Ended(Frozen):
    """The run ended."""

    kind: Literal["ended"] = "ended"
    reason: EndReason
    at: datetime


RunEffect = Annotated[CameTo | WentOn | SendMessage | Ended, Field(discriminator="kind")]
