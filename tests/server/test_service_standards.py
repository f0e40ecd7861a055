"""What goes to services by open standards, read by others than wrote it: the reference library of Standard
Webhooks, the SDK of CloudEvents, Radicale for CardDAV; and hosts that nothing is sent to."""

import json
import socket
import subprocess
import sys
import tempfile
import threading
import time
from datetime import timedelta
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from typing import Any, ClassVar
from unittest.mock import patch

import httpx
from cloudevents.v1.http import from_http
from django.test import TestCase, override_settings
from standardwebhooks import Webhook

from core.services import Call, FarLine, Handover, ServiceDescription
from launch.postgres import free_port
from server.people.erasing import erase_person
from server.people.models import Field, Subscriber
from server.services.calls import Line
from server.services.connecting import connect, set_secrets, try_it
from server.services.described import shipped
from server.services.facts import known
from server.services.handing import hand_over_due
from server.services.models import Handoff, Service
from server.services.outbox import Handoffs
from server.workspaces import clock
from server.workspaces.reaching import PublicTransport
from server.workspaces.sealing import new_signing_secret
from tests.world import WHY, make_world


class Receiver:
    """A server that keeps what it gets, and answers as it is told."""

    def __init__(self) -> None:
        self.got: list[tuple[str, dict[str, str], bytes]] = []
        self.answers: list[int] = []
        receiver = self

        class Handler(BaseHTTPRequestHandler):
            def do_POST(self) -> None:
                body = self.rfile.read(int(self.headers.get("Content-Length") or 0))
                headers = {name.lower(): text for name, text in self.headers.items()}
                receiver.got.append((self.path, headers, body))
                self.send_response(receiver.answers.pop(0) if receiver.answers else 200)
                self.end_headers()

            def log_message(self, *_: Any) -> None:
                return

        self.server = HTTPServer(("127.0.0.1", 0), Handler)
        self.at = f"127.0.0.1:{self.server.server_port}"
        threading.Thread(target=self.server.serve_forever, daemon=True).start()

    def close(self) -> None:
        self.server.shutdown()
        self.server.server_close()


