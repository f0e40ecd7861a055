"""What every action of a rule is: a document that knows its check, its words and its effect."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from ...documents import Finding, Frozen, Use, value
from ...people import Catalogue
from ...reading import CONTEXT, Form, Question
from ..rule_context import RuleContext

Unknown = Callable[[str, str], Iterator[Finding]]
"""Findings for a question (first) at a place (second) that nothing comes by."""


@value
class AppliedRule:
    """The rule that is being carried out, on somebody whom its condition fits."""

    line: str
    """The id of the rule."""
    number: int
    why: str
    """Why it applies, in words."""


@dataclass(frozen=True)
class ActionCheck:
    """What pre-flight knows beside the action itself."""

    place: str
    """The id of the rule."""
    catalogue: Catalogue
    unknown: Unknown
    questions: tuple[Question, ...] = ()
    """The questions of the form."""
    lists: frozenset[str] = frozenset()
    """The lists that the Consent band subscribes to."""
    own: bool = True
    """Whether what comes in is an act of the person's own: not so of files, sheets and other programs."""

    def missing(self, what: str, chosen: str | None) -> Finding:
        """Something is not chosen, or what was chosen does not exist any more."""
        return Finding(
            code=f"{what}_gone" if chosen else "line_unfinished",
            place=self.place,
            sentence=f"The {what} that this rule uses is gone."
            if chosen
            else f"No {what} is chosen.",
            fix=f"Choose a {what}, or remove the rule.",
        )

    def unfinished(self, sentence: str, do: str) -> Finding:
        """Something has to be said before the rule can do anything."""
        return Finding(
            code="line_unfinished",
            place=self.place,
            sentence=sentence,
            fix=f"{do}, or remove the rule.",
        )

    def warning(self, code: str, sentence: str, fix: str) -> Finding:
        """Something to see before turning on, which does not stop it."""
        return Finding(code=code, place=self.place, sentence=sentence, fix=fix, stops=False)

    def tags(self, tags: tuple[str, ...]) -> Iterator[Finding]:
        """Tags that do not exist any more."""
        if any(tag not in self.catalogue.tags for tag in tags):
            yield self.missing("tag", "gone")


class RuleAction(Frozen):
    """The base of all actions. Adding one: a module here, and its name in `__init__.py`."""

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Change the context by this action, with one outcome in words."""
        raise NotImplementedError

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """What is missing, gone or contradictory, each with its fix."""
        yield from ()

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """The action in words; `form` says how people read questions and choices."""
        raise NotImplementedError

    def uses(self) -> Iterator[Use]:
        """What of the workspace it names, and what it does with it."""
        yield from ()


def tag_names(tags: tuple[str, ...], catalogue: Catalogue) -> str:
    """The names of tags, for a description."""
    return ", ".join(catalogue.tags.get(one, "a tag that is gone") for one in tags) or "nothing"


def question_label(form: Form | None, name: str) -> str:
    """How people read the name of a question."""
    return CONTEXT.get(name) or (form.names.get(name, name) if form else name)


def member_names(members: tuple[str, ...], catalogue: Catalogue) -> list[str]:
    """The names of members, for a description."""
    return [catalogue.members.get(one, "somebody who left") for one in members]
