"""The answer's own text as the tag."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Problem, folded
from ...people import Catalogue
from ...reading import Form
from ...values import read_text
from ..decision import AddTag
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction, question_label

_LONGEST_TAG = 60


class TagFromAnswer(RuleAction):
    """The answer's own text as the tag, of a stated set or with a stated beginning."""

    kind: Literal["tag_from_answer"] = "tag_from_answer"
    question: str = ""
    prefix: str = ""
    """What every such tag begins with: "source: " makes of "fair" the tag "source: fair"."""
    only: tuple[str, ...] = ()
    """Answers that may become tags; any where it is empty and there is a prefix."""

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """The tag need not exist: the server makes it. Its id is then its name."""
        parts: list[str] = []
        by_name = {folded(name): tag for tag, name in context.catalogue.tags.items()}
        by_name |= context.made_tags
        for text in context.answer(self.question).split("\n"):
            plain = read_text(text)
            if isinstance(plain, Problem) or not plain:
                continue
            if self.only and folded(plain) not in map(folded, self.only):
                parts.append(f"“{plain[:40]}” is not among the answers that may become tags")
                continue
            if not self.only and not self.prefix.strip():
                parts.append("neither a prefix nor a set of tags is stated")
                continue
            name = f"{self.prefix}{plain}"[:_LONGEST_TAG].strip()
            tag = by_name.get(folded(name), name)
            if tag == name:
                # Two answers that differ in case alone are one tag.
                by_name[folded(name)] = context.made_tags[folded(name)] = name
            if context.changed_since("tag", tag):
                parts.append(f"{name} was changed since, and stays so")
                continue
            if tag in context.tags:
                parts.append(f"has {name} already")
                continue
            context.tags.add(tag)
            label = context.label(self.question)
            sentence = f"rule {rule.number}: the answer to “{label}” was {plain}"
            because = context.because("then", rule.line, sentence)
            context.effects.append(AddTag(tag=tag, name=name, because=because))
            parts.append(f"+ {name}")
        acts = any(one.startswith("+ ") for one in parts)
        context.outcome(rule.line, " · ".join(parts) or "no answer: no tag", acts=acts)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """A visitor may not make any tag they like."""
        yield from at.unknown(self.question, at.place)
        if not self.prefix.strip() and not self.only:
            yield at.unfinished(
                "Any answer at all would become a tag.",
                "State what such a tag begins with, or which answers may become one",
            )

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """tag “source: ” with the answer to “How did you hear of us?”"""
        label = question_label(form, self.question)
        begins = f" “{self.prefix}”" if self.prefix else ""
        return f"tag{begins} with the answer to “{label}”"
