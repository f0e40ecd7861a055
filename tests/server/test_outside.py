"""The simulated outside world by its protocols: SMTP with Python's client, sheets, web pages."""

import csv
import io
import re
import smtplib
import tempfile
import urllib.error
import urllib.request
from email.message import EmailMessage
from pathlib import Path
from unittest import TestCase
from urllib.parse import quote

from django.test import TestCase as DatabaseCase
from openpyxl import load_workbook

from launch.postgres import free_port
from outside.mailbox import Mailbox
from outside.sheets import Sheets, as_csv, as_xlsx
from outside.smtp import mail_server
from outside.views import PAGES
from tests.server.test_sheets import SheetHost


def letter(subject: str = "Hello", text: str = "Clear skies") -> EmailMessage:
    message = EmailMessage()
    message["Subject"] = subject
    message["From"] = "hello@larkmoor.example"
    message["To"] = "ines@example.com"
    message.set_content(text)
    message.add_alternative(f"<p>{text}</p>", subtype="html")
    return message


class Mail(TestCase):
    """RFC 5321: replies of 2xx take, of 4xx ask to come again, of 5xx refuse for good."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.mailbox = Mailbox(Path(folder.name) / "mail")
        self.port = free_port()
        server = mail_server(self.mailbox, self.port)
        server.start()
        self.addCleanup(server.stop)

    def send(self, *to: str, message: EmailMessage | None = None) -> dict[str, tuple[int, bytes]]:
        with smtplib.SMTP("127.0.0.1", self.port, timeout=10) as client:
            return client.send_message(message or letter(), "hello@larkmoor.example", to)

    def test_an_email_arrives_as_it_was_sent(self) -> None:
        self.send(
            "Ines@Example.com", message=letter("Grüße aus der Sternwarte 🔭", "Zoë\n.\n..dots")
        )
        [one] = self.mailbox.list("ines@example.com")
        self.assertEqual(one.sender, "hello@larkmoor.example")
        self.assertEqual(one.message["Subject"], "Grüße aus der Sternwarte 🔭")
        self.assertEqual(one.part("plain").splitlines(), ["Zoë", ".", "..dots"])
        self.assertIn("<p>", one.part("html"))

    def test_one_email_to_two_is_in_both_inboxes(self) -> None:
        self.send("a@b.example", "c@d.example")
        self.assertEqual(self.mailbox.counts(), {"a@b.example": 1, "c@d.example": 1})
        self.assertEqual(len(self.mailbox.list()), 1)

    def test_refused_for_good_and_for_now(self) -> None:
        for name, code in (("no-such-person", 550), ("full", 452)):
            with self.assertRaises(smtplib.SMTPRecipientsRefused) as refused:
                self.send(f"{name}@example.com")
            [(found, _)] = refused.exception.recipients.values()
            self.assertEqual(found, code)
        refused_ones = self.send("no-such-person@example.com", "ines@example.com")
        self.assertEqual(list(refused_ones), ["no-such-person@example.com"])
        self.assertEqual(self.mailbox.counts(), {"ines@example.com": 1})

    def test_a_connection_lost_after_the_data_leaves_the_email_there(self) -> None:
        with self.assertRaises(smtplib.SMTPServerDisconnected):
            self.send("dies-after-data@example.com")
        self.assertEqual(len(self.mailbox.list("dies-after-data@example.com")), 1)

    def test_the_newest_stands_first(self) -> None:
        for number in range(3):
            self.send("ines@example.com", message=letter(f"Number {number}"))
        subjects = [str(one.message["Subject"]) for one in self.mailbox.list()]
        self.assertEqual(subjects, ["Number 2", "Number 1", "Number 0"])
        self.mailbox.empty()
        self.assertEqual(self.mailbox.list(), [])

    def test_half_an_email_is_not_seen_and_no_name_leads_out(self) -> None:
        (self.mailbox.folder / "1-1.eml").write_bytes(b"half")
        self.assertEqual(self.mailbox.list(), [])
        (self.mailbox.folder.parent / "1-2.json").write_text("{}")
        for name in ("../1-2", "1-1", "..%2f1-2", "", "1-1\n", "/etc/passwd"):
            self.assertIsNone(self.mailbox.get(name), name)


class SheetFiles(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.sheets = Sheets(Path(folder.name) / "sheets")

    def test_both_forms_hold_the_same_and_read_back(self) -> None:
        sheet = self.sheets.get("volunteers")
        assert sheet is not None
        sheet["rows"].append(["Zoë, “the” second", "z@b.example", 'says "yes"\non two lines', ""])
        self.sheets.keep("volunteers", sheet)
        kept = self.sheets.get("volunteers")
        assert kept is not None
        rows = list(csv.reader(io.StringIO(as_csv(kept))))
        self.assertEqual(rows, [kept["headings"], *kept["rows"]])
        book = load_workbook(io.BytesIO(as_xlsx(kept)), read_only=True)
        cells = [
            ["" if one is None else str(one) for one in row] for row in book.worksheets[0].values
        ]
        self.assertEqual(cells, rows)
        # RFC 4180, 2.1: each record ends with CRLF.
        self.assertTrue(as_csv(kept).split('"')[0].startswith("Name,Email,Can help with,Since\r\n"))

    def test_other_names_are_not_there(self) -> None:
        for name in ("nothing", "../volunteers", "Volunteers", "", "a" * 41):
            self.assertIsNone(self.sheets.get(name), name)


class Pages(SheetHost, DatabaseCase):
    def read(self, path: str) -> tuple[int, str, str]:
        try:
            with urllib.request.urlopen(f"{self.host}{path}", timeout=10) as answer:
                return answer.status, answer.read().decode(), answer.headers["Content-Type"]
        except urllib.error.HTTPError as error:
            return error.code, "", ""

    def test_every_page_answers_and_fetches_from_nowhere_else(self) -> None:
        for path in ("/", "/partner/", "/inboxes/", *(f"/larkmoor/{one}/" for one in PAGES)):
            with self.subTest(path=path):
                status, text, kind = self.read(path)
                self.assertEqual((status, kind), (200, "text/html; charset=utf-8"))
                for address in re.findall(r'(?:src|action)="(https?://[^"]+)"', text):
                    self.assertTrue(address.startswith("http://127.0.0.1:"), address)
                self.assertRegex(text, r"<html lang=\"[a-z-]+\"")
                self.assertIn("<title>", text)

    def test_what_a_visitor_puts_into_an_address_is_text(self) -> None:
        evil = quote("<script>alert(1)</script>")
        for path in (f"/larkmoor/choose-a-day/?name={evil}", f"/partner/?wrong={evil}:x"):
            status, text, _ = self.read(path)
            self.assertEqual(status, 200)
            self.assertNotIn("<script>alert", text)

    def test_what_is_not_there(self) -> None:
        for path in (
            "/larkmoor/nothing/",
            "/sheets/nothing.csv",
            "/sheets/volunteers.pdf",
            "/mail/1-1/",
            "/mail/..%2F1-1/source/",
        ):
            self.assertEqual(self.read(path)[0], 404, path)

    def test_a_sheet_that_somebody_changes(self) -> None:
        self.change(do="add", cell=["Wanda", "wanda@example.com", "Tea", "2026-11-24"])
        status, text, kind = self.read("/sheets/volunteers.csv")
        self.assertEqual((status, kind), (200, "text/csv; charset=utf-8"))
        self.assertEqual(
            list(csv.reader(io.StringIO(text)))[-1],
            ["Wanda", "wanda@example.com", "Tea", "2026-11-24"],
        )
        self.assertIn("wanda@example.com", self.read("/sheets/volunteers/")[1])
