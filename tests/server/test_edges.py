"""What attackers and odd clients send: refused or cleaned at the edge, never a fault inside."""

import io
import json
import socket
import threading
import time
from base64 import urlsafe_b64encode
from datetime import UTC, datetime
from typing import Any, ClassVar
from unittest import mock

from django.db import connection
from django.test import Client, TestCase, override_settings
from django.test.utils import CaptureQueriesContext
from PIL import Image
from standardwebhooks import Webhook

from core.deciding import RouteDocument
from core.messages import Source as Part
from core.messages import clean_html, simple_message
from core.reading import Question, ReadLine, headings_of
from server.imports.fetching import fetch
from server.mail import sandbox
from server.mail.editing import save_message
from server.mail.files import keep_file
from server.mail.models import live_document
from server.people.actions import make_field
from server.people.models import Fact, Subscriber
from server.routes.actions import turn_on
from server.routing.routing import route_submission
from server.sources.actions import make_source, save_route_draft
from server.sources.models import Source
from server.sources.open_forms import forget
from server.submissions.models import Submission
from server.webhooks.models import Call
from server.workspaces.actions import make_workspace
from server.workspaces.errors import Refused
from server.workspaces.reaching import is_public
from server.workspaces.sealing import opened
from tests.world import BACKEND, PASSWORD, World, make_user, make_world

NUL = "\u0000"


class Api(TestCase):
    world: ClassVar[World]

    @classmethod
    def setUpTestData(cls) -> None:
        cls.world = make_world()

    def setUp(self) -> None:
        self.client = Client(raise_request_exception=False)
        self.client.force_login(self.world.user, BACKEND)
        self.at = f"/api/workspaces/{self.world.workspace.slug}"

    def send(self, method: str, path: str, body: Any = None) -> Any:
        text = json.dumps(body) if body is not None else ""
        return self.client.generic(method, self.at + path, text, "application/json")

    def test_text_that_cannot_be_kept_is_422_wherever_it_stands(self) -> None:
        bad = ("a\u0000b", "\ud800", "a\udfff")
        for text in bad:
            for method, path, body in (
                ("POST", "/tags", {"name": text}),
                ("POST", "/lists", {"name": "x", "description": text}),
                ("POST", "/fields", {"label": text, "type": "text"}),
                ("POST", "/sources", {"name": text}),
                ("POST", "/messages", {"name": text}),
                ("POST", "/sequences", {"name": text}),
                ("PUT", "", {"name": text, "time_zone": text}),
                ("POST", "/conditions/count", {"condition": {"kind": "all", "of": [text]}}),
                ("POST", "/tags", {text: "x"}),
            ):
                with self.subTest(path=path, text=ascii(text)):
                    answer = self.send(method, path, body)
                    self.assertEqual(answer.status_code, 422, answer.content)
                    self.assertEqual(answer["Content-Type"], "application/problem+json")
        for path in (
            "/people?text=%00",
            "/people?%00=a",
            "/submissions?text=a%00",
            "/history?member_name=%00",
        ):
            self.assertEqual(self.client.get(self.at + path).status_code, 422, path)
        self.assertEqual(self.client.get(self.at + "/peo%00ple").status_code, 422)
        self.assertEqual(self.client.get("/f/%00").status_code, 404)

    def test_the_place_is_named(self) -> None:
        answer = self.send("POST", "/tags", {"name": f"x{NUL}"})
        self.assertEqual(answer.json()["errors"][0]["place"], "name")

    def test_cursors_that_are_none(self) -> None:
        for mark in (
            "x",
            "²",
            "%FF",
            "[]",
            "e30=",
            *(
                urlsafe_b64encode(json.dumps(one).encode()).decode()
                for one in (
                    1,
                    [1, 2],
                    ["2026-01-01", "x"],
                    [None, None],
                    ["2026-01-01T00:00:00", str(self.world.source.pk)],
                    ["2026-01-01T00:00:00+00:00", 7],
                    {"a": 1},
                    ["9" * 400, "y"],
                )
            ),
        ):
            for path in ("/people", "/submissions", "/history", "/suppression"):
                answer = self.client.get(f"{self.at}{path}", {"after": mark})
                self.assertEqual(answer.status_code, 422, (path, mark, answer.content))

    def test_pages_by_key_are_one_comparison_of_rows(self) -> None:
        for number in range(130):
            self.world.arrive(f"p{number}@example.com")
        seen: list[str] = []
        after = ""
        while True:
            page = self.client.get(f"{self.at}/people", {"after": after} if after else {}).json()
            seen += [one["address"] for one in page["people"]]
            after = page["next"]
            if not after:
                break
        self.assertEqual(len(seen), len(set(seen)))
        self.assertEqual(len(seen), 130)
        first = self.client.get(f"{self.at}/people").json()["next"]
        with CaptureQueriesContext(connection) as queries:
            self.client.get(f"{self.at}/people", {"after": first})
        (paged,) = (one["sql"] for one in queries if "< (" in one["sql"])
        self.assertNotIn(" OR ", paged)

    def test_shapes_and_pictures(self) -> None:
        source = make_source(self.world.workspace, "File", self.world.member, kind=Source.Kind.FILE)
        made = self.send("POST", f"/sources/{source.pk}/files", {"name": "a.csv", "size": 9})
        self.assertEqual(made.status_code, 200, made.content)
        file = made.json()["id"]
        for shape in (
            {"delimiter": ";" * 1000},
            {"delimiter": ""},
            {"quote": "ab"},
            {"delimiter": "\n"},
        ):
            answer = self.send("PUT", f"/files/{file}/shape", {"format": "csv", **shape})
            self.assertEqual(answer.status_code, 422, (shape, answer.content))
        wide = io.BytesIO()
        Image.new("1", (390_000, 2)).save(wide, "PNG")
        answer = self.client.post(f"{self.at}/pictures", wide.getvalue(), "image/png")
        self.assertIn(answer.status_code, (200, 422), answer.content)

    def test_a_token_that_is_not_ascii(self) -> None:
        answer = self.client.get("/outside/clock", headers={"Authorization": "Bearer é²"})
        self.assertEqual(answer.status_code, 403)

    def test_every_operation_names_its_errors(self) -> None:
        described = self.client.get("/api/openapi.json").json()
        for path, operations in described["paths"].items():
            for method, one in operations.items():
                missing = {"400", "401", "403", "404", "405", "409", "413", "422", "429"} - set(
                    one["responses"]
                )
                self.assertEqual(missing, set(), (method, path))


