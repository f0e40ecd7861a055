"""A whole series of emails, written in one text: a file of a word processor, Markdown or plain text.

Headings begin emails. Below a heading may stand lines such as `Subject: …`, `Preheader: …`, `Wait: 3 days`;
`Day 5` in a heading says when. What has no place in an email is left out, and said.
"""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from io import BytesIO
from typing import Literal
from zipfile import BadZipFile, ZipFile

from pydantic import Field

from ..documents import Frozen, Problem, clean
from .blocks import bare_text
from .cleaning import clean_html, too_nested
from .limits import DEEPEST_READ, LONGEST_TEXT, MOST_READ_TAGS

SeriesForm = Literal["txt", "md", "docx", "odt"]
"""The ending of a file that can be read."""
MOST_EMAILS = 60
_MOST_UNPACKED = 30 * 2**20
"""Bytes of all that a file of a word processor holds, unpacked."""
_MOST_PARTS = 2_000
_LAST_DAY = 3_650


class SeriesEmail(Frozen):
    """One email of a series."""

    name: str = Field(max_length=80)
    subject: str = Field(default="", max_length=300)
    preheader: str = Field(default="", max_length=300)
    html: str = Field(default="", max_length=LONGEST_TEXT)
    day: int = Field(default=0, ge=0, le=_LAST_DAY)
    """On which day of the series it goes; the first one on day 0, where nothing else is said."""


@dataclass
class Series:
    """The emails of a text in order, and what was left out or is to be looked at, in sentences."""

    emails: list[SeriesEmail] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)


def read_series(form: SeriesForm, content: bytes) -> Series | Problem:
    """The emails of a file, or of a text that was pasted (as Markdown)."""
    html = _AS_HTML[form](content)
    if isinstance(html, Problem):
        return html
    wrong = too_nested(html, DEEPEST_READ, MOST_READ_TAGS)
    if wrong:
        return _not_read(f"{wrong}")
    pictures = len(re.findall(r"<img\b", html, re.IGNORECASE))
    series = _split(re.sub(r"<img\b[^>]*>", "", clean_html(html)))
    if not isinstance(series, Problem) and pictures:
        series.left_out.append(_without_pictures(pictures))
    return series


def _without_pictures(count: int) -> str:
    if count == 1:
        return "1 picture was left out. Add it to its letter afterwards."
    return f"{count} pictures were left out. Add them to their letters afterwards."


def _not_read(why: str) -> Problem:
    return Problem(
        code="series_not_read",
        place="file",
        sentence=f"This cannot be read as a series of emails: {why}.",
        fix="Paste its text instead, each email under a heading.",
    )


# How each form becomes HTML.


def _of_text(content: bytes) -> str:
    """Markdown (CommonMark), in which a new line stays one; numbered lines of a plain text are headings."""
    from markdown_it import MarkdownIt

    text = content.decode("utf-8-sig", "replace").replace("\x00", "")
    lines = [f"## {one.strip()}" if _is_numbered(one) else one for one in text.splitlines()]
    reader = MarkdownIt("commonmark", {"html": False, "breaks": True})
    return re.sub(r">\n", ">", str(reader.render("\n".join(lines))))


def _of_docx(content: bytes) -> str | Problem:
    import mammoth

    wrong = _packed_wrongly(content)
    if wrong:
        return wrong
    try:
        no_picture = mammoth.images.img_element(lambda _: {"src": ""})
        return str(mammoth.convert_to_html(BytesIO(content), convert_image=no_picture).value)
    except MemoryError:
        raise
    # Whatever a parser of others says of a broken file; it runs in a process of its own.
    except Exception:
        return _not_read("it is not a file of a word processor (DOCX)")


def _of_odt(content: bytes) -> str | Problem:
    from odf.odf2xhtml import ODF2XHTML

    wrong = _packed_wrongly(content)
    if wrong:
        return wrong
    try:
        page = str(ODF2XHTML(generate_css=False).odf2xhtml(BytesIO(content)))
    except MemoryError:
        raise
    # Whatever a parser of others says of a broken file; it runs in a process of its own.
    except Exception:
        return _not_read("it is not a file of a word processor (ODT)")
    body = re.search(r"<body\b[^>]*>(.*)</body>", page, re.IGNORECASE | re.DOTALL)
    return body[1] if body else page


