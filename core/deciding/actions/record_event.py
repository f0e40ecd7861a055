"""Say that something happened."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from ...documents import Finding
from ...people import Catalogue, Happening
from ...reading import Form
from ..decision import Event
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction


class RecordEvent(RuleAction):
    """Say that something happened, by its name."""

    kind: Literal["record_event"] = "record_event"
    name: str = Field(default="", max_length=60)

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Conditions of later rules see the event."""
        name = " ".join(self.name.split())
        if not name:
            return context.outcome(rule.line, "the event has no name", acts=False)
        context.happened.append(Happening(what="event", about=name, at=context.now))
        because = context.because("then", rule.line, rule.why)
        context.effects.append(Event(name=name, because=because))
        context.outcome(rule.line, f"event: {name}", acts=True)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """An event is known by its name alone."""
        if not self.name.strip():
            yield at.unfinished("The event has no name.", "Name it")

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """record the event “visited”"""
        return f"record the event “{self.name}”"
