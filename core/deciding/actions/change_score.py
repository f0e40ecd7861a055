"""Add to the score, or take from it."""

from typing import Literal

from pydantic import Field

from ...people import Catalogue
from ...reading import Form
from ..decision import Score
from ..rule_context import RuleContext
from .base import AppliedRule, RuleAction


class ChangeScore(RuleAction):
    """Add to the score, or take from it."""

    kind: Literal["change_score"] = "change_score"
    by: int = Field(default=1, ge=-1000, le=1000)

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Each time anew: a second submission counts again."""
        before, after = context.score, context.score + self.by
        context.score = after
        because = context.because("then", rule.line, rule.why)
        context.effects.append(Score(before=before, after=after, because=because))
        context.outcome(rule.line, f"score {before} → {after}", acts=True)

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """add 5 to the score"""
        return f"take {-self.by} from the score" if self.by < 0 else f"add {self.by} to the score"
