"""What is wrong with something that was sent or uploaded, in words: never in those of the parser."""

from collections.abc import Mapping
from typing import Any

_WORDS: Mapping[str, tuple[str, str]] = {
    "missing": ("This is missing.", "Give it."),
    "extra_forbidden": ("Nothing of this name is known here.", "Take it out."),
    "json_invalid": ("This is not JSON.", "Send JSON."),
    "string_too_long": ("This is longer than {max_length} characters.", "Shorten it."),
    "string_too_short": ("This is shorter than {min_length} characters.", "Write more."),
    "string_pattern_mismatch": ("This is not written as it has to be.", "Look at the description."),
    "string_type": ("This is no text.", "Send a text."),
    "too_long": ("These are more than {max_length}.", "Take some out."),
    "too_short": ("These are fewer than {min_length}.", "Add some."),
    "greater_than": ("This has to be more than {gt}.", "Choose a larger number."),
    "greater_than_equal": ("This has to be at least {ge}.", "Choose a larger number."),
    "less_than": ("This has to be less than {lt}.", "Choose a smaller number."),
    "less_than_equal": ("This has to be at most {le}.", "Choose a smaller number."),
    "multiple_of": ("This has to be a multiple of {multiple_of}.", "Choose another number."),
    "literal_error": ("This has to be {expected}.", "Choose one of these."),
    "enum": ("This has to be {expected}.", "Choose one of these."),
    "none_required": ("Nothing is taken here.", "Leave it out."),
    "recursion_loop": ("This holds itself.", "Take it apart."),
    "recursion_depth_exceeded": ("This is nested too deep.", "Take it apart."),
}
"""By the type of pydantic's error; the rest by the beginning of it."""
_KINDS: tuple[tuple[str, str, str], ...] = (
    ("uuid", "This is no id.", "Look where it came from."),
    ("int", "This is no whole number.", "Send a whole number."),
    ("float", "This is no number.", "Send a number."),
    ("finite_number", "This is no number.", "Send a number."),
    ("decimal", "This is no number.", "Send a number."),
    ("bool", "This is neither yes nor no.", "Send true or false."),
    ("datetime", "This is no date with a time.", "Write it as 2026-05-03T09:00:00Z."),
    ("timezone", "This is no date with a time and a zone.", "Write it as 2026-05-03T09:00:00Z."),
    ("date", "This is no date.", "Write it as 2026-05-03."),
    ("time_delta", "This is no length of time.", "Write it as PT1H."),
    ("time", "This is no time of the day.", "Write it as 09:00."),
    ("url", "This is no web address.", "Begin it with https:// and look for spaces."),
    ("bytes", "This is no text that can be read.", "Send it as UTF-8."),
    ("string", "This is no text that can be read.", "Send it as UTF-8."),
    ("union_tag", "This is of a kind that is not known here.", "Look at the description."),
    ("list", "This is no list.", "Send a list."),
    ("tuple", "This is no list.", "Send a list."),
    ("set", "This is no list.", "Send a list."),
    ("frozen_set", "This is no list.", "Send a list."),
    ("iterable", "This is no list.", "Send a list."),
    ("dict", "This is no object.", "Send an object with names and values."),
    ("mapping", "This is no object.", "Send an object with names and values."),
    ("model", "This is no object.", "Send an object with names and values."),
    ("dataclass", "This is no object.", "Send an object with names and values."),
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


_UNREADABLE = ("This cannot be read.", "Look at the description.")
