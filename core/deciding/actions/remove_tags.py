"""Remove tags."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Use
from ...people import Catalogue
from ...reading import Form
from ..decision import RemoveTag
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction, tag_names


class RemoveTags(RuleAction):
    """Remove tags from everybody who comes through."""

    kind: Literal["remove_tags"] = "remove_tags"
    tags: tuple[str, ...] = ()

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Of somebody without the tag this is nothing."""
        parts: list[str] = []
        for tag in self.tags:
            name = context.catalogue.tags.get(tag)
            if name is not None and tag in context.tags and not context.changed_since("tag", tag):
                context.tags.discard(tag)
                because = context.because("then", rule.line, rule.why)
                context.effects.append(RemoveTag(tag=tag, name=name, because=because))
                parts.append(f"− {name}")
        context.outcome(rule.line, " · ".join(parts) or "has none of these tags", acts=bool(parts))

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """A rule without a tag does nothing."""
        yield from at.tags(self.tags)
        if not self.tags:
            yield at.unfinished("No tag is chosen.", "Choose a tag")

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """remove the tags moon, planets"""
        return f"remove the tags {tag_names(self.tags, catalogue)}"

    def uses(self) -> Iterator[Use]:
        """Takes people from its tags."""
        yield from (Use(id=tag, how="takes") for tag in self.tags)
