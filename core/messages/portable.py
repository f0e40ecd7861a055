"""Messages in open formats: MJML, HTML and email (RFC 5322).

What comes in becomes blocks; what has no place in them is left out, and said.
"""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from email import policy
from email.message import EmailMessage
from email.parser import BytesParser
from html import escape, unescape
from html.parser import HTMLParser
from typing import Any
from xml.etree.ElementTree import Element, ParseError, tostring

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from ..documents import Problem, clean
from .blocks import (
    Block,
    ButtonBlock,
    Column,
    ColumnsBlock,
    DividerBlock,
    InColumn,
    PictureFacts,
    Source,
    SpaceBlock,
    TextBlock,
    bare_text,
)
from .cleaning import TAGS, clean_html, too_nested
from .document import MessageDocument
from .frame import Frame
from .layout import lay_out
from .limits import DEEPEST_READ, MOST_READ_TAGS
from .style import HouseStyle


@dataclass
class Incoming:
    """A message that came in, and what was left out, in sentences."""

    document: MessageDocument
    left_out: list[str] = field(default_factory=list)


def as_html(
    document: MessageDocument, style: HouseStyle, frame: Frame, pictures: Mapping[str, PictureFacts]
) -> str:
    """The message as an HTML document, with its tokens as they were written."""
    template = lay_out(document, frozenset(), style, frame, pictures)
    parts = []
    for piece in template.html:
        if isinstance(piece, str):
            parts.append(piece)
        else:
            source = template.sources[piece]
            parts.append(source.text if source.kind == "html" else escape(source.text))
    return re.sub(r' data-l="\d+"', "", "".join(parts))


def as_eml(
    document: MessageDocument,
    style: HouseStyle,
    frame: Frame,
    pictures: Mapping[str, PictureFacts],
    sender: str,
) -> bytes:
    """The message as an email without a recipient."""
    template = lay_out(document, frozenset(), style, frame, pictures)
    pieces = [
        one if isinstance(one, str) else _plain(template.sources[one]) for one in template.text
    ]
    message = EmailMessage(policy=policy.SMTP)
    message["Subject"] = document.subject
    if sender:
        message["From"] = sender
    message["X-Unsent"] = "1"
    message.set_content("".join(pieces), cte="quoted-printable")
    message.add_alternative(
        as_html(document, style, frame, pictures), subtype="html", cte="quoted-printable"
    )
    return message.as_bytes()


def _plain(source: Source) -> str:
    return bare_text(source.text) if source.kind == "html" else source.text


def from_html(source: str) -> Incoming | Problem:
    """A message of one text. The title is its subject."""
    wrong = too_nested(source, DEEPEST_READ, MOST_READ_TAGS)
    if wrong:
        return _too_complex(wrong)
    reader = _Reader()
    reader.feed(source)
    body = re.search(r"<body\b[^>]*>(.*?)(</body>|\Z)", source, re.IGNORECASE | re.DOTALL)
    kept = clean_html(_drop_hidden(body[1] if body else source))
    wrong = too_nested(kept)
    if wrong:
        return _too_complex(wrong)
    document = MessageDocument(
        subject=clean(" ".join(reader.title.split()))[:300],
        blocks=(TextBlock(id="text", html=kept),) if bare_text(kept) or "<img" in kept else (),
    )
    return Incoming(document, list(_left_out(reader.seen - TAGS)))


_SILENT = {"html", "head", "body", "title", "meta", "div", "span", "tbody", "thead", "center"}
_NAMES = {
    "script": "Scripts",
    "style": "Styles",
    "link": "Styles of other files",
    "table": "Tables: their text stays",
    "form": "Forms",
    "iframe": "Other pages shown inside",
    "video": "Videos",
    "audio": "Sounds",
    "svg": "Drawings (SVG)",
    "object": "Embedded objects",
}


def _left_out(tags: set[str]) -> Iterator[str]:
    for tag in sorted(tags & _NAMES.keys()):
        yield f"{_NAMES[tag]}."
    rest = sorted(tags - _NAMES.keys() - _SILENT - {"tr", "td", "th", "br"})
    if rest:
        yield f"Formatting by {', '.join(f'<{one}>' for one in rest[:12])}: its text stays."


def _drop_hidden(source: str) -> str:
    return re.sub(
        r"<(script|style|title)\b.*?</\1\s*>", "", source, flags=re.IGNORECASE | re.DOTALL
    )


class _Reader(HTMLParser):
    """Which tags a document has, and its title."""

    def __init__(self) -> None:
        super().__init__()
        self.seen: set[str] = set()
        self.title = ""
        self._in_title = False

    def handle_starttag(self, tag: str, attrs: Any) -> None:
        self.seen.add(tag)
        self._in_title = tag == "title"

    def handle_endtag(self, tag: str) -> None:
        self._in_title = False

    def handle_data(self, data: str) -> None:
        if self._in_title:
            self.title += data


def _too_complex(why: str) -> Problem:
    return Problem(
        code="too_complex",
        place="file",
        sentence=f"This cannot become a letter: {why}.",
        fix="Simplify it, or paste its text into a new message.",
    )


