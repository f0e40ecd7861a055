"""Send members an email with the answers."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding
from ...people import Catalogue
from ...reading import Form
from ..decision import TellMembers
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction, member_names


class Notify(RuleAction):
    """Send members an email with the answers."""

    kind: Literal["notify"] = "notify"
    members: tuple[str, ...] = ()
    owner: bool = False
    """Whether the person's owner is told too."""

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Members who left the workspace are not told."""
        wanted = list(self.members)
        if self.owner and context.owner and context.owner not in wanted:
            wanted.append(context.owner)
        told = tuple(one for one in wanted if one in context.catalogue.members)
        if len(told) < len(wanted):
            context.gone("member", rule.line)
        if not told:
            return context.outcome(rule.line, "nobody to tell", acts=False)
        names = tuple(context.catalogue.members[one] for one in told)
        because = context.because("then", rule.line, rule.why)
        context.effects.append(TellMembers(members=told, names=names, because=because))
        context.outcome(rule.line, f"tells {', '.join(names)}", acts=True)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """Somebody has to be told."""
        if any(one not in at.catalogue.members for one in self.members):
            yield at.missing("member", "gone")
        if not self.members and not self.owner:
            yield at.unfinished("Nobody is told.", "Choose a member")

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """tell Noor, the owner"""
        names = member_names(self.members, catalogue)
        return f"tell {', '.join([*names, *(['the owner'] if self.owner else [])]) or 'nobody'}"
