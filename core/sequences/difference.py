"""The difference between two revisions of a sequence, in sentences that a reader can check."""

from collections.abc import Iterator

from ..documents import changed_lines, other_order
from ..people import Catalogue
from .document import Lane, SequenceDocument


def differences(
    before: SequenceDocument, after: SequenceDocument, catalogue: Catalogue
) -> tuple[str, ...]:
    """What is different in `after`, from the top of the sheet down."""
    return tuple(_differences(before, after, catalogue))


def _differences(
    before: SequenceDocument, after: SequenceDocument, catalogue: Catalogue
) -> Iterator[str]:
    if before.list != after.list:
        old, new = (_list(one.list, catalogue) for one in (before, after))
        yield f"its emails belong to {new} (before: {old})"
    old_heads, new_heads = (
        [lane.model_copy(update={"steps": ()}) for lane in one.lanes] for one in (before, after)
    )
    yield from changed_lines("lane", old_heads, new_heads, lambda lane: lane.name)
    old_lanes = {lane.id: lane for lane in before.lanes}
    for lane in after.lanes:
        known = old_lanes.get(lane.id, Lane(id=lane.id))
        where = f"lane {lane.name}, step" if len(after.lanes) > 1 else "step"
        yield from changed_lines(
            where,
            known.steps,
            lane.steps,
            lambda step: step.describe(catalogue),
            numbered=True,
        )
        if other_order(known.steps, lane.steps):
            yield f"{where.removesuffix('step')}the steps stand in another order"


def _list(key: str | None, catalogue: Catalogue) -> str:
    return catalogue.lists.get(key, "a list that is gone") if key else "no list"
