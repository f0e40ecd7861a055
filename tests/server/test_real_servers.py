"""A real mail server (Debian's postfix) that takes, cannot deliver and sends back; and a real mailbox
(Debian's dovecot) that is read by IMAP. Both on loopback, with folders of their own."""

import os
import shutil
import smtplib
import subprocess
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import skipUnless

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID
from django.test import TransactionTestCase, override_settings

from launch.postgres import free_port
from server.inbound.listener import Listener
from server.inbound.mailbox import look, remove_mailbox, set_mailbox
from server.mail.actions import deliver_queued
from server.mail.backend import forget_connection
from server.mail.models import ReplyMailbox, Returned, Send
from server.people.models import Fact, Membership
from server.workspaces.errors import Refused
from tests.world import RealMail, make_world

POSTFIX = Path("/usr/sbin/postfix")
DOVECOT = Path("/usr/sbin/dovecot")
AS_ROOT = os.geteuid() == 0


def wait_for(holds: Callable[[], bool], seconds: float = 30) -> None:
    deadline = time.monotonic() + seconds
    while not holds():
        assert time.monotonic() < deadline, "it did not happen"
        time.sleep(0.1)


def listens(port: int) -> bool:
    try:
        smtplib.socket.create_connection(("127.0.0.1", port), 1).close()  # type: ignore[attr-defined]
        return True
    except OSError:
        return False


class Postfix:
    """A postfix that hands everything on to one port, and what comes back to another."""

    def __init__(self, onward: int, back: int) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="postfix", dir="/tmp"))
        self.port = free_port()
        self.folder.chmod(0o755)
        for name in ("conf", "queue", "data"):
            (self.folder / name).mkdir()
        shutil.chown(self.folder / "data", "postfix")
        conf = self.folder / "conf"
        (conf / "transport").write_text(
            f"back.larkmoor.example smtp:[127.0.0.1]:{back}\n* smtp:[127.0.0.1]:{onward}\n"
        )
        (conf / "main.cf").write_text(
            f"""
compatibility_level = 3.6
queue_directory = {self.folder}/queue
data_directory = {self.folder}/data
maillog_file = {self.folder}/log
maillog_file_prefixes = {self.folder}
myhostname = mx.larkmoor.example
mydestination =
inet_interfaces = 127.0.0.1
inet_protocols = ipv4
mynetworks = 127.0.0.0/8
local_recipient_maps =
transport_maps = texthash:{conf}/transport
smtp_host_lookup = native
smtputf8_enable = yes
bounce_queue_lifetime = 1m
alias_maps =
"""
        )
        services = (
            Path("/etc/postfix/master.cf").read_text()
            if Path("/etc/postfix/master.cf").exists()
            else ""
        )
        kept = [
            line for line in services.splitlines() if line and not line.startswith(("#", " ", "\t"))
        ]
        lines = []
        for line in kept:
            words = line.split()
            if words[0] in ("smtp",) and words[1] == "inet":
                words[0] = f"127.0.0.1:{self.port}"
            elif words[1] == "inet" or words[0] in (
                "uucp",
                "maildrop",
                "ifmail",
                "bsmtp",
                "scalemail-backend",
                "mailman",
            ):
                continue
            words[4] = "n"
            lines.append(" ".join(words))
        (conf / "master.cf").write_text("\n".join(lines) + "\n")
        self.run("start")
        wait_for(lambda: listens(self.port))

    def run(self, word: str) -> None:
        done = subprocess.run(
            [str(POSTFIX), "-c", str(self.folder / "conf"), word],
            capture_output=True,
            text=True,
            check=False,
        )
        assert done.returncode == 0, done.stdout + done.stderr

    def stop(self) -> None:
        self.run("stop")
        shutil.rmtree(self.folder, ignore_errors=True)


@skipUnless(POSTFIX.exists() and AS_ROOT, "postfix is not installed, or this is not root")
@override_settings(RETURN_DOMAIN="back.larkmoor.example")
class ThroughPostfix(RealMail, TransactionTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.listener = Listener("127.0.0.1", free_port())
        self.listener.start()
        self.addCleanup(self.listener.stop)
        self.postfix = Postfix(self.smtp_port, self.listener.port)
        self.addCleanup(self.postfix.stop)
        forget_connection()
        self.addCleanup(forget_connection)

    def test_it_takes_delivers_and_returns(self) -> None:
        with override_settings(EMAIL_PORT=self.postfix.port):
            good = self.world.arrive("ines@example.com")
            bad = self.world.arrive("no-such-person@example.com")
            deliver_queued(self.world.workspace)
        # Postfix has taken both; only later it finds that one cannot be delivered.
        self.assertEqual({one.state for one in self.world.sends()}, {"sent"})
        wait_for(lambda: len(self.mailbox.list("ines@example.com")) == 1)
        wait_for(lambda: Returned.everywhere.count() == 1)
        row = Returned.everywhere.get()
        self.assertEqual((row.kind, row.status, row.subscriber), ("hard", "5.1.1", bad))
        self.assertIn("No such person here", row.reason)
        self.assertEqual(Membership.everywhere.get(subscriber=bad).state, "bounced")
        self.assertEqual(Membership.everywhere.get(subscriber=good).state, "subscribed")
        send = Send.everywhere.get(subscriber=bad)
        self.assertEqual(send.came_back, "hard")
        # Both went over one connection; the other one was the look whether it listens.
        log = (self.postfix.folder / "log").read_text()
        self.assertEqual(log.count(": connect from"), 2)


def certificate(folder: Path) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "localhost")])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=2))
        .add_extension(x509.SubjectAlternativeName([x509.DNSName("localhost")]), False)
        .add_extension(x509.BasicConstraints(ca=True, path_length=None), True)
        .sign(key, hashes.SHA256())
    )
    (folder / "cert.pem").write_bytes(made.public_bytes(serialization.Encoding.PEM))
    (folder / "key.pem").write_bytes(
        key.private_bytes(
            serialization.Encoding.PEM,
            serialization.PrivateFormat.PKCS8,
            serialization.NoEncryption(),
        )
    )


