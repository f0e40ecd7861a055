"""Dates: ISO 8601, or in the order that the source states. An ambiguous one is a problem."""

import re
from datetime import date, datetime
from functools import cache
from typing import Literal

from babel.dates import get_month_names

from ..documents import Problem, folded
from .countries import LANGUAGES

DateOrder = Literal["unstated", "day_first", "month_first"]

_ISO = re.compile(r"\d{4}-\d{2}-\d{2}")
_NO_YEAR = re.compile(r"--(\d{2})-?(\d{2})")
_YEAR_FIRST = re.compile(r"(\d{4})[./ ](\d{1,2})[./ ](\d{1,2})\.?")
_YEAR_LAST = re.compile(r"(\d{1,2})[-./ ]\s?(\d{1,2})[-./ ]\s?(\d{4})")
_SHORT_YEAR = re.compile(r"\d{1,2}[-./ ]\s?\d{1,2}[-./ ]\s?\d{2}")
_WORD = re.compile(r"[^\W\d_]+")


def read_date(text: str, order: DateOrder = "unstated") -> str | Problem:
    """The date as ISO 8601 (YYYY-MM-DD); the date part of a date and time. A day without a year, written
    as address books do (RFC 6350 4.3.1: --MMDD, or --MM-DD), stays one: --MM-DD."""
    written = " ".join(text.split())
    if found := _NO_YEAR.fullmatch(written):
        month, day = map(int, found.groups())
        # In a leap year, so that 29 February is a day.
        read = _day(text, 2024, month, day)
        return read if isinstance(read, Problem) else f"--{month:02}-{day:02}"
    if _ISO.match(written):
        try:
            return datetime.fromisoformat(written).date().isoformat()
        except ValueError:
            return _no_such_day(text) if _ISO.fullmatch(written) else _not_a_date(text)
    if found := _YEAR_FIRST.fullmatch(written):
        year, month, day = map(int, found.groups())
        return _day(text, year, month, day)
    if found := _YEAR_LAST.fullmatch(written):
        first, second, year = map(int, found.groups())
        return _year_last(text, first, second, year, order)
    if _SHORT_YEAR.fullmatch(written):
        return Problem(
            code="short_year",
            sentence=f"“{written[:40]}” has a year of two digits.",
            fix="Write the year with four digits.",
        )
    return _with_a_month_name(text, written)


def _year_last(text: str, first: int, second: int, year: int, order: DateOrder) -> str | Problem:
    if order == "day_first" or first > 12:
        return _day(text, year, second, first)
    if order == "month_first" or second > 12 or first == second:
        return _day(text, year, first, second)
    return Problem(
        code="ambiguous_date",
        sentence=f"“{text.strip()[:40]}” can be {_spoken(year, second, first)} "
        f"or {_spoken(year, first, second)}.",
        fix="Say for the line whether the day or the month comes first.",
    )


def _with_a_month_name(text: str, written: str) -> str | Problem:
    words = [_months().get(folded(word)) for word in _WORD.findall(written)]
    months = [month for month in words if month]
    digits = re.findall(r"\d+", written)
    years = [int(one) for one in digits if len(one) == 4]
    days = [int(one) for one in digits if len(one) <= 2]
    if len(months) == len(years) == len(days) == 1 and len(digits) == 2:
        return _day(text, years[0], months[0], days[0])
    return _not_a_date(text)


@cache
def _months() -> dict[str, int]:
    """Numbers of months by folded name, long and short, where a name means one month only."""
    meant: dict[str, set[int]] = {}
    for language in LANGUAGES:
        for width in ("wide", "abbreviated"):
            for context in ("format", "stand-alone"):
                for number, name in get_month_names(width, context, locale=language).items():
                    meant.setdefault(folded(str(name)).rstrip("."), set()).add(number)
    return {name: numbers.pop() for name, numbers in meant.items() if len(numbers) == 1}


def _day(text: str, year: int, month: int, day: int) -> str | Problem:
    try:
        return date(year, month, day).isoformat()
    except ValueError:
        return _no_such_day(text)


def _spoken(year: int, month: int, day: int) -> str:
    try:
        at = date(year, month, day)
    except ValueError:
        return f"day {day} of month {month}"
    return f"{at.day} {at:%B} {at.year:04}"


def shown_date(kept: str) -> str:
    """A date as people read it: of one without a year its day and month."""
    if not kept.startswith("--"):
        return kept
    day = date.fromisoformat(f"2024{kept[1:]}")
    return f"{day.day} {day:%B}"


def _no_such_day(text: str) -> Problem:
    return Problem(
        code="no_such_day",
        sentence=f"There is no such day as “{text.strip()[:40]}”.",
        fix="Check the day and the month, and which of them comes first.",
    )


def _not_a_date(text: str) -> Problem:
    return Problem(
        code="not_a_date",
        sentence=f"“{text.strip()[:80]}” is not a date.",
        fix="Write it like 2026-05-03, or --05-03 where the year is not known.",
    )
