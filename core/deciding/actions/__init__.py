"""The actions of rules, a module each: document, check, words and effect together.

To add one: a module here with a subclass of `RuleAction`, and its name in `Action` below. The API, the
JSON Schema, pre-flight, the sample and the live path follow.
"""

from typing import Annotated

from pydantic import Field

from .add_tags import AddTags
from .base import ActionCheck, AppliedRule, RuleAction, Unknown
from .change_score import ChangeScore
from .change_subscription import ChangeSubscription
from .hand_over import HandOver, may_go_now, not_allowed
from .make_task import MakeTask
from .notify import Notify
from .put_field import PutField
from .record_event import RecordEvent
from .remove_tags import RemoveTags
from .send_now import SendNow
from .set_owner import OwnerRow, SetOwner
from .start_sequence import StartSequence
from .stop_sequence import StopSequence
from .tag_by_answer import TagByAnswer, TagRow
from .tag_from_answer import TagFromAnswer

Action = Annotated[
    AddTags
    | RemoveTags
    | TagByAnswer
    | TagFromAnswer
    | PutField
    | ChangeScore
    | RecordEvent
    | ChangeSubscription
    | StartSequence
    | StopSequence
    | Notify
    | SendNow
    | MakeTask
    | HandOver
    | SetOwner,
    Field(discriminator="kind"),
]

__all__ = [
    "Action",
    "ActionCheck",
    "AddTags",
    "AppliedRule",
    "ChangeScore",
    "ChangeSubscription",
    "HandOver",
    "MakeTask",
    "Notify",
    "OwnerRow",
    "PutField",
    "RecordEvent",
    "RemoveTags",
    "RuleAction",
    "SendNow",
    "SetOwner",
    "StartSequence",
    "StopSequence",
    "TagByAnswer",
    "TagFromAnswer",
    "TagRow",
    "Unknown",
    "may_go_now",
    "not_allowed",
]
