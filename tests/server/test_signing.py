"""Signatures of emails, checked by a second implementation (Debian's opendkim); the records of a domain,
from a name server on loopback; connections that are kept, and servers that go away."""

import shutil
import socket
import socketserver
import subprocess
import tempfile
import threading
import time
from pathlib import Path
from unittest import skipUnless

import dns.flags
import dns.message
import dns.rcode
import dns.rdataclass
import dns.rdatatype
import dns.rrset
from django.test import TestCase, override_settings

from core.messages import simple_message
from launch.postgres import free_port
from server.mail.actions import deliver_queued
from server.mail.backend import forget_connection
from server.mail.deliver import deliver
from server.mail.editing import save_message, turn_on_changes
from server.mail.models import Pace, Send, SendingDomain
from server.mail.signing import add_domain, facts_of, look_up, set_signing
from server.workspaces import clock
from server.workspaces.errors import Refused
from tests.server.test_references import Api
from tests.world import RealMail, make_world

OPENDKIM = shutil.which("opendkim") or "/usr/sbin/opendkim"


class NameServer:
    """Answers what it is told, over UDP."""

    def __init__(self, records: dict[tuple[str, str], list[str]]) -> None:
        self.records = records
        outer = self

        class Handler(socketserver.BaseRequestHandler):
            def handle(self) -> None:
                wire, sock = self.request
                sock.sendto(outer.answer(wire), self.client_address)

        self.server = socketserver.ThreadingUDPServer(("127.0.0.1", 0), Handler)
        self.address = f"127.0.0.1:{self.server.server_address[1]}"
        threading.Thread(target=self.server.serve_forever, daemon=True).start()

    def answer(self, wire: bytes) -> bytes:
        asked = dns.message.from_wire(wire)
        question = asked.question[0]
        answer = dns.message.make_response(asked)
        answer.flags |= dns.flags.RA
        name, kind = question.name.to_text().rstrip("."), dns.rdatatype.to_text(question.rdtype)
        found = self.records.get((name, kind))
        if found is None:
            answer.set_rcode(dns.rcode.NXDOMAIN)
            return answer.to_wire()
        if kind == "TXT":
            # RFC 1035 3.3: strings of at most 255 octets.
            found = [
                " ".join(f'"{one[at : at + 250]}"' for at in range(0, len(one), 250))
                for one in found
            ]
        answer.answer.append(dns.rrset.from_text(question.name, 60, "IN", kind, *found))
        return answer.to_wire()

    def close(self) -> None:
        self.server.shutdown()
        self.server.server_close()


class Domains(RealMail, Api):
    def domain(self) -> SendingDomain:
        return add_domain(self.workspace, "Larkmoor.example")

    def published(self, row: SendingDomain) -> dict[tuple[str, str], list[str]]:
        facts = facts_of(row)
        return {
            (f"{facts.selector}._domainkey.larkmoor.example", "TXT"): [
                f"v=DKIM1; k=rsa; p={facts.rsa_public}"
            ],
            (f"{facts.selector}-ed._domainkey.larkmoor.example", "TXT"): [
                f"v=DKIM1; k=ed25519; p={facts.ed_public}"
            ],
            ("larkmoor.example", "TXT"): ["v=spf1 ip4:127.0.0.1 ~all", "something else"],
            ("_dmarc.larkmoor.example", "TXT"): ["v=DMARC1; p=none"],
        }

    def looked(self, row: SendingDomain, records: dict[tuple[str, str], list[str]]) -> list[str]:
        server = NameServer(records)
        try:
            with override_settings(NAMESERVER=server.address):
                return [one["state"] for one in look_up(row).found]
        finally:
            server.close()

    def test_nothing_is_signed_before_receivers_can_check_it(self) -> None:
        row = self.domain()
        with self.assertRaises(Refused):
            set_signing(row, True)
        self.assertEqual(self.looked(row, {}), ["missing"] * 4)
        with self.assertRaises(Refused):
            set_signing(row, True)
        self.assertEqual(self.looked(row, self.published(row)), ["good"] * 4)
        set_signing(row, True)
        self.world.arrive("ines@example.com")
        self.workspace.refresh_from_db()
        deliver_queued(self.workspace)
        [received] = self.mailbox.list("ines@example.com")
        self.assertEqual(received.content.count(b"DKIM-Signature:"), 2)

    def test_a_name_server_that_does_not_answer(self) -> None:
        row = self.domain()
        with override_settings(NAMESERVER=f"127.0.0.1:{free_port()}"):
            self.assertEqual({one["state"] for one in look_up(row).found}, {"unknown"})

    def test_keys_are_kept_encrypted_and_never_shown(self) -> None:
        row = self.domain()
        self.assertNotIn("PRIVATE", row.rsa_key)
        answer = self.client.get(f"/api/workspaces/{self.workspace.slug}/mail/domains").content
        self.assertNotIn(row.rsa_key.encode(), answer)
        self.assertNotIn(b"PRIVATE", answer)
        self.assertIn(facts_of(row).rsa_public.encode(), answer)

    def test_what_is_no_domain(self) -> None:
        for text in (
            "",
            "larkmoor",
            "a b.example",
            "-a.example",
            "a..example",
            "x" * 64 + ".example",
        ):
            self.send("post", "/mail/domains", {"domain": text}, status=422)

    @skipUnless(Path(OPENDKIM).exists(), "opendkim is not installed")
    def test_a_second_implementation_finds_the_signature_good(self) -> None:
        row = self.domain()
        self.looked(row, self.published(row))
        set_signing(row, True)
        self.workspace.refresh_from_db()
        text = simple_message(
            "Grüße – {{ email }}", body="<p>. a line\n.\n  spaces  </p>" + "x" * 2000
        )
        save_message(self.world.guide, text, None, None)
        turn_on_changes(self.world.guide, None)
        self.world.arrive("ines@example.com")
        deliver_queued(self.workspace)
        [received] = self.mailbox.list("ines@example.com")
        with tempfile.TemporaryDirectory() as folder:
            keys = Path(folder) / "keys"
            keys.write_text(
                "\n".join(
                    f"{name} {record}"
                    for (name, kind), [record, *_] in self.published(row).items()
                    if "_domainkey" in name
                )
            )
            conf = Path(folder) / "conf"
            conf.write_text(f"Mode v\nTestPublicKeys {keys}\nRequireSafeKeys no\nUserID root\n")
            for content, good in (
                (received.content, True),
                (received.content.replace(b"spaces", b"sqaces"), False),
                (received.content.replace(b"One-Click", b"Two-Click"), False),
                (b"From: x@y.example\r\n" + received.content, False),
            ):
                email = Path(folder) / "email"
                email.write_bytes(content.replace(b"\r\n", b"\n"))
                said = subprocess.run(
                    [OPENDKIM, "-x", str(conf), "-t", str(email), "-vvv"],
                    capture_output=True,
                    text=True,
                    check=False,
                )
                words = said.stdout + said.stderr
                self.assertEqual("verification (s=" in words and "succeeded" in words, good, words)


