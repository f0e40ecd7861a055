"""What stands where in the answer of a service: JMESPath, an open query language for JSON."""

from collections.abc import Iterator
from functools import lru_cache
from typing import Any, TypeVar

import jmespath
from jmespath.exceptions import JMESPathError

Wanted = TypeVar("Wanted")
_LONGEST_PATH = 300
_LOOKS_ALONE = frozenset(
    [
        "field",
        "subexpression",
        "index",
        "index_expression",
        "slice",
        "literal",
        "comparator",
        "current",
        "identity",
        "pipe",
        "projection",
        "value_projection",
        "filter_projection",
        "or_expression",
        "and_expression",
        "not_expression",
    ]
)
"""What an expression can be made of. Lists and objects of its own, flattening and functions make more of an
answer than there is: doubled thirty times, that would fill any memory."""


def path_problem(path: str) -> str:
    """What is wrong with an expression; empty where nothing is."""
    if len(path) > _LONGEST_PATH:
        return f"An expression has at most {_LONGEST_PATH} characters."
    try:
        compiled = _compiled(path)
    except JMESPathError as error:
        return str(error).splitlines()[0]
    grows = next((one for one in _kinds(compiled.parsed) if one not in _LOOKS_ALONE), "")
    return (
        f"it may only look at what is there, and not use {grows.replace('_', ' ')}" if grows else ""
    )


def _kinds(node: Any) -> Iterator[str]:
    """The kinds of all parts of a parsed expression."""
    if isinstance(node, dict):
        yield node["type"]
        for one in node.get("children", ()):
            yield from _kinds(one)


@lru_cache(maxsize=2048)
def _compiled(path: str) -> Any:
    return jmespath.compile(path)


def at(path: str, answer: Any) -> Any:
    """What stands at a path; None where nothing does, or the path does not fit the answer."""
    if not path:
        return None
    try:
        return _compiled(path).search(answer)
    except (JMESPathError, TypeError, ValueError, RecursionError):
        return None


def found(path: str, answer: Any, kind: type[Wanted]) -> Wanted:
    """What stands at a path where it is of this kind; else an empty one of the kind."""
    value = at(path, answer)
    right = isinstance(value, kind) and not (kind is int and isinstance(value, bool))
    return value if right else kind()


def text_at(path: str, answer: Any) -> str:
    """A text or a number at a path, as text; empty where there is none."""
    value = at(path, answer)
    if isinstance(value, bool) or not isinstance(value, str | int | float):
        return ""
    return str(value)[:500]
