"""Handing emails over: connections that are kept, servers that are slow, refuse or go away; what is sent in
sets; limits of an hour."""

import smtplib
import socket
import threading
import time
from email import message_from_bytes
from typing import Any
from unittest import mock

from django.db import connection
from django.test import Client, TestCase, TransactionTestCase, override_settings
from django.test.utils import CaptureQueriesContext

from core.messages import TextBlock, simple_message
from core.sequences import EmailSender, SequenceDocument
from server.mail import deliver as delivering
from server.mail.actions import deliver_queued
from server.mail.backend import _envelope, forget_connection
from server.mail.deliver import deliver, deliver_due, deliver_everything, resolve_abandoned
from server.mail.editing import save_message, turn_on_changes
from server.mail.models import Pace, Send, SendingHold
from server.people.links import leave_token
from server.people.models import Fact, MailingList, Suppression
from server.sequences import actions as sequences
from server.snags.models import Snag
from server.workspaces import clock
from tests.server.moody import Moody
from tests.world import BACKEND, RealMail, World, make_world


class Conversations:
    """Talks to a server with moods."""

    world: World
    addCleanup: Any

    def setUp(self) -> None:
        self.world = make_world()
        self.addCleanup(forget_connection)
        forget_connection()

    def send_to(self, server: Moody, *addresses: str) -> list[Send]:
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        with override_settings(EMAIL_PORT=server.port):
            for address in addresses:
                self.world.arrive(address)
                for send in self.world.sends(state="queued", attempts=0):
                    deliver(send.pk)
        return self.world.sends()

    def states(self, sends: list[Send]) -> list[str]:
        return [str(one.state) for one in sends]


@override_settings(
    EMAIL_BACKEND="server.mail.backend.EmailBackend", EMAIL_HOST="127.0.0.1", EMAIL_TIMEOUT=3
)
class Connections(Conversations, TestCase):
    def test_one_connection_carries_several(self) -> None:
        for pipelining in (False, True):
            server = Moody(pipelining=pipelining)
            names = [f"{n}{pipelining}@example.com" for n in range(4)]
            sends = self.send_to(server, *names)
            self.assertEqual(set(self.states(sends)), {"sent"})
            self.assertEqual(len(server.heard), 1)
            self.assertEqual(len(server.emails), 4)
            self.assertEqual(server.heard[0].count("DATA"), 4)

    def test_commands_go_together_where_the_server_takes_that(self) -> None:
        """RFC 2920: all of the envelope in one piece, heard before anything is answered."""
        server = socket.create_server(("127.0.0.1", 0))
        seen: list[bytes] = []

        def talk() -> None:
            one, _ = server.accept()
            with one:
                one.sendall(b"220 x\r\n")
                one.recv(4096)
                one.sendall(b"250-x\r\n250 PIPELINING\r\n")
                time.sleep(0.1)
                seen.append(one.recv(4096))
                one.sendall(b"250 a\r\n250 b\r\n354 c\r\n")
                text = b""
                while not text.endswith(b"\r\n.\r\n"):
                    text += one.recv(65_536)
                one.sendall(b"250 taken\r\n")
                time.sleep(0.2)

        thread = threading.Thread(target=talk, daemon=True)
        thread.start()
        with override_settings(EMAIL_PORT=server.getsockname()[1]):
            self.world.arrive("ines@example.com")
            [send] = self.world.sends()
            deliver(send.pk)
        thread.join(5)
        server.close()
        self.assertRegex(
            seen[0], rb"\AMAIL FROM:<[^>]+>\r\nRCPT TO:<ines@example\.com>\r\nDATA\r\n\Z"
        )
        self.assertEqual(self.states(self.world.sends()), ["sent"])

    def test_where_it_goes_away_before_the_text_nothing_has_gone_out(self) -> None:
        for verb in ("EHLO", "MAIL", "RCPT", "DATA"):
            for pipelining in (False, True):
                server = Moody(closes_after=verb, pipelining=pipelining)
                address = f"{verb}{pipelining}@example.com"
                self.send_to(server, address)
                send = Send.everywhere.get(subscriber__address=address)
                self.assertEqual((send.state, server.emails), ("queued", []), address)
                Send.everywhere.filter(pk=send.pk).update(state="withdrawn")

    def test_where_it_goes_away_after_the_text_nobody_knows(self) -> None:
        for pipelining in (False, True):
            server = Moody(closes_after="TEXT", pipelining=pipelining)
            address = f"text{pipelining}@example.com"
            self.send_to(server, address)
            self.assertEqual(Send.everywhere.get(subscriber__address=address).state, "unknown")
            self.assertEqual(len(server.emails), 1)

    def test_refusals_are_told_from_one_another(self) -> None:
        for pipelining in (False, True):
            for number, (replies, state) in enumerate(
                (
                    ({"RCPT": "550 5.1.1 nobody"}, "refused"),
                    ({"RCPT": "452 4.2.2 full"}, "queued"),
                    ({"MAIL": "421 4.3.2 busy"}, "queued"),
                    ({"MAIL": "553 5.1.8 not you"}, "held"),
                    ({"DATA": "554 5.7.1 no"}, "held"),
                )
            ):
                server = Moody(pipelining=pipelining, replies=replies)
                address = f"r{number}{pipelining}@example.com"
                self.send_to(server, address)
                send = Send.everywhere.get(subscriber__address=address)
                self.assertEqual(send.state, state, (replies, pipelining, send.reply))
                # When it is tried again is known, and shown.
                self.assertEqual(send.not_before is not None, state == "queued")
                # A pipelined DATA that is answered though nobody takes it carries no text.
                self.assertEqual(b"".join(server.emails).strip(), b"", (replies, pipelining))
                Send.everywhere.filter(pk=send.pk).delete()
                SendingHold.everywhere.all().delete()

    def test_a_kept_connection_that_ended_meanwhile_is_made_anew(self) -> None:
        server = Moody()
        self.send_to(server, "a@example.com")
        from server.mail import backend

        kept = backend._kept.backend
        assert isinstance(kept, backend.EmailBackend)
        assert kept.connection is not None and kept.connection.sock is not None
        kept.connection.sock.shutdown(socket.SHUT_RDWR)
        self.send_to(server, "b@example.com")
        self.assertEqual(set(self.states(self.world.sends())), {"sent"})
        self.assertEqual((len(server.heard), len(server.emails)), (2, 2))