def _packed_wrongly(content: bytes) -> Problem | None:
    try:
        parts = ZipFile(BytesIO(content)).infolist()
    except (BadZipFile, ValueError, OSError):
        return _not_read("it is not a file of a word processor")
    if len(parts) > _MOST_PARTS or sum(one.file_size for one in parts) > _MOST_UNPACKED:
        return _not_read("it is too large once it is unpacked")
    return None


_AS_HTML: dict[SeriesForm, Callable[[bytes], str | Problem]] = {
    "txt": _of_text,
    "md": _of_text,
    "docx": _of_docx,
    "odt": _of_odt,
}
SERIES_FORMS = tuple(_AS_HTML)


# How HTML becomes emails.

_NUMBERED = re.compile(r"(?:e-?mail|mail|message|letter|day)\s*#?\s*\d+\b.{0,100}", re.IGNORECASE)
_TAG = re.compile(r"<(/?)([a-z][a-z0-9]*)[^>]*>")
_DAY = re.compile(r"\(?\bday\s*#?\s*(\d{1,3})\b\)?", re.IGNORECASE)
_ORDINAL = re.compile(
    r"^\W*(?:(?:e-?mail|mail|message|letter)\s*#?\s*\d+|\d+[.)])[\s:.)–—-]*", re.IGNORECASE
)
_EDGES = " \t\n:–—-·|,"
_LABELS = {
    "subject": re.compile(r"^(?:subject(?: line)?|title)\s*:\s*(.*)$", re.IGNORECASE),
    "preheader": re.compile(r"^(?:pre-?header|preview(?: text| line)?)\s*:\s*(.*)$", re.IGNORECASE),
    "wait": re.compile(
        r"^(?:wait|send|delay|after)\s*:?\s*(\d{1,3})\s*(day|week)s?\b.*$", re.IGNORECASE
    ),
    "day": re.compile(r"^(?:send on |on )?day\s*:?\s*(\d{1,3})\s*$", re.IGNORECASE),
}


def _is_numbered(line: str) -> bool:
    return bool(_NUMBERED.fullmatch(line.strip()))


@dataclass
class _Piece:
    """A part of the text that stands at its top level, with the name of its tag."""

    tag: str
    html: str

    @property
    def text(self) -> str:
        return " ".join(bare_text(self.html).split())


def _pieces(html: str) -> Iterator[_Piece]:
    """The parts at the top level, in order. The HTML was cleaned, so its tags are balanced."""
    depth, began, opened = 0, 0, ""
    for found in _TAG.finditer(html):
        closing, tag = found[1], found[2]
        if tag in {"br", "hr", "img"}:
            continue
        if not closing:
            if depth == 0:
                if html[began : found.start()].strip():
                    yield _Piece("", html[began : found.start()])
                began, opened = found.start(), tag
            depth += 1
        else:
            depth = max(depth - 1, 0)
            if depth == 0:
                yield _Piece(opened, html[began : found.end()])
                began = found.end()
    if html[began:].strip():
        yield _Piece("", html[began:])


def _split(html: str) -> Series | Problem:
    pieces = [one for one in _pieces(html) if one.text]
    if not pieces:
        return _not_read("there is no text in it")
    begins = _beginnings(pieces)
    series = Series()
    if not begins:
        series.left_out.append("No heading was found, so the whole text is one email.")
        begins, pieces = [0], [_Piece("h1", ""), *pieces]
    if len(begins) > MOST_EMAILS:
        return _not_read(f"it has {len(begins)} headings, and at most {MOST_EMAILS} emails fit")
    before = " ".join(one.text for one in pieces[: begins[0]])
    if before:
        series.left_out.append(f"The text before the first email: “{_shortened(before)}”")
    day = 0
    for start, end in zip(begins, [*begins[1:], len(pieces)], strict=True):
        email, when = _email(pieces[start], pieces[start + 1 : end], len(series.emails) + 1)
        if email is None:
            series.left_out.append(f"“{_shortened(pieces[start].text)}” is too long for one email.")
            continue
        # What says nothing goes at once, or a day after the one before it.
        wait = when.wait if when.wait is not None else min(len(series.emails), 1)
        day = when.day if when.day is not None and when.day >= day else day + wait
        series.emails.append(email.model_copy(update={"day": min(day, _LAST_DAY)}))
    if not series.emails:
        return _not_read("each of its emails is too long")
    return series