class SigningIn(TestCase):
    def setUp(self) -> None:
        make_workspace("Other", make_user("ada@larkmoor.example"))
        make_user()

    def try_it(self, address: str, password: str) -> int:
        client = Client(enforce_csrf_checks=True)
        token = client.get("/api/session").json()["csrf"]
        body = json.dumps({"address": address, "password": password})
        return client.post(
            "/api/session", body, "application/json", headers={"X-CSRFToken": token}
        ).status_code

    def test_ten_tries_of_one_account_lock_no_other(self) -> None:
        tries = [self.try_it("noor@larkmoor.example", "wrong") for _ in range(11)]
        self.assertEqual((set(tries[:9]), tries[-1]), ({401}, 429))
        self.assertEqual(self.try_it("noor@larkmoor.example", PASSWORD), 429)
        self.assertEqual(self.try_it("ada@larkmoor.example", PASSWORD), 200)

    @override_settings(FAILURES_PER_NETWORK=30)
    def test_many_accounts_from_one_network_are_too_many(self) -> None:
        for number in range(30):
            self.assertEqual(self.try_it(f"a{number}@larkmoor.example", "wrong"), 401)
        self.assertEqual(self.try_it("ada@larkmoor.example", PASSWORD), 429)

    def test_not_from_another_website(self) -> None:
        client = Client(enforce_csrf_checks=True)
        body = json.dumps({"address": "ada@larkmoor.example", "password": PASSWORD})
        self.assertEqual(client.post("/api/session", body, "application/json").status_code, 403)


class Forged(TestCase):
    """Standard Webhooks: whatever does not verify is refused."""

    def setUp(self) -> None:
        self.world = make_world()
        self.source = make_source(
            self.world.workspace, "Shop", self.world.member, kind=Source.Kind.WEBHOOK
        )
        document = RouteDocument.model_validate(
            {"read_as": [{"id": "r1", "question": "email", "field": self.email()}]}
        )
        save_route_draft(self.source, document, 1, None)
        turn_on(self.source, None)
        self.body = b'{"email": "ines@example.com"}'
        self.moment = datetime.now(UTC)

    def email(self) -> str:
        return str(self.world.workspace.field_set.get(key="email").pk)

    def call(self, signature: str, at: str = "", body: bytes | None = None) -> int:
        headers = {
            "webhook-id": "msg_1",
            "webhook-timestamp": at or str(int(self.moment.timestamp())),
            "webhook-signature": signature,
        }
        return self.client.post(
            f"/hook/{self.source.key}",
            self.body if body is None else body,
            "application/json",
            headers=headers,
        ).status_code

    def test_none_is_taken(self) -> None:
        right = Webhook(opened(self.source.secret)).sign("msg_1", self.moment, self.body.decode())
        other = Webhook("whsec_" + "A" * 32).sign("msg_1", self.moment, self.body.decode())
        for signature in (
            "garbage",
            "v1,abc",
            "v1,a,b",
            "v1,",
            ",",
            " ",
            "v1",
            "v2," + right[3:],
            other,
            right[:-4] + "AAA=",
            "v1,é",
            "v1,\x7f",
            "v1a," + right[3:],
        ):
            self.assertEqual(self.call(signature), 401, signature)
        self.assertEqual(self.call(right, body=self.body + b" "), 401)
        self.assertEqual(self.call(right, at="nan"), 401)
        self.assertEqual(self.call(right, at="1e400"), 401)
        self.assertEqual(self.call(right, body=b"\xff\xfe"), 401)
        self.assertFalse(Submission.everywhere.exists())
        self.assertEqual(Call.everywhere.exclude(status=401).count(), 0)
        self.assertEqual(self.call(right), 202)