@override_settings(
    EMAIL_BACKEND="server.mail.backend.EmailBackend", EMAIL_HOST="127.0.0.1", EMAIL_TIMEOUT=3
)
class Sets(Conversations, TransactionTestCase):
    """Emails are written together and handed over one by one."""

    def queue(self, *names: str, asked_for: bool = False) -> list[Send]:
        for name in names:
            self.world.arrive(f"{name}@example.com")
        Send.everywhere.update(asked_for=asked_for)
        return self.world.sends()

    def serve(self, **moods: Any) -> Moody:
        server = Moody(**moods)
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        port = override_settings(EMAIL_PORT=server.port)
        port.enable()
        self.addCleanup(port.disable)
        return server

    def now(self) -> dict[str, str]:
        rows = Send.everywhere.values_list("subscriber__address", "state")
        return {address.partition("@")[0]: state for address, state in rows}

    def test_a_worker_that_dies_leaves_one_that_may_have_gone_out(self) -> None:
        server = self.serve()
        sends = self.queue("a", "b", "c")
        real, spoken = delivering.hand_over, []

        def die(mail: Any) -> None:
            spoken.append(mail)
            if len(spoken) == 2:
                raise SystemExit
            real(mail)

        with (
            mock.patch.object(delivering, "hand_over", die),
            # Nothing more is noted by a process that is gone.
            mock.patch.object(delivering._Turn, "end"),
            self.assertRaises(SystemExit),
        ):
            deliver(*(one.pk for one in sends))
        self.assertEqual(self.now(), {"a": "handing_over", "b": "handing_over", "c": "queued"})
        resolve_abandoned([one.pk for one in sends])
        # The first is known to have gone out, since the second had begun.
        self.assertEqual(self.now(), {"a": "sent", "b": "unknown", "c": "queued"})
        self.assertEqual(Fact.everywhere.filter(kind="sent").count(), 1)
        deliver_due(self.world.workspace.pk)
        self.assertEqual(self.now(), {"a": "sent", "b": "unknown", "c": "sent"})
        self.assertEqual(len(server.emails), 2)

    def test_who_leaves_while_others_are_sent_to_gets_nothing(self) -> None:
        server = self.serve()
        first, second, third = self.queue("a", "b", "c")
        path = f"/u/{leave_token(str(second.pk))}"
        answers: list[int] = []

        def leave(number: int) -> None:
            if number == 1:
                answers.append(Client().post(path, {"List-Unsubscribe": "One-Click"}).status_code)
                connection.close()

        server.on_text = leave
        deliver(first.pk, second.pk, third.pk)
        self.assertEqual(answers, [200])
        deliver_everything(self.world.workspace.pk)
        self.assertEqual(self.now(), {"a": "sent", "b": "withdrawn", "c": "sent"})
        self.assertEqual(len(server.emails), 2)

    def test_who_is_suppressed_while_others_are_sent_to_gets_nothing(self) -> None:
        server = self.serve()
        first, second = self.queue("a", "b")

        def suppress(number: int) -> None:
            Suppression.everywhere.get_or_create(
                workspace=self.world.workspace,
                kind="address",
                key="b@example.com",
                defaults={"added_at": clock.now(self.world.workspace)},
            )
            connection.close()

        server.on_text = suppress
        deliver(first.pk, second.pk)
        deliver_everything(self.world.workspace.pk)
        self.assertEqual(self.now(), {"a": "sent", "b": "withdrawn"})
        self.assertEqual(len(server.emails), 1)

    def test_a_test_is_not_sent_from_what_is_no_address(self) -> None:
        server = self.serve(pipelining=True)
        person = self.world.arrive("ines@example.com")
        Send.everywhere.all().delete()
        document = SequenceDocument.model_validate(
            self.world.sequence.revisions.get(state="live").document
        )
        bad = EmailSender(address="a\r\nRCPT TO:<somebody@else.example>")
        sequences.save_sequence_draft(
            self.world.sequence, document.model_copy(update={"sender": bad}), None, None
        )
        client = Client()
        client.force_login(self.world.user, BACKEND)
        answer = client.post(
            f"/api/workspaces/{self.world.workspace.slug}/sequences/{self.world.sequence.pk}/test",
            {"person": str(person.pk)},
            content_type="application/json",
        )
        self.assertEqual(answer.status_code, 422, answer.content)
        self.assertEqual(server.emails, [])

    def test_a_slow_server_is_not_sent_what_was_judged_long_ago(self) -> None:
        server = self.serve(slow={"TEXT": 0.2})
        sends = self.queue("a", "b", "c", "d")
        with mock.patch.object(delivering, "FRESH", 0.3):
            deliver(*(one.pk for one in sends))
            self.assertIn(len(server.emails), (1, 2, 3))
            self.assertIn("queued", self.now().values())
            deliver_everything(self.world.workspace.pk)
        self.assertEqual(set(self.now().values()), {"sent"})
        self.assertEqual(len(server.emails), 4)

    def test_a_server_slower_than_the_time_it_has(self) -> None:
        """Before the text nothing has gone out; after it nobody knows. The rest of the set waits."""
        for verb, state, emails in (("RCPT", "queued", 0), ("TEXT", "unknown", 1)):
            for pipelining in (False, True):
                server = self.serve(pipelining=pipelining, slow={verb: 1.0})
                name = f"{verb.lower()}-{pipelining}".lower()
                sends = self.queue(name)
                with override_settings(EMAIL_TIMEOUT=0.4):
                    forget_connection()
                    deliver(sends[-1].pk)
                self.assertEqual(self.now()[name], state, (verb, pipelining))
                self.assertEqual(len(server.emails), emails)
                Send.everywhere.all().delete()

    def test_a_server_that_is_away_costs_one_try_of_one_email(self) -> None:
        server = Moody()
        server.shutdown()
        server.server_close()
        with override_settings(EMAIL_PORT=server.port):
            self.queue("a", "b", "c")
            deliver_due(self.world.workspace.pk)
        sends = self.world.sends()
        self.assertEqual({one.state for one in sends}, {"queued"})
        self.assertEqual([one.attempts for one in sends], [1, 0, 0])

    def test_what_was_asked_for_goes_before_the_rest(self) -> None:
        server = self.serve()
        self.queue("a", "b", "c")
        Send.everywhere.filter(subscriber__address="c@example.com").update(asked_for=True)
        deliver_due(self.world.workspace.pk)
        heard = [one for one in server.heard[0] if one.startswith("RCPT")]
        self.assertEqual(heard, [f"RCPT TO:<{name}@example.com>" for name in ("c", "a", "b")])

    def test_each_field_of_the_sender_is_of_the_sequence_the_list_or_the_workspace(self) -> None:
        server = self.serve()
        MailingList.objects.of(self.world.workspace).filter(pk=self.world.news.pk).update(
            sender_name="The dome",
            sender_address="dome@larkmoor.example",
            reply_to="list@a.example",
        )
        document = SequenceDocument.model_validate(
            self.world.sequence.revisions.get(state="live").document
        )
        for sender, expected in (
            (EmailSender(), ("The dome <dome@larkmoor.example>", "list@a.example")),
            (
                EmailSender(name="Noor", reply_to="noor@larkmoor.example"),
                ("Noor <dome@larkmoor.example>", "noor@larkmoor.example"),
            ),
            (
                EmailSender(address="noor@larkmoor.example"),
                ("The dome <noor@larkmoor.example>", "list@a.example"),
            ),
        ):
            changed = document.model_copy(update={"sender": sender})
            sequences.save_sequence_draft(self.world.sequence, changed, None, None)
            sequences.turn_on(self.world.sequence, None)
            self.queue(f"p{len(server.emails)}")
            deliver_due(self.world.workspace.pk)
            email = message_from_bytes(server.emails[-1])
            self.assertEqual((email["From"].replace('"', ""), email["Reply-To"]), expected)

    def test_what_cannot_go_is_held_together(self) -> None:
        server = self.serve()
        text = simple_message("Hello", body="<p>{{ last_name }}</p>")
        save_message(self.world.guide, text, None, None)
        turn_on_changes(self.world.guide, None)
        counts = []
        for count in (4, 25):
            self.queue(*(f"held{count}-{number}" for number in range(count)))
            with CaptureQueriesContext(connection) as queries:
                deliver_due(self.world.workspace.pk)
            counts.append(len(queries))
        self.assertEqual(server.emails, [])
        self.assertEqual(set(self.now().values()), {"held"})
        # The first opens the snag; the others count on it.
        self.assertLessEqual(counts[1], counts[0] + 2)
        snag = Snag.everywhere.get()
        self.assertEqual(snag.times, 29)
        self.assertEqual(Send.everywhere.filter(snag=snag).count(), 29)

    def test_one_email_more_costs_one_statement_more(self) -> None:
        server = self.serve()
        blocks = (
            TextBlock(id="a", html='<p>{{ first_name | default: "you" }}</p>'),
            TextBlock(id="b", html='<p><a href="https://a.example/">Look</a></p>'),
        )
        text = simple_message("Hello").model_copy(update={"blocks": blocks, "clicks": True})
        save_message(self.world.guide, text, None, None)
        turn_on_changes(self.world.guide, None)
        counts = []
        self.queue("warm")
        deliver_due(self.world.workspace.pk)
        for count in (5, 20):
            self.queue(*(f"{count}-{number}" for number in range(count)))
            with CaptureQueriesContext(connection) as queries:
                deliver_due(self.world.workspace.pk)
            counts.append(len(queries) - count)
        self.assertEqual(len(server.emails), 26)
        self.assertEqual(counts[0], counts[1])


