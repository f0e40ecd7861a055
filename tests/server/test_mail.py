"""What goes out: over real SMTP, read back with Python's strict parser, and at most once."""

import re
import time
from datetime import timedelta
from email import message_from_bytes, policy
from email.message import EmailMessage
from typing import Any, cast
from unittest import mock

from django.test import Client, TestCase, override_settings

from core.messages import clean_html, simple_message
from launch.postgres import free_port
from outside.smtp import SLOW_SECONDS
from server.mail import deliver as delivering
from server.mail.actions import it_went_out, send_again
from server.mail.deliver import deliver, deliver_everything, resolve_abandoned
from server.mail.editing import make_message, save_message, turn_on_changes
from server.mail.models import Send, live_document
from server.people.models import Fact, Membership
from server.sequences.actions import pause, resume
from server.sequences.models import Run
from server.sequences.moving_time import move_time
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.history import acting
from server.workspaces.models import HistoryEntry
from tests.world import RealMail, make_world


class Sending(RealMail, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()

    def arrived(self, address: str = "") -> list[EmailMessage]:
        strict = policy.strict.clone(message_factory=EmailMessage)
        return [
            cast(EmailMessage, message_from_bytes(one.content, policy=strict))
            for one in self.mailbox.list(address)
        ]

    def deliver_all(self) -> None:
        for send in self.world.sends(state="queued"):
            deliver(str(send.pk))

    def forward(self, **by: float) -> None:
        move_time(self.world.workspace, clock.now(self.world.workspace) + timedelta(**by))

    def test_the_message_as_the_server_received_it(self) -> None:
        self.world.arrive("ines@example.com", first_name="ines")
        self.deliver_all()
        (message,) = self.arrived("ines@example.com")
        self.assertEqual(message.defects, [])
        self.assertEqual(message["Subject"], "Your guide Ines")
        self.assertEqual(message["From"].addresses[0].addr_spec, "hello@larkmoor.example")
        self.assertEqual(message["To"].addresses[0].addr_spec, "ines@example.com")
        self.assertIsNotNone(message["Date"].datetime)
        (send,) = self.world.sends()
        self.assertEqual(message["Message-ID"], f"<{send.pk}@larkmoor.example>")
        plain, html = message.get_body(("plain",)), message.get_body(("html",))
        assert plain and html
        self.assertIn("Hello Ines", plain.get_content())
        self.assertIn("https://www.larkmoor.example/guide", plain.get_content())
        self.assertIn("Hello Ines", html.get_content())
        self.assertEqual(message.get_content_type(), "multipart/alternative")
        (received,) = self.mailbox.list()
        self.assertTrue(all(len(line) <= 998 for line in received.content.split(b"\r\n")))

    def test_the_headers_of_rfc_8058(self) -> None:
        # RFC 8058 section 8.1 shows:
        #   List-Unsubscribe: <https://example.com/unsubscribe/opaquepart>
        #   List-Unsubscribe-Post: List-Unsubscribe=One-Click
        self.world.arrive("ines@example.com")
        self.deliver_all()
        # As bytes: a parser would decode what no mail program may decode there (RFC 2047 5).
        (received,) = self.mailbox.list()
        lines = received.content.partition(b"\r\n\r\n")[0].split(b"\r\n")
        (leave,) = (one for one in lines if one.startswith(b"List-Unsubscribe:"))
        self.assertRegex(leave, rb"\AList-Unsubscribe: <https?://[!-;=?-~]+/u/[!-;=?-~]+>\Z")
        self.assertIn(b"List-Unsubscribe-Post: List-Unsubscribe=One-Click", lines)

    def test_one_click_and_nothing_more_comes(self) -> None:
        self.world.arrive("ines@example.com", first_name="Ines")
        self.deliver_all()
        link = re.sub(r"[<>]", "", self.arrived()[0]["List-Unsubscribe"])
        path = link.partition("//")[2].partition("/")[2]
        visitor = Client(enforce_csrf_checks=True)
        self.assertEqual(visitor.get(f"/{path}").status_code, 200)
        self.assertEqual(Membership.objects.of(self.world.workspace).get().state, "subscribed")
        answer = visitor.post(f"/{path}", {"List-Unsubscribe": "One-Click"})
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(Membership.objects.of(self.world.workspace).get().state, "unsubscribed")
        self.assertEqual(Run.objects.of(self.world.workspace).get().ended, "unsubscribed")
        self.forward(days=2)
        self.deliver_all()
        self.assertEqual(len(self.arrived()), 1)
        self.assertEqual(
            visitor.post(f"/{path}", {"List-Unsubscribe": "One-Click"}).status_code, 200
        )
        self.assertEqual(visitor.get("/u/forged:token").status_code, 404)

    def test_the_page_leaves_this_list_or_all(self) -> None:
        person = self.world.arrive("ines@example.com")
        self.deliver_all()
        link = re.sub(r"[<>]", "", self.arrived()[0]["List-Unsubscribe"])
        path = "/" + link.partition("//")[2].partition("/")[2]
        self.assertContains(Client().get(path), "Unsubscribe from Open-night news")
        Client().post(path, {"from": "list"})
        self.assertEqual(person.memberships.get().state, "unsubscribed")
        self.assertContains(Client().get(path), "get no more emails")
        proof: Any = person.memberships.get().evidence.order_by("at").last()
        self.assertEqual((proof.before, proof.after), ("subscribed", "unsubscribed"))

    def test_unsubscribed_before_a_queued_send_goes_out(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="Ines")
        self.deliver_all()
        clock.set_time(
            self.world.workspace, clock.now(self.world.workspace) + timedelta(days=1, seconds=1)
        )
        from server.sequences.going_on import advance_due_runs

        advance_due_runs(str(self.world.workspace.pk))
        person.memberships.update(state="unsubscribed")
        self.deliver_all()
        self.assertEqual([one.state for one in self.world.sends()], ["sent", "withdrawn"])
        self.assertEqual(len(self.arrived()), 1)

    def test_the_second_email_a_day_later_and_the_counts(self) -> None:
        self.world.arrive("ines@example.com", first_name="ines")
        self.forward(hours=23)
        self.assertEqual(len(self.arrived()), 1)
        self.forward(hours=1.1)
        self.assertEqual(len(self.arrived()), 2)
        self.assertIn("Hello Ines", self.arrived()[0].get_body(("plain",)).get_content())  # type: ignore[union-attr]
        gap = self.arrived()[0]["Date"].datetime - self.arrived()[1]["Date"].datetime
        self.assertAlmostEqual(gap.total_seconds(), 86_400, delta=60)
        self.assertEqual(Run.objects.of(self.world.workspace).get().ended, "finished")

    def test_paused_nothing_goes_on_and_resumed_it_does(self) -> None:
        self.world.arrive("ines@example.com", first_name="Ines")
        pause(self.world.sequence)
        self.world.arrive("late@example.com", first_name="Late")
        self.forward(days=3)
        self.assertEqual(
            [one.subscriber.address for one in self.world.sends(state="sent")], ["ines@example.com"]
        )
        resume(self.world.sequence)
        self.forward(minutes=1)
        self.assertEqual(len(self.arrived("ines@example.com")), 2)
        self.assertEqual(len(self.arrived("late@example.com")), 1)

    def test_a_hole_is_held_and_goes_out_when_fixed(self) -> None:
        self.world.arrive("ines@example.com")
        self.forward(days=1, minutes=1)
        held = self.world.sends(state="held")
        self.assertEqual(len(held), 1)
        snag = Snag.objects.of(self.world.workspace).get()
        self.assertIn("needs First name, which is empty", snag.sentence)
        text = simple_message("Fits", body="<p>Hello {{ first_name | default: 'you' }}</p>")
        save_message(self.world.fits, text, None, None)
        # What is live changes only when it is turned on.
        self.assertIn("{{ first_name }}", live_document(self.world.fits).model_dump_json())
        turn_on_changes(self.world.fits, None)
        with acting(self.world.member):
            self.assertEqual(send_again(self.world.workspace, snag), 1)
        [told] = HistoryEntry.objects.of(self.world.workspace)
        self.assertEqual(told.sentence, "sent 1 again that a snag had stopped")
        self.deliver_all()
        self.assertEqual(self.arrived()[0]["Subject"], "Fits")

    def test_a_message_of_which_nothing_is_live_is_held_and_stops_no_other(self) -> None:
        self.world.arrive("ines@example.com", first_name="ines")
        self.world.arrive("sven@example.com", first_name="sven")
        first, second = self.world.sends(state="queued")
        other = make_message(self.world.workspace, "Another")
        Send.everywhere.filter(pk=first.pk).update(message=other)
        other.revisions.all().delete()
        delivering.deliver_due(str(self.world.workspace.pk))
        first.refresh_from_db()
        second.refresh_from_db()
        self.assertEqual((first.state, second.state), ("held", "sent"))
        assert first.snag is not None
        self.assertIn("Nothing of it is live", first.snag.sentence)

    def test_a_server_that_refuses(self) -> None:
        self.world.arrive("no-such-person@example.com")
        self.deliver_all()
        (send,) = self.world.sends()
        self.assertEqual(send.state, Send.State.REFUSED)
        self.assertIn("550", Snag.objects.of(self.world.workspace).get().sentence)
        # The address is no good, so nothing more is sent to it.
        self.assertEqual(send.subscriber.memberships.get().state, "bounced")

    def later(self, **by: float) -> None:
        """So much later in the workspace."""
        self.world.workspace.refresh_from_db()
        workspace = self.world.workspace
        clock.set_time(workspace, clock.now(workspace) + timedelta(seconds=1, **by))

    def test_a_server_that_asks_to_wait(self) -> None:
        self.world.arrive("full@example.com")
        (send,) = self.world.sends()
        for minutes in (1, 5):
            deliver(send.pk)
            send.refresh_from_db()
            self.assertEqual(send.state, Send.State.QUEUED)
            assert send.not_before is not None
            waits = send.not_before - clock.now(self.world.workspace)
            self.assertAlmostEqual(waits.total_seconds(), minutes * 60, delta=5)
            # Before its time it is not tried again, whoever asks.
            deliver(send.pk)
            self.assertEqual(self.world.sends()[0].attempts, send.attempts)
            self.later(minutes=minutes)
        for _ in range(6):
            deliver(str(send.pk))
            self.later(days=1)
        self.assertEqual(self.world.sends()[0].state, Send.State.REFUSED)

    def test_a_server_that_is_not_there(self) -> None:
        self.world.arrive("ines@example.com")
        (send,) = self.world.sends()
        with override_settings(EMAIL_PORT=free_port()):
            deliver(send.pk)
        self.assertEqual(self.world.sends()[0].state, Send.State.QUEUED)
        self.later(minutes=1)
        deliver(str(send.pk))
        self.assertEqual(self.world.sends()[0].state, Send.State.SENT)

    def test_a_server_that_dies_after_the_data(self) -> None:
        self.world.arrive("dies-after-data@example.com")
        (send,) = self.world.sends()
        deliver(send.pk)
        self.assertEqual(self.world.sends()[0].state, Send.State.UNKNOWN)
        deliver(send.pk)
        self.assertEqual(len(self.arrived()), 1)
        snag = Snag.objects.of(self.world.workspace).get()
        self.assertIn("may have gone out", snag.sentence)
        self.assertEqual(it_went_out(self.world.workspace, snag), 1)
        self.assertEqual(self.world.sends()[0].state, Send.State.SENT)
        self.assertTrue(Fact.objects.of(self.world.workspace).filter(kind="sent").exists())

    def test_a_server_that_takes_its_time(self) -> None:
        for name in ("slow", "ines"):
            self.world.arrive(f"{name}@example.com")
        began = time.monotonic()
        # Longer than what was judged counts as fresh: the second is judged anew, and goes too.
        with mock.patch.object(delivering, "FRESH", SLOW_SECONDS / 2):
            deliver_everything(self.world.workspace.pk)
        self.assertGreater(time.monotonic() - began, SLOW_SECONDS)
        self.assertEqual([one.state for one in self.world.sends()], ["sent", "sent"])
        self.assertEqual(len(self.arrived()), 2)

    def test_a_send_whose_worker_died_is_not_repeated_by_itself(self) -> None:
        self.world.arrive("ines@example.com")
        (send,) = self.world.sends()
        with (
            mock.patch.object(delivering, "hand_over", side_effect=KeyboardInterrupt),
            self.assertRaises(KeyboardInterrupt),
        ):
            deliver(send.pk)
        deliver(send.pk)
        self.assertEqual(self.arrived(), [])
        resolve_abandoned([send.pk])
        self.assertEqual(self.world.sends()[0].state, Send.State.UNKNOWN)

    def test_a_name_with_a_line_break_cannot_add_a_header(self) -> None:
        person = self.world.arrive("ines@example.com")
        person.values["first_name"] = "Ines\r\nBcc: everybody@example.com"
        person.save()
        self.deliver_all()
        (message,) = self.arrived()
        self.assertNotIn("Bcc", message)
        self.assertEqual(message["Subject"], "Your guide Ines Bcc: everybody@example.com")


class Bodies(TestCase):
    def test_nothing_in_a_body_can_run(self) -> None:
        dirty = "<p onclick=x>a<script>b</script><a href='javascript:c'>d</a><style>e</style></p>"
        self.assertEqual(clean_html(dirty), "<p>a<a>d</a></p>")

    def test_tokens_stay(self) -> None:
        kept = '<p>{{ first_name | default: "x" }} <a href="https://x.example/?n={{ email }}">y</a></p>'
        self.assertEqual(clean_html(kept), kept)