def _beginnings(pieces: list[_Piece]) -> list[int]:
    """Where the emails begin: at the highest headings of which there are two, else at numbered lines, else
    at subjects, else at the only heading."""

    def at(holds: Callable[[_Piece], bool]) -> list[int]:
        return [index for index, one in enumerate(pieces) if holds(one)]

    levels = [at(lambda one, tag=tag: one.tag == tag) for tag in ("h1", "h2", "h3")]  # type: ignore[misc]
    numbered = at(lambda one: one.tag in {"p", ""} and _is_numbered(one.text))
    subjects = at(lambda one: bool(_LABELS["subject"].match(one.text)))
    several = [one for one in (*levels, numbered) if len(one) > 1]
    if several:
        return several[0]
    if len(subjects) > 1:
        return subjects
    return next((one for one in (*levels, numbered) if one), [])


@dataclass
class _When:
    """When an email goes, as far as it says so: on a day of the series, or days after the one before it."""

    day: int | None
    wait: int | None


def _email(heading: _Piece, body: list[_Piece], number: int) -> tuple[SeriesEmail | None, _When]:
    """An email, and when it goes; None: there is too much in it."""
    said = clean(heading.text)
    begins_with_subject = bool(_LABELS["subject"].match(said))
    found: dict[str, str] = {}
    if begins_with_subject:
        body = [_Piece("p", heading.html), *body]
        said = ""
    in_heading = _DAY.search(said)
    day = int(in_heading[1]) if in_heading else None
    name = _ORDINAL.sub("", _DAY.sub(" ", said)).strip(_EDGES)
    name = " ".join(name.replace("()", " ").split())
    rest = list(body)
    while rest and rest[0].tag in {"p", ""}:
        labelled = _take_labels(rest[0], found)
        if labelled is None:
            break
        rest = [labelled, *rest[1:]] if labelled.text else rest[1:]
        if labelled.text:
            break
    when = _When(
        day=int(found["day"]) if "day" in found else day,
        wait=int(found["wait"]) if "wait" in found else None,
    )
    html = "".join(one.html for one in rest)
    if len(html) > LONGEST_TEXT or too_nested(html):
        return None, when
    subject = found.get("subject") or name
    email = SeriesEmail(
        name=(name or subject or f"Email {number}")[:80],
        subject=subject[:300],
        preheader=found.get("preheader", "")[:300],
        html=html,
    )
    return email, when


def _take_labels(piece: _Piece, found: dict[str, str]) -> _Piece | None:
    """The paragraph without the labelled lines at its top, which go into `found`; None: it has none."""
    inner = re.sub(r"^<p\b[^>]*>|</p>$", "", piece.html)
    lines = re.split(r"<br\s*/?>", inner)
    taken = 0
    for line in lines:
        text = clean(" ".join(bare_text(line).split()))
        if not _take_label(text, found):
            break
        taken += 1
    if not taken:
        return None
    left = "<br>".join(lines[taken:]).strip()
    return _Piece("p", clean_html(f"<p>{left}</p>") if left else "")


def _take_label(text: str, found: dict[str, str]) -> bool:
    for name, label in _LABELS.items():
        matched = label.match(text)
        if matched and name not in found:
            value = matched[1].strip()
            if name == "wait" and matched[2].lower() == "week":
                value = str(int(value) * 7)
            found[name] = value
            return True
    return not text


def _shortened(text: str) -> str:
    return text if len(text) <= 80 else f"{text[:79].rstrip()}…"