class Dovecot:
    """A dovecot with one mailbox."""

    def __init__(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="dovecot", dir="/tmp"))
        self.folder.chmod(0o755)
        self.port = free_port()
        certificate(self.folder)
        self.mail = self.folder / "mail"
        for name in ("new", "cur", "tmp"):
            (self.mail / name).mkdir(parents=True)
        (self.folder / "users").write_text("noor:{PLAIN}secret\n")
        conf = self.folder / "conf"
        conf.write_text(
            f"""
protocols = imap
base_dir = {self.folder}/run
state_dir = {self.folder}/state
log_path = {self.folder}/log
ssl = required
ssl_cert = <{self.folder}/cert.pem
ssl_key = <{self.folder}/key.pem
mail_location = maildir:{self.mail}
mail_uid = mail
mail_gid = mail
first_valid_uid = 1
passdb {{
  driver = passwd-file
  args = {self.folder}/users
}}
userdb {{
  driver = static
  args = uid=mail gid=mail home={self.folder}
}}
service imap-login {{
  inet_listener imap {{
    port = 0
  }}
  inet_listener imaps {{
    address = 127.0.0.1
    port = {self.port}
    ssl = yes
  }}
}}
"""
        )
        subprocess.run(["chown", "-R", "mail:mail", str(self.mail)], check=True)
        shutil.chown(self.folder, "mail")
        self.process = subprocess.Popen([str(DOVECOT), "-F", "-c", str(conf)])
        wait_for(lambda: listens(self.port))

    def put(self, content: bytes) -> None:
        name = f"{time.time_ns()}.x"
        (self.mail / "tmp" / name).write_bytes(content)
        shutil.chown(self.mail / "tmp" / name, "mail")
        os.rename(self.mail / "tmp" / name, self.mail / "new" / name)

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(10)
        shutil.rmtree(self.folder, ignore_errors=True)


@skipUnless(DOVECOT.exists() and AS_ROOT, "dovecot is not installed, or this is not root")
class ByImap(RealMail, TransactionTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.workspace = self.world.workspace
        self.dovecot = Dovecot()
        self.addCleanup(self.dovecot.stop)
        how = override_settings(
            FETCH_HOSTS=[f"localhost:{self.dovecot.port}"],
            IMAP_AUTHORITIES=str(self.dovecot.folder / "cert.pem"),
        )
        how.enable()
        self.addCleanup(how.disable)
        self.person = self.world.arrive("ines@example.com")
        deliver_queued(self.workspace)
        self.sent = self.world.sends(state="sent")[0]

    def reply(self, number: int) -> bytes:
        return (
            f"From: ines@example.com\r\nMessage-ID: <r{number}@example.com>\r\nSubject: Re: hello\r\n"
            f"In-Reply-To: <{self.sent.pk}@larkmoor.example>\r\n\r\nThank you {number}\r\n"
        ).encode()

    def set(self, **how: object) -> ReplyMailbox:
        said = {
            "host": "localhost",
            "port": self.dovecot.port,
            "user": "noor",
            "password": "secret",
            "folder": "INBOX",
        }
        return set_mailbox(self.workspace, **{**said, **how})  # type: ignore[arg-type]

    def replies(self) -> int:
        return Fact.everywhere.filter(kind="event", about="replied").count()

    def test_what_arrives_is_taken_once_and_left_as_it_is(self) -> None:
        self.dovecot.put(self.reply(0))
        row = self.set()
        # What was there before is not gone through.
        self.assertEqual((look(row), self.replies()), (0, 0))
        self.dovecot.put(self.reply(1))
        self.dovecot.put(b"From: x@y.example\r\nSubject: hello\r\n\r\nnot about us\r\n")
        self.assertEqual((look(row), self.replies()), (2, 1))
        self.assertEqual((look(row), self.replies()), (0, 1))
        self.dovecot.put(self.reply(2))
        self.assertEqual((look(ReplyMailbox.everywhere.get()), self.replies()), (1, 2))
        unseen = [
            one.name
            for one in (self.dovecot.mail / "cur").iterdir()
            if "S" in one.name.partition(":2,")[2]
        ]
        self.assertEqual(unseen, [])
        self.assertEqual(row.problem, "")

    def test_what_is_wrong_is_said_and_nothing_is_kept(self) -> None:
        for how, words in (
            ({"password": "wrong"}, "does not let noor in"),
            ({"folder": "No such"}, "no folder"),
            ({"port": free_port()}, "private network"),
            ({"host": "169.254.169.254"}, "private network"),
            ({"host": "no-such-host.invalid"}, "no host"),
        ):
            with self.assertRaises(Refused) as raised:
                self.set(**how)
            self.assertIn(words, str(raised.exception))
        self.assertEqual(ReplyMailbox.everywhere.count(), 0)

    def test_a_certificate_of_nobody_is_refused(self) -> None:
        with override_settings(IMAP_AUTHORITIES=""), self.assertRaises(Refused) as raised:
            self.set()
        self.assertIn("certificate", str(raised.exception).lower())

    def test_the_password_is_kept_encrypted_and_forgotten(self) -> None:
        row = self.set()
        self.assertNotIn("secret", row.password)
        self.assertEqual(self.set(password="").host, "localhost")
        # Another host does not get the password of this one.
        with self.assertRaises(Refused):
            self.set(host="127.0.0.1", password="")
        remove_mailbox(self.workspace)
        self.assertEqual(ReplyMailbox.everywhere.count(), 0)
