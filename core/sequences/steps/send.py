"""Send a message."""

from collections.abc import Iterator, Mapping
from typing import Literal

from ...delivering import Settled
from ...documents import Finding, Use
from ...people import Catalogue
from ..effects import SendMessage
from ..journey import Walk
from .base import Heading, LaneStep, StepCheck, heading_of


class SendStep(LaneStep):
    """Send a message. One that goes `at_once` was asked for just now: the promised thing.

    Any other goes in the sending hours, on no quiet date, and not too soon after another. Where the
    email is held (a value is missing, no sender), the run waits until it is sent, unless `if_held`
    says to go on.
    """

    kind: Literal["send"] = "send"
    message: str | None = None
    at_once: bool = False
    any_hour: bool = False
    """Whether sending hours and quiet dates do not count for it; the gap still does."""
    if_held: Literal["wait", "go_on"] = "wait"

    def promised(self, walk: Walk) -> bool:
        """What somebody asked for goes out to them whatever the membership is."""
        return self.at_once and bool(walk.run.act)

    def needs_list(self, walk: Walk) -> bool:
        """Marketing goes to subscribers of the list alone."""
        return not self.promised(walk)

    def due(self, walk: Walk) -> Settled:
        """At once where it was asked for; else when the sending times allow it."""
        if self.promised(walk) or self.message is None:
            return Settled(at=walk.moment)
        return walk.settled(walk.moment, in_hours=not self.any_hour)

    def seen_anew(self, walk: Walk) -> Settled | None:
        """Once it is due: what went out meanwhile, or a pause, may have closed the time found."""
        due = walk.run.due_at
        return None if due is None or due > walk.now else self.due(walk)

    def go(self, walk: Walk) -> str:
        """The email, if one is chosen."""
        if self.message is not None:
            effect = SendMessage(
                step=self.id,
                message=self.message,
                act=walk.run.act if self.promised(walk) else "",
                at=walk.moment,
                any_hour=self.any_hour,
                holds=self.if_held == "wait",
                lap=walk.run.lap,
            )
            walk.send(effect)
        return ""

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
        if self.at_once:
            yield from self._promised_too_late(at)
        if at.before and isinstance(at.before[-1], SendStep):
            yield Finding(
                code="two_at_once",
                place=self.id,
                sentence="Two emails go out in the same minute.",
                fix="Add a wait between them.",
                stops=False,
            )

    def _promised_too_late(self, at: StepCheck) -> Iterator[Finding]:
        """Only what every way from a door reaches first, before anything else, was asked for just now."""
        if any(isinstance(one, SendStep) for one in at.before):
            why = "Only the first email behind a door was asked for just now."
        elif any(one.takes_time for one in at.before):
            why = "After a wait nobody has asked for this email just now."
        elif any(one.branches() for one in at.before):
            why = (
                "After a split not everybody gets this email, so nobody has asked for it just now."
            )
        elif not at.is_entrance:
            why = "People join this lane from another one; they have not asked for this email just now."
        else:
            return
        yield Finding(
            code="at_once_later",
            place=self.id,
            sentence=why,
            fix="Turn “requested” off for this step.",
        )

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """send “Your guide”, at once"""
        name = catalogue.messages.get(self.message or "", "a message that is gone")
        sentence = f"send “{name}”" if self.message else "send no message yet"
        if self.at_once:
            return f"{sentence}, at once"
        return f"{sentence}, at any hour" if self.any_hour else sentence

    def uses(self) -> Iterator[Use]:
        """Sends its message."""
        if self.message:
            yield Use(id=self.message, how="sends")

    def heading(self, catalogue: Catalogue) -> Heading:
        """send “Your guide”"""
        plain = self.model_copy(update={"at_once": False, "any_hour": False})
        return heading_of(plain.describe(catalogue, {}))
