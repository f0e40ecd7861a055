"""Set a field to a fixed value."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Problem
from ...people import Catalogue
from ...reading import Form, ReadLine, read_into
from ..decision import field_set
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction


class PutField(RuleAction):
    """Set a field to a fixed value, read as an answer would be; empty to empty it."""

    kind: Literal["put_field"] = "put_field"
    field: str | None = None
    value: str = ""

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """The address is set by no rule."""
        line, target = rule.line, context.catalogue.fields.get(self.field or "")
        if target is None or target.type == "email":
            context.gone("field", line)
            return context.outcome(line, "the field is gone", acts=False)
        value = read_into(target, self.value, ReadLine(id=line), (), context.catalogue.country)
        if isinstance(value, Problem):
            context.problem(line, value)
            return context.outcome(line, value.sentence, acts=False)
        before = context.values.get(target.key)
        if context.changed_since("field", target.key):
            return context.outcome(line, f"{target.label} was changed since, and stays", acts=False)
        if value == before or (value in ("", ()) and before is None):
            return context.outcome(line, f"{target.label} is so already", acts=False)
        context.values[target.key] = value
        because = context.because("then", line, rule.why)
        context.effects.append(field_set(target, before, value, because))
        context.outcome(line, f"{target.label}: {target.shown(value) or 'emptied'}", acts=True)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """Emptying a field is pointed out, since it may not be meant."""
        target = at.catalogue.fields.get(self.field or "")
        if target is None:
            yield at.missing("field", self.field)
        elif target.type == "email":
            yield at.unfinished("The address is set by no rule.", "Choose another field")
        elif not self.value.strip():
            yield at.warning(
                "empties_field",
                f"This rule has no value, so it empties {target.label} for everybody it "
                "applies to.",
                "Enter the value, or keep it empty if that is what you want.",
            )

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """set Interest to “moon”"""
        target = catalogue.fields.get(self.field or "")
        label = target.label if target else "a field that is gone"
        return f"set {label} to “{self.value}”"
