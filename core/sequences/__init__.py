"""Sequences: the document, its pre-flight, when things are due, and how a run goes on."""

from .advance import (
    Advanced,
    CameTo,
    Ended,
    RunState,
    SendMessage,
    WentOn,
    advance,
    due_after_late_email,
)
from .check import check_sequence
from .difference import differences
from .document import Lane, SendStep, SequenceDocument, Step, WaitStep, step_that_remains
from .timing import Duration, after, after_gap

__all__ = [
    "Advanced",
    "CameTo",
    "Duration",
    "Ended",
    "Lane",
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
