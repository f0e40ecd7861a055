"""Sequences: the document, its pre-flight, when things are due, and how a run goes on."""

from .advance import Advanced, RunState, advance, due_after_late_email
from .check import check_sequence
from .difference import differences
from .document import Lane, SequenceDocument, step_that_remains
from .effects import CameTo, Ended, SendMessage, WentOn
from .steps import LaneStep, SendStep, Step, WaitStep
from .timing import Duration, after, after_gap

__all__ = [
    "Advanced",
    "CameTo",
    "Duration",
    "Ended",
    "Lane",
    "LaneStep",
    "RunState",
    "SendMessage",
    "SendStep",
    "SequenceDocument",
    "Step",
    "WaitStep",
    "WentOn",
    "advance",
    "after",
    "after_gap",
    "check_sequence",
    "differences",
    "due_after_late_email",
    "step_that_remains",
]
