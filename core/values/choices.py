"""Choices: an answer matched with one of the options of a field or a question."""

from functools import cached_property

from ..documents import Frozen, Problem, folded


class Choice(Frozen):
    """One option: the key that is kept, the label people see, and other ways to say it."""

    key: str
    label: str
    synonyms: tuple[str, ...] = ()

    @cached_property
    def folded(self) -> frozenset[str]:
        """All that it may be called, as texts are compared."""
        return frozenset(map(folded, (self.key, self.label, *self.synonyms)))


def read_choice(text: str, choices: tuple[Choice, ...]) -> str | Problem:
    """The key of the option that `text` names by key, label or synonym."""
    return _named(text, choices) or Problem(
        code="unknown_choice",
        sentence=f"“{text.strip()[:80]}” is not one of the choices.",
        fix="Add it to the choices of the field, or to what one of them is also called.",
    )


def read_choices(text: str, choices: tuple[Choice, ...]) -> tuple[str, ...] | Problem:
    """The keys of the options that `text` names, in the order of `choices`.

    Several are divided by line breaks, as answers of one name are; else by semicolons,
    else by commas. An option whose own name holds a mark is taken whole.
    """
    whole = _named(text, choices)
    if whole is not None:
        return (whole,)
    parts = [text]
    for mark in ("\n", ";", ","):
        parts = [
            piece
            for part in parts
            for piece in ([part] if _named(part, choices) else part.split(mark))
        ]
    found = set()
    for part in filter(str.strip, parts):
        key = read_choice(part, choices)
        if isinstance(key, Problem):
            return key
        found.add(key)
    return tuple(choice.key for choice in choices if choice.key in found)


def _named(text: str, choices: tuple[Choice, ...]) -> str | None:
    wanted = folded(text)
    for choice in choices:
        if wanted in choice.folded:
            return choice.key
    return None
