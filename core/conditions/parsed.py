"""What reading a typed condition comes to: the condition, or what of it is not understood; and the ways on."""

from collections.abc import Iterable, Sequence
from difflib import get_close_matches
from heapq import nlargest

from ..documents import Frozen
from .document import Group


class ParseProblem(Frozen):
    """What of a sentence is not understood: from `start` to `end` (characters), and what could be meant."""

    start: int
    end: int
    sentence: str
    could: tuple[str, ...] = ()
    unfinished: bool = False
    """Whether nothing is wrong so far: it only has to go on."""


class Parsed(Frozen):
    """What a sentence says; nothing where there are problems."""

    condition: Group | None = None
    problems: tuple[ParseProblem, ...] = ()


class Proposed(Frozen):
    """A way on from the cursor: `text` in place of what stands from `start` to the cursor."""

    start: int
    text: str


class Unclear(Exception):
    """Raised where a text is not understood."""

    def __init__(
        self,
        start: int,
        end: int,
        sentence: str,
        could: Sequence[str] = (),
        *,
        unfinished: bool = False,
    ) -> None:
        super().__init__(sentence)
        self.problem = ParseProblem(
            start=start,
            end=max(end, start),
            sentence=sentence,
            could=tuple(could),
            unfinished=unfinished,
        )


_FEW = 100
"""Names that are compared in full: among more, those that share the most pairs of letters with the text."""


def alike(text: str, names: Iterable[str]) -> list[str]:
    """Up to four names that could have been meant; the first four where none is like the text."""
    listed = list(names)
    near = listed
    if len(listed) > _FEW:
        wanted = _pairs(text)
        near = nlargest(_FEW, listed, key=lambda one: len(wanted & _pairs(one)))
    return get_close_matches(text, near, 4, 0.5) or listed[:4]


def _pairs(text: str) -> set[str]:
    plain = text.casefold()
    return {plain[at : at + 2] for at in range(len(plain) - 1)}