class Costly(TestCase):
    """A message that would take the server down is not even stored."""

    BOMBS = (
        "{% assign a=(1..100000000) %}{{ a | join: ',' | size }}",
        "{{ (1..30000000) | reverse }}",
        "{% assign x = 'aaaaaaaaaa' %}" + "{% assign x = x | append: x %}" * 60 + "{{ x }}",
        "{% assign x = 9999999 %}" + "{% assign x = x | times: x %}" * 40 + "{{ x }}",
        "{% assign l = 'a,b,c,d,e,f,g,h,i,j' | split: ',' %}"
        + "".join(f"{{% for a{n} in l %}}" for n in range(9))
        + "x"
        + "{% endfor %}" * 9,
        "{% if a %}" * 5000 + "{% endif %}" * 5000,
    )

    def setUp(self) -> None:
        self.world = make_world()

    def test_each_is_refused_and_nothing_is_stored(self) -> None:
        before = live_document(self.world.guide)
        for number, bomb in enumerate(self.BOMBS):
            with self.subTest(number=number), self.assertRaises(Refused):
                save_message(self.world.guide, simple_message(body=f"<p>{bomb}</p>"), None, None)
        self.assertEqual(live_document(self.world.guide), before)
        self.assertEqual(self.world.guide.revisions.count(), 1)

    def test_a_link_of_many_braces_costs_in_proportion(self) -> None:
        def seconds(braces: int) -> float:
            body = '<p><a href="' + "{{" * braces + '">x</a></p>'
            began = time.perf_counter()
            clean_html(body)
            return time.perf_counter() - began

        short = min(seconds(1000) for _ in range(5))
        long = min(seconds(8000) for _ in range(5))
        # Eight times the length: 64 times the time would be quadratic.
        self.assertLess(long / short, 30)

    def test_the_process_that_takes_too_long_is_ended_and_the_next_text_is_written(self) -> None:
        slow = [Part("html", "{% cycle 'a', 'b' %}" * 5000)]
        with mock.patch.object(sandbox, "SECONDS", 0.001):
            found = sandbox.write(slow, {})
        self.assertEqual(getattr(found, "code", ""), "too_costly")
        again = sandbox.write([Part("html", "<p>{{ a }}</p>")], {"a": "<b>"})
        self.assertEqual(getattr(again, "parts", ()), ("<p>&lt;b&gt;</p>",))

    def test_of_many_people_each_gets_their_own_text(self) -> None:
        parts = [Part("plain", "{% for one in many %}{{ one }}{% endfor %}{{ name }}")]
        contexts: list[dict[str, object]] = [
            {"name": "Ines"},
            {"many": ["x"] * 1_500, "name": "Noor"},
            {"name": "Ada"},
        ]
        found = sandbox.write_all(parts, contexts)
        self.assertEqual(
            [getattr(one, "parts", None) or getattr(one, "code", "") for one in found],
            [("Ines",), "too_costly", ("Ada",)],
        )

    def test_of_many_people_those_for_whom_a_process_ended_are_problems_alone(self) -> None:
        slow = [Part("html", "{% cycle 'a', 'b' %}" * 5000)]
        with mock.patch.object(sandbox, "SECONDS", 0.001):
            found = sandbox.write_all(slow, [{}, {}, {}])
        self.assertEqual([getattr(one, "code", "") for one in found], ["too_costly"] * 3)


class Files(TestCase):
    def setUp(self) -> None:
        self.world = make_world()

    def test_programs_under_other_spellings(self) -> None:
        for name in ("x.exe", "x.exe ", "x.EXE.", "x.exe. .", "x.pdf.exe", "x.Exe .", "a/b\\x.js "):
            with self.subTest(name=name), self.assertRaises(Refused):
                keep_file(self.world.workspace, name, "application/pdf", b"x")
        self.assertEqual(
            keep_file(self.world.workspace, "guide.v2.pdf", "a/b", b"x").name, "guide.v2.pdf"
        )

    def test_of_very_many_headings_only_so_many_are_named(self) -> None:
        found = headings_of(tuple("same" for _ in range(100_000)))
        self.assertEqual((len(found), len(set(found))), (200, 200))


