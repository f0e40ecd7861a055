"""Posts as browsers and programs send them: encodings, bounds, what is held, what is refused."""

import time
from typing import Any
from urllib.parse import urlencode

from django.test import Client, TestCase, override_settings

from core.deciding import ConsentLine, OwnForm, RouteDocument, VisitorSees
from core.reading import LEAST_SECONDS, MOST_USES
from server.people.models import Membership, Subscriber
from server.routes.actions import turn_on
from server.routing.routing import route_submission
from server.snags.models import Snag
from server.sources.actions import make_source, route_of_revision, save_route_draft
from server.sources.models import Source
from server.sources.open_forms import forget
from server.sources.tokens import new_rendering, try_token
from server.submissions.log import mark_test, release
from server.submissions.models import Submission
from server.submissions.receiving import send_test
from server.workspaces.errors import Refused
from tests.world import BACKEND, make_world

FORM = "application/x-www-form-urlencoded"
State = Submission.State


class Posts(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.address = f"/f/{self.world.source.key}"
        self.client = Client(enforce_csrf_checks=True)
        forget(self.world.source)

    def submissions(self) -> list[Submission]:
        return list(Submission.objects.of(self.world.workspace).order_by("received_at", "pk"))

    def token(self, seconds_ago: float = 20) -> str:
        live = self.world.source.revisions.get(state="live")
        return new_rendering(str(live.pk), time.time() - seconds_ago)

    def post_raw(self, body: bytes, kind: str = FORM, **headers: str) -> Any:
        return self.client.post(self.address, body, content_type=kind, **headers)  # type: ignore[arg-type]

    def routed(self) -> Submission:
        one = self.submissions()[-1]
        route_submission(str(one.pk))
        one.refresh_from_db()
        return one


class Encodings(Posts):
    """WHATWG URL 5.1 (urlencoded parsing), WHATWG HTML `_charset_`, RFC 7578 for multipart."""

    def test_the_standards_parsing(self) -> None:
        # Plus is a space, the first "=" divides, empty pieces fall away, broken escapes stay.
        self.post_raw(b"email=a%40b.example&&first_name=a+b%2Bc%zz=d&first_name=second&=x&flag")
        [one] = self.submissions()
        self.assertEqual(
            one.answers,
            [
                ["email", "a@b.example"],
                ["first_name", "a b+c%zz=d"],
                ["first_name", "second"],
                ["", "x"],
                ["flag", ""],
            ],
        )
        self.assertEqual(bytes(one.raw or b"")[:5], b"email")

    def test_four_byte_characters_and_right_to_left(self) -> None:
        name = "עדי 🔭 \u202eabc"
        self.post_raw(urlencode({"email": "a@b.example", "first_name": name}).encode())
        self.assertIn(["first_name", name], self.submissions()[0].answers)

    def test_the_encoding_of_the_page_by_charset(self) -> None:
        body = b"_charset_=windows-1252&email=a%40b.example&first_name=Jos%E9"
        self.post_raw(body)
        [one] = self.submissions()
        self.assertEqual(one.answers, [["email", "a@b.example"], ["first_name", "José"]])

    def test_bytes_that_are_not_utf_8_are_read_as_windows_1252(self) -> None:
        self.post_raw(b"email=a%40b.example&first_name=Jos%E9")
        self.assertIn(["first_name", "José"], self.submissions()[0].answers)

    def test_multipart_in_its_order_with_an_empty_file_box(self) -> None:
        parts = [
            b'--x\r\nContent-Disposition: form-data; name="email"\r\n\r\na@b.example\r\n',
            b'--x\r\nContent-Disposition: form-data; name="first_name"\r\n\r\nZo\xc3\xab\r\n',
            b'--x\r\nContent-Disposition: form-data; name="cv"; filename=""\r\n'
            b"Content-Type: application/octet-stream\r\n\r\n\r\n--x--\r\n",
        ]
        answer = self.post_raw(b"".join(parts), "multipart/form-data; boundary=x")
        self.assertEqual(answer.status_code, 303)
        self.assertEqual(
            self.submissions()[0].answers,
            [["email", "a@b.example"], ["first_name", "Zoë"], ["cv", ""]],
        )

    def test_a_file_is_refused_before_it_is_read(self) -> None:
        part = (
            b'--x\r\nContent-Disposition: form-data; name="cv"; filename="a.txt"\r\n\r\n'
            b"hello\r\n--x--\r\n"
        )
        answer = self.post_raw(part, "multipart/form-data; boundary=x")
        self.assertContains(answer, "does not take files", status_code=413)

    def test_bounds(self) -> None:
        self.assertEqual(self.post_raw(b"a=" + b"x" * 70_000).status_code, 413)
        self.assertEqual(self.post_raw(b"a=1&" * 300).status_code, 413)
        broken = self.post_raw(b"--x\r\nnonsense", "multipart/form-data; boundary=")
        self.assertEqual(broken.status_code, 400)
        self.assertEqual(self.submissions(), [])

    def test_no_nul_and_no_markup_that_runs(self) -> None:
        body = urlencode({"email": "nonsense", "first_name": "<script>\0x</script>"}).encode()
        page = self.post_raw(body).content.decode()
        self.assertIn("&lt;script&gt;\ufffdx", page)
        self.assertNotIn("<script>", page)


class Held(Posts):
    """What looks like a program's post is kept, visible, and let through by a member."""

    def send(self, **more: str) -> Submission:
        answers = {"_rendering": self.token(), "email": f"p{len(self.submissions())}@b.example"}
        self.client.post(self.address, answers | more)
        return self.routed()

    def test_a_box_that_people_do_not_see(self) -> None:
        one = self.send(_website="https://spam.example")
        self.assertEqual(one.state, State.HELD)
        self.assertIn("do not see", one.held_because)
        self.assertEqual(Subscriber.objects.of(self.world.workspace).count(), 0)
        self.assertEqual(release(self.world.workspace, [one.pk]), 1)
        self.assertEqual(self.routed().state, State.ROUTED)

    def test_who_is_looked_at_first_is_promised_nothing(self) -> None:
        for more, waits in (
            ({"_website": "https://spam.example"}, True),
            ({"_rendering": self.token(LEAST_SECONDS / 2)}, True),
            ({}, False),
        ):
            answers = {"_rendering": self.token(), "email": "ines@b.example", **more}
            said = self.client.post(self.address, answers)
            page = self.client.get(said.headers["Location"])
            script = self.client.post(
                self.address,
                {**answers, "email": "bo@b.example"},
                headers={"Accept": "application/json"},
            ).json()["html"]
            for text in (page.content.decode(), script):
                with self.subTest(more, text=text):
                    self.assertEqual("It is on its way." in text, not waits)
                    self.assertEqual("We have received what you sent." in text, waits)

    def test_what_is_held_shows_what_would_become_of_it(self) -> None:
        one = self.send(_website="https://spam.example", first_name="Ines", look="moon")
        client = Client()
        client.force_login(self.world.user, BACKEND)
        at = f"/api/workspaces/{self.world.workspace.slug}/submissions/{one.pk}"
        shown = client.get(at).json()
        self.assertEqual((shown["state"], shown["decision"]), ("held", None))
        self.assertEqual(shown["labels"]["first_name"], "First name")
        foreseen = client.get(f"{at}/foreseen").json()["decision"]
        values = {line["question"]: line["value"] for line in foreseen["reading"]}
        self.assertEqual(values["first_name"], "Ines")
        self.assertEqual(Subscriber.objects.of(self.world.workspace).count(), 0)
        self.assertEqual(release(self.world.workspace, [one.pk]), 1)
        made = self.routed()
        self.assertEqual(made.state, State.ROUTED)
        done = client.get(at).json()["decision"]
        for name in ("reading", "address", "is_new", "problems"):
            self.assertEqual(foreseen[name], done[name], name)
        kinds = [one["kind"] for one in done["effects"]]
        self.assertEqual([one["kind"] for one in foreseen["effects"]], kinds)
        self.assertGreater(len(kinds), 2)
        self.assertIsNone(client.get(f"{at}/foreseen").json()["decision"])

    def test_faster_than_a_person(self) -> None:
        one = self.send(_rendering=self.token(LEAST_SECONDS / 2))
        self.assertEqual(one.state, State.HELD)
        self.assertEqual(self.send().state, State.ROUTED)

    def test_one_rendering_sent_many_times(self) -> None:
        token = self.token()
        states = [self.send(_rendering=token).state for _ in range(MOST_USES + 1)]
        self.assertEqual(states, [State.ROUTED] * MOST_USES + [State.HELD])

    @override_settings(POSTS_PER_VISITOR=3)
    def test_many_from_one_network_address(self) -> None:
        states = [self.send().state for _ in range(4)]
        self.assertEqual(states, [State.ROUTED] * 3 + [State.HELD])
        answers = {"_rendering": self.token(), "email": "other@b.example"}
        self.client.post(self.address, answers, REMOTE_ADDR="192.0.2.7")
        self.assertEqual(self.routed().state, State.ROUTED)
        # The address itself is not kept, only a keyed hash of it.
        self.assertNotIn("127.0.0.1", {one.visitor for one in self.submissions()})

    @override_settings(PROXIES=1)
    def test_the_address_behind_a_proxy_and_not_what_a_visitor_says(self) -> None:
        def sent(forwarded: str) -> str:
            answers = {"_rendering": self.token(), "email": "a@b.example"}
            self.client.post(self.address, answers, headers={"X-Forwarded-For": forwarded})
            return str(self.submissions()[-1].context["ip"])

        self.assertEqual(sent("192.0.2.7"), "192.0.2.7")
        # What comes before the proxy's own entry is the visitor's own saying.
        self.assertEqual(sent("198.51.100.1, 192.0.2.7"), "192.0.2.7")
        self.assertEqual(sent("nonsense"), "127.0.0.1")

    @override_settings(POSTS_PER_MINUTE=2)
    def test_too_many_of_one_source_are_asked_to_wait(self) -> None:
        for number in range(3):
            forget(self.world.source)
            self.client.post(self.address, {"email": f"p{number}@b.example"})
        forget(self.world.source)
        answer = self.client.post(self.address, {"email": "late@b.example"})
        self.assertEqual((answer.status_code, answer.headers["Retry-After"]), (429, "60"))


class Elsewhere(Posts):
    """The form as a piece of another page: readable for its script, from any website."""

    def test_the_part_and_a_post_of_it(self) -> None:
        origin: Any = {"HTTP_ORIGIN": "https://www.example.org"}
        part = self.client.get(f"{self.address}/part", **origin)
        self.assertEqual(part.headers["Access-Control-Allow-Origin"], "*")
        self.assertIn('name="_website"', part.json()["html"])
        wrong = self.client.post(
            self.address, {"email": "nonsense"}, HTTP_ACCEPT="application/json", **origin
        )
        self.assertEqual(wrong.status_code, 422)
        self.assertIn('aria-invalid="true"', wrong.json()["html"])
        sent = {"email": "a@b.example", "_page": "https://www.example.org/x?utm_source=fair"}
        answer = self.client.post(
            self.address, {**sent, "_title": "Guides"}, HTTP_ACCEPT="application/json", **origin
        )
        self.assertEqual(answer.json()["next"], None)
        self.assertIn("It is on its way.", answer.json()["html"])
        context = self.submissions()[0].context
        self.assertEqual(context["title"], "Guides")
        self.assertEqual(context["parameters"], {"utm_source": "fair"})

    def test_nothing_else_is_open_to_other_websites(self) -> None:
        for path in (f"/api/workspaces/{self.world.workspace.slug}/people", "/api/session"):
            answer = self.client.get(path, HTTP_ORIGIN="https://www.example.org")
            self.assertNotIn("Access-Control-Allow-Origin", answer.headers)

    def test_no_cookie_is_set(self) -> None:
        for path in (self.address, f"{self.address}/part", f"{self.address}/thanks"):
            self.assertEqual(len(self.client.get(path).cookies), 0, path)


class Stand(Posts):
    def test_only_where_the_sheet_says_so(self) -> None:
        self.assertEqual(self.client.get(f"{self.address}/kiosk").status_code, 404)

    def test_nothing_is_remembered_between_two_visitors(self) -> None:
        route = route_of_revision(str(self.world.source.revisions.get(state="live").pk))
        form = route.form.model_copy(update={"shared_screen": True})
        draft = route.model_copy(update={"form": form})
        save_route_draft(self.world.source, draft, None, None)
        turn_on(self.world.source, None)
        before = self.client.get(f"{self.address}/stand?utm_source=fair")
        self.assertRedirects(before, f"{self.address}/kiosk?utm_source=fair")
        page = self.client.get(f"{self.address}/kiosk")
        self.assertContains(page, 'autocomplete="off"')
        self.assertNotContains(page, 'autocomplete="email"')
        self.assertIn("no-store", page.headers["Cache-Control"])
        for number in range(100):
            answer = self.client.post(
                f"{self.address}/kiosk",
                {"_rendering": self.token(), "email": f"p{number}@b.example"},
            )
            self.assertEqual(answer.headers["Location"], f"{self.address}/kiosk/thanks")
        thanks = self.client.get(answer.headers["Location"])
        self.assertContains(thanks, f"url={self.address}/kiosk")
        for one in self.submissions():
            route_submission(str(one.pk))
        routed = Submission.objects.of(self.world.workspace).filter(state=State.ROUTED)
        self.assertEqual(routed.count(), 100)


class OwnForms(Posts):
    """A posted HTML form of somebody's own."""

    def setUp(self) -> None:
        super().setUp()
        fields = {one.key: str(one.pk) for one in self.world.workspace.field_set.all()}
        self.source = make_source(
            self.world.workspace, "Partner", self.world.member, kind=Source.Kind.POSTED
        )
        self.address = f"/f/{self.source.key}"
        self.document = RouteDocument.model_validate(
            {
                "read_as": [{"id": "r1", "question": "E-mail", "field": fields["email"]}],
                "visitor_sees": {"kind": "page", "address": "https://www.example.org/thanks"},
            }
        )
        self.turn_on(self.document)

    def turn_on(self, document: RouteDocument) -> None:
        save_route_draft(self.source, document, None, None)
        turn_on(self.source, None)
        forget(self.source)

    def test_any_names_are_kept(self) -> None:
        answer = self.client.post(self.address, {"E-mail": "a@b.example", "walk": "Ridge"})
        self.assertEqual(answer.headers["Location"], "https://www.example.org/thanks")
        self.assertEqual(self.routed().answers, [["E-mail", "a@b.example"], ["walk", "Ridge"]])

    def test_what_to_mend_goes_back_to_an_allowed_website_alone(self) -> None:
        page = "https://www.example.org/walks?x=1"
        plain = self.client.post(self.address, {"E-mail": "no"}, HTTP_REFERER=page)
        self.assertEqual(plain.status_code, 422)
        own = OwnForm(sites=("https://www.example.org",))
        self.turn_on(self.document.model_copy(update={"own_form": own}))
        back = self.client.post(self.address, {"E-mail": "no"}, HTTP_REFERER=page)
        self.assertEqual(
            back.headers["Location"],
            "https://www.example.org/walks?x=1&wrong=E-mail%3Anot_an_email",
        )
        evil = self.client.post(
            self.address, {"E-mail": "no"}, HTTP_REFERER="https://evil.example/www.example.org"
        )
        self.assertEqual(evil.status_code, 422)

    def test_no_visitor_says_where_it_goes(self) -> None:
        sent = {
            "E-mail": "a@b.example",
            "redirect": "https://evil.example",
            "next": "//evil.example",
        }
        answer = self.client.post(f"{self.address}?next=https://evil.example", sent)
        self.assertEqual(answer.headers["Location"], "https://www.example.org/thanks")

    def test_an_address_under_a_name_close_to_the_mapped_one_is_held_not_lost(self) -> None:
        answer = self.client.post(self.address, {"Email": "ines@example.com"})
        self.assertRegex(answer.headers["Location"], r"^/f/partner-\w+/thanks\?state=waits$")
        one = Submission.everywhere.get(source=self.source)
        self.assertEqual((one.state, one.answers), ("held", [["Email", "ines@example.com"]]))
        self.assertIn("“Email” holds one", one.held_because)
        read = self.document.read_as[0].model_copy(update={"question": "Email"})
        self.turn_on(self.document.model_copy(update={"read_as": (read,)}))
        self.assertEqual(release(self.world.workspace, [one.pk]), 1)
        self.assertEqual(self.routed().state, "routed")

    def test_a_post_without_any_address_is_refused_and_its_source_hears_of_it(self) -> None:
        for _ in range(2):
            self.assertEqual(self.client.post(self.address, {"walk": "Ridge"}).status_code, 422)
        snag = Snag.objects.of(self.world.workspace).get()
        self.assertIn("was not taken", snag.sentence)
        self.assertFalse(Submission.everywhere.filter(source=self.source).exists())

    def test_a_draft_learns_its_names_from_tries_that_are_never_routed(self) -> None:
        source = make_source(
            self.world.workspace, "New", self.world.member, kind=Source.Kind.POSTED
        )
        self.client.post(f"/f/{source.key}", {"mail": "ines@example.com", "walk": "Ridge"})
        one = Submission.everywhere.get(source=source)
        self.assertEqual((one.state, one.is_test), ("held", True))
        self.assertEqual([name for name, _ in one.answers], ["mail", "walk"])
        route_submission(str(one.pk))
        self.assertFalse(Subscriber.everywhere.filter(address="ines@example.com").exists())

    def test_what_came_to_a_draft_never_counts_as_consent_to_what_it_became(self) -> None:
        source = make_source(
            self.world.workspace, "New", self.world.member, kind=Source.Kind.POSTED
        )
        self.client.post(f"/f/{source.key}", {"E-mail": "ines@example.com"})
        consent = ConsentLine(id="c1", list=str(self.world.news.pk), wording="You get the news.")
        document = self.document.model_copy(update={"consent": (consent,)})
        save_route_draft(source, document, None, None)
        turn_on(source, None)
        one = Submission.everywhere.get(source=source)
        with self.assertRaises(Refused) as caught:
            mark_test(self.world.workspace, [one.pk], False)
        self.assertEqual(caught.exception.problems[0].code, "shown_a_draft")
        release(self.world.workspace, [one.pk])
        route_submission(str(one.pk))
        self.assertFalse(Membership.everywhere.filter(subscriber__is_test=False).exists())

    def test_a_real_one_marked_as_a_test_can_be_marked_back(self) -> None:
        self.client.post(self.address, {"E-mail": "ines@example.com"})
        one = self.routed()
        self.assertEqual(mark_test(self.world.workspace, [one.pk], True), 1)
        self.assertEqual(mark_test(self.world.workspace, [one.pk], False), 1)

    def test_there_is_nothing_to_read(self) -> None:
        self.assertEqual(self.client.get(self.address).status_code, 405)


class Tries(Posts):
    """A member opens the form to try it, as the draft is; what is sent is a test."""

    def test_a_draft_is_tried_and_counts_nowhere(self) -> None:
        route = route_of_revision(str(self.world.source.revisions.get(state="live").pk))
        sees = VisitorSees(heading="From the draft")
        draft = route.model_copy(update={"visitor_sees": sees})
        save_route_draft(self.world.source, draft, None, None)
        real = self.world.arrive("noor@larkmoor.example", first_name="Noor")
        at = f"{self.address}?try={try_token(self.world.source)}"
        self.assertContains(self.client.get(at), "never counts")
        answer = self.client.post(at, {"email": "noor@larkmoor.example", "first_name": "Try"})
        self.assertContains(self.client.get(answer.headers["Location"]), "From the draft")
        one = self.routed()
        self.assertTrue(one.is_test)
        assert one.subscriber is not None
        self.assertTrue(one.subscriber.is_test)
        self.assertNotEqual(one.subscriber.pk, real.pk)
        real.refresh_from_db()
        self.assertEqual(real.values["first_name"], "Noor")
        self.client.force_login(self.world.user, "django.contrib.auth.backends.ModelBackend")
        desk = f"/api/workspaces/{self.world.workspace.slug}"
        self.assertEqual(self.client.get(f"{desk}/people").json()["total"], 1)
        self.assertEqual(self.client.get(f"{desk}/desk").json()["people"], 1)
        [line] = self.client.get(f"{desk}/sources").json()
        self.assertEqual(line["arrived"], 1)

    def test_a_forged_or_foreign_token_opens_nothing(self) -> None:
        other = make_source(self.world.workspace, "Other", self.world.member)
        for token in ("x", try_token(other)):
            self.assertEqual(self.client.get(f"{self.address}?try={token}").status_code, 404)

    def test_the_sample_goes_to_the_members_own_inbox(self) -> None:
        answers = (("email", "stranger@example.com"), ("first_name", "Ines"))
        one = send_test(self.world.source, answers, self.world.member)
        route_submission(str(one.pk))
        one.refresh_from_db()
        assert one.subscriber is not None
        self.assertEqual(one.subscriber.address, self.world.user.email)
        self.assertEqual(len(self.world.sends()), 1)
        self.assertFalse(Subscriber.objects.of(self.world.workspace).filter(is_test=False).exists())
