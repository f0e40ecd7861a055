"""Who looks after the person."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Frozen, Problem
from ...people import Catalogue
from ...reading import Form
from ...values import Choice, read_choices
from ..decision import Owner
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction, member_names, question_label


class OwnerRow(Frozen):
    """The owner that one choice gives."""

    choice: str
    member: str | None = None


class SetOwner(RuleAction):
    """Who looks after the person: one member, by an answer, or in turn; never taken from another."""

    kind: Literal["set_owner"] = "set_owner"
    how: Literal["fixed", "by_answer", "in_turn"] = "fixed"
    members: tuple[str, ...] = ()
    question: str = ""
    table: tuple[OwnerRow, ...] = ()

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Somebody who is looked after already stays with that member."""
        members = context.catalogue.members
        if context.owner in members:
            sentence = f"{members[context.owner or '']} is the owner already"
            return context.outcome(rule.line, sentence, acts=False)
        member = self._chosen(context)
        name = members.get(member or "", "")
        if not name or member is None:
            if member:
                context.gone("member", rule.line)
            return context.outcome(rule.line, "no owner by this", acts=False)
        context.owner = member
        because = context.because("then", rule.line, rule.why)
        context.effects.append(Owner(member=member, name=name, because=because))
        context.outcome(rule.line, f"owner: {name}", acts=True)

    def _chosen(self, context: RuleContext) -> str | None:
        if self.how == "by_answer":
            chosen = read_choices(
                context.answer(self.question),
                context.choices(self.question)
                or tuple(Choice(key=row.choice, label=row.choice) for row in self.table),
            )
            if isinstance(chosen, Problem):
                return None
            return next((row.member for row in self.table if row.choice in chosen), None)
        there = [one for one in self.members if one in context.catalogue.members]
        if not there:
            return next(iter(self.members), None)
        turn = context.submission.turn if self.how == "in_turn" else 0
        return there[turn % len(there)]

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """A member has to be named, and be one still."""
        by_answer = self.how == "by_answer"
        named = [row.member for row in self.table] if by_answer else self.members
        if by_answer:
            yield from at.unknown(self.question, at.place)
        if not any(named):
            yield at.unfinished("No member is chosen.", "Choose the owner")
        if any(one and one not in at.catalogue.members for one in named):
            yield at.missing("member", "gone")

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """make Noor or Ada the owner, in turn"""
        if self.how == "by_answer":
            label = question_label(form, self.question)
            return f"choose the owner by the answer to “{label}”"
        names = " or ".join(member_names(self.members, catalogue)) or "nobody"
        return f"make {names} the owner{', in turn' if self.how == 'in_turn' else ''}"
