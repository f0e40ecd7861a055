"""What comes back: taken once, believed no further than it can be checked, and followed."""

import smtplib
import socket
import time
from datetime import timedelta
from email.message import EmailMessage
from typing import Any
from unittest import mock
from uuid import uuid4

from django.conf import settings
from django.test import TestCase, TransactionTestCase, override_settings

from launch.postgres import free_port
from server.inbound import listener, receiving
from server.inbound.listener import Listener
from server.inbound.receiving import receive, receive_for
from server.mail.actions import deliver_queued
from server.mail.models import Returned, Send
from server.mail.return_path import leave_mail_of, read_return_address, return_path_of
from server.people.models import Evidence, Fact, Membership, Subscriber, Suppression
from server.profiles.erasing import erase
from server.sequences.models import Run
from server.snags.models import Snag
from server.workspaces import clock
from tests.world import RealMail, make_world

BACK = override_settings(RETURN_DOMAIN="back.larkmoor.example")


def bounce(
    to: str, status: str = "5.1.1", words: str = "550 5.1.1 No such person", **more: str
) -> bytes:
    """A delivery report (RFC 3464), by hand."""
    action = more.get("action", "failed")
    return (
        "From: MAILER-DAEMON@mx.example\r\n"
        f"Message-ID: <{more.get('id', 'bounce-1')}@mx.example>\r\n"
        "Subject: Undelivered Mail\r\nMIME-Version: 1.0\r\n"
        'Content-Type: multipart/report; report-type=delivery-status; boundary="b"\r\n\r\n'
        "--b\r\nContent-Type: text/plain\r\n\r\nIt did not arrive.\r\n"
        "--b\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; mx.example\r\n\r\n"
        f"Final-Recipient: rfc822; {to}\r\nAction: {action}\r\nStatus: {status}\r\n"
        f"Diagnostic-Code: smtp; {words}\r\n\r\n--b--\r\n"
    ).encode()


def complaint(to: str) -> bytes:
    """A feedback report (RFC 5965), by hand."""
    return (
        "From: reports@mx.example\r\nMessage-ID: <c1@mx.example>\r\nSubject: complaint\r\n"
        'MIME-Version: 1.0\r\nContent-Type: multipart/report; report-type=feedback-report; boundary="b"\r\n\r\n'
        "--b\r\nContent-Type: message/feedback-report\r\n\r\nFeedback-Type: abuse\r\nVersion: 1\r\n"
        f"User-Agent: x/1\r\nOriginal-Rcpt-To: <{to}>\r\n\r\n--b--\r\n"
    ).encode()


def letter(subject: str, body: str = "Hello", **headers: str) -> bytes:
    message = EmailMessage()
    message["From"], message["Subject"] = "Ines <ines@example.com>", subject
    for name, text in headers.items():
        message[name.replace("_", "-")] = text
    message.set_content(body)
    return message.as_bytes()