def from_eml(content: bytes) -> Incoming | Problem:
    """A message of an email: its HTML, or its text where it has none."""
    message = BytesParser(policy=policy.default).parsebytes(content)
    part = message.get_body(("html",))
    plain = message.get_body(("plain",))
    if part is not None:
        read = from_html(_content(part))
        if isinstance(read, Problem):
            return read
        found = read
    else:
        text = _content(plain) if plain is not None else ""
        paragraphs = [one for one in re.split(r"\n\s*\n", text.strip()) if one.strip()]
        html = "".join(
            f"<p>{escape(one.strip()).replace(chr(10), '<br>')}</p>" for one in paragraphs
        )
        blocks = (TextBlock(id="text", html=clean_html(html)),) if html else ()
        found = Incoming(MessageDocument(blocks=blocks))
    subject = clean(" ".join(str(message.get("Subject", "")).split()))[:300]
    names = [one.get_filename() or "without a name" for one in message.iter_attachments()]
    if names:
        found.left_out.append(f"Attached files: {', '.join(names[:10])}.")
    found.document = found.document.model_copy(
        update={"subject": subject or found.document.subject}
    )
    return found


def _content(part: Any) -> str:
    try:
        return str(part.get_content())
    except (LookupError, UnicodeError, KeyError, ValueError):
        raw = part.get_payload(decode=True) or b""
        return bytes(raw).decode("utf-8", "replace")


_XML_ENTITY = re.compile(r"&(?!(?:amp|lt|gt|quot|apos|#\d+|#x[0-9a-fA-F]+);)(\w+);")
_VOID = re.compile(r"<(br|hr|img|meta)\b([^<>]*?)\s*/?>", re.IGNORECASE)


def from_mjml(source: str) -> Incoming | Problem:
    """A message of MJML: texts, buttons, dividers, spacers and columns."""
    tidy = _XML_ENTITY.sub(lambda found: escape(unescape(found[0])), source)
    tidy = _VOID.sub(r"<\1\2 />", tidy)
    try:
        root = fromstring(tidy.strip())
    except (ParseError, DefusedXmlException, ValueError) as error:
        return Problem(
            code="not_mjml",
            sentence=f"The MJML cannot be read: {str(error)[:160]}.",
            fix="Close every element, and try again.",
        )
    if root.tag != "mjml":
        return Problem(
            code="not_mjml",
            sentence="The file does not begin with <mjml>.",
            fix="Choose an MJML file.",
        )
    maker = _FromMjml()
    return maker.read(root)


class _FromMjml:
    """Makes blocks of MJML."""

    def __init__(self) -> None:
        self.count = 0
        self.left_out: dict[str, int] = {}

    def read(self, root: Element) -> Incoming:
        """The whole document."""
        title = root.findtext(".//mj-title") or ""
        preview = root.findtext(".//mj-preview") or ""
        body = root.find("mj-body")
        blocks: list[Block] = []
        for one in body if body is not None else ():
            blocks += self._section(one)
        lines = [
            f"{tag}{f' ({count} times)' if count > 1 else ''}."
            for tag, count in sorted(self.left_out.items())
        ]
        if (
            root.find(".//mj-head/mj-style") is not None
            or root.find(".//mj-attributes") is not None
        ):
            lines.append("Styles: the house style applies.")
        document = MessageDocument(
            subject=clean(" ".join(title.split()))[:300],
            preheader=clean(" ".join(preview.split()))[:300],
            blocks=tuple(blocks[:200]),
        )
        return Incoming(document, lines)

    def _id(self) -> str:
        self.count += 1
        return f"in-{self.count}"

    def _section(self, section: Element) -> Iterator[Block]:
        if section.tag == "mj-wrapper":
            for one in section:
                yield from self._section(one)
            return
        if section.tag != "mj-section":
            self._leave(section.tag)
            return
        columns = list(section.iter("mj-column"))
        inside = [[*self._column(one)] for one in columns]
        if len(columns) in (2, 3):
            made = (Column(id=self._id(), blocks=tuple(one[:30])) for one in inside)
            yield ColumnsBlock(id=self._id(), columns=tuple(made))
            return
        for blocks in inside:
            yield from blocks

    def _column(self, column: Element) -> Iterator[InColumn]:
        for one in column:
            block = self._block(one)
            if block is None:
                self._leave(one.tag)
            else:
                yield block

    def _block(self, one: Element) -> InColumn | None:
        match one.tag:
            case "mj-text":
                inside = escape(one.text or "") + "".join(
                    tostring(child, encoding="unicode", method="html") for child in one
                )
                return TextBlock(id=self._id(), html=clean_html(inside.strip()))
            case "mj-button":
                words = " ".join("".join(one.itertext()).split())[:120]
                return ButtonBlock(id=self._id(), label=words, link=one.get("href", "")[:2000])
            case "mj-divider":
                return DividerBlock(id=self._id())
            case "mj-spacer":
                height = re.match(r"\d+", one.get("height", "20"))
                return SpaceBlock(
                    id=self._id(), height=max(4, min(120, int(height[0]) if height else 20))
                )
            case "mj-image":
                source = escape(one.get("src", ""))
                image = f'<img src="{source}" alt="{escape(one.get("alt", ""))}">'
                link = one.get("href")
                html = f'<p><a href="{escape(link)}">{image}</a></p>' if link else f"<p>{image}</p>"
                return TextBlock(id=self._id(), html=clean_html(html))
            case _:
                return None

    def _leave(self, tag: Any) -> None:
        name = f"<{tag}>" if isinstance(tag, str) else "Comments"
        self.left_out[name] = self.left_out.get(name, 0) + 1
