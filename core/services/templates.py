"""Requests with tokens: a value of JSON whose texts are Liquid, filled in for one handoff.

A text that is one token and nothing else keeps the type of its value: `"{{ person }}"` becomes an
object, `"{{ options.update }}"` true or false. A key whose token has no value is left out. So no value
can break out of its place: what is filled in is data, never syntax.
"""

import re
from collections.abc import Mapping
from functools import lru_cache
from typing import Any
from urllib.parse import quote

from liquid import BoundTemplate, Environment
from liquid.exceptions import LiquidError
from pydantic import JsonValue

_GRAMMAR = ("content", "output", "illegal")
_FILTERS = ("default", "downcase", "upcase", "strip", "date")
_TOKEN = re.compile(r"\{\{\s*([a-z_]\w*(?:\.\w+)*)\s*\}\}\Z")
_LONGEST = 2_000
MISSING = object()
"""What a token without a value is."""


class _Tokens(Environment):
    """Liquid of tokens alone: no tags, so no loops, and filters that make nothing longer."""

    def __init__(self) -> None:
        super().__init__(autoescape=False)
        # The grammar keeps texts and tokens among its tags.
        self.tags = {name: one for name, one in self.tags.items() if name in _GRAMMAR}
        self.filters = {name: one for name, one in self.filters.items() if name in _FILTERS}
        self.filters["date"] = _date


def _date(value: object, pattern: object = "") -> str:
    """The day of a moment: what comes after it is cut off."""
    return str(value)[:10]


_TOKENS = _Tokens()


def template_problem(text: str) -> str:
    """What is wrong with a text; empty where nothing is."""
    if len(text) > _LONGEST:
        return f"A text of a request has at most {_LONGEST} characters."
    if ".." in text and "{{" in text and re.search(r"\{\{[^}]*\.\.", text):
        return "A token cannot use a range."
    try:
        # Unknown filters are found only when one is used.
        _parsed(text).render()
    except LiquidError as error:
        return str(error).splitlines()[0]
    return ""


@lru_cache(maxsize=4096)
def _parsed(text: str) -> BoundTemplate:
    return _TOKENS.from_string(text)


def fill_text(text: str, known: Mapping[str, Any]) -> str:
    """A text with its tokens filled in."""
    return _parsed(text).render(**known) if "{{" in text else text


def fill_path(path: str, known: Mapping[str, Any]) -> str:
    """A path with its tokens filled in, each encoded, so that no value leads elsewhere."""
    return re.sub(r"\{\{.*?\}\}", lambda found: quote(fill_text(found[0], known), safe=""), path)


def fill(body: JsonValue, known: Mapping[str, Any]) -> Any:
    """A value of JSON with its tokens filled in; keys without a value are left out."""
    if isinstance(body, str):
        return _leaf(body, known)
    if isinstance(body, list):
        items = (fill(one, known) for one in body)
        return [one for one in items if one is not MISSING]
    if isinstance(body, dict):
        entries = ((key, fill(one, known)) for key, one in body.items())
        return {key: one for key, one in entries if one is not MISSING}
    return body


def _looked_up(path: str, known: Any) -> Any:
    """What stands at a dotted path; a key may itself hold dots."""
    if not isinstance(known, Mapping):
        return MISSING
    if path in known:
        return known[path]
    name, _, rest = path.partition(".")
    return _looked_up(rest, known[name]) if rest and name in known else MISSING


def _leaf(text: str, known: Mapping[str, Any]) -> Any:
    if one := _TOKEN.match(text):
        value = _looked_up(one[1], known)
        return MISSING if value is None or value == "" else value
    return fill_text(text, known)
