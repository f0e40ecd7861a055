"""Opening a file of rows: CSV as a stream, XLSX by openpyxl within stated bounds."""

import io
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date, datetime
from pathlib import Path
from typing import IO

from openpyxl import load_workbook

from core.documents import Problem, clean
from core.reading import MOST_COLUMNS, Row, TableShape, read_table
from server.workspaces.errors import refuse

LARGEST = 200 * 2**20
MOST_ROWS = 1_000_000
_LARGEST_UNPACKED = 100 * 2**20
_MOST_PACKING = 200
"""How many times larger than its packed form a spreadsheet may be (a bomb is thousands)."""
_EMPTY_IN_A_ROW = 1000
"""Empty rows after which a sheet has ended, whatever it says of its size."""


@contextmanager
def open_table(file: Path, shape: TableShape) -> Iterator[Iterator[Row]]:
    """The rows of a file, one after the other, the header among them."""
    if shape.format == "xlsx":
        guard_against_bombs(file)
        with file.open("rb") as content:
            yield _sheet_rows(content)
    else:
        with file.open("rb") as content:
            text = io.TextIOWrapper(content, shape.encoding, errors="replace", newline="")
            yield read_table(text, shape)


def guard_against_bombs(file: Path) -> None:
    """Refuse a spreadsheet that would unpack to far more than it is."""
    try:
        with zipfile.ZipFile(file) as packed:
            entries = packed.infolist()
    except zipfile.BadZipFile:
        raise _unreadable() from None
    unpacked = sum(one.file_size for one in entries)
    packing = unpacked / max(sum(one.compress_size for one in entries), 1)
    if unpacked > _LARGEST_UNPACKED or packing > _MOST_PACKING or len(entries) > 2000:
        raise refuse(
            "sheet_too_large",
            "file",
            f"Unpacked, this spreadsheet would be {unpacked // 2**20:,} MB.",
            "Save the rows as CSV, and put that in.",
        )


def _sheet_rows(content: IO[bytes]) -> Iterator[Row]:
    try:
        book = load_workbook(content, read_only=True, data_only=True)
    except Exception:  # openpyxl raises what its XML parser does, of many kinds
        raise _unreadable() from None
    sheet = book.worksheets[0] if book.worksheets else None
    number = empty = 0
    try:
        for cells in sheet.iter_rows(values_only=True, max_col=MOST_COLUMNS) if sheet else ():
            texts = tuple(_text(cell) for cell in cells)
            while texts and not texts[-1]:
                texts = texts[:-1]
            empty = 0 if texts else empty + 1
            if empty > _EMPTY_IN_A_ROW:
                return
            if texts:
                number += 1
                yield Row(number=number, cells=texts)
    except Exception as error:  # openpyxl raises what its XML parser does, of many kinds
        problem = Problem(
            code="row_broken",
            place=str(number + 1),
            sentence=f"The spreadsheet cannot be read after row {number}: {type(error).__name__}.",
            fix="Open it, save it again, and put it in once more; rows are not taken twice.",
        )
        yield Row(number=number + 1, cells=(), problem=problem)
    finally:
        book.close()


def _text(cell: object) -> str:
    """A cell as text: dates as ISO 8601, whole numbers without a point."""
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "true" if cell else "false"
    if isinstance(cell, datetime):
        is_day = (cell.hour, cell.minute, cell.second) == (0, 0, 0)
        return cell.date().isoformat() if is_day else cell.isoformat(timespec="seconds")
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return clean(str(cell))


def _unreadable() -> Exception:
    return refuse(
        "not_a_sheet",
        "file",
        "This is not a spreadsheet that can be read.",
        "Save it as .xlsx or as CSV, and put that in.",
    )
