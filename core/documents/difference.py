"""The difference between two revisions of a document's lines, in sentences."""

from collections.abc import Callable, Iterator, Sequence
from typing import Any, TypeVar

Line = TypeVar("Line", bound=Any)


def changed_lines(
    what: str,
    before: Sequence[Line],
    after: Sequence[Line],
    describe: Callable[[Line], str],
    *,
    numbered: bool = False,
    altered: Callable[[Line, Line], str] | None = None,
) -> Iterator[str]:
    """What became of lines, which are known by their ids, whatever their place.

    `what` names one, `describe` says it in words; `numbered`: it is named with its place;
    `altered` says what is different between two that are described alike, as far as it can.
    """

    def named(number: int) -> str:
        return f"{what} {number}" if numbered else what

    old = {one.id: (number, one) for number, one in enumerate(before, start=1)}
    new = {one.id: (number, one) for number, one in enumerate(after, start=1)}
    for key, (number, one) in old.items():
        if key not in new:
            yield f"{named(number)} taken out: {describe(one)}"
    for key, (number, one) in new.items():
        if key not in old:
            yield f"{named(number)} added: {describe(one)}"
            continue
        was, now = describe(old[key][1]), describe(one)
        if was != now:
            yield f"{named(number)}: {was} → {now}"
        elif old[key][1] != one:
            words = altered(old[key][1], one) if altered else ""
            yield f"{named(number)} changed{': ' + words if words else ' in how it works: ' + now}"


def other_order(before: Sequence[Line], after: Sequence[Line]) -> bool:
    """Whether the lines that both have stand in another order."""
    old, new = [one.id for one in before], [one.id for one in after]
    return [one for one in old if one in new] != [one for one in new if one in old]