class Standards(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.receiver = Receiver()
        self.addCleanup(self.receiver.close)
        allowed = override_settings(FETCH_HOSTS=[self.receiver.at])
        allowed.enable()
        self.addCleanup(allowed.disable)
        self.person = self.world.arrive("ines@example.com", first_name="Inés")

    def connected(self, kind: str, at: str, **secrets: str) -> Service:
        described = shipped()[kind].model_copy(update={"base": at})
        row = connect(self.world.workspace, kind, "", described)
        if secrets:
            set_secrets(row, secrets)
        row.refresh_from_db()
        self.assertEqual((row.state, row.trouble), ("working", ""))
        return row

    def bare(self) -> Service:
        """A connection by which anything can be asked."""
        described = ServiceDescription(name="x", base=f"http://{self.receiver.at}", answers="any")
        return Service(
            workspace=self.world.workspace, description=described.model_dump(mode="json")
        )

    def field(self, key: str) -> str:
        return str(Field.objects.of(self.world.workspace).get(key=key).pk)

    def hand_over(self, row: Service, operation: str, **fields: str) -> Handoff:
        lines = tuple(FarLine(id=to, to=to, what=self.field(ours)) for to, ours in fields.items())
        rows = Handoffs()
        made = rows.add_row(
            self.person,
            row.pk,
            Handover(service=str(row.pk), operation=operation, lines=lines),
            f"test/{operation}",
            clock.now(self.world.workspace),
            WHY,
            operation=operation,
        )
        rows.write()
        hand_over_due(row.pk)
        return Handoff.everywhere.get(pk=made.pk)

    def test_webhooks_are_signed_and_keep_their_id_over_tries(self) -> None:
        secret = new_signing_secret()
        row = self.connected("webhook", f"http://{self.receiver.at}/hook", signing=secret)
        self.receiver.answers = [503]
        made = self.hand_over(row, "event", email="email", first_name="first_name")
        self.assertEqual(made.state, "waiting")
        clock.set_time(self.world.workspace, clock.now(self.world.workspace) + timedelta(minutes=2))
        hand_over_due(row.pk)
        made.refresh_from_db()
        self.assertEqual(made.state, "done")
        ping, first, second = self.receiver.got
        for _, headers, body in (ping, first, second):
            said = Webhook(secret).verify(body, headers)
        self.assertEqual(said["data"], {"email": "ines@example.com", "first_name": "Inés"})
        self.assertEqual(first[1]["webhook-id"], second[1]["webhook-id"])
        self.assertNotEqual(ping[1]["webhook-id"], first[1]["webhook-id"])

    def test_a_secret_that_is_replaced_signs_beside_the_new_one(self) -> None:
        before, after = new_signing_secret(), new_signing_secret()
        row = self.connected("webhook", f"http://{self.receiver.at}/hook", signing=before)
        set_secrets(row, {"signing": after})
        _, headers, body = self.receiver.got[-1]
        for secret in (before, after):
            Webhook(secret).verify(body, headers)
        self.assertEqual(len(headers["webhook-signature"].split(" ")), 2)
        with patch("server.services.calls.time.time", lambda: time.time_ns() / 1e9 + 90_000):
            try_it(row)
        _, headers, body = self.receiver.got[-1]
        self.assertEqual(len(headers["webhook-signature"].split(" ")), 1)

    def test_cloudevents_are_read_by_their_sdk(self) -> None:
        row = self.connected("cloudevents", f"http://{self.receiver.at}/events", key="k-123456")
        self.hand_over(row, "event", email="email", first_name="first_name")
        _, headers, body = self.receiver.got[-1]
        event = from_http(headers, body)
        self.assertEqual(event["specversion"], "1.0")
        self.assertEqual(event["type"], "yalla.person.handed_over")
        self.assertEqual(event["subject"], "ines@example.com")
        self.assertEqual(event.data, {"email": "ines@example.com", "first_name": "Inés"})
        self.assertEqual(headers["content-type"], "application/cloudevents+json")
        self.assertEqual(headers["authorization"], "Bearer k-123456")

    def test_json_as_it_goes_over_the_wire(self) -> None:
        row = self.bare()
        call = Call(
            method="POST",
            path="/p/{{ person.x }}",
            query={"q": "{{ person.x }}", "none": "{{ person.no }}"},
            body={"text": "{{ person.x }}", "n": "{{ person.n }}"},
        )
        with Line(row) as line:
            line.ask(call, known(person={"x": 'a/b?"ü\n', "n": 2.5}))
        path, headers, body = self.receiver.got[-1]
        self.assertEqual(path, "/p/a%2Fb%3F%22%C3%BC%0A?q=a%2Fb%3F%22%C3%BC%0A")
        self.assertEqual(json.loads(body), {"text": 'a/b?"ü\n', "n": 2.5})
        self.assertEqual(headers["content-type"], "application/json")

    def test_a_header_cannot_be_broken_out_of(self) -> None:
        row = self.bare()
        before = len(self.receiver.got)
        with Line(row) as line:
            call = Call(method="POST", headers={"X-Name": "{{ person.x }}"})
            answer = line.ask(call, known(person={"x": "a\r\nX-Evil: 1"}))
        self.assertIn("line break", answer.error)
        self.assertEqual(len(self.receiver.got), before)


class CardDav(TestCase):
    """Radicale, an independent server of CardDAV, takes the cards and gives them back."""

    at: ClassVar[str]
    process: ClassVar[subprocess.Popen[bytes]]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        users = Path(folder.name) / "users"
        users.write_text("noor:a-secret-here\n")
        port = free_port()
        cls.at = f"127.0.0.1:{port}"
        cls.process = subprocess.Popen(
            [
                *(sys.executable, "-m", "radicale", "--server-hosts", cls.at),
                *("--storage-filesystem-folder", f"{folder.name}/collections"),
                *("--auth-type", "htpasswd", "--auth-htpasswd-filename", str(users)),
                *("--auth-htpasswd-encryption", "plain", "--auth-delay", "0"),
            ],
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        cls.addClassCleanup(cls.process.wait)
        cls.addClassCleanup(cls.process.terminate)
        for _ in range(100):
            try:
                with socket.create_connection(("127.0.0.1", port), timeout=1):
                    break
            except OSError:
                time.sleep(0.1)

    def test_a_contact_is_put_changed_and_erased(self) -> None:
        book = f"http://{self.at}/noor/contacts"
        auth = ("noor", "a-secret-here")
        # RFC 5689 and RFC 6352 6.3.1: an address book is made by an extended MKCOL.
        made = httpx.request(
            "MKCOL",
            f"{book}/",
            auth=auth,
            content=b'<?xml version="1.0"?><mkcol xmlns="DAV:" '
            b'xmlns:C="urn:ietf:params:xml:ns:carddav"><set><prop><resourcetype><collection/>'
            b"<C:addressbook/></resourcetype></prop></set></mkcol>",
        )
        self.assertEqual(made.status_code, 201, made.text)
        world = make_world()
        person = world.arrive("ines@example.com", first_name="Zoë")
        with override_settings(FETCH_HOSTS=[self.at]):
            described = shipped()["address-book"].model_copy(update={"base": book})
            row = connect(world.workspace, "Contacts", "", described)
            set_secrets(row, {"name": "noor", "password": "wrong"})
            row.refresh_from_db()
            self.assertEqual(row.state, "needs_look")
            set_secrets(row, {"name": auth[0], "password": auth[1]})
            row.refresh_from_db()
            self.assertEqual((row.state, row.trouble), ("working", ""))
            self._save(world, row, person)
            card = httpx.get(f"{book}/ines@example.com.vcf", auth=auth)
            self.assertEqual(card.status_code, 200)
            lines = card.text.replace("\r\n ", "").splitlines()
            self.assertIn("EMAIL:ines@example.com", lines)
            self.assertIn("N:;Zoë;;;", lines)
            self.assertIn("FN:Zoë", lines)
            Subscriber.everywhere.filter(pk=person.pk).update(values={"first_name": "Zoë Ann"})
            self._save(world, row, Subscriber.everywhere.get(pk=person.pk))
            again = httpx.get(f"{book}/ines@example.com.vcf", auth=auth)
            self.assertIn("FN:Zoë Ann", again.text)
            erase_person(Subscriber.everywhere.get(pk=person.pk))
            hand_over_due(row.pk)
        gone = httpx.get(f"{book}/ines@example.com.vcf", auth=auth)
        self.assertEqual(gone.status_code, 404)

    def _save(self, world: Any, row: Service, person: Subscriber) -> None:
        fields = {one.key: str(one.pk) for one in Field.objects.of(world.workspace)}
        rows = Handoffs()
        rows.add_row(
            person,
            row.pk,
            Handover(
                service=str(row.pk),
                operation="save",
                lines=(
                    FarLine(id="1", to="email", what=fields["email"]),
                    FarLine(id="2", to="given", what=fields["first_name"]),
                ),
            ),
            f"save/{time.monotonic()}",
            clock.now(world.workspace),
            WHY,
            operation="Add",
        )
        rows.write()
        hand_over_due(row.pk)
        self.assertEqual(Handoff.everywhere.latest("pk").state, "done")


class Hosts(TestCase):
    """Nothing is sent into this server's own network (OWASP's list of such addresses)."""

    def test_private_hosts_are_not_reached(self) -> None:
        world = make_world()
        for at in (
            "http://127.0.0.1:9/",
            "http://localhost:9/",
            "http://10.0.0.1/",
            "http://169.254.169.254/latest/meta-data",
            "http://[::1]/",
            "http://[::ffff:127.0.0.1]/",
            "http://0.0.0.0/",
            "http://192.168.1.1/",
        ):
            described = ServiceDescription(
                name="x", base=at, answers="any", who=Call(method="POST")
            )
            row = Service(workspace=world.workspace, description=described.model_dump(mode="json"))
            with override_settings(FETCH_HOSTS=[]), Line(row) as line:
                answer = line.ask(described.who, known())
            self.assertIn("private network", answer.error, at)
            self.assertFalse(answer.sent)

    def test_a_name_that_changes_its_answer_changes_nothing(self) -> None:
        """The connection goes to the address that was looked at (DNS rebinding)."""
        asked: list[str] = []
        went: list[str] = []

        def answer(host: str, port: int, **_: Any) -> list[Any]:
            asked.append(host)
            place = "93.184.216.34" if len(asked) == 1 else "127.0.0.1"
            return [(socket.AF_INET, socket.SOCK_STREAM, 6, "", (place, port))]

        def send(transport: Any, request: httpx.Request) -> httpx.Response:
            went.append(f"{request.url.host} {request.headers['Host']}")
            return httpx.Response(200, request=request)

        with (
            patch("server.workspaces.reaching.socket.getaddrinfo", answer),
            patch.object(httpx.HTTPTransport, "handle_request", send),
            httpx.Client(transport=PublicTransport(), trust_env=False) as client,
        ):
            client.get("https://service.example.com/a")
            with self.assertRaises(httpx.TransportError):
                client.get("https://service.example.com/a")
        self.assertEqual(went, ["93.184.216.34 service.example.com"])
        self.assertEqual(len(asked), 2)

    def test_trying_a_connection_says_so(self) -> None:
        world = make_world()
        described = shipped()["webhook"].model_copy(update={"base": "http://10.0.0.1"})
        row = connect(world.workspace, "x", "", described)
        try_it(row)
        self.assertEqual(row.state, "needs_look")
        self.assertIn("private network", row.trouble)
