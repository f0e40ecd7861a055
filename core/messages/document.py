"""The document of a message: its head, its blocks, and what is counted of it."""

from collections.abc import Callable, Iterator
from typing import Literal

from pydantic import Field

from ..conditions import Group
from ..documents import Frozen
from .blocks import Block, ColumnsBlock, MessageBlock, Source, TextBlock
from .limits import LONGEST_TEXT, MOST_BLOCKS


class Parameter(Frozen):
    """A parameter of links, by which a website knows where its visitors come from."""

    name: Literal["utm_source", "utm_medium", "utm_campaign", "utm_content", "utm_term"]
    value: str = Field(default="", max_length=200)


class MessageDocument(Frozen):
    """A message; Liquid in every text of it."""

    subject: str = Field(default="", max_length=300)
    preheader: str = Field(default="", max_length=300)
    """The line that inboxes show after the subject."""
    language: str = Field(default="", max_length=35)
    """BCP 47; empty: that of the workspace."""
    blocks: tuple[Block, ...] = Field(default=(), max_length=MOST_BLOCKS)
    text: str = Field(default="", max_length=LONGEST_TEXT)
    """The plain text, written by hand; empty: made of the blocks."""
    opens: bool | None = None
    clicks: bool | None = None
    """Whether opens and clicks are counted; None: as the workspace says."""
    utm: tuple[Parameter, ...] = Field(default=(), max_length=5)
    """Parameters that every link to a website gets, where it has none of that name."""


def simple_message(
    subject: str = "", preheader: str = "", body: str = "", **more: object
) -> MessageDocument:
    """A message of one text."""
    blocks = (TextBlock(id="text", html=body),) if body else ()
    return MessageDocument(subject=subject, preheader=preheader, blocks=blocks, **more)


def every_block(document: MessageDocument) -> Iterator[MessageBlock]:
    """The blocks in the order they are read, and those in columns after what holds them."""
    for block in document.blocks:
        yield block
        if isinstance(block, ColumnsBlock):
            for column in block.columns:
                yield from column.blocks


def parts_by_reader(
    document: MessageDocument,
) -> tuple[tuple[MessageDocument, tuple[Group, ...]], ...]:
    """The message in parts: what everybody reads, and each block that is for some people alone, with the
    conditions that all have to hold for whoever reads it."""
    nothing = document.model_copy(update={"subject": "", "preheader": "", "text": "", "blocks": ()})
    limited: list[tuple[MessageDocument, tuple[Group, ...]]] = []

    def for_all(blocks: tuple[Block, ...], around: tuple[Group, ...]) -> tuple[Block, ...]:
        kept = []
        for block in blocks:
            conditions = around if block.only is None else (*around, block.only)
            whole = _rest(block, conditions)
            if conditions == around:
                kept.append(whole)
            else:
                limited.append((nothing.model_copy(update={"blocks": (whole,)}), conditions))
        return tuple(kept)

    def _rest(block: Block, conditions: tuple[Group, ...]) -> Block:
        changed: dict[str, object] = {"only": None}
        if isinstance(block, ColumnsBlock):
            changed["columns"] = tuple(
                one.model_copy(update={"blocks": for_all(one.blocks, conditions)})
                for one in block.columns
            )
        return block.model_copy(update=changed)

    everybody = document.model_copy(update={"blocks": for_all(document.blocks, ())})
    return ((everybody, ()), *limited)


def sources_of(document: MessageDocument) -> Iterator[tuple[str, Source]]:
    """Every part as it was written, with the place where it stands."""
    yield "subject", Source("plain", document.subject)
    yield "preheader", Source("plain", document.preheader)
    for block in every_block(document):
        if not isinstance(block, ColumnsBlock):
            for source in block.sources():
                yield f"block-{block.id}", source
    if document.text:
        yield "plain-text", Source("plain", document.text)


def hidden_from(document: MessageDocument, holds: Callable[[Group], bool]) -> frozenset[str]:
    """The ids of the blocks that are not for somebody, by whether a condition holds for them."""
    return frozenset(
        block.id
        for block in every_block(document)
        if block.only is not None and not holds(block.only)
    )


def without(document: MessageDocument, hidden: frozenset[str]) -> tuple[Block, ...]:
    """The blocks that are left; columns with nothing in them go too."""
    kept: list[Block] = []
    for block in document.blocks:
        if block.id in hidden:
            continue
        if not isinstance(block, ColumnsBlock):
            kept.append(block)
        else:
            columns = tuple(
                column.model_copy(
                    update={"blocks": tuple(one for one in column.blocks if one.id not in hidden)}
                )
                for column in block.columns
            )
            if any(column.blocks for column in columns):
                kept.append(block.model_copy(update={"columns": columns}))
    return tuple(kept)


def with_html(document: MessageDocument, change: Callable[[str], str]) -> MessageDocument:
    """The document with each HTML text of it changed (cleaned, say)."""

    def changed(block: Block) -> Block:
        if isinstance(block, ColumnsBlock):
            columns = tuple(
                column.model_copy(update={"blocks": tuple(changed(one) for one in column.blocks)})
                for column in block.columns
            )
            return block.model_copy(update={"columns": columns})
        html = getattr(block, "html", None)
        return block if html is None else block.model_copy(update={"html": change(html)})

    return document.model_copy(
        update={"blocks": tuple(changed(block) for block in document.blocks)}
    )
