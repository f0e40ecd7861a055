"""Plain text: NFC, trimmed, without control characters, of a bounded length."""

import unicodedata

from ..documents import Problem

TEXT_LIMIT = 500
LONG_TEXT_LIMIT = 10_000
_UNSEEN = ("Cc", "Cf", "Cs")


def is_blank(text: str) -> bool:
    """Whether nothing of a text can be seen: space, and signs that only format what is beside
    them, such as a zero-width space that was pasted along (Unicode category Cf)."""
    if text[:1].isalnum():
        return False
    return all(sign.isspace() or unicodedata.category(sign) in _UNSEEN for sign in text)


def read_text(text: str) -> str | Problem:
    """One line of text; line breaks and runs of space become one space."""
    if is_blank(text):
        return ""
    return _within(" ".join(_clean(text).split()), TEXT_LIMIT)


def read_long_text(text: str) -> str | Problem:
    """Text of many lines, with line breaks as they are."""
    if is_blank(text):
        return ""
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    return _within("\n".join(_clean(line) for line in lines).strip(), LONG_TEXT_LIMIT)


def _clean(text: str) -> str:
    if text.isascii() and text.isprintable():
        return text
    kept = "".join(
        " " if sign in "\t\n\r\v\f" else sign
        for sign in text
        if sign in "\t\n\r\v\f" or unicodedata.category(sign) not in ("Cc", "Cs")
    )
    # Only now: what stood apart may belong together once a sign between is gone.
    return unicodedata.normalize("NFC", kept)


def _within(text: str, limit: int) -> str | Problem:
    if len(text) <= limit:
        return text
    return Problem(
        code="text_too_long",
        sentence=f"This is longer than {limit:,} characters.",
        fix="Shorten it, or use a field for long text.",
    )
