"""The difference between two revisions of a message, in sentences."""

import re
from collections.abc import Iterator, Mapping
from functools import partial

from ..conditions import say
from ..documents import changed_lines, other_order
from ..people import Catalogue
from .blocks import ColumnsBlock, MessageBlock, bare_text
from .document import MessageDocument, every_block

_PLAIN = {
    "subject": "Subject",
    "preheader": "Preheader",
    "language": "Language",
    "text": "Plain text",
}
_COUNTED = {None: "as the workspace says", True: "yes", False: "no"}
_TEXTS = ("html", "text", "label", "link", "alt", "by")
"""What blocks hold as texts, by the names of their parts."""
_FILLED_IN = re.compile(r"\{\{\s*([a-zA-Z_]\w*)[^}]*\}\}")
_AROUND = 3
"""Words on either side of what is different in a long text."""


def changes_between(
    before: MessageDocument, after: MessageDocument, catalogue: Catalogue
) -> Iterator[str]:
    """What is different, a sentence for each change. What is filled in for each person stands by its label."""
    labels = {field.key: field.label for field in catalogue.fields.values()}
    for key, label in _PLAIN.items():
        was, now = (_labelled(getattr(one, key), labels) for one in (before, after))
        if was != now:
            yield f"{label}: {altered(was, now)}"
    for key, label in (("opens", "Opens are counted"), ("clicks", "Clicks are counted")):
        was, now = getattr(before, key), getattr(after, key)
        if was != now:
            yield f"{label}: {_COUNTED[was]} → {_COUNTED[now]}"
    if before.utm != after.utm:
        yield f"Parameters of links: {_utm(before)} → {_utm(after)}"
    old = [_readable(one, labels) for one in every_block(before)]
    new = [_readable(one, labels) for one in every_block(after)]
    yield from changed_lines(
        "Block", old, new, partial(_describe, catalogue=catalogue), altered=_inside
    )
    if other_order(old, new):
        yield "The blocks stand in another order."


def altered(was: str, now: str) -> str:
    """A text before and after: all of it where it is short, else what is different with the words around."""
    old, new = was.split(), now.split()
    if max(len(" ".join(old)), len(" ".join(new))) <= 80:
        return f"{_quoted(' '.join(old))} → {_quoted(' '.join(new))}"
    same, most = 0, min(len(old), len(new))
    while same < most and old[same] == new[same]:
        same += 1
    after = 0
    while after < most - same and old[-1 - after] == new[-1 - after]:
        after += 1
    first = max(0, same - _AROUND)
    return " → ".join(_quoted(_cut(one, first, len(one) - after + _AROUND)) for one in (old, new))


def _cut(words: list[str], first: int, last: int) -> str:
    text = " ".join(words[first:last])
    text = f"{text[:200]}…" if len(text) > 200 else text
    return f"{'… ' if first else ''}{text}{' …' if last < len(words) else ''}"


def _quoted(text: str) -> str:
    return f"“{text}”" if text else "none"


def _labelled(text: str, labels: Mapping[str, str]) -> str:
    """A text with the names of fields for what is filled in."""
    return _FILLED_IN.sub(
        lambda found: f"[{labels.get(found[1], found[1].replace('_', ' '))}]", text
    )


def _readable(block: MessageBlock, labels: Mapping[str, str]) -> MessageBlock:
    """A block with its texts as people read them."""
    texts = {
        name: _labelled(getattr(block, name), labels)
        for name in _TEXTS
        if isinstance(getattr(block, name, None), str)
    }
    if isinstance(block, ColumnsBlock):
        columns = tuple(
            one.model_copy(update={"blocks": tuple(_readable(b, labels) for b in one.blocks)})
            for one in block.columns
        )
        return block.model_copy(update={"columns": columns})
    return block.model_copy(update=texts)


def _describe(block: MessageBlock, catalogue: Catalogue) -> str:
    if block.only is None:
        return block.say()
    return f"{block.say()}, only for: {say(block.only, catalogue)}"


def _inside(before: MessageBlock, after: MessageBlock) -> str:
    """What is different in a block that begins alike."""
    was, now = (bare_text(getattr(one, "html", "")) for one in (before, after))
    return altered(was, now) if was != now else ""


def _utm(document: MessageDocument) -> str:
    return ", ".join(f"{one.name}={one.value}" for one in document.utm) or "none"
