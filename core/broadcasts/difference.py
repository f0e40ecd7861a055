"""The difference between two revisions of a broadcast, in sentences."""

from collections.abc import Iterator

from ..documents import changed_lines, other_order
from ..people import Catalogue
from .document import BroadcastDocument
from .words import to_in_words, trial_in_words, version_in_words, when_in_words


def broadcast_differences(
    before: BroadcastDocument, after: BroadcastDocument, catalogue: Catalogue
) -> tuple[str, ...]:
    """What is different in `after`, from the top of the sheet down."""
    return tuple(_differences(before, after, catalogue))


def _differences(
    before: BroadcastDocument, after: BroadcastDocument, catalogue: Catalogue
) -> Iterator[str]:
    if before.to != after.to:
        old, new = (to_in_words(one.to, catalogue) for one in (before, after))
        if old != new:
            yield f"to: {new} (before: {old})"
        if before.to.less_busy != after.to.less_busy:
            busy = "are left out" if after.to.less_busy else "get it too"
            yield f"people in sequences that want them left alone {busy}"
    yield from changed_lines(
        "message", before.versions, after.versions, lambda one: version_in_words(one, catalogue)
    )
    if other_order(before.versions, after.versions):
        yield "the versions stand in another order"
    if after.is_tried and before.trial != after.trial:
        yield f"trial: {trial_in_words(after)}"
    if before.when != after.when:
        yield f"when: {when_in_words(after.when)} (before: {when_in_words(before.when)})"
    if before.page != after.page:
        yield f"it has {'a' if after.page else 'no'} page in the browser"
