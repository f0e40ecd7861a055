"""What stands where in the answer of a service: JMESPath, an open query language for JSON."""

from functools import lru_cache
from typing import Any, TypeVar

import jmespath
from jmespath.exceptions import JMESPathError

Wanted = TypeVar("Wanted")
_LONGEST_PATH = 300


def path_problem(path: str) -> str:
    """What is wrong with an expression; empty where nothing is."""
    if len(path) > _LONGEST_PATH:
        return f"An expression has at most {_LONGEST_PATH} characters."
    try:
        _compiled(path)
    except JMESPathError as error:
        return str(error).splitlines()[0]
    return ""


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
