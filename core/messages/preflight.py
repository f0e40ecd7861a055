"""Pre-flight of a message, as far as the message alone tells."""

import re
from collections.abc import Iterator, Mapping
from html import unescape

from ..documents import Finding, Problem
from ..people import FieldFacts
from .addresses import wrong_address
from .blocks import BlockCheck, ColumnsBlock, PictureFacts, Source, bare_text
from .document import MessageDocument, every_block, sources_of
from .limits import CUT_OFF, LONG_SUBJECT
from .personal import OWN_LINKS, tokens_of, write

_HREF = re.compile(r"""<a\b[^>]*?\bhref\s*=\s*("[^"]*"|'[^']*')""", re.IGNORECASE)


def check_document(
    name: str,
    document: MessageDocument,
    fields: Mapping[str, FieldFacts],
    pictures: Mapping[str, PictureFacts],
    *,
    has_file: bool,
) -> Iterator[Finding]:
    """What keeps a message from being sent, and what is worth a look."""
    yield from _head(name, document)
    yield from _tokens(name, document, fields)
    for block in every_block(document):
        around = BlockCheck(name, f"block-{block.id}", pictures, has_file)
        yield from block.check(around)
        for found in _HREF.finditer(getattr(block, "html", "")):
            address = unescape(found[1][1:-1])
            if wrong := wrong_address(address):
                yield around.finding("wrong_link", f"a link leads to {wrong}", "Write it again.")
    links_to_file = links_to(document, "file_link")
    if has_file and not links_to_file:
        yield Finding(
            code="file_not_linked",
            place="files",
            sentence=f"“{name}” has a file to link to, and no link leads to it.",
            fix="Add a link to the file, or attach it instead.",
        )
    if links_to_file and not has_file:
        yield Finding(
            code="no_file",
            place="files",
            sentence=f"“{name}” links to a file, and has none.",
            fix="Add the file, or remove the link.",
        )


def _head(name: str, document: MessageDocument) -> Iterator[Finding]:
    if not document.subject.strip():
        yield Finding(
            code="no_subject",
            place="subject",
            sentence=f"“{name}” has no subject.",
            fix="Write one in the message.",
        )
    elif len(document.subject) > LONG_SUBJECT and "{" not in document.subject:
        yield Finding(
            code="long_subject",
            place="subject",
            sentence=f"The subject of “{name}” has {len(document.subject)} characters; a phone shows "
            f"about {LONG_SUBJECT} at the most.",
            fix="Put what matters first, or make it shorter.",
            stops=False,
        )
    if not any(_says(block) for block in every_block(document)):
        yield Finding(
            code="no_text",
            sentence=f"“{name}” has no text.",
            fix="Write it in the message.",
        )


def _says(block: object) -> bool:
    if isinstance(block, ColumnsBlock):
        return False
    return any(bare_text(getattr(block, key, "")) for key in ("html", "text", "picture", "label"))


def _tokens(
    name: str, document: MessageDocument, fields: Mapping[str, FieldFacts]
) -> Iterator[Finding]:
    known = {one.key for one in fields.values()} | {"email", "answers", *OWN_LINKS}
    named: set[str] = set()
    for place, source in sources_of(document):
        tokens = tokens_of(Source(source.kind, unescape(source.text)))
        if isinstance(tokens, Problem):
            yield Finding(
                code=tokens.code,
                place=place,
                sentence=f"“{name}”: {tokens.sentence}",
                fix=tokens.fix,
            )
            continue
        for unknown in sorted(set(tokens) - known - named):
            named.add(unknown)
            yield Finding(
                code="unknown_token",
                place=place,
                sentence=f"“{name}” asks for “{unknown}”, and no field is called so.",
                fix="Choose the field again, or make it.",
            )


def check_size(name: str, html: str) -> Iterator[Finding]:
    """HTML so long that some mail programs show only its beginning."""
    size = len(html.encode())
    if size > CUT_OFF:
        yield Finding(
            code="too_long",
            sentence=f"The HTML of “{name}” has {size // 1024} KB; some mail programs cut off what is "
            f"longer than {CUT_OFF // 1024} KB, and with it the way to unsubscribe.",
            fix="Make it shorter, or send two.",
            stops=False,
        )


def needed(document: MessageDocument) -> tuple[str, ...]:
    """The tokens without a fallback: who has no value for one of them is not sent it."""
    sources = [Source(one.kind, unescape(one.text)) for _, one in sources_of(document)]
    written = write(sources, {})
    return () if isinstance(written, Problem) else written.holes


def links_to(document: MessageDocument, name: str) -> bool:
    """Whether the message holds one of the links that are ours."""
    found = re.compile(rf"\{{\{{\s*{name}\s*\}}\}}")
    return any(found.search(source.text) for _, source in sources_of(document))


def asks_to_confirm(document: MessageDocument) -> bool:
    """Whether the message holds the link that confirms."""
    return links_to(document, "confirm_link")
