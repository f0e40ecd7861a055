"""Readers of the field types: text in, a value or a named problem out, never an exception."""

from typing import Literal

from ..documents import Frozen, Problem
from .choices import Choice, read_choice
from .email import read_email
from .names import read_name
from .text import read_long_text, read_text
from .yes_no import read_yes_no

FieldType = Literal["email", "text", "long_text", "choice", "yes_no"]
Kept = str | bool
"""What a field of a person can hold. A choice is kept as the key of its option."""

NamePart = Literal["whole", "first", "last"]


class ReadingOptions(Frozen):
    """How one answer is to be read, beyond the type of its field."""

    part: NamePart = "whole"
    case_right: bool = False
    choices: tuple[Choice, ...] = ()


def read(field_type: FieldType, text: str, options: ReadingOptions) -> Kept | Problem:
    """Read `text` as a value of `field_type`; an empty text gives an empty text."""
    if not text.strip():
        return ""
    match field_type:
        case "email":
            return read_email(text)
        case "choice":
            return read_choice(text, options.choices)
        case "yes_no":
            return read_yes_no(text)
        case "long_text":
            return read_long_text(text)
        case "text":
            if options.part != "whole" or options.case_right:
                return read_name(text, options.part, options.case_right)
            return read_text(text)


__all__ = [
    "Choice",
    "FieldType",
    "Kept",
    "NamePart",
    "ReadingOptions",
    "read",
    "read_choice",
    "read_email",
    "read_long_text",
    "read_name",
    "read_text",
    "read_yes_no",
]
