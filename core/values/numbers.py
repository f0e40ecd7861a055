"""Numbers, kept as decimal text without exponent, so that nothing of them is lost."""

import re
import unicodedata
from decimal import Decimal
from typing import Literal

from ..documents import Problem

DecimalMark = Literal[".", ","]

_SPACES = "\u0020\u00a0\u2009\u202f"
_LONGEST = 40


def read_number(text: str, mark: DecimalMark = ".") -> str | Problem:
    """The number with its decimal mark `mark`; other marks must stand between thousands.

    A percentage is kept as the fraction that it is: 12.5% is 0.125.
    """
    written = unicodedata.normalize("NFKC", text).strip().replace("\u2212", "-")
    percent = written.endswith("%")
    written = written.removesuffix("%").strip()
    thousands = "," if mark == "." else "."
    grouped = rf"\d{{1,3}}(?:[{thousands}]\d{{2,3}})*[{thousands}]\d{{3}}"
    spaced = rf"\d{{1,3}}(?:[{_SPACES}'’]\d{{3}})+"
    number = rf"[+-]?(?:{grouped}|{spaced}|\d*)(?:{re.escape(mark)}\d+)?"
    if len(written) > _LONGEST or not re.search(r"\d", written):
        return _not_a_number(text)
    if not re.fullmatch(number, written, re.ASCII):
        return _mark_problem(text, mark) if thousands in written else _not_a_number(text)
    digits = re.sub(rf"[{thousands}{_SPACES}'’]", "", written).replace(mark, ".")
    value = Decimal(digits)
    return _plain(value / 100 if percent else value)


def _plain(value: Decimal) -> str:
    """Without exponent, without zeros that say nothing, and without a negative zero."""
    text = f"{value:f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text in ("-0", "", "-") else text


def _mark_problem(text: str, mark: DecimalMark) -> Problem:
    other = "a comma" if mark == "." else "a point"
    return Problem(
        code="decimal_mark",
        sentence=f"In “{text.strip()[:40]}” {other} stands where thousands are not divided.",
        fix="Say for the line which mark its decimals have.",
    )


def _not_a_number(text: str) -> Problem:
    return Problem(
        code="not_a_number",
        sentence=f"“{text.strip()[:80]}” is not a number.",
        fix="Write digits, like 1250.5.",
    )
