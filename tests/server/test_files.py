"""Files of rows: counted, run, stopped, gone on with; RFC 4180, and XLSX as openpyxl writes it."""

import csv
import io
import zipfile
from datetime import date
from typing import Any
from unittest import mock

from django.test import TestCase
from openpyxl import Workbook

from core.deciding import RouteDocument
from core.reading import TableShape
from server.imports import imports
from server.people.models import Subscriber
from server.sources.actions import make_source, save_route_draft
from server.sources.models import Source
from server.submissions.models import FileImport, Submission
from server.workspaces.errors import Refused
from tests.world import BACKEND, make_world

State = FileImport.State


class FileCase(TestCase):
    """A source of files, with a sheet that reads two columns."""

    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        fields = {one.key: str(one.pk) for one in self.workspace.field_set.all()}
        self.source = make_source(self.workspace, "Club", self.world.member, kind=Source.Kind.FILE)
        self.source.workspace = self.workspace
        self.document = RouteDocument.model_validate(
            {
                "read_as": [
                    {"id": "r1", "question": "Email", "field": fields["email"]},
                    {"id": "r2", "question": "Name", "field": fields["first_name"]},
                ],
                "consent": [{"id": "c1", "list": str(self.world.news.pk), "wording": "On paper"}],
            }
        )
        save_route_draft(self.source, self.document, 1, None)

    def put(self, content: bytes, name: str = "people.csv") -> FileImport:
        row = imports.begin_import(self.source, name, len(content), self.world.member)
        for number in range(0, len(content), imports.PART):
            part = content[number : number + imports.PART]
            imports.keep_part(row, number // imports.PART, part)
        row.refresh_from_db()
        row.source = self.source
        row.workspace = self.workspace
        return row

    def read(self, content: bytes, name: str) -> FileImport:
        """A spreadsheet, which the worker reads."""
        row = self.put(content, name)
        self.assertEqual(row.state, "reading")
        imports.work_on(str(row.pk))
        row.refresh_from_db()
        row.source = self.source
        row.workspace = self.workspace
        return row

    def count(self, row: FileImport) -> dict[str, int]:
        imports.start_counting(row)
        imports.work_on(str(row.pk))
        row.refresh_from_db()
        self.assertEqual(row.state, State.COUNTED)
        assert row.forecast is not None
        return {name: number for name, number in row.forecast["counts"].items() if number}

    def run_it(self, row: FileImport, consent: str = "") -> dict[str, int]:
        imports.start_running(row, consent, self.world.member)
        imports.work_on(str(row.pk))
        row.refresh_from_db()
        return {name: number for name, number in row.counts.items() if number}

    def people(self) -> int:
        return int(Subscriber.objects.of(self.workspace).count())


class Running(FileCase):
    ROWS = (
        b"Email;Name\r\nines@example.com;Ines\r\nnonsense;Bo\r\nbo@example.com;Bo\r\n"
        b'INES@example.com;Ines B\r\n"x@example.com;never closed\r\n'
    )

    def test_what_it_would_do_is_what_it_does(self) -> None:
        self.world.arrive("bo@example.com", first_name="Bo")
        row = self.put(self.ROWS)
        self.assertEqual(row.headings, ["Email", "Name"])
        self.assertEqual(row.shape["delimiter"], ";")
        forecast = self.count(row)
        self.assertEqual(self.people(), 1)
        self.assertEqual(forecast, {"new": 1, "unchanged": 1, "again": 1, "refused": 2})
        done = self.run_it(row)
        # The second row of one address is an update of what the first made.
        self.assertEqual(done, {"new": 1, "unchanged": 1, "updated": 1, "refused": 2})
        self.assertEqual(self.people(), 2)
        ines = Subscriber.objects.of(self.workspace).get(address_key="ines@example.com")
        self.assertEqual(ines.values["first_name"], "Ines B")

    def test_rows_with_too_few_cells_are_counted_and_taken(self) -> None:
        row = self.put(b"Email,Name,Sky\r\nines@example.com,Ines\r\nbo@example.com,Bo,dark\r\n")
        forecast = self.count(row)
        self.assertEqual(forecast, {"new": 2, "short": 1})
        self.assertEqual(self.run_it(row), {"new": 2, "short": 1})
        self.assertEqual((row.rows, self.people()), (2, 2))

    def test_a_file_of_exactly_the_most_rows_comes_in_and_one_more_does_not(self) -> None:
        lines = "".join(f"p{number}@example.com,P\r\n" for number in range(4))
        with mock.patch.object(imports, "MOST_ROWS", 4), mock.patch.object(imports, "BATCH", 2):
            row = self.put(f"Email,Name\r\n{lines}".encode())
            self.assertEqual(self.count(row), {"new": 4})
            self.run_it(row)
            self.assertEqual((row.state, self.people()), (State.DONE, 4))
            longer = self.put(f"Email,Name\r\n{lines}q@example.com,Q\r\n".encode())
            imports.start_counting(longer)
            imports.work_on(str(longer.pk))
            longer.refresh_from_db()
            self.assertEqual((longer.state, longer.failure), (State.FAILED, "More than 4 rows."))

    def test_without_a_stated_consent_nobody_is_subscribed(self) -> None:
        row = self.put(b"Email,Name\r\nines@example.com,Ines\r\n")
        self.count(row)
        self.run_it(row)
        self.assertEqual(Subscriber.objects.of(self.workspace).get().memberships.count(), 0)

    def test_with_one_it_is_the_evidence_and_nobody_who_left_is_brought_back(self) -> None:
        left = self.world.arrive("left@example.com")
        left.memberships.update(state="unsubscribed")
        row = self.put(b"Email,Name\r\nines@example.com,Ines\r\nleft@example.com,L\r\n")
        self.count(row)
        self.run_it(row, "Ticked on paper, 3 May")
        ines = Subscriber.objects.of(self.workspace).get(address_key="ines@example.com")
        [membership] = ines.memberships.all()
        self.assertEqual(membership.state, "subscribed")
        self.assertEqual(membership.evidence.get().wording, "Ticked on paper, 3 May")
        self.assertEqual(left.memberships.get().state, "unsubscribed")

    def test_refused_rows_are_fixed_and_put_in_again(self) -> None:
        row = self.put(self.ROWS)
        self.count(row)
        self.run_it(row)
        text = "".join(imports.refused_as_csv(row))
        rows = list(csv.reader(io.StringIO(text)))
        self.assertEqual(rows[0], ["Email", "Name", "why it was refused"])
        self.assertEqual(rows[1][:2], ["nonsense", "Bo"])
        fixed = self.put(text.replace("nonsense", "'=bo2@example.com").encode())
        self.assertEqual(self.count(fixed)["refused"], 1)
        self.run_it(fixed)
        self.assertTrue(
            Subscriber.objects.of(self.workspace).filter(address_key="=bo2@example.com").exists()
        )

    def test_a_crash_in_the_middle_doubles_nothing(self) -> None:
        lines = "".join(f"p{number}@example.com,P\r\n" for number in range(1200))
        row = self.put(f"Email,Name\r\n{lines}".encode())
        self.count(row)
        imports.start_running(row, "", None)
        working: Any = imports._work_batch
        calls = []

        def once(*args: Any) -> bool:
            calls.append(1)
            if len(calls) == 2:
                raise RuntimeError("killed")
            return bool(working(*args))

        with mock.patch.object(imports, "_work_batch", once), self.assertRaises(RuntimeError):
            imports.work_on(str(row.pk))
        self.assertEqual(self.people(), imports.BATCH)
        imports.work_on(str(row.pk))
        row.refresh_from_db()
        self.assertEqual((row.state, row.counts["new"]), (State.DONE, 1200))
        self.assertEqual(self.people(), 1200)
        self.assertEqual(Submission.everywhere.filter(file_import=row).count(), 1200)
        self.assertEqual(row.parts.count(), 0)

    def test_stopped_and_gone_on_with(self) -> None:
        row = self.put(b"Email,Name\r\nines@example.com,Ines\r\n")
        self.count(row)
        imports.start_running(row, "", None)
        imports.cancel(row)
        imports.work_on(str(row.pk))
        self.assertEqual(self.people(), 0)
        imports.resume_import(row)
        imports.work_on(str(row.pk))
        row.refresh_from_db()
        self.assertEqual((row.state, self.people()), (State.DONE, 1))

    def test_the_same_file_again_changes_nothing(self) -> None:
        content = b"Email,Name\r\nines@example.com,Ines\r\n"
        for wanted in ({"new": 1}, {"unchanged": 1}):
            row = self.put(content)
            self.count(row)
            self.assertEqual(self.run_it(row), wanted)


class Shapes(FileCase):
    def test_a_shape_found_wrong_is_set_right(self) -> None:
        row = self.put(b"ines@example.com,Ines\r\nbo@example.com,Bo\r\n")
        self.assertEqual(row.headings, ["column 1", "column 2"])
        shape = TableShape.model_validate(row.shape).model_copy(update={"has_header": True})
        self.assertEqual(imports.set_shape(row, shape).headings, ["ines@example.com", "Ines"])

    def test_a_spreadsheet(self) -> None:
        book = Workbook()
        page = book.active
        assert page is not None
        page.append(["Email", "Name", "Born", "Visits"])
        page.append(["ines@example.com", "Ines", date(1987, 3, 21), 3.0])
        page.append([None, None, None, None])
        page.append(["bo@example.com", "=1+1", None, 2.5])
        out = io.BytesIO()
        book.save(out)
        row = self.read(out.getvalue(), "people.xlsx")
        self.assertEqual(row.shape["format"], "xlsx")
        answers = [dict(found) for _, found in imports.first_rows(row)]
        self.assertEqual(answers[0]["Born"], "1987-03-21")
        self.assertEqual((answers[0]["Visits"], answers[1]["Visits"]), ("3", "2.5"))
        self.assertEqual(self.count(row), {"new": 2})

    def test_a_spreadsheet_that_is_a_bomb(self) -> None:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr("xl/worksheets/sheet1.xml", b"0" * (120 * 2**20))
        row = self.read(out.getvalue(), "bomb.xlsx")
        self.assertEqual(row.state, "failed")
        self.assertIn("Unpacked", row.failure)

    def test_what_is_no_spreadsheet(self) -> None:
        row = self.read(b"PK\x03\x04 and then nothing", "x.xlsx")
        self.assertEqual(row.state, "failed")
        self.assertTrue(row.failure)
        with self.assertRaises(Refused):
            self.put(b"\r\n\r\n")

    def test_a_file_comes_by_parts_over_http(self) -> None:
        self.client.force_login(self.world.user, BACKEND)
        at = f"/api/workspaces/{self.workspace.slug}"
        lines = "".join(f"p{number}@example.com,{'x' * 90}\r\n" for number in range(12_000))
        content = f"Email,Name\r\n{lines}".encode()
        begun = self.client.post(
            f"{at}/sources/{self.source.pk}/files",
            {"name": "big.csv", "size": len(content)},
            "application/json",
        ).json()
        for number in range(0, len(content), imports.PART):
            part = content[number : number + imports.PART]
            path = f"{at}/files/{begun['id']}/parts/{number // imports.PART}"
            answer = self.client.put(path, part, "application/octet-stream")
        self.assertEqual(answer.json()["state"], "ready")
        self.assertEqual(answer.json()["headings"], ["Email", "Name"])
        rows = self.client.post(
            f"{at}/files/{begun['id']}/rows",
            {"document": self.document.model_dump(mode="json")},
            "application/json",
        ).json()
        self.assertEqual(rows[0]["decision"]["address"], "p0@example.com")
        refused = self.client.post(
            f"{at}/sources/{self.source.pk}/files", {"name": "x", "size": 0}, "application/json"
        )
        self.assertEqual(refused.status_code, 422)

    def test_parts_that_do_not_belong_to_the_file(self) -> None:
        self.client.force_login(self.world.user, BACKEND)
        row = imports.begin_import(self.source, "x.csv", 20, self.world.member)
        at = f"/api/workspaces/{self.workspace.slug}/files/{row.pk}/parts"
        for number, content in ((0, b"x" * (imports.PART + 1)), (1, b"x"), (9999, b"x")):
            with self.subTest(number=number):
                answer = self.client.put(f"{at}/{number}", content, "application/octet-stream")
                self.assertEqual(answer.status_code, 422)
                self.assertEqual(answer.json()["errors"][0]["code"], "bad_part")
        self.assertEqual(row.parts.count(), 0)

    def test_a_part_that_comes_twice_is_kept_once(self) -> None:
        content = b"Email\r\na@b.example\r\n"
        row = imports.begin_import(self.source, "x.csv", len(content) + 5, self.world.member)
        for _ in range(2):
            imports.keep_part(row, 0, content)
        self.assertEqual((row.state, row.parts.count()), (State.ARRIVING, 1))

    def test_a_shape_cannot_change_under_a_run(self) -> None:
        row = self.put(b"Email,Name\r\nines@example.com,Ines\r\n")
        self.count(row)
        self.run_it(row)
        with self.assertRaises(Refused):
            imports.set_shape(row, TableShape.model_validate(row.shape))
