"""End a run."""

from collections.abc import Iterator
from typing import Any, Literal

from pydantic import model_validator

from ...documents import Finding, Use
from ...people import Catalogue
from ...reading import Form
from ..decision import LeaveSequence
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction


class StopSequence(RuleAction):
    """End the person's run in a sequence, or in every one. It begins with nothing chosen."""

    kind: Literal["stop_sequence"] = "stop_sequence"
    sequence: str | None = None
    every_sequence: bool = False

    @model_validator(mode="before")
    @classmethod
    def _said_before(cls, data: Any) -> Any:
        """Documents from before `every_sequence` say all sequences by naming none."""
        if isinstance(data, dict) and "every_sequence" not in data:
            return {**data, "every_sequence": data.get("sequence") is None}
        return data

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Of somebody who is in none of them this is nothing."""
        if not (self.sequence or self.every_sequence):
            return context.outcome(rule.line, "no sequence chosen", acts=False)
        wanted = [self.sequence] if self.sequence else sorted(context.under_way)
        parts: list[str] = []
        for one in wanted:
            facts = context.catalogue.sequences.get(one)
            if facts is None:
                context.gone("sequence", rule.line)
            elif one in context.under_way:
                context.under_way.discard(one)
                because = context.because("then", rule.line, rule.why)
                effect = LeaveSequence(sequence=one, name=facts.name, because=because)
                context.effects.append(effect)
                parts.append(f"stops {facts.name}")
        context.outcome(rule.line, " · ".join(parts) or "is not in that sequence", acts=bool(parts))

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """Nothing chosen is not every sequence."""
        if not self.every_sequence and self.sequence not in at.catalogue.sequences:
            yield at.missing("sequence", self.sequence)

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """stop First telescope"""
        found = catalogue.sequences.get(self.sequence or "")
        nothing = "every sequence" if self.every_sequence else "no sequence"
        return f"stop {found.name if found else nothing}"

    def uses(self) -> Iterator[Use]:
        """Ends runs of its sequence."""
        if self.sequence:
            yield Use(id=self.sequence, how="ends")
