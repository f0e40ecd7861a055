"""What once was a fault inside (500), each with the answer that it gets now."""

import asyncio
import json
import threading
from http.server import BaseHTTPRequestHandler, HTTPServer
from typing import Any, ClassVar
from unittest import mock

from django.test import Client, TestCase, override_settings

from core.conditions import Group, TagTest
from core.messages import bounded_email
from core.services import Call, ServiceDescription
from server.inbound.listener import MOST_EACH, Handler, _BoundedSmtp
from server.mail import sandbox
from server.services.calls import Line
from server.services.connecting import connect
from server.services.described import shipped
from server.services.secrets import keep_secrets
from server.services.tokens import SignInFailed, finish
from server.sources.actions import make_source
from server.sources.models import Source
from server.workspaces.errors import Refused
from server.workspaces.expensive import AT_ONCE, expensive_read
from tests.server.test_hearing import Telling
from tests.world import BACKEND, make_world


class Answers(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.client = Client(raise_request_exception=False)
        self.client.force_login(self.world.user, BACKEND)
        self.at = f"/api/workspaces/{self.world.workspace.slug}"

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, dict[str, Any]]:
        answer = self.client.generic(
            method,
            f"{self.at}{path}",
            json.dumps(body) if body is not None else "",
            "application/json",
        )
        return answer.status_code, json.loads(answer.content)

    def test_each_is_a_problem_in_words(self) -> None:
        sequence = f"/sequences/{self.world.sequence.pk}"
        for method, path, body in (
            ("POST", "/mail/mailbox/look", None),
            ("GET", "/submissions?since=5036-01-01T00:00:00%2B18:28", None),
            ("GET", f"{sequence}/runs?after=-3", None),
            ("GET", f"{sequence}/runs?after=99999999999999999999", None),
            ("POST", f"{sequence}/rehearsal", {"lane": "a", "start": "0001-01-01T00:00:00Z"}),
            ("POST", f"{sequence}/rehearsal", {"lane": "a", "start": "9990-01-01T00:00:00Z"}),
            ("POST", f"{sequence}/rehearsal", {"lane": "a", "start": "9999-12-31T23:59:59Z"}),
            ("POST", "/clock", {"to": "9999-12-31T23:59:59Z"}),
        ):
            status, problem = self.ask(method, path, body)
            self.assertEqual(status, 422, (path, body, problem))
            self.assertTrue(problem["errors"] or problem["title"])

    def test_the_rehearsal_of_a_circle_says_so(self) -> None:
        circle = {
            "lanes": [
                {
                    "id": "a",
                    "steps": [
                        {"kind": "act", "id": "t", "action": {"kind": "change_score", "by": 1}}
                    ],
                    "then": {"to": "lane", "lane": "a"},
                }
            ]
        }
        at = f"/sequences/{self.world.sequence.pk}"
        based = self.ask("GET", at)[1]["edits"]
        status, said = self.ask("PUT", f"{at}/draft", {"document": circle, "based_on": based})
        self.assertEqual(status, 200, said)
        status, said = self.ask("POST", f"{at}/rehearsal", {"lane": "a"})
        self.assertEqual(status, 200, said)
        self.assertIn("circle", said["entries"][-1]["says"])

    def test_a_file_that_is_not_written_so(self) -> None:
        source = make_source(self.world.workspace, "File", self.world.member, kind=Source.Kind.FILE)
        made = self.ask("POST", f"/sources/{source.pk}/files", {"name": "a.csv", "size": 5})[1]
        self.client.put(
            f"{self.at}/files/{made['id']}/parts/0", b"a,b\r\n", "application/octet-stream"
        )
        status, _ = self.ask("PUT", f"/files/{made['id']}/shape", {"encoding": "utf-16"})
        self.assertIn(status, (200, 422))

    def test_a_draft_of_more_than_64_kb_is_taken_and_one_beyond_all_is_refused_in_words(
        self,
    ) -> None:
        block = {"kind": "text", "id": "t", "html": "<p>" + "word " * 20_000 + "</p>"}
        at = f"/messages/{self.world.guide.pk}"
        based = self.ask("GET", at)[1]["edits"]
        body = {"document": {"subject": "x", "blocks": [block]}, "based_on": based}
        answer = self.client.put(f"{self.at}{at}/draft", json.dumps(body), "application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        body["document"]["text"] = "x" * (5 * 2**20)  # type: ignore[index]
        status, problem = self.ask("PUT", f"{at}/draft", body)
        self.assertEqual(status, 413, problem)
        self.assertIn("at most 4 MB are taken", problem["title"])

    def test_a_letter_nested_too_deep_is_refused_where_it_is_saved(self) -> None:
        block = {"kind": "text", "id": "t", "html": "<b>" * 12_000 + "x"}
        at = f"/messages/{self.world.guide.pk}"
        body = {"document": {"subject": "x", "blocks": [block]}, "based_on": 1}
        status, problem = self.ask("PUT", f"{at}/draft", body)
        self.assertEqual(status, 422)
        self.assertIn("deep within each other", json.dumps(problem))
        divs = b"<html><body>" + b"<div>" * 20_000 + b"x" + b"</div>" * 20_000
        answer = self.client.post(f"{self.at}{at}/import/html", divs, "text/html")
        self.assertEqual(answer.status_code, 422, answer.content)

    def test_a_condition_of_too_many_comparisons_is_refused(self) -> None:
        leaf = {"kind": "tag", "tag": "x"}
        condition = {"of": [{"kind": "all", "of": [leaf] * 50} for _ in range(5)]}
        status, problem = self.ask("POST", "/conditions/count", {"condition": condition})
        self.assertEqual(status, 422)
        self.assertIn("at most 200 comparisons", json.dumps(problem))
        Group(of=tuple(Group(of=(TagTest(tag="x"),) * 50) for _ in range(4)))


class Expensive(TestCase):
    def test_few_at_once_and_each_bounded_in_time(self) -> None:
        from django.db import connection

        world = make_world()
        with (
            self.assertRaises(Refused) as refused,
            expensive_read(world.workspace, 1),
            connection.cursor() as cursor,
        ):
            cursor.execute("SELECT pg_sleep(20)")
        self.assertEqual(refused.exception.status, 503)
        self.assertIn("longer than 1 seconds", refused.exception.title)
        entered = [expensive_read(world.workspace) for _ in range(AT_ONCE)]
        for one in entered:
            one.__enter__()
        with (
            mock.patch("server.workspaces.expensive._WAITS", 0.05),
            self.assertRaises(Refused) as refused,
            expensive_read(world.workspace),
        ):
            self.fail("a third one went in")
        self.assertEqual(refused.exception.status, 503)
        for one in reversed(entered):
            one.__exit__(None, None, None)
        with expensive_read(world.workspace):
            pass


class _Odd(BaseHTTPRequestHandler):
    answers: ClassVar[dict[str, tuple[int, dict[str, str], bytes]]] = {
        "/": (200, {}, b""),
        "/zip": (200, {"Content-Type": "application/json; charset=zip"}, b'{"ok": true}'),
        "/soon": (
            200,
            {"Content-Type": "application/json"},
            b'{"access_token": "x", "expires_at": "soon", "token_type": "bearer"}',
        ),
        "/list": (200, {"Content-Type": "application/json"}, b"[1]"),
        "/away": (302, {"Location": "http://127.0.0.1:1/"}, b""),
        "/broken": (500, {}, b"<html>"),
    }

    def _answer(self) -> None:
        self.rfile.read(int(self.headers.get("Content-Length") or 0))
        status, headers, body = self.answers[self.path.partition("?")[0]]
        self.send_response(status)
        for name, text in {**headers, "Content-Length": str(len(body))}.items():
            self.send_header(name, text)
        self.end_headers()
        self.wfile.write(body)

    do_GET = do_POST = _answer

    def log_message(self, *_: object) -> None:
        pass


class OutgoingCalls(TestCase):
    """Whatever a service answers is an outcome with a name."""

    def setUp(self) -> None:
        self.world = make_world()
        self.server = HTTPServer(("127.0.0.1", 0), _Odd)
        threading.Thread(target=self.server.serve_forever, daemon=True).start()
        self.addCleanup(self.server.server_close)
        self.addCleanup(self.server.shutdown)
        self.base = f"http://127.0.0.1:{self.server.server_port}"
        allowed = override_settings(FETCH_HOSTS=["127.0.0.1"])
        allowed.enable()
        self.addCleanup(allowed.disable)

    def service(self, **changes: Any) -> Any:
        described = shipped()["webhook"].model_dump(mode="json")
        described |= {"base": self.base, "sign_in": {"kind": "none"}, **changes}
        return connect(
            self.world.workspace, "Odd", "", ServiceDescription.model_validate(described)
        )

    def test_a_charset_that_is_none(self) -> None:
        with Line(self.service()) as line:
            answer = line.ask(Call(method="GET", path="/zip"), {})
        self.assertEqual((answer.status, answer.json), (200, {"ok": True}))

    def test_addresses_that_cannot_be_asked(self) -> None:
        row = self.service()
        for base in (
            "http://①27.0.0.1",
            "http://a\tb.example",
            "http://[::1",
            "http://x:99999",
            "http://" + "a" * 300,
        ):
            row.description = {**row.description, "base": base}
            with Line(row) as line:
                answer = line.ask(Call(method="GET", path="/x"), {})
            self.assertIsNone(answer.status, base)
            self.assertTrue(answer.error, base)

    def test_a_secret_that_signs_nothing(self) -> None:
        row = self.service(sign_in={"kind": "signed"})
        for secret in ("whsec_", "not base64 !!"):
            keep_secrets(row, {"signing": secret})
            row.save()
            with Line(row) as line:
                answer = line.ask(Call(method="POST", path="/zip", body={}), {})
            self.assertIn("cannot be signed", answer.error)

    def test_a_token_that_is_not_given(self) -> None:
        for at in (
            "/soon",
            "/list",
            "/away",
            "/broken",
            "http://10.0.0.1/token",
            "http://127.0.0.1:1/token",
        ):
            row = self.service(
                sign_in={"kind": "oauth_code", "agree_at": "/agree", "token_at": at, "scopes": []}
            )
            keep_secrets(
                row,
                {"client_id": "x", "state": "state", "verifier": "v", "back": "https://a.example/"},
            )
            row.save()
            with self.assertRaises(SignInFailed, msg=at) as failed:
                finish(row, "code", "state")
            self.assertIn("gives no token", str(failed.exception))
            with self.assertRaises(SignInFailed):
                finish(row, "code", "é")
            row.delete()


class Told(Telling):
    def test_an_event_with_no_number_is_refused_for_good(self) -> None:
        answer = self.call(json.dumps(self.order(amount=float("nan"))))
        self.assertEqual(answer.status_code, 422, answer.content)


class Strangers(TestCase):
    """Emails from strangers, bounded before any parser sees them."""

    def test_what_no_genuine_email_has_is_cut(self) -> None:
        attacks = {
            "a long From": b"From: " + b"a <a@b.example>, " * 25_000 + b"\r\n\r\nx",
            "a folded From": b"From: " + b"a <a@b.example>,\r\n " * 25_000 + b"\r\n\r\nx",
            "parts in parts": b"".join(
                b"Content-Type: multipart/mixed; boundary=b%d\r\n\r\n--b%d\r\n" % (n, n)
                for n in range(200)
            ),
            "parameters": b"Content-Type: text/plain; "
            + b"; ".join(b"a*%d=x" % n for n in range(20_000))
            + b"\r\n\r\nx",
            "many parts": b"Content-Type: multipart/mixed; boundary=b\r\n\r\n"
            + b"--b\r\n\r\nx\r\n" * 20_000,
            "many headers": b"".join(b"X-%d: x\r\n" % n for n in range(30_000)) + b"\r\nx",
        }
        for name, content in attacks.items():
            kept = bounded_email(content, 10**6)
            self.assertLess(len(kept), 64_000, name)
            self.assertLess(kept.lower().count(b"multipart/"), 20, name)
        self.assertEqual(sandbox.read_returned(attacks["parts in parts"]).kind, "unknown")

    def test_a_genuine_one_stays_as_it_is(self) -> None:
        from core.tests import test_returned

        looked_at = 0
        for name in dir(test_returned):
            value = getattr(test_returned, name)
            if isinstance(value, bytes | str) and "\n" in (
                value if isinstance(value, str) else value.decode("latin-1")
            ):
                raw = value.encode() if isinstance(value, str) else value
                self.assertEqual(bounded_email(raw, 10**6), raw, name)
                looked_at += 1
        self.assertGreaterEqual(looked_at, 1)

    def test_one_address_has_so_many_conversations_and_leaves_room_for_others(self) -> None:
        async def talk() -> list[bytes]:
            loop = asyncio.get_running_loop()
            server = await loop.create_server(lambda: _BoundedSmtp(Handler()), "127.0.0.1", 0)
            port = server.sockets[0].getsockname()[1]
            peers = [await asyncio.open_connection("127.0.0.1", port) for _ in range(MOST_EACH + 3)]
            said = [await asyncio.wait_for(reader.readline(), 10) for reader, _ in peers]
            elsewhere, other = await asyncio.open_connection(
                "127.0.0.1", port, local_addr=("127.0.0.2", 0)
            )
            said.append(await asyncio.wait_for(elsewhere.readline(), 10))
            for _, writer in [*peers, (elsewhere, other)]:
                writer.close()
            server.close()
            return said

        said = asyncio.run(talk())
        self.assertEqual([one[:3] for one in said], [b"220"] * MOST_EACH + [b"421"] * 3 + [b"220"])
