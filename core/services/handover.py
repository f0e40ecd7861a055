"""What a rule or a step hands to a service: which operation, chosen how, with which values."""

from collections.abc import Mapping
from typing import Literal

from pydantic import Field

from ..documents import Frozen, Problem, folded
from .description import Need
from .facts import ServiceFacts
from .payload import FarLine


class ChosenRow(Frozen):
    """The thing over there that one answer stands for."""

    answer: str
    thing: str


class Chosen(Frozen):
    """What is chosen for one need of an operation: fixed things, and what an answer names."""

    things: tuple[str, ...] = Field(default=(), max_length=50)
    """Ids over there, whatever the answer."""
    question: str = ""
    """Its answer names more of them: by `rows`, else by their own names over there."""
    rows: tuple[ChosenRow, ...] = Field(default=(), max_length=200)
    only: tuple[str, ...] = Field(default=(), max_length=200)
    """Ids that an answer may name; empty: any that is there."""


class Handover(Frozen):
    """Hand the person to a service."""

    service: str | None = None
    operation: str = ""
    chosen: Mapping[str, Chosen] = {}
    lines: tuple[FarLine, ...] = Field(default=(), max_length=200)
    update: bool = True
    """Whether somebody who is there already is updated; else they stay as they are."""
    confirm: bool = True
    """Whether the other side asks them to confirm by email, where it can."""
    if_wrong: Literal["without", "wait"] = "without"
    """Of a value that the other side would not take: goes without it, or waits until it is fixed."""
    list: str | None = None
    """The list here whose subscribers alone are handed over, where it is not the one that the
    connection names."""

    @property
    def questions(self) -> frozenset[str]:
        """The names of all questions whose answers it looks at."""
        lines = {one.what for one in self.lines if one.take == "answer"}
        return frozenset(lines | {one.question for one in self.chosen.values() if one.question})

    def list_of(self, facts: ServiceFacts) -> str | None:
        """The list here that says who may get marketing over there."""
        return self.list or facts.list_id


def choose(
    need: Need, chosen: Chosen, answers: Mapping[str, str], facts: ServiceFacts
) -> tuple[str, ...] | Problem:
    """The ids for a need, in the order in which they are named, or why there are none."""
    there = facts.things.get(need.kind, ())
    ids = [one for one in chosen.things if facts.has(need.kind, one)]
    gone = len(ids) < len(chosen.things)
    for text in answers.get(chosen.question, "").split("\n") if chosen.question else ():
        wanted = folded(text)
        if not wanted:
            continue
        by_row = [row.thing for row in chosen.rows if folded(row.answer) == wanted]
        by_name = [one.id for one in there if wanted in (folded(one.label), folded(one.id))]
        ids += [
            one
            for one in by_row or by_name
            if facts.has(need.kind, one) and (not chosen.only or one in chosen.only)
        ]
    found = tuple(dict.fromkeys(ids))
    if found and not need.several:
        # An answer says it more exactly than what holds for everybody.
        found = found[-1:]
    if found or (need.optional and not gone):
        return found
    if gone:
        return Problem(
            code="thing_gone",
            place=need.name,
            sentence=f"The {need.label.lower()} that is chosen is gone from {facts.name}.",
            fix=f"Choose another {need.label.lower()}.",
        )
    return Problem(
        code="nothing_chosen",
        place=need.name,
        sentence=f"No {need.label.lower()} is chosen by this answer.",
        fix=f"Choose a {need.label.lower()} for everybody, or one for the answer.",
    )
