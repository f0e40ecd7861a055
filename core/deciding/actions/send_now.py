"""Send the person a message at once."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Use
from ...people import Catalogue
from ...reading import Form
from ..decision import Send
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction


class SendNow(RuleAction):
    """Send the person a message now, which they asked for by what they sent."""

    kind: Literal["send_now"] = "send_now"
    message: str | None = None
    list: str | None = None

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Once for each submission."""
        name = context.catalogue.messages.get(self.message or "")
        if name is None or self.message is None:
            if self.message:
                context.gone("message", rule.line)
            return context.outcome(rule.line, "no message to send", acts=False)
        context.effects.append(
            Send(
                message=self.message,
                name=name,
                list=self.list,
                line=rule.line,
                act=context.act,
                because=context.because("then", rule.line, rule.why),
            )
        )
        context.outcome(rule.line, f"sends “{name}” at once", acts=True)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """There is something to send."""
        if self.message is None or self.message not in at.catalogue.messages:
            yield at.missing("message", self.message)
        if not at.own and self.list not in at.catalogue.lists:
            yield at.unfinished(
                "Nobody asks for this email by being in a file or by what another program sends, so it is "
                "marketing, and belongs to no list.",
                "Choose the list it belongs to: only its subscribers get it",
            )

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """send “Your guide”"""
        return f"send “{catalogue.messages.get(self.message or '', 'nothing')}”"

    def uses(self) -> Iterator[Use]:
        """Sends its message, which may belong to a list."""
        if self.message:
            yield Use(id=self.message, how="sends")
        if self.list:
            yield Use(id=self.list, how="belongs to")
