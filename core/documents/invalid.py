"""What is wrong with something that was sent or uploaded, in words: never in those of the parser."""

from collections.abc import Mapping
from typing import Any

_WORDS: Mapping[str, tuple[str, str]] = {
    "missing": ("This is required.", "Add it."),
    "extra_forbidden": ("This name is not known.", "Remove it."),
    "json_invalid": ("This is not JSON.", "Send JSON."),
    "string_too_long": ("This is longer than {max_length} characters.", "Shorten it."),
    "string_too_short": ("This is shorter than {min_length} characters.", "Write more."),
    "string_pattern_mismatch": (
        "This does not have the required format.",
        "Check the API description.",
    ),
    "string_type": ("This is not a text.", "Send a text."),
    "too_long": ("At most {max_length} are allowed.", "Remove some."),
    "too_short": ("At least {min_length} are required.", "Add some."),
    "greater_than": ("This must be more than {gt}.", "Choose a larger number."),
    "greater_than_equal": ("This must be at least {ge}.", "Choose a larger number."),
    "less_than": ("This must be less than {lt}.", "Choose a smaller number."),
    "less_than_equal": ("This must be at most {le}.", "Choose a smaller number."),
    "multiple_of": ("This must be a multiple of {multiple_of}.", "Choose another number."),
    "literal_error": ("This must be {expected}.", "Choose one of these."),
    "enum": ("This must be {expected}.", "Choose one of these."),
    "none_required": ("This must be empty.", "Remove it."),
    "recursion_loop": ("This contains itself.", "Simplify it."),
    "recursion_depth_exceeded": ("This is nested too deeply.", "Simplify it."),
}
"""By the type of pydantic's error; the rest by the beginning of it."""
_KINDS: tuple[tuple[str, str, str], ...] = (
    ("uuid", "This is not a valid id.", "Check where it came from."),
    ("int", "This is not a whole number.", "Send a whole number."),
    ("float", "This is not a number.", "Send a number."),
    ("finite_number", "This is not a number.", "Send a number."),
    ("decimal", "This is not a number.", "Send a number."),
    ("bool", "This must be true or false.", "Send true or false."),
    ("datetime", "This is not a date with a time.", "Write it as 2026-05-03T09:00:00Z."),
    (
        "timezone",
        "This is not a date with a time and a time zone.",
        "Write it as 2026-05-03T09:00:00Z.",
    ),
    ("date", "This is not a date.", "Write it as 2026-05-03."),
    ("time_delta", "This is not a duration.", "Write it as PT1H."),
    ("time", "This is not a time of day.", "Write it as 09:00."),
    ("url", "This is not a web address.", "Start it with https:// and remove spaces."),
    ("bytes", "This text cannot be read.", "Send it as UTF-8."),
    ("string", "This text cannot be read.", "Send it as UTF-8."),
    ("union_tag", "This kind is not known.", "Check the API description."),
    ("list", "This is not a list.", "Send a list."),
    ("tuple", "This is not a list.", "Send a list."),
    ("set", "This is not a list.", "Send a list."),
    ("frozen_set", "This is not a list.", "Send a list."),
    ("iterable", "This is not a list.", "Send a list."),
    ("dict", "This is not an object.", "Send an object with names and values."),
    ("mapping", "This is not an object.", "Send an object with names and values."),
    ("model", "This is not an object.", "Send an object with names and values."),
    ("dataclass", "This is not an object.", "Send an object with names and values."),
)


def invalid_in_words(error: Mapping[str, Any]) -> tuple[str, str]:
    """What is wrong and what to do, of one of pydantic's errors."""
    kind, context = str(error.get("type", "")), error.get("ctx") or {}
    if kind in ("value_error", "assertion_error"):
        # One of ours: a sentence already.
        own = str(context.get("error") or error.get("msg", "")).removeprefix("Value error, ")
        return (f"{own[:1].upper()}{own[1:]}".rstrip(".") + ".", "") if own else _UNREADABLE
    if kind in _WORDS:
        sentence, fix = _WORDS[kind]
        try:
            return sentence.format_map(context), fix
        except KeyError:
            return _UNREADABLE
    for begins, sentence, fix in _KINDS:
        if kind.startswith(begins):
            return sentence, fix
    return _UNREADABLE


_UNREADABLE = ("This cannot be read.", "Check the API description.")
