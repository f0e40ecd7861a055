"""Tables in and out: CSV (RFC 4180 and what programs make of it), and what guards a sheet.

The shape of a file is found from its first bytes, shown, and can be set right.
"""

import codecs
import csv
import io
import re
from collections import Counter
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from pydantic import StringConstraints

from ..documents import Frozen, Problem, clean
from ..values import read_email
from .forms import Answers

DELIMITERS = (",", ";", "\t", "|")
Encoding = Literal["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "windows-1252"]
LONGEST_CELL = 20_000
MOST_COLUMNS = 200


class TableShape(Frozen):
    """How a file of rows is written."""

    format: Literal["csv", "xlsx"] = "csv"
    encoding: Encoding = "utf-8"
    delimiter: Annotated[str, StringConstraints(pattern=r"^[^\r\n\x00\"' ]$")] = ","
    quote: Literal['"', "'"] = '"'
    has_header: bool = True


class Row(Frozen):
    """One row: its number in the file (the first is 1), its cells, or why it is broken."""

    number: int
    cells: tuple[str, ...]
    problem: Problem | None = None


def find_shape(start: bytes) -> TableShape:
    """The shape that the first bytes of a file show (64 KB are plenty)."""
    if start.startswith(b"PK\x03\x04"):
        return TableShape(format="xlsx", has_header=True)
    encoding = find_encoding(start)
    # Of a line without an end the beginning shows enough.
    text = codecs.getincrementaldecoder(encoding)("replace").decode(start).removeprefix("\ufeff")
    lines = text.splitlines()[:50]
    shape = TableShape(encoding=encoding, delimiter=_delimiter(lines))
    first = next(read_table(io.StringIO(text), shape), Row(number=1, cells=()))
    return shape.model_copy(update={"has_header": _is_header(first.cells)})


def find_encoding(start: bytes) -> Encoding:
    """UTF-8 with or without a mark, UTF-16, or else Windows-1252 (WHATWG Encoding's default)."""
    if start.startswith(codecs.BOM_UTF8):
        return "utf-8-sig"
    if start.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    if start[:200].count(0) > len(start[:200]) // 4:
        return "utf-16-le" if start[1:2] == b"\0" else "utf-16-be"
    try:
        # Incremental: the last character may be cut in the middle.
        codecs.getincrementaldecoder("utf-8")("strict").decode(start)
    except UnicodeDecodeError:
        return "windows-1252"
    return "utf-8"


def _delimiter(lines: list[str]) -> str:
    """The mark that divides the lines into the same number of cells, the most of them."""
    best, best_score = ",", 0.0
    for mark in DELIMITERS:
        try:
            widths = Counter(len(row) for row in csv.reader(lines, delimiter=mark) if row)
        except csv.Error:
            continue
        if not widths:
            continue
        width, rows = widths.most_common(1)[0]
        score = (width - 1) * rows / sum(widths.values())
        if score > best_score:
            best, best_score = mark, score
    return best


def _is_header(cells: tuple[str, ...]) -> bool:
    """Names, each its own, and none of them an address or a number."""
    names = [cell.strip() for cell in cells]
    if not names or not all(names) or len(set(names)) < len(names):
        return not any("@" in name for name in names)
    return not any(
        isinstance(read_email(name), str) or re.fullmatch(r"[\d./-]+", name) for name in names
    )


def read_table(lines: Iterable[str], shape: TableShape) -> Iterator[Row]:
    """The rows of a CSV, one after the other, the header among them; none is ever silent.

    A quote that never closes spoils what follows it, and is a problem with its line.
    """
    csv.field_size_limit(LONGEST_CELL * 10)
    reader = csv.reader(
        lines, delimiter=shape.delimiter, quotechar=shape.quote, strict=True, doublequote=True
    )
    number = 0
    while True:
        try:
            cells = next(reader)
        except StopIteration:
            return
        except csv.Error as error:
            number += 1
            yield Row(number=number, cells=(), problem=_broken(reader.line_num, str(error)))
            continue
        if cells:
            number += 1
            # One more than may be: a row that is too long is said, whatever its length is.
            yield Row(
                number=number,
                cells=tuple(clean(restored(cell)) for cell in cells[: MOST_COLUMNS + 1]),
            )


def _broken(line: int, why: str) -> Problem:
    sentence = {
        "unexpected end of data": f"A quote that opens before line {line} never closes.",
    }.get(why, f"Line {line} cannot be read: {why}.")
    return Problem(
        code="row_broken",
        place=str(line),
        sentence=sentence,
        fix="Fix the quotes in that row and import it again.",
    )


def headings_of(cells: tuple[str, ...]) -> tuple[str, ...]:
    """A name for each column: its heading, or a number where it has none or one like another."""
    found: dict[str, None] = {}
    for number, cell in enumerate(cells[:MOST_COLUMNS], start=1):
        name = " ".join(cell.split())[:200] or f"column {number}"
        found[name if name not in found else f"{name} ({number})"] = None
    return tuple(found)


def answers_of_row(headings: tuple[str, ...], row: Row) -> Answers | Problem:
    """The row's cells by their headings; a row with more cells than headings is a problem."""
    if row.problem:
        return row.problem
    if any(cell.strip() for cell in row.cells[len(headings) :]):
        return Problem(
            code="row_too_long",
            place=str(row.number),
            sentence=f"Row {row.number} has {len(row.cells)} cells, but there are "
            f"{len(headings)} headings.",
            fix="Enclose a cell that contains the delimiter in quotes.",
        )
    cells = (cell[:LONGEST_CELL] for cell in row.cells)
    return tuple(zip(headings, cells, strict=False))


def is_short(headings: tuple[str, ...], row: Row, shape: TableShape) -> bool:
    """Whether a row of a CSV ends before the headings do: a delimiter may be missing in it.

    A spreadsheet leaves out the empty cells at a row's end, so that there it means nothing.
    """
    return shape.format == "csv" and row.problem is None and len(row.cells) < len(headings)


# A cell that begins so is run as a formula by spreadsheet programs (OWASP, CSV injection).
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def defused(cell: str) -> str:
    """The cell so that no spreadsheet program runs it: an apostrophe before a formula's sign."""
    return f"'{cell}" if cell.startswith(_FORMULA) or cell.startswith("'") else cell


def restored(cell: str) -> str:
    """A cell that `defused` wrote, as it was."""
    if cell.startswith("'") and cell[1:].startswith((*_FORMULA, "'")):
        return cell[1:]
    return cell


def write_row(cells: Iterable[str]) -> str:
    """One line of CSV, as RFC 4180 has it, defused."""
    line = io.StringIO()
    csv.writer(line, lineterminator="\r\n").writerow([defused(cell) for cell in cells])
    return line.getvalue()
