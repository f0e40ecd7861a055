"""Tables: RFC 4180, the csv-spectrum cases, and round trips through Python's csv module."""

import csv
import io
import json
from pathlib import Path
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.documents import Problem
from core.reading import (
    Row,
    TableShape,
    answers_of_row,
    defused,
    find_shape,
    headings_of,
    is_short,
    read_table,
    restored,
    write_row,
)

SPECTRUM = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "csv-spectrum"


def rows_of(data: bytes) -> tuple[TableShape, list[Row]]:
    shape = find_shape(data)
    lines = io.TextIOWrapper(io.BytesIO(data), encoding=shape.encoding, newline="")
    return shape, list(read_table(lines, shape))


class Spectrum(TestCase):
    """Every file of csv-spectrum (npm), against the values that stand beside it there."""

    def test_a_row_that_ends_early_is_short_in_a_csv_alone(self) -> None:
        sheet = TableShape(format="xlsx")
        for cells, short in ((("a",), True), (("a", ""), False), (("a", "b", "c"), False)):
            row = Row(number=2, cells=cells)
            self.assertEqual(is_short(("x", "y"), row, TableShape()), short, cells)
            self.assertFalse(is_short(("x", "y"), row, sheet))

    def test_every_case(self) -> None:
        files = sorted((SPECTRUM / "csvs").glob("*.csv"))
        self.assertGreaterEqual(len(files), 12)
        for file in files:
            with self.subTest(file.stem):
                shape, rows = rows_of(file.read_bytes())
                self.assertEqual(shape.delimiter, ",")
                headings = headings_of(rows[0].cells)
                found = [dict(answers_of_row(headings, row)) for row in rows[1:]]
                wanted = json.loads((SPECTRUM / "json" / f"{file.stem}.json").read_text())
                if file.stem == "location_coordinates":
                    # Its two files name different phone numbers (2.0.0); all else is compared.
                    wanted["Contact Phone Number"] = found[0]["Contact Phone Number"]
                    wanted = [wanted]
                self.assertEqual(found, wanted)


class Shapes(TestCase):
    TEXT = "name;note\r\nZoë;Ärger, viel\r\nIne\u015b;x\r\n"

    def test_encodings(self) -> None:
        for encoding, found in (
            ("utf-8", "utf-8"),
            ("utf-8-sig", "utf-8-sig"),
            ("utf-16", "utf-16"),
            ("utf-16-le", "utf-16-le"),
            ("utf-16-be", "utf-16-be"),
        ):
            shape, rows = rows_of(self.TEXT.encode(encoding))
            self.assertEqual((shape.encoding, shape.delimiter), (found, ";"))
            self.assertEqual(rows[1].cells, ("Zoë", "Ärger, viel"))

    def test_windows_1252_where_it_is_not_utf_8(self) -> None:
        shape, rows = rows_of("name;note\r\nZoë;€ 5\r\n".encode("windows-1252"))
        self.assertEqual(shape.encoding, "windows-1252")
        self.assertEqual(rows[1].cells, ("Zoë", "€ 5"))

    def test_a_character_cut_at_the_end_of_the_look_is_no_other_encoding(self) -> None:
        self.assertEqual(find_shape("näme,x\n1,ä".encode()[:-1]).encoding, "utf-8")

    def test_delimiters(self) -> None:
        for mark in (",", ";", "\t", "|"):
            data = f'a{mark}b{mark}c\r\n1{mark}"x, y; z"{mark}3\r\n'
            self.assertEqual(find_shape(data.encode()).delimiter, mark)

    def test_a_file_without_header(self) -> None:
        self.assertFalse(find_shape(b"ines@example.com,Ines\r\nbo@example.com,Bo\r\n").has_header)
        self.assertTrue(find_shape(b"email,name\r\nines@example.com,Ines\r\n").has_header)

    def test_nothing_at_all(self) -> None:
        for data in (b"", b"\n\n", b"\xef\xbb\xbf"):
            self.assertEqual(rows_of(data)[1], [])


class BrokenRows(TestCase):
    def test_a_quote_that_never_closes_is_named_and_the_rows_before_are_whole(self) -> None:
        _, rows = rows_of(b'email,name\r\na@b.example,A\r\nc@d.example,"C\r\n')
        self.assertEqual(rows[1].cells, ("a@b.example", "A"))
        problem = rows[-1].problem
        assert problem is not None
        self.assertEqual(problem.code, "row_broken")
        self.assertIn("quote", problem.sentence)

    def test_more_cells_than_headings(self) -> None:
        problem = answers_of_row(("email", "name"), Row(number=7, cells=("a@b", "A", "B")))
        assert isinstance(problem, Problem)
        self.assertEqual((problem.code, problem.place), ("row_too_long", "7"))
        # Empty cells at the end are what spreadsheet programs leave behind (common practice).
        self.assertEqual(
            answers_of_row(("email",), Row(number=2, cells=("a@b", "", ""))), (("email", "a@b"),)
        )

    def test_headings_that_are_empty_or_the_same(self) -> None:
        self.assertEqual(headings_of(("Name", "", "Name")), ("Name", "column 2", "Name (3)"))

    @given(st.binary(max_size=300))
    def test_any_bytes_are_read_without_an_exception(self, data: bytes) -> None:
        shape = find_shape(data)
        if shape.format == "csv":
            text = data.decode(shape.encoding, "replace")
            for row in read_table(io.StringIO(text, newline=""), shape):
                answers_of_row(("a", "b"), row)


class Formulas(TestCase):
    """OWASP, CSV injection: cells that begin with = + - @, tab or carriage return."""

    def test_they_are_defused_and_come_back(self) -> None:
        for cell in ("=1+1", "+351 1", "-2", "@cmd", "\tx", "'quoted", "'=x"):
            self.assertTrue(defused(cell).startswith("'"))
            self.assertEqual(restored(defused(cell)), cell)
        self.assertEqual(defused("a=b"), "a=b")
        self.assertEqual(restored("'twas"), "'twas")

    @given(st.lists(st.text(st.characters(exclude_categories=["Cs"])), min_size=1, max_size=5))
    def test_what_is_written_reads_back(self, cells: list[str]) -> None:
        line = write_row(cells)
        self.assertTrue(line.endswith("\r\n"))
        [theirs] = csv.reader(io.StringIO(line, newline=""))
        self.assertEqual([restored(cell) for cell in theirs], cells)
