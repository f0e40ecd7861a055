"""The steps of sequences, a module each: document, check, words and what it does together.

To add one: a module here with a subclass of `LaneStep`, and its name in `Step` below.
"""

from typing import Annotated

from pydantic import Field

from .act import ActStep, StepAction
from .base import Branch, LaneStep, StepCheck
from .chance import ChanceBranch, ChanceStep
from .send import SendStep
from .split import SplitBranch, SplitStep
from .stop import StopStep
from .wait import WaitStep
from .wait_condition import WaitConditionStep
from .wait_date import WaitDateStep, date_in_words
from .wait_time import WaitTimeStep, Weekday

Step = Annotated[
    SendStep
    | WaitStep
    | WaitTimeStep
    | WaitDateStep
    | WaitConditionStep
    | SplitStep
    | ChanceStep
    | ActStep
    | StopStep,
    Field(discriminator="kind"),
]

__all__ = [
    "ActStep",
    "Branch",
    "ChanceBranch",
    "ChanceStep",
    "LaneStep",
    "SendStep",
    "SplitBranch",
    "SplitStep",
    "Step",
    "StepAction",
    "StepCheck",
    "StopStep",
    "WaitConditionStep",
    "WaitDateStep",
    "WaitStep",
    "WaitTimeStep",
    "Weekday",
    "date_in_words",
]
