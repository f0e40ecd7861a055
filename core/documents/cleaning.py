"""What comes from outside, as text that can be kept: cleaned once, at the edge."""

import json
import re
from typing import Any

DEEPEST = 100
"""How many values of JSON may be nested in each other. What is nested deeper can be read with luck and
written with none: each level is one more of Python's own."""
# PostgreSQL keeps no NUL in text, and UTF-8 has no half of a surrogate pair.
_UNKEEPABLE = re.compile("[\0\ud800-\udfff]")


def is_clean(text: str) -> bool:
    """Whether a text can be kept as it is."""
    return _UNKEEPABLE.search(text) is None


def clean(text: str) -> str:
    """The text with U+FFFD for what cannot be kept (as the WHATWG standards replace it)."""
    return _UNKEEPABLE.sub("\ufffd", text)


class TooDeep(ValueError):
    """JSON that is nested deeper than `DEEPEST`."""

    def __init__(self) -> None:
        super().__init__(f"it is nested more than {DEEPEST} levels deep")


def _no_number(name: str) -> Any:
    """NaN and the infinities are no JSON (RFC 8259 6), and nothing can keep them."""
    raise ValueError(f"{name} is no number of JSON")


def read_json(text: str | bytes, **options: Any) -> Any:
    """A value that another program wrote as JSON; `options` of `json.loads`. ValueError: it is none;
    `TooDeep`, one of them: it goes too deep."""
    try:
        value = json.loads(text, parse_constant=_no_number, **options)
    except RecursionError:
        raise TooDeep from None
    level = [value]
    for _ in range(DEEPEST):
        level = [
            one
            for outer in level
            if isinstance(outer, dict | list)
            for one in (outer.values() if isinstance(outer, dict) else outer)
        ]
        if not level:
            return value
    if any(isinstance(one, dict | list) for one in level):
        raise TooDeep
    return value


def cleaned(value: Any) -> Any:
    """The same for every text in lists, tuples and objects, and in the names of objects."""
    if isinstance(value, str):
        return clean(value)
    if isinstance(value, dict):
        return {cleaned(name): cleaned(one) for name, one in value.items()}
    if isinstance(value, list | tuple):
        return type(value)(cleaned(one) for one in value)
    return value


def first_unclean(value: Any, at: str = "") -> str | None:
    """Where a text that cannot be kept stands in a value ("answers.0.name"); None: nowhere."""
    if isinstance(value, str):
        return None if is_clean(value) else at
    if isinstance(value, dict):
        for name, one in value.items():
            place = f"{at}.{clean(str(name))}".strip(".")
            found = place if not is_clean(str(name)) else first_unclean(one, place)
            if found is not None:
                return found
    elif isinstance(value, list):
        for number, one in enumerate(value):
            found = first_unclean(one, f"{at}.{number}".strip("."))
            if found is not None:
                return found
    return None
