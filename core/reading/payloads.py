"""JSON that another program sends, as answers: nested values by path.

`{"person": {"email": "a@b"}, "tags": ["x", "y"]}` gives person.email, and tags twice;
objects in a list are numbered from 0: items[0].name.
"""

import json
from collections.abc import Iterator

from ..documents import DEEPEST, Problem, TooDeep, read_json
from .forms import Answers

MOST = 200
"""Values that one call may carry."""
_DEEPEST = 20


def answers_of(body: bytes) -> Answers | Problem:
    """The answers in a JSON object."""
    try:
        value = read_json(body.decode("utf-8-sig"), parse_float=str, parse_int=str)
    except TooDeep:
        return Problem(
            code="too_deep",
            sentence=f"The body is nested more than {DEEPEST} levels deep.",
            fix="Send what the map needs, with fewer levels.",
        )
    except ValueError as error:
        return Problem(
            code="not_json",
            sentence=f"The body is not JSON in UTF-8: {str(error)[:120]}.",
            fix="Send one JSON object, with Content-Type: application/json.",
        )
    if not isinstance(value, dict):
        return Problem(
            code="not_an_object",
            sentence="The body is JSON, but not an object.",
            fix='Send one object, like {"email": "ines@example.com"}.',
        )
    found: list[tuple[str, str]] = []
    for pair in _walk("", value, 0):
        if len(found) == MOST:
            return Problem(
                code="too_many_values",
                sentence=f"The body holds more than {MOST} values.",
                fix="Send what the map needs, and leave out the rest.",
            )
        found.append(pair)
    return tuple(found)


def _walk(path: str, value: object, depth: int) -> Iterator[tuple[str, str]]:
    if depth > _DEEPEST:
        yield path, json.dumps(value, ensure_ascii=False)[:1000]
    elif isinstance(value, dict):
        for key, inner in value.items():
            yield from _walk(f"{path}.{key}" if path else str(key), inner, depth + 1)
    elif isinstance(value, list):
        for number, inner in enumerate(value):
            nested = isinstance(inner, dict | list)
            yield from _walk(f"{path}[{number}]" if nested else path, inner, depth + 1)
    elif isinstance(value, bool):
        yield path, "true" if value else "false"
    else:
        yield path, "" if value is None else str(value)