class Limits(RealMail, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()

    def marketing(self, *addresses: str) -> list[Send]:
        for address in addresses:
            self.world.arrive(address)
        Send.everywhere.update(asked_for=False)
        deliver_queued(self.world.workspace)
        return self.world.sends()

    def test_an_hour_takes_so_many_and_the_rest_waits_for_the_next(self) -> None:
        workspace = self.world.workspace
        workspace.hourly_emails, workspace.hourly_per_domain = 3, 2
        workspace.save()
        sends = self.marketing(
            "a@one.example", "b@one.example", "c@one.example", "d@two.example", "e@two.example"
        )
        self.assertEqual([one.state for one in sends], ["sent", "sent", "queued", "sent", "queued"])
        self.assertIn("for one.example", sends[2].reply)
        self.assertIn("of this sender", sends[4].reply)
        counts = dict(Pace.objects.of(workspace).values_list("domain", "count"))
        self.assertEqual(counts, {"": 3, "one.example": 2, "two.example": 1})
        waits = sends[2].not_before
        assert waits is not None
        self.assertEqual((waits.minute, waits.second), (0, 0))
        clock.set_time(workspace, waits)
        deliver_queued(workspace)
        self.assertEqual({one.state for one in self.world.sends()}, {"sent"})

    def test_what_somebody_asked_for_just_now_waits_for_nothing(self) -> None:
        workspace = self.world.workspace
        workspace.hourly_emails = 1
        workspace.save()
        for address in ("a@one.example", "b@one.example"):
            self.world.arrive(address)
        deliver_queued(workspace)
        self.assertEqual({one.state for one in self.world.sends(asked_for=True)}, {"sent"})


class Envelopes(TestCase):
    def test_no_address_smuggles_in_a_command(self) -> None:
        sender = "a\r\nRCPT TO:<somebody@else.example>\r\nNOOP @larkmoor.example"
        for pipelining in (False, True):
            server = Moody(pipelining=pipelining)
            self.addCleanup(server.server_close)
            self.addCleanup(server.shutdown)
            with smtplib.SMTP("127.0.0.1", server.port, timeout=5) as talk:
                talk.ehlo()
                with self.assertRaises(smtplib.SMTPSenderRefused):
                    _envelope(talk, sender, ["ines@example.com"], [])
            self.assertEqual(server.emails, [])
            self.assertFalse(any("else.example" in line for one in server.heard for line in one))