class Moody(socketserver.ThreadingTCPServer):
    """An SMTP server that speaks as it is told, and remembers what it heard."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(
        self,
        *,
        pipelining: bool = False,
        closes_after: str = "",
        replies: dict[str, str] | None = None,
    ) -> None:
        self.pipelining, self.closes_after, self.replies = pipelining, closes_after, replies or {}
        self.heard: list[list[str]] = []
        self.emails: list[bytes] = []
        super().__init__(("127.0.0.1", 0), _Talk)
        threading.Thread(target=self.serve_forever, daemon=True).start()

    @property
    def port(self) -> int:
        return int(self.server_address[1])


class _Talk(socketserver.StreamRequestHandler):
    server: Moody

    def say(self, text: str) -> None:
        self.wfile.write(f"{text}\r\n".encode())

    def handle(self) -> None:
        mine: list[str] = []
        self.server.heard.append(mine)
        self.say("220 moody")
        while line := self.rfile.readline():
            words = line.decode().strip()
            verb = words.split(" ")[0].split(":")[0].upper()
            mine.append(words)
            if verb == self.server.closes_after:
                return
            if verb in self.server.replies:
                self.say(self.server.replies[verb])
                continue
            match verb:
                case "EHLO":
                    self.say(
                        "250-moody"
                        + ("\r\n250 PIPELINING" if self.server.pipelining else "\r\n250 HELP")
                    )
                case "DATA":
                    self.say("354 go on")
                    content = b""
                    while (one := self.rfile.readline()) not in (b".\r\n", b""):
                        content += one
                    self.server.emails.append(content)
                    if self.server.closes_after == "TEXT":
                        return
                    self.say("250 taken")
                case "QUIT":
                    self.say("221 bye")
                    return
                case _:
                    self.say("250 ok")


@override_settings(
    EMAIL_BACKEND="server.mail.backend.EmailBackend", EMAIL_HOST="127.0.0.1", EMAIL_TIMEOUT=3
)
class Connections(TestCase):
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
                    deliver(str(send.pk))
        return self.world.sends()

    def states(self, sends: list[Send]) -> list[str]:
        return [str(one.state) for one in sends]

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
            deliver(str(send.pk))
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
                    ({"MAIL": "553 5.1.8 not you"}, "refused"),
                    ({"DATA": "554 5.7.1 no"}, "refused"),
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
                Send.everywhere.filter(pk=send.pk).update(state="withdrawn")

    def test_a_kept_connection_that_ended_meanwhile_is_made_anew(self) -> None:
        server = Moody()
        self.send_to(server, "a@example.com")
        from server.mail import backend

        backend._kept.backend.connection.sock.shutdown(socket.SHUT_RDWR)
        self.send_to(server, "b@example.com")
        self.assertEqual(set(self.states(self.world.sends())), {"sent"})
        self.assertEqual((len(server.heard), len(server.emails)), (2, 2))


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
