"""A series of emails in one text: read over the API, looked over, and made into messages."""

import json
from io import BytesIO

from django.test import TestCase
from docx import Document

from core.messages import TextBlock
from server.mail.models import Message, shown_document
from server.workspaces.models import HistoryEntry, Role
from tests.world import BACKEND, make_world

TEXT = b"# Day 0: Your star map\n\nHello.\n\n# Day 2: Which way to look\n\nLook **east**.\n"


class Series(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.client.force_login(self.world.user, BACKEND)
        self.at = f"/api/workspaces/{self.world.workspace.slug}/series"

    def read(self, content: bytes, form: str = "md") -> tuple[int, dict[str, object]]:
        answer = self.client.post(
            f"{self.at}/read?form={form}", data=content, content_type="application/octet-stream"
        )
        return answer.status_code, answer.json()

    def make(self, emails: object) -> tuple[int, dict[str, list[str]]]:
        answer = self.client.post(
            self.at, data=json.dumps({"emails": emails}), content_type="application/json"
        )
        return answer.status_code, answer.json()

    def test_read_then_made(self) -> None:
        status, found = self.read(TEXT)
        self.assertEqual(status, 200, found)
        self.assertFalse(Message.objects.of(self.world.workspace).filter(name__contains="star map"))
        status, made = self.make(found["emails"])
        self.assertEqual(status, 200, made)
        rows = [Message.everywhere.get(pk=one) for one in made["messages"]]
        self.assertEqual([one.name for one in rows], ["Your star map", "Which way to look"])
        document = shown_document(rows[1])
        self.assertEqual(document.subject, "Which way to look")
        [block] = document.blocks
        assert isinstance(block, TextBlock)
        self.assertEqual(block.html, "<p>Look <strong>east</strong>.</p>")
        [entry] = HistoryEntry.objects.of(self.world.workspace).filter(sentence__contains="series")
        self.assertEqual(entry.sentence, "made 2 messages of a series")

    def test_a_file_of_a_word_processor(self) -> None:
        document, into = Document(), BytesIO()
        for day in (0, 4):
            document.add_heading(f"Day {day}: Letter {day}", 1)
            document.add_paragraph("Hello.")
        document.save(into)
        status, found = self.read(into.getvalue(), "docx")
        self.assertEqual(status, 200, found)
        emails = found["emails"]
        assert isinstance(emails, list)
        self.assertEqual([one["day"] for one in emails], [0, 4])

    def test_names_that_are_taken_get_a_number(self) -> None:
        _, first = self.make([{"name": "Welcome"}, {"name": "welcome"}, {"name": "x" * 80}])
        _, second = self.make([{"name": "Welcome"}, {"name": "x" * 80}])
        names = {str(one.pk): one.name for one in Message.objects.of(self.world.workspace)}
        self.assertEqual(
            [names[one] for one in (*first["messages"], *second["messages"])],
            ["Welcome", "welcome 2", "x" * 80, "Welcome 3", f"{'x' * 76} 2"],
        )

    def test_all_or_none(self) -> None:
        before = Message.objects.of(self.world.workspace).count()
        heavy = "{% for one in (1..1000000) %}{% for two in (1..1000) %}x{% endfor %}{% endfor %}"
        status, said = self.make([{"name": "Light"}, {"name": "Heavy", "html": heavy}])
        self.assertEqual(status, 422, said)
        self.assertEqual(Message.objects.of(self.world.workspace).count(), before)

    def test_what_is_sent_back_is_cleaned_again(self) -> None:
        _, made = self.make([{"name": "One", "html": "<p onclick=x>a<script>b</script></p>"}])
        [block] = shown_document(Message.everywhere.get(pk=made["messages"][0])).blocks
        assert isinstance(block, TextBlock)
        self.assertEqual(block.html, "<p>a</p>")

    def test_what_cannot_be(self) -> None:
        for content, form, status in (
            (b"", "md", 422),
            (b"x" * (2**21 + 1), "txt", 422),
            (b"PK broken", "docx", 422),
            (TEXT, "exe", 422),
        ):
            with self.subTest(form=form, size=len(content)):
                self.assertEqual(self.read(content, form)[0], status)
        self.assertEqual(self.make([])[0], 422)
        self.assertEqual(self.make([{"name": "x"}] * 61)[0], 422)

    def test_a_reader_makes_none(self) -> None:
        member = self.world.member
        member.role = Role.READER
        member.save()
        self.assertEqual(self.make([{"name": "One"}])[0], 403)
        self.assertEqual(self.read(TEXT)[0], 403)
