"""Arrays as PostgreSQL writes them, for statements with a parameter for many rows.

psycopg prepares a list element by element, which for hundreds of ids takes longer than finding their
rows; one text costs a tenth.
"""

import re
from collections.abc import Iterable
from datetime import UTC, datetime
from uuid import UUID

import orjson

_TO_ESCAPE = re.compile(r'["\\]')
_AS_IN_JSON = {UUID, int, datetime, type(None)}
_TEXTS = {str, type(None)}


def array(values: Iterable[object]) -> str:
    """UUIDs, texts, integers, aware times and None as one literal, which the statement casts to its type
    (`%s::uuid[]`). Written as PostgreSQL's documentation says in "Array Input and Output Syntax"."""
    elements = list(values)
    kinds = set(map(type, elements))
    if kinds <= _AS_IN_JSON and (datetime not in kinds or all(map(_in_utc, elements))):
        return "{" + orjson.dumps(elements)[1:-1].decode() + "}"
    if kinds <= _TEXTS:
        return (
            "{" + ",".join(["NULL" if one is None else _text(str(one)) for one in elements]) + "}"
        )
    return "{" + ",".join([_element(one) for one in elements]) + "}"


def _in_utc(value: object) -> bool:
    """Whether a value is no time in another zone, whose offset may have seconds that JSON has not."""
    return type(value) is not datetime or value.tzinfo is UTC


def _text(value: str) -> str:
    if '"' in value or "\\" in value:
        value = _TO_ESCAPE.sub(r"\\\g<0>", value)
    return f'"{value}"'


def _element(value: object) -> str:
    if isinstance(value, UUID):
        return value.hex
    if isinstance(value, str):
        return _text(str(value))
    if value is None:
        return "NULL"
    if isinstance(value, datetime):
        return f'"{value.isoformat()}"'
    if isinstance(value, int):
        return str(value)
    raise TypeError(f"{type(value).__name__} is not written into an array")
