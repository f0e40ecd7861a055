"""The steps of sequences, a module each: document, check, words and what it does together.

To add one: a module here with a subclass of `LaneStep`, and its name in `Step` below.
"""

from typing import Annotated

from pydantic import Field

from .base import LaneStep, StepCheck
from .send import SendStep
from .wait import WaitStep

Step = Annotated[SendStep | WaitStep, Field(discriminator="kind")]

__all__ = ["LaneStep", "SendStep", "Step", "StepCheck", "WaitStep"]
