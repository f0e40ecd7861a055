"""Signatures of emails, checked by a second implementation (Debian's opendkim), and the records of a
domain, from a name server on loopback."""

import shutil
import socketserver
import subprocess
import tempfile
import threading
from pathlib import Path
from unittest import skipUnless

import dns.flags
import dns.message
import dns.rcode
import dns.rdataclass
import dns.rdatatype
import dns.rrset
from django.test import override_settings

from core.messages import simple_message
from launch.postgres import free_port
from server.mail.actions import deliver_queued
from server.mail.editing import save_message, turn_on_changes
from server.mail.models import SendingDomain
from server.mail.signing import add_domain, facts_of, look_up, set_signing
from server.workspaces.errors import Refused
from tests.server.test_references import Api
from tests.world import RealMail

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
