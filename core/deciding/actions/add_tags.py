"""Tag everybody to whom the rule applies."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Use
from ...people import Catalogue
from ...reading import Form
from ..decision import AddTag
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction, tag_names


class AddTags(RuleAction):
    """Tag everybody who comes through."""

    kind: Literal["add_tags"] = "add_tags"
    tags: tuple[str, ...] = ()

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Tags that are there already stay as they are."""
        add_tags(context, rule.line, self.tags, rule.why)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """A rule without a tag does nothing."""
        yield from at.tags(self.tags)
        if not self.tags:
            yield at.unfinished("No tag is chosen.", "Choose a tag")

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """tag guide, moon"""
        return f"tag {tag_names(self.tags, catalogue)}"

    def uses(self) -> Iterator[Use]:
        """Fills its tags."""
        yield from (Use(id=tag, how="fills") for tag in self.tags)


def add_tags(context: RuleContext, line: str, tags: tuple[str, ...], why: str) -> None:
    """Add tags that exist, and say of each what became of it."""
    parts: list[str] = []
    acts = False
    for tag in tags:
        name = context.catalogue.tags.get(tag)
        if name is None:
            context.gone("tag", line)
            parts.append("a tag that is gone")
        elif tag in context.tags:
            parts.append(f"has {name} already")
        elif context.changed_since("tag", tag):
            parts.append(f"{name} was changed since, and stays so")
        else:
            acts = True
            context.tags.add(tag)
            because = context.because("then", line, why)
            context.effects.append(AddTag(tag=tag, name=name, because=because))
            parts.append(f"+ {name}")
    context.outcome(line, " · ".join(parts) or "no tag chosen", acts=acts)
