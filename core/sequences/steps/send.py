"""Send a message."""

from collections.abc import Iterator
from datetime import datetime
from typing import Literal

from ...documents import Finding, Use
from ...people import Catalogue
from ..effects import RunEffect, SendMessage
from .base import LaneStep, StepCheck


class SendStep(LaneStep):
    """Send a message. One that goes `at_once` was asked for just now: the promised thing.

    Where the email is held (a value is missing, no sender), the run waits until it is sent,
    unless `if_held` says to go on.
    """

    kind: Literal["send"] = "send"
    message: str | None = None
    at_once: bool = False
    if_held: Literal["wait", "go_on"] = "wait"

    @property
    def needs_list(self) -> bool:
        """What was asked for goes out whatever the membership is."""
        return not self.at_once

    def effects(self, at: datetime) -> Iterator[RunEffect]:
        """The email, if one is chosen."""
        if self.message is not None:
            yield SendMessage(
                step=self.id,
                message=self.message,
                at_once=self.at_once,
                at=at,
                holds=self.if_held == "wait",
            )

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """The message is there and sound, and the emails do not come all at once."""
        if self.message is None or self.message not in at.catalogue.messages:
            yield Finding(
                code="message_gone" if self.message else "line_unfinished",
                place=self.id,
                sentence="The message is gone." if self.message else "No message is chosen.",
                fix="Choose a message, or write one.",
            )
        else:
            for finding in at.message_findings.get(self.message, ()):
                yield finding.model_copy(update={"place": self.id})
        if self.at_once and any(isinstance(one, SendStep) for one in at.before):
            yield Finding(
                code="at_once_later",
                place=self.id,
                sentence="Only the first email behind a door was asked for just now.",
                fix="Turn “requested” off for this step.",
            )
        if at.before and isinstance(at.before[-1], SendStep):
            yield Finding(
                code="two_at_once",
                place=self.id,
                sentence="Two emails go out in the same minute.",
                fix="Add a wait between them.",
                stops=False,
            )

    def describe(self, catalogue: Catalogue) -> str:
        """send “Your guide”, at once"""
        name = catalogue.messages.get(self.message or "", "a message that is gone")
        said = f"send “{name}”" if self.message else "send no message yet"
        return f"{said}, at once" if self.at_once else said

    def uses(self) -> Iterator[Use]:
        """Sends its message."""
        if self.message:
            yield Use(id=self.message, how="sends")
