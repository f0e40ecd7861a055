"""Choices: an answer matched with one of the options of a field or a question."""

from ..documents import Frozen, Problem
from ..folding import folded


class Choice(Frozen):
    """One option: the key that is kept, the label people see, and other ways to say it."""

    key: str
    label: str
    synonyms: tuple[str, ...] = ()


def read_choice(text: str, choices: tuple[Choice, ...]) -> str | Problem:
    """The key of the option that `text` names by key, label or synonym."""
    wanted = folded(text)
    for choice in choices:
        if wanted in map(folded, (choice.key, choice.label, *choice.synonyms)):
            return choice.key
    return Problem(
        code="unknown_choice",
        sentence=f"“{text.strip()[:80]}” is not one of the choices.",
        fix="Add it to the choices of the field, or to what one of them is also called.",
    )
