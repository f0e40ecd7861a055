"""Tag by the answer to a question: a table of choices and tags."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Frozen, Problem, Use
from ...people import Catalogue
from ...reading import Form
from ...values import Choice, read_choices
from ..rule_context import RuleContext
from .add_tags import add_tags
from .base import ActionCheck, AppliedRule, RuleAction, question_label, tag_names


class TagRow(Frozen):
    """The tags that one choice gives."""

    choice: str
    tags: tuple[str, ...] = ()


class TagByAnswer(RuleAction):
    """Tag by the answer to a question: a table of choice and tags."""

    kind: Literal["tag_by_answer"] = "tag_by_answer"
    question: str = ""
    table: tuple[TagRow, ...] = ()

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """The tags of every choice that was made."""
        answer = context.answer(self.question)
        if not answer.strip():
            return context.outcome(rule.line, "no answer: no tag", acts=False)
        label = context.label(self.question)
        # Where the source defines no question, the table itself names the choices.
        choices = context.choices(self.question) or tuple(
            Choice(key=row.choice, label=row.choice) for row in self.table
        )
        chosen = read_choices(answer, choices)
        if isinstance(chosen, Problem):
            context.problem(rule.line, chosen)
            return context.outcome(rule.line, chosen.sentence, acts=False)
        shown_choices = ", ".join(one.label for one in choices if one.key in chosen)
        tags = tuple(tag for row in self.table if row.choice in chosen for tag in row.tags)
        if not tags:
            return context.outcome(rule.line, f"{shown_choices}: no tag", acts=False)
        why = f"rule {rule.number}: the answer to “{label}” was {shown_choices}"
        add_tags(context, rule.line, tags, why)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """Every choice that has tags is still offered, and at least one has."""
        yield from at.unknown(self.question, at.place)
        asked = next((one for one in at.questions if one.name == self.question), None)
        offered = {choice.key for choice in asked.choices} if asked else set()
        for row in self.table:
            if asked and row.choice not in offered and row.tags:
                yield at.warning(
                    "choice_gone",
                    f"“{asked.label}” no longer offers “{row.choice}”, so its tags are never given.",
                    "Remove the row, or offer the choice again.",
                )
            yield from at.tags(row.tags)
        if not any(row.tags for row in self.table):
            yield at.unfinished("No choice has a tag.", "Choose a tag for at least one choice")

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """tag by the answer to “What do you look at?” (Moon → looks at the moon)"""
        offered = form.choices.get(self.question, ()) if form else ()
        labels = {one.key: one.label for one in offered}
        rows = "; ".join(
            f"{labels.get(row.choice, row.choice)} → {tag_names(row.tags, catalogue)}"
            for row in self.table
            if row.tags
        )
        label = question_label(form, self.question)
        return f"tag by the answer to “{label}” ({rows or 'nothing'})"

    def uses(self) -> Iterator[Use]:
        """Fills the tags of its table."""
        yield from (Use(id=tag, how="fills") for row in self.table for tag in row.tags)
