"""The difference between two revisions of a message, in sentences."""

from collections.abc import Iterator

from ..documents import changed_lines, other_order
from .blocks import MessageBlock
from .document import MessageDocument, every_block

_PLAIN = {
    "subject": "Subject",
    "preheader": "Preheader",
    "language": "Language",
    "text": "Plain text",
}
_COUNTED = {None: "as the workspace says", True: "yes", False: "no"}


def changes_between(before: MessageDocument, after: MessageDocument) -> Iterator[str]:
    """What is different, a sentence for each change."""
    for key, label in _PLAIN.items():
        was, now = getattr(before, key), getattr(after, key)
        if was != now:
            yield f"{label}: {_short(was)} → {_short(now)}"
    for key, label in (("opens", "Opens are counted"), ("clicks", "Clicks are counted")):
        was, now = getattr(before, key), getattr(after, key)
        if was != now:
            yield f"{label}: {_COUNTED[was]} → {_COUNTED[now]}"
    if before.utm != after.utm:
        yield f"Parameters of links: {_utm(before)} → {_utm(after)}"
    old, new = list(every_block(before)), list(every_block(after))
    yield from changed_lines("Block", old, new, _describe)
    if other_order(old, new):
        yield "The blocks stand in another order."


def _describe(block: MessageBlock) -> str:
    return f"{block.say()} (for some people)" if block.only is not None else block.say()


def _short(text: str) -> str:
    plain = " ".join(text.split())
    return f"“{plain[:80]}{'…' if len(plain) > 80 else ''}”" if plain else "none"


def _utm(document: MessageDocument) -> str:
    return ", ".join(f"{one.name}={one.value}" for one in document.utm) or "none"
