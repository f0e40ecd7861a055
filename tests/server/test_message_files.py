"""The promised file: attached, or behind a signed link that runs out."""

import re
from datetime import timedelta

from core.messages import simple_message
from outside.mailbox import Received
from server.mail.actions import deliver_queued
from server.mail.editing import save_message, turn_on_changes
from server.mail.files import MOST_ATTACHED, file_address, give_file
from server.mail.models import MessageFile, StoredFile
from server.mail.preflight import check
from server.workspaces import clock
from server.workspaces.errors import Refused
from tests.server.test_references import Api
from tests.world import RealMail

PDF = b"%PDF-1.7 a guide"


class Files(RealMail, Api):
    def write(self, body: str) -> None:
        text = simple_message("Your guide", body=body)
        save_message(self.world.guide, text, None, None)

    def newest(self) -> Received:
        """The email as it arrived."""
        [one] = self.mailbox.list("ines@example.com")
        return one

    def test_a_linked_file_is_served_until_it_runs_out(self) -> None:
        row = give_file(self.world.guide, "guide.pdf", "application/pdf", PDF, False, 3)
        self.write('<p><a href="{{ file_link }}">Your guide</a></p>')
        self.assertEqual([one.code for one in check(self.world.guide)], [])
        turn_on_changes(self.world.guide, None)
        person = self.world.arrive("ines@example.com")
        deliver_queued(self.workspace)
        found = re.search(r"https?://[^/\s\"]+(/d/[^\s\"<>)]+)", self.newest().part("html"))
        assert found is not None
        answer = self.client.get(found[1])
        self.assertEqual((answer.status_code, answer.content), (200, PDF))
        self.assertEqual(answer["Content-Disposition"], 'attachment; filename="guide.pdf"')
        self.assertIn("sandbox", answer["Content-Security-Policy"])
        clock.set_time(self.workspace, clock.now(self.workspace) + timedelta(days=3, minutes=1))
        self.assertEqual(self.client.get(found[1]).status_code, 410)
        self.assertEqual(self.client.get(found[1] + "x").status_code, 404)
        self.assertTrue(person.sends.exists())
        row.refresh_from_db()

    def test_an_attached_file_goes_along(self) -> None:
        give_file(self.world.guide, "Führer.pdf", "application/pdf", PDF, True, 14)
        self.world.arrive("ines@example.com")
        deliver_queued(self.workspace)
        [part] = list(self.newest().message.iter_attachments())
        self.assertEqual((part.get_filename(), part.get_content()), ("Führer.pdf", PDF))

    def test_pre_flight_finds_links_without_files_and_files_without_links(self) -> None:
        self.write('<p><a href="{{ file_link }}">Your guide</a></p>')
        self.assertEqual([one.code for one in check(self.world.guide)], ["no_file"])
        give_file(self.world.guide, "guide.pdf", "application/pdf", PDF, False, 14)
        self.write("<p>No link</p>")
        self.assertEqual([one.code for one in check(self.world.guide)], ["file_not_linked"])

    def test_what_cannot_be_kept_is_refused(self) -> None:
        for name, content in (
            ("run.exe", b"x"),
            ("", b"x"),
            ("../..", b"x"),
            ("empty.pdf", b""),
            ("big.pdf", b"x" * (MOST_ATTACHED + 1)),
        ):
            with self.assertRaises(Refused, msg=name):
                give_file(self.world.guide, name, "application/pdf", content, True, 14)
        self.assertFalse(StoredFile.objects.of(self.workspace).exists())
        kept = give_file(self.world.guide, 'C:\\x\\..\\gui"de.pdf', "nonsense", b"x", True, 14)
        self.assertEqual((kept.file.name, kept.file.content_type),
                         ("guide.pdf", "application/octet-stream"))  # fmt: skip

    def test_one_link_at_the_most(self) -> None:
        give_file(self.world.guide, "a.pdf", "application/pdf", PDF, False, 14)
        with self.assertRaises(Refused):
            give_file(self.world.guide, "b.pdf", "application/pdf", PDF, False, 14)

    def test_over_the_api(self) -> None:
        at = f"/api/workspaces/{self.workspace.slug}/messages/{self.world.guide.pk}/files"
        made = self.client.post(f"{at}?name=guide.pdf&attached=true", PDF, "application/pdf").json()
        [kept] = made["files"]
        self.assertEqual((kept["name"], kept["size"], kept["attached"]), ("guide.pdf", 16, True))
        path = f"/messages/{self.world.guide.pk}/files/{kept['id']}"
        changed = self.send("put", path, {"attached": False, "days": 30})
        self.assertEqual(changed["files"][0]["days"], 30)
        self.assertEqual(self.send("delete", path)["files"], [])
        self.assertFalse(StoredFile.objects.of(self.workspace).exists())

    def test_a_link_to_a_file_taken_out_is_gone(self) -> None:
        row = give_file(self.world.guide, "a.pdf", "application/pdf", PDF, False, 14)
        path = "/d/" + file_address(row, clock.now(self.workspace)).partition("/d/")[2]
        MessageFile.everywhere.filter(pk=row.pk).delete()
        self.assertEqual(self.client.get(path).status_code, 404)
