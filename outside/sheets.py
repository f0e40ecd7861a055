"""The sheet host: sheets that people keep, published as CSV and XLSX."""

import csv
import io
import json
import re
from pathlib import Path

from openpyxl import Workbook

from . import settings

_NAME = re.compile(r"[a-z-]{1,40}\Z")
_FIRST: dict[str, dict[str, object]] = {
    "volunteers": {
        "title": "Volunteers",
        "headings": ["Name", "Email", "Can help with", "Since"],
        "rows": [
            ["Bertram Quill", "bertram.quill@example.org", "Car park", "2026-03-02"],
            ["Saoirse Marsh", "saoirse.marsh@example.com", "Tea", "2026-04-18"],
            ["Idris Tamm", "idris.tamm@mail.example", "Telescopes", "2026-05-21"],
            ["MEI FARROW", "mei.farrow@example.org", "Telescopes", "2026-09-07"],
        ],
    },
    "orders": {
        "title": "Orders",
        "headings": ["Date", "Email", "Product", "Amount"],
        "rows": [],
    },
}


class Sheets:
    """All sheets, each a file in one folder."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)

    def get(self, name: str) -> dict[str, list[list[str]]] | None:
        """A sheet by its name; the one of the volunteers and that of orders are there from the start."""
        if not _NAME.match(name):
            return None
        file = self.folder / f"{name}.json"
        if not file.is_file():
            if name not in _FIRST:
                return None
            file.write_text(json.dumps(_FIRST[name]))
        found: dict[str, list[list[str]]] = json.loads(file.read_text())
        return found

    def keep(self, name: str, sheet: dict[str, list[list[str]]]) -> None:
        """Store a sheet."""
        (self.folder / f"{name}.json").write_text(json.dumps(sheet))


def all_sheets() -> Sheets:
    """The sheets of this outside world."""
    return Sheets(settings.SHEET_FOLDER)


def as_csv(sheet: dict[str, list[list[str]]]) -> str:
    """As RFC 4180 has it."""
    out = io.StringIO()
    csv.writer(out).writerows([sheet["headings"], *sheet["rows"]])
    return out.getvalue()


def as_xlsx(sheet: dict[str, list[list[str]]]) -> bytes:
    """As a spreadsheet."""
    book = Workbook(write_only=True)
    page = book.create_sheet("Sheet 1")
    for row in [sheet["headings"], *sheet["rows"]]:
        page.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