class Fetching(TestCase):
    def test_addresses_that_lead_inside(self) -> None:
        for inside in (
            "127.0.0.1", "10.0.0.1", "169.254.1.1", "::1", "fe80::1%eth0", "64:ff9b::7f00:1",
            "64:ff9b:1::1", "2002:7f00:1::", "::7f00:1", "::ffff:127.0.0.1", "224.0.0.1", "ff02::1",
            "0.0.0.0",
        ):  # fmt: skip
            self.assertFalse(is_public(inside), inside)
        for public in ("93.184.216.34", "2606:2800:220:1::1"):
            self.assertTrue(is_public(public), public)

    def test_odd_addresses_are_problems(self) -> None:
        for address in (
            "http://[::1]/x",
            "http://[x/",
            "http://[::1%25lo]:99999/",
            "https://\ud800.example/",
        ):
            self.assertTrue(getattr(fetch(address), "code", ""), ascii(address))

    def test_one_deadline_for_all_of_it(self) -> None:
        server = socket.create_server(("127.0.0.1", 0))
        port = server.getsockname()[1]
        sent: list[int] = []

        def drip() -> None:
            peer, _ = server.accept()
            with peer:
                peer.sendall(b"HTTP/1.1 200 OK\r\nContent-Type: text/csv\r\n\r\n")
                for _ in range(100):
                    time.sleep(0.2)
                    try:
                        peer.sendall(b"x")
                        sent.append(1)
                    except OSError:
                        return

        threading.Thread(target=drip, daemon=True).start()
        with (
            override_settings(FETCH_HOSTS=[f"127.0.0.1:{port}"]),
            mock.patch("server.imports.fetching._SECONDS_IN_ALL", 1.0),
        ):
            found = fetch(f"http://127.0.0.1:{port}/a.csv")
        self.assertEqual(getattr(found, "code", ""), "too_slow")
        # It did not wait for the hundred bytes.
        self.assertLess(len(sent), 50)


class Zones(TestCase):
    """Where a person is: by a field, by their browser, by a country with one zone."""

    def setUp(self) -> None:
        self.world = make_world()
        self.world.workspace.asks_zone = True
        self.world.workspace.save()

    def post(self, address: str, **more: str) -> str:
        forget(self.world.source)
        self.client.post(f"/f/{self.world.source.key}", {"email": address, **more})
        row = Submission.everywhere.order_by("-received_at")[0]
        route_submission(str(row.pk))
        return str(Subscriber.everywhere.get(address=address).time_zone)

    def test_the_browser_says_so_if_the_workspace_asks(self) -> None:
        page = self.client.get(f"/f/{self.world.source.key}")
        self.assertContains(page, "zone.js")
        self.assertEqual(self.post("a@example.com", _zone="Asia/Kathmandu"), "Asia/Kathmandu")
        self.assertEqual(self.post("b@example.com", _zone="../etc/passwd"), "")
        self.world.workspace.asks_zone = False
        self.world.workspace.save()
        self.assertEqual(self.post("c@example.com", _zone="Asia/Kathmandu"), "")

    def test_a_field_and_a_country_say_so_with_their_reason(self) -> None:
        country = make_field(self.world.workspace, "Home", "country")
        zone = make_field(self.world.workspace, "Zone", "time_zone")
        route = self.world.change_route()
        asked = (
            Question(id="q8", name="home", type="country", label="Home"),
            Question(id="q9", name="zone", type="text", label="Zone"),
        )
        lines = (
            ReadLine(id="r8", question="home", field=str(country.pk)),
            ReadLine(id="r9", question="zone", field=str(zone.pk)),
        )
        form = route.form.model_copy(update={"questions": (*route.form.questions, *asked)})
        self.world.change_route(form=form, read_as=(*route.read_as, *lines))
        nepal = self.world.arrive("a@example.com", home="Nepal")
        self.assertEqual(nepal.time_zone, "Asia/Kathmandu")
        self.assertIn("Nepal has this one time zone", self.reasons(nepal))
        many = self.world.arrive("b@example.com", home="United States")
        self.assertEqual(many.time_zone, "")
        said = self.world.arrive("b@example.com", zone="america/denver")
        self.assertEqual(said.time_zone, "America/Denver")
        self.assertIn("Zone says so", self.reasons(said))

    def reasons(self, person: Subscriber) -> str:
        """All that the trail says of somebody."""
        rows = Fact.objects.of(self.world.workspace).filter(subscriber=person)
        return json.dumps([one.because for one in rows])
