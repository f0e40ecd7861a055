"""Readers of the field types: text in, a value or a named problem out, never an exception."""

from typing import Literal

from ..documents import Problem, value
from .addresses import POSTAL_PARTS, ascii_domain, missing_parts, read_url
from .choices import Choice, read_choice, read_choices
from .countries import country_name, country_names, read_country
from .dates import DateOrder, read_date, shown_date
from .email import address_key, read_email
from .languages import direction, language_name, language_names, read_language
from .names import read_name
from .numbers import DecimalMark, read_number
from .phones import read_phone
from .text import is_blank, read_long_text, read_text
from .time_zones import read_time_zone, zone_names, zones_of
from .yes_no import read_yes_no

FieldType = Literal[
    "email",
    "text",
    "long_text",
    "phone",
    "country",
    "date",
    "number",
    "yes_no",
    "choice",
    "choices",
    "url",
    "language",
    "time_zone",
]
Kept = str | bool | tuple[str, ...]
"""What a field of a person can hold, as JSON holds it.

Choices are kept as the keys of their options, dates as ISO 8601, numbers as decimal
text, countries as alpha-2, phone numbers as E.164.
"""

NamePart = Literal["whole", "first", "last"]


@value
class ReadingOptions:
    """How one answer is to be read, beyond the type of its field."""

    part: NamePart = "whole"
    case_right: bool = False
    choices: tuple[Choice, ...] = ()
    country: str = ""
    """Of phone numbers that name none (alpha-2)."""
    date_order: DateOrder = "unstated"
    decimal_mark: DecimalMark = "."
    yes_words: tuple[str, ...] = ()
    no_words: tuple[str, ...] = ()


def read(field_type: FieldType, text: str, options: ReadingOptions) -> Kept | Problem:
    """Read `text` as a value of `field_type`; an empty text gives an empty text."""
    if is_blank(text):
        return ""
    match field_type:
        case "email":
            return read_email(text)
        case "phone":
            return read_phone(text, options.country)
        case "country":
            return read_country(text)
        case "date":
            return read_date(text, options.date_order)
        case "number":
            return read_number(text, options.decimal_mark)
        case "yes_no":
            return read_yes_no(text, options.yes_words, options.no_words)
        case "choice":
            return read_choice(text, options.choices)
        case "choices":
            return read_choices(text, options.choices)
        case "url":
            return read_url(text)
        case "language":
            return read_language(text)
        case "time_zone":
            return read_time_zone(text)
        case "long_text":
            return read_long_text(text)
        case "text":
            if options.part != "whole" or options.case_right:
                return read_name(text, options.part, options.case_right)
            return read_text(text)


__all__ = [
    "POSTAL_PARTS",
    "Choice",
    "DateOrder",
    "DecimalMark",
    "FieldType",
    "Kept",
    "NamePart",
    "ReadingOptions",
    "address_key",
    "ascii_domain",
    "country_name",
    "country_names",
    "direction",
    "is_blank",
    "language_name",
    "language_names",
    "missing_parts",
    "read",
    "read_choice",
    "read_choices",
    "read_country",
    "read_date",
    "read_email",
    "read_language",
    "read_long_text",
    "read_name",
    "read_number",
    "read_phone",
    "read_text",
    "read_time_zone",
    "read_url",
    "read_yes_no",
    "shown_date",
    "zone_names",
    "zones_of",
]
