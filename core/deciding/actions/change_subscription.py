"""Subscribe to a list or unsubscribe from it, or from every list."""

from collections.abc import Iterator
from typing import Any, Literal

from pydantic import model_validator

from ...documents import Finding, Problem, Use, folded
from ...people import Catalogue
from ...reading import Form
from ...values import Choice, read_choices, read_yes_no
from ..rule_context import RuleContext
from ..subscribing import subscribe, unsubscribe
from .base import ActionCheck, AppliedRule, RuleAction, question_label

_DOES = {"subscribe": "subscribe to", "unsubscribe": "unsubscribe from"}


class ChangeSubscription(RuleAction):
    """Subscribe to a list or unsubscribe from it, or from every list; or whichever of the two an
    answer says. It begins with nothing chosen, and then does nothing."""

    kind: Literal["change_subscription"] = "change_subscription"
    list: str | None = None
    every_list: bool = False
    """Whether it unsubscribes from every list; `list` is empty then."""
    direction: Literal["subscribe", "unsubscribe", "by_answer"] | None = None
    question: str = ""
    subscribe_words: tuple[str, ...] = ("subscribe", "yes")
    unsubscribe_words: tuple[str, ...] = ("unsubscribe", "stop", "no")

    @model_validator(mode="before")
    @classmethod
    def _said_before(cls, data: Any) -> Any:
        """Documents from before `every_list` say all lists by naming none."""
        if isinstance(data, dict) and "every_list" not in data:
            every = data.get("direction") == "unsubscribe" and data.get("list") is None
            return {**data, "every_list": every}
        return data

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """As far as consent allows it; an answer that says neither is a problem."""
        line, direction, why = rule.line, self.direction, rule.why
        wording = ""
        if direction == "by_answer":
            answer = context.answer(self.question)
            if not answer.strip():
                return context.outcome(line, "no answer: nothing changes", acts=False)
            direction = self.direction_of(answer, context.choices(self.question))
            label = context.label(self.question)
            shown = _shown_answer(answer, context.choices(self.question))
            if direction is None:
                context.problem(line, _fits_neither(label, shown))
                sentence = f"“{shown}” says neither subscribe nor unsubscribe"
                return context.outcome(line, sentence, acts=False)
            why = f"rule {rule.number}: the answer to “{label}” was {shown}"
            wording = f"{context.label_shown(self.question)}: {shown}"
        if direction is None:
            sentence = "neither subscribe nor unsubscribe is chosen"
            return context.outcome(line, sentence, acts=False)
        if direction == "subscribe":
            if self.list is None or self.list not in context.catalogue.lists:
                return context.outcome(line, "no list chosen", acts=False)
            own = context.submission.own and self.direction == "by_answer"
            return subscribe(context, line, self.list, why, wording=wording, own=own, band="then")
        if self.list is None and not (self.every_list or self.direction == "by_answer"):
            return context.outcome(line, "no list chosen", acts=False)
        unsubscribe(context, line, self.list, why)

    def direction_of(
        self, answer: str, choices: tuple[Choice, ...]
    ) -> Literal["subscribe", "unsubscribe"] | None:
        """What an answer says by the rule's words, which may be keys, labels or synonyms of the
        question's choices; None: neither. Where several are chosen, unsubscribing wins."""
        given = {folded(answer)}
        chosen = read_choices(answer, choices) if choices else ()
        if not isinstance(chosen, Problem):
            for one in choices:
                if one.key in chosen:
                    given |= {folded(text) for text in (one.key, one.label, *one.synonyms)}
        if given & {folded(word) for word in self.unsubscribe_words}:
            return "unsubscribe"
        if given & {folded(word) for word in self.subscribe_words}:
            return "subscribe"
        # A box that is ticked or not comes as "on" or "no", whatever words are stated.
        ticked = read_yes_no(answer) if not choices else ""
        words = {True: self.subscribe_words, False: self.unsubscribe_words}
        if isinstance(ticked, bool) and any(read_yes_no(word) is ticked for word in words[ticked]):
            return "subscribe" if ticked else "unsubscribe"
        return None

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """Nothing chosen is not every list, and every answer has to mean something."""
        if self.direction is None:
            yield at.unfinished(
                "Neither subscribe nor unsubscribe is chosen.",
                "Choose one of them, or let an answer decide",
            )
            return
        if self.list is not None and self.list not in at.catalogue.lists:
            yield at.missing("list", self.list)
        if self.list is None and not (self.direction == "unsubscribe" and self.every_list):
            yield at.missing("list", None)
        if self.direction == "by_answer":
            yield from at.unknown(self.question, at.place)
            yield from self._check_answers(at)

    def _check_answers(self, at: ActionCheck) -> Iterator[Finding]:
        """Whether every answer that a visitor can give means one of the two."""
        both = set(map(folded, self.subscribe_words)) & set(map(folded, self.unsubscribe_words))
        if both:
            yield at.unfinished(
                f"“{sorted(both)[0]}” means both subscribe and unsubscribe.",
                "Let each answer mean one of them",
            )
        asked = next((one for one in at.questions if one.name == self.question), None)
        for choice in asked.choices if asked else ():
            if self.direction_of(choice.key, asked.choices if asked else ()) is None:
                yield Finding(
                    code="fits_neither",
                    place=at.place,
                    sentence=f"The answer “{choice.label}” means neither subscribe nor unsubscribe, so "
                    "whoever gives it stays as they are.",
                    fix="Say for each choice of the question what it means.",
                )
        if not self.subscribe_words and not self.unsubscribe_words:
            yield at.unfinished("No answer has a meaning yet.", "Say what each answer means")

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """unsubscribe from Open-night news"""
        name = catalogue.lists.get(self.list or "", "no list")
        if self.every_list:
            name = "all lists"
        if self.direction == "by_answer":
            yes, no = ", ".join(self.subscribe_words), ", ".join(self.unsubscribe_words)
            return (
                f"change {name} as “{question_label(form, self.question)}” says (subscribe: {yes or 'none'}; "
                f"unsubscribe: {no or 'none'})"
            )
        does = _DOES.get(self.direction or "", "neither subscribe to nor unsubscribe from")
        return f"{does} {name}"

    def uses(self) -> Iterator[Use]:
        """Fills its list, or takes people from it."""
        if self.list and self.direction != "unsubscribe":
            yield Use(id=self.list, how="fills")
        if self.list and self.direction != "subscribe":
            yield Use(id=self.list, how="takes")


def _shown_answer(answer: str, choices: tuple[Choice, ...]) -> str:
    """An answer as people read it: the labels of what was chosen."""
    chosen = read_choices(answer, choices) if choices else ()
    if isinstance(chosen, Problem) or not chosen:
        return " ".join(answer.split())[:80]
    return ", ".join(one.label for one in choices if one.key in chosen)


def _fits_neither(label: str, shown: str) -> Problem:
    return Problem(
        code="fits_neither",
        sentence=f"The answer “{shown}” to “{label}” says neither subscribe nor unsubscribe, so "
        "nothing was changed.",
        fix="Say in the rule what this answer means, then route it again.",
    )
