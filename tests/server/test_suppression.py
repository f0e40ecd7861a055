"""The suppression list, in force over everything."""

from typing import Any

from django.test import TestCase

from core.people import Entry, read_entry
from server.mail.deliver import deliver
from server.people.models import Suppression
from server.people.suppression import suppress, suppressed_among
from server.workspaces.errors import Refused
from tests.world import BACKEND, RealMail, make_world


class Suppressed(RealMail, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.workspace = self.world.workspace

    def put(self, *lines: str) -> int:
        return suppress(self.workspace, list(lines), "they asked", self.world.member)[0]

    def test_addresses_and_domains(self) -> None:
        self.assertEqual(
            read_entry(" Ines@Example.COM "), Entry(kind="address", key="ines@example.com")
        )
        for text in ("@Example.org", "example.org"):
            self.assertEqual(read_entry(text), Entry(kind="domain", key="example.org"))
        added, problems = suppress(
            self.workspace, ["a@b.example", "nonsense", "", "A@b.example", "@c.example"], "", None
        )
        self.assertEqual((added, [one.place for one in problems]), (2, ["2"]))
        self.assertEqual(self.put("a@b.example"), 0)
        found = suppressed_among(self.workspace, ["A@B.example", "x@c.example", "x@d.c.example"])
        self.assertEqual(found, {"A@B.example", "x@c.example"})

    def test_nobody_on_it_is_subscribed(self) -> None:
        self.put("new@example.com", "old@example.com")
        self.assertEqual(self.world.arrive("new@example.com").memberships.count(), 0)
        # Not even when they are known already.
        self.assertEqual(self.world.arrive("new@example.com", look="moon").memberships.count(), 0)
        # What they asked for just now still comes: the guide of the sequence.
        self.assertEqual(len(self.world.sends(subscriber__address="new@example.com")), 1)

    def test_what_is_queued_does_not_go_out(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="Ines")
        self.assertEqual(person.memberships.get().state, "subscribed")
        [send] = self.world.sends()
        send.asked_for = False
        send.save()
        self.put("@example.com")
        deliver(str(send.pk))
        send.refresh_from_db()
        self.assertEqual(send.state, "withdrawn")
        self.assertIn("suppression", send.reply)
        self.assertEqual(self.mailbox.list(), [])

    def test_over_the_api_and_out_as_csv(self) -> None:
        self.client.force_login(self.world.user, BACKEND)
        at = f"/api/workspaces/{self.workspace.slug}/suppression"
        body = {"lines": ["=x@b.example", "@c.example"], "reason": "bounced"}
        answer = self.client.post(at, body, "application/json").json()
        self.assertEqual(answer["added"], 2)
        page = self.client.get(at).json()
        self.assertEqual(page["total"], 2)
        out: Any = self.client.get(f"{at}/export")
        text = b"".join(out.streaming_content).decode()
        # Defused, since spreadsheet programs run what begins so.
        self.assertIn("'=x@b.example,bounced", text)
        self.assertIn("'@c.example", text)
        self.client.delete(f"{at}/{page['entries'][0]['id']}")
        self.assertEqual(Suppression.objects.of(self.workspace).count(), 1)
        with self.assertRaises(Refused):
            suppress(self.workspace, ["x"] * 6000, "", None)