@BACK
class Receiving(RealMail, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.person = self.world.arrive("ines@example.com")
        deliver_queued(self.world.workspace)
        self.sent = self.world.sends(state="sent")[0]

    def membership(self) -> str:
        return str(Membership.everywhere.get(subscriber=self.person).state)

    def take(self, content: bytes, send: Send | None = None) -> str:
        [taken] = receive(content, [return_path_of(send or self.sent)])
        return taken.kind

    def test_the_envelope_names_the_send(self) -> None:
        [received] = self.mailbox.list("ines@example.com")
        self.assertEqual(received.sender, return_path_of(self.sent))
        self.assertEqual(read_return_address(received.sender), ("b", self.sent.pk))
        self.assertEqual(read_return_address(received.sender.upper()), ("b", self.sent.pk))
        # RFC 5321 4.5.3.1.1: at most 64 octets.
        self.assertLessEqual(len(received.sender.partition("@")[0]), 64)
        said = str(received.message["List-Unsubscribe"])
        self.assertIn(f"<mailto:{leave_mail_of(self.sent)}?subject=unsubscribe>", said)

    def test_an_address_that_was_not_made_here_names_nothing(self) -> None:
        good = return_path_of(self.sent)
        local, _, domain = good.partition("@")
        others = [one for one in "abcdefghijklmnopqrstuvwxyz234567" if one != local[-1]]
        for bad in (
            *(f"{local[:-1]}{one}@{domain}" for one in others),
            f"u{local[1:]}@{domain}",
            f"{local}@other.example",
            f"b-@{domain}",
            f"b-{'a' * 200}@{domain}",
            "hello",
            "",
        ):
            self.assertIsNone(read_return_address(bad), bad)
        with override_settings(SIGNING_KEYS=["new", *settings.SIGNING_KEYS]):
            self.assertIsNotNone(read_return_address(good))

    def test_no_such_person_ends_it_with_evidence(self) -> None:
        self.assertEqual(self.take(bounce("ines@example.com")), "hard")
        self.assertEqual(self.membership(), "bounced")
        evidence = Evidence.everywhere.filter(membership__subscriber=self.person).latest("number")
        self.assertIn("No such person", evidence.because["sentence"])
        self.assertEqual(Run.everywhere.get(subscriber=self.person).ended, "unsubscribed")
        self.sent.refresh_from_db()
        self.assertEqual((self.sent.came_back, self.sent.state), ("hard", "sent"))
        self.assertEqual(Fact.everywhere.filter(subscriber=self.person, kind="returned").count(), 1)

    def test_the_same_one_twice_is_one(self) -> None:
        self.assertEqual(self.take(bounce("ines@example.com")), "hard")
        self.assertEqual(self.take(bounce("ines@example.com")), "again")
        self.assertEqual(Returned.everywhere.count(), 1)

    def test_a_bounce_about_somebody_else_is_not_believed(self) -> None:
        self.assertEqual(self.take(bounce("other@example.com")), "unknown")
        self.assertEqual(self.membership(), "subscribed")

    def test_what_says_nothing_against_the_address(self) -> None:
        for number, (status, words) in enumerate(
            (
                ("5.7.1", "550 5.7.1 Policy"),
                ("4.2.2", "452 4.2.2 Full"),
                ("5.2.2", "552 5.2.2 Full"),
            )
        ):
            self.take(bounce("ines@example.com", status, words, id=f"b{number}"))
            self.assertEqual(self.membership(), "subscribed", words)

    def test_three_soft_ones_over_three_days(self) -> None:
        now = clock.now(self.world.workspace)
        sends = [self.sent]
        for days in (2, 3):
            copy = Send.everywhere.get(pk=self.sent.pk)
            copy.pk, copy.origin = None, f"other/{days}"  # type: ignore[assignment]
            copy.id = uuid4()
            copy.queued_at = now + timedelta(days=days)
            copy.save(force_insert=True)
            sends.append(copy)
        for number, send in enumerate(sends):
            self.assertEqual(self.membership(), "subscribed")
            self.take(bounce("ines@example.com", "4.2.2", "452 4.2.2 Full", id=f"s{number}"), send)
        self.assertEqual(self.membership(), "bounced")

    def test_a_complaint_suppresses_with_evidence(self) -> None:
        self.assertEqual(self.take(complaint("ines@example.com")), "complaint")
        self.assertEqual(self.membership(), "complained")
        entry = Suppression.objects.of(self.world.workspace).get()
        self.assertEqual(
            (entry.key, entry.reason), ("ines@example.com", "reported an email as spam")
        )
        self.assertEqual(Run.everywhere.get(subscriber=self.person).ended, "unsubscribed")

    def test_an_email_that_unsubscribes(self) -> None:
        [taken] = receive(letter("unsubscribe"), [leave_mail_of(self.sent)])
        self.assertEqual(taken.kind, "unsubscribe")
        self.assertEqual(self.membership(), "unsubscribed")
        self.sent.refresh_from_db()
        self.assertIsNotNone(self.sent.left_at)

    def test_an_automatic_answer_unsubscribes_nobody(self) -> None:
        [taken] = receive(letter("Away", Auto_Submitted="auto-replied"), [leave_mail_of(self.sent)])
        self.assertEqual(taken.kind, "automatic")
        self.assertEqual(self.membership(), "subscribed")
        self.assertEqual(Fact.everywhere.filter(kind__in=["returned", "event"]).count(), 0)

    def test_a_reply_is_an_event_and_goes_on_to_people(self) -> None:
        self.mailbox.empty()
        raw = letter(
            "Re: Your guide", "Thank you!", In_Reply_To=f"<{self.sent.pk}@larkmoor.example>"
        )
        self.assertEqual(self.take(raw), "reply")
        fact = Fact.everywhere.get(kind="event")
        self.assertEqual((fact.about, fact.subscriber), ("replied", self.person))
        [passed] = self.mailbox.list("hello@larkmoor.example")
        self.assertIn(b"Resent-To: <hello@larkmoor.example>", passed.content)
        self.assertIn(b"Thank you!", passed.content)
        # What went round once does not go round again.
        self.assertEqual(self.take(passed.content), "reply")
        self.assertEqual(len(self.mailbox.list("hello@larkmoor.example")), 1)

    def test_out_of_the_mailbox_by_the_id_it_answers(self) -> None:
        raw = letter(
            "Re: hello",
            In_Reply_To=f"<{self.sent.pk}@larkmoor.example>",
            Message_ID="<r1@x.example>",
        )
        self.assertEqual(receive_for(self.world.workspace, raw).kind, "reply")
        # By the other way too: it is the same email.
        self.assertEqual(self.take(raw), "again")
        other = make_world("Other", "other@other.example")
        self.assertEqual(receive_for(other.workspace, raw).kind, "unknown")
        self.assertEqual(Returned.objects.of(other.workspace).count(), 0)

    def test_nobody_fills_the_tables_by_one_address(self) -> None:
        self.mailbox.empty()
        with mock.patch.object(receiving, "MOST_RETURNED", 3):
            for number in range(6):
                self.take(letter("Re: hello", Message_ID=f"<r{number}@x.example>"))
        self.assertEqual(Returned.everywhere.count(), 3)
        self.assertEqual(len(self.mailbox.list("hello@larkmoor.example")), 3)

    def test_whoever_was_erased_stays_erased(self) -> None:
        address = return_path_of(self.sent)
        erase(self.person)
        [taken] = receive(bounce("ines@example.com"), [address])
        self.assertEqual(taken.kind, "unknown")
        self.assertEqual((Returned.everywhere.count(), Subscriber.everywhere.count()), (0, 0))

    def test_a_whole_domain_is_one_snag(self) -> None:
        for number in range(12):
            self.world.arrive(f"p{number}@gone.example")
        deliver_queued(self.world.workspace)
        for number, send in enumerate(self.world.sends(state="sent", domain="gone.example")):
            self.take(
                bounce(send.subscriber.address, "5.7.1", "550 5.7.1 Blocked", id=f"d{number}"), send
            )
        snags = Snag.objects.of(self.world.workspace).filter(cause__startswith="domain/")
        self.assertEqual([(one.cause, one.times) for one in snags], [("domain/gone.example", 3)])
        shown = snags.get().sentence
        self.assertIn("Most emails to gone.example come back", shown)


@BACK
class OverSmtp(RealMail, TransactionTestCase):
    """The listener, spoken to by Python's smtplib."""

    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.person = self.world.arrive("ines@example.com")
        deliver_queued(self.world.workspace)
        self.sent = self.world.sends(state="sent")[0]

    def listening(self, **how: bool) -> Any:
        server = Listener("127.0.0.1", free_port(), **how)
        server.start()
        self.addCleanup(server.stop)
        kind = smtplib.LMTP if how.get("lmtp") else smtplib.SMTP
        client = kind("127.0.0.1", server.port)
        self.addCleanup(client.close)
        return client

    def test_a_report_is_taken(self) -> None:
        client = self.listening()
        client.sendmail("", [return_path_of(self.sent)], bounce("ines@example.com"))
        self.assertEqual(Membership.everywhere.get(subscriber=self.person).state, "bounced")

    def test_by_lmtp_too(self) -> None:
        client = self.listening(lmtp=True)
        client.sendmail("mx@example.com", [return_path_of(self.sent)], bounce("ines@example.com"))
        self.assertEqual(Returned.everywhere.get().kind, "hard")

    def test_it_is_no_relay(self) -> None:
        client = self.listening()
        client.ehlo()
        client.mail("mx@example.com")
        for address in (
            "ines@example.com",
            "b-aaaa@back.larkmoor.example",
            "postmaster@other.example",
        ):
            self.assertEqual(client.rcpt(address)[0], 550)
        self.assertEqual(client.rcpt(return_path_of(self.sent))[0], 250)

    def test_what_could_not_be_stored_is_asked_for_again(self) -> None:
        client = self.listening()
        with (
            mock.patch.object(
                receiving, "read_returned", side_effect=RuntimeError("the disk is full")
            ),
            self.assertRaises(smtplib.SMTPDataError) as raised,
        ):
            client.sendmail("", [return_path_of(self.sent)], bounce("ines@example.com"))
        self.assertEqual(raised.exception.smtp_code, 451)
        client.sendmail("", [return_path_of(self.sent)], bounce("ines@example.com"))
        self.assertEqual(Returned.everywhere.count(), 1)

    def test_one_that_is_too_large(self) -> None:
        client = self.listening()
        with self.assertRaises(smtplib.SMTPException):
            client.sendmail(
                "", [return_path_of(self.sent)], b"Subject: x\r\n\r\n" + b"x" * 1_100_000
            )
        self.assertEqual(Returned.everywhere.count(), 0)

    def test_so_many_that_say_nothing_leave_room_when_they_go(self) -> None:
        with mock.patch.object(listener, "MOST_AT_ONCE", 5):
            server = Listener("127.0.0.1", free_port())
            server.start()
            self.addCleanup(server.stop)
            silent = [socket.create_connection(("127.0.0.1", server.port), 5) for _ in range(5)]
            for one in silent:
                self.assertTrue(one.recv(100).startswith(b"220"))
            late = socket.create_connection(("127.0.0.1", server.port), 5)
            self.assertTrue(late.recv(100).startswith(b"421"))
            self.assertEqual(late.recv(100), b"")
            for one in (*silent, late):
                one.close()
            for _ in range(50):
                with socket.create_connection(("127.0.0.1", server.port), 5) as again:
                    if again.recv(100).startswith(b"220"):
                        return
                time.sleep(0.1)
            self.fail("nobody was let in again")
