"""A workspace's own words for fixed texts: checked, and made ready to be filled in."""

import re
import unicodedata
from collections.abc import Iterator, Mapping
from typing import Annotated

from pydantic import Field

from ..documents import Problem
from .texts import About, Text, texts_of

OwnWords = Annotated[dict[str, Annotated[str, Field(max_length=2000)]], Field(max_length=200)]
"""By the key of a text; one that is missing or blank has the usual words."""

_TOKEN = re.compile(r"{{\s*(\w*)\s*}}")
_LONGEST = 400
_BLANKS = "\u115f\u1160\u2800\u3164\uffa0"
"""Letters and signs that look like nothing (Hangul fillers, the blank of Braille)."""


def check_words(words: Mapping[str, str], about: About, place: str = "words") -> Iterator[Problem]:
    """Texts that do not exist, are too long, or hold a token that has no value there."""
    known = {one.key: one for one in texts_of(about)}
    for key, own in words.items():
        where = f"{place}.{key}"
        text = known.get(key)
        if text is None:
            yield Problem(
                code="unknown_text",
                place=where,
                sentence=f"There is no text “{key[:40]}”.",
                fix="Remove it.",
            )
            continue
        if len(own) > _LONGEST:
            yield Problem(
                code="text_too_long",
                place=where,
                sentence=f"“{own[:30]}…” has {len(own)} characters.",
                fix=f"Keep it to {_LONGEST}.",
            )
        rest = _TOKEN.sub("", own)
        strange = [one for one in _TOKEN.findall(own) if one not in text.tokens]
        if strange or "{{" in rest or "}}" in rest:
            allowed = " and ".join(f"{{{{ {one} }}}}" for one in text.tokens)
            yield Problem(
                code="unknown_token",
                place=where,
                sentence=f"{{{{ {strange[0]} }}}} cannot be filled in here."
                if strange
                else "A token is not complete: it begins with {{ and ends with }}.",
                fix=f"Use {allowed}, or write it out." if allowed else "Write it out.",
            )


def own_text(words: Mapping[str, str], text: Text) -> str:
    """What is said instead of the usual words; empty where that is nothing that can be seen.

    So that a link to unsubscribe, say, never stands there without a word to press.
    """
    own = words.get(text.key, "").strip()
    return own if any(_is_seen(one) for one in own) else ""


def as_formats(words: Mapping[str, str], about: About) -> dict[str, str]:
    """Own words by the usual ones, to be filled in as those are: `{{ list }}` as `%(list)s`.

    Blank ones, and those of texts that exist no more, are left out.
    """
    own = {text: own_text(words, text) for text in texts_of(about)}
    return {text.usual: _as_format(words, text.tokens) for text, words in own.items() if words}


def _as_format(own: str, tokens: tuple[str, ...]) -> str:
    if not tokens:
        return own

    def filled(token: re.Match[str]) -> str:
        # A draft may hold a token that has no value: it stands there as it was typed.
        return f"%({token[1]})s" if token[1] in tokens else token[0]

    return _TOKEN.sub(filled, own.replace("%", "%%"))


def _is_seen(letter: str) -> bool:
    return unicodedata.category(letter)[0] not in "CZM" and letter not in _BLANKS
