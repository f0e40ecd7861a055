"""Something for the person's owner to do."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from ...documents import Finding
from ...people import Catalogue
from ...reading import Form
from ..decision import Task
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction


class MakeTask(RuleAction):
    """Something for the person's owner to do."""

    kind: Literal["make_task"] = "make_task"
    title: str = Field(default="", max_length=200)
    days: int = Field(default=1, ge=0, le=365)
    """Until it is due."""

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Of whoever looks after the person by now; of anybody where nobody does."""
        title = " ".join(self.title.split())
        if not title:
            return context.outcome(rule.line, "the task has no title", acts=False)
        because = context.because("then", rule.line, rule.why)
        task = Task(title=title, days=self.days, member=context.owner, because=because)
        context.effects.append(task)
        whose = context.catalogue.members.get(context.owner or "")
        context.outcome(rule.line, f"task{f' for {whose}' if whose else ''}: {title}", acts=True)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """A task says what is to be done."""
        if not self.title.strip():
            yield at.unfinished("The task has no title.", "Write what is to be done")

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """make the task “call”, due in 2 days"""
        return (
            f"make the task “{self.title}”, due in {self.days} day{'' if self.days == 1 else 's'}"
        )
