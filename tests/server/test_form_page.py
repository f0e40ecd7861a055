"""The public form: what a browser without JavaScript gets, posts, and gets back."""

import re
import time
from html.parser import HTMLParser
from typing import Any
from unittest import mock

from django.test import Client, TestCase

from core.deciding import Passing, RouteDocument, VisitorSees
from server.routes.actions import turn_on
from server.sources.actions import pause, resume, save_route_draft
from server.sources.open_forms import forget
from server.submissions.models import Submission
from tests.world import make_world


class Inputs(HTMLParser):
    """The inputs of a page, with what they hold."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.values: dict[str, str] = {}
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        one = dict(attrs)
        if tag == "input" and one.get("name"):
            self.values.setdefault(str(one["name"]), one.get("value") or "")


class FormPage(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.address = f"/f/{self.world.source.key}"
        # A visitor is nobody; CSRF checks are on, as they are outside of tests.
        self.client = Client(enforce_csrf_checks=True)

    def opened(self, query: str = "") -> dict[str, str]:
        """The boxes of a page that was opened a while ago."""
        with mock.patch("server.sources.tokens.time.time", return_value=time.time() - 20):
            return self.shown(query)

    def shown(self, query: str = "") -> dict[str, str]:
        return Inputs(self.client.get(self.address + query).content.decode()).values

    def submissions(self) -> int:
        return int(Submission.objects.of(self.world.workspace).count())

    def test_the_page(self) -> None:
        answer = self.client.get(self.address)
        page = answer.content.decode()
        self.assertEqual(answer.status_code, 200)
        self.assertIn('<label for="q1">Email', page)
        self.assertIn("You also get the news.", page)
        self.assertNotIn("<script", page)
        self.assertIn("frame-ancestors *", answer.headers["Content-Security-Policy"])
        self.assertNotIn("X-Frame-Options", answer.headers)

    def test_a_browser_fills_in_the_part_of_the_name_that_is_asked_for(self) -> None:
        page = self.client.get(self.address).content.decode()
        [box] = re.findall(r'<input id="[^"]+" name="first_name"[^>]*>', page)
        self.assertIn('autocomplete="given-name"', box)

    def test_a_post_is_stored_and_answered_with_303(self) -> None:
        answers = self.opened("?utm_source=poster") | {"email": "Ines@Example.com", "look": "moon"}
        answer = self.client.post(self.address, answers)
        self.assertEqual(answer.status_code, 303)
        self.assertEqual(answer.headers["Location"], f"{self.address}/thanks")
        stored = Submission.objects.of(self.world.workspace).get()
        self.assertIn(["email", "Ines@Example.com"], stored.answers)
        self.assertIn(["utm_source", "poster"], stored.answers)
        self.assertFalse([name for name, _ in stored.answers if name.startswith("_")])
        thanks = self.client.get(answer.headers["Location"])
        self.assertContains(thanks, "It is on its way.")

    def test_two_posts_of_one_rendering_are_one_submission(self) -> None:
        answers = self.opened() | {"email": "ines@example.com"}
        first = self.client.post(self.address, answers)
        second = self.client.post(self.address, answers)
        self.assertEqual((first.status_code, second.status_code), (303, 303))
        self.assertEqual(self.submissions(), 1)
        self.client.post(self.address, self.opened() | {"email": "ines@example.com"})
        self.assertEqual(self.submissions(), 2)

    def test_a_correction_after_going_back_is_not_lost(self) -> None:
        answers = self.opened()
        self.client.post(self.address, answers | {"email": "inse@example.com"})
        self.client.post(self.address, answers | {"email": "ines@example.com"})
        self.assertEqual(self.submissions(), 2)

    def test_wrong_input_comes_back_with_what_to_fix(self) -> None:
        answers = self.opened() | {
            "email": "ines example.com",
            "first_name": 'I"<b>',
            "look": "mars",
        }
        answer = self.client.post(self.address, answers)
        page = answer.content.decode()
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.submissions(), 0)
        self.assertIn('value="ines example.com"', page)
        self.assertIn("I&quot;&lt;b&gt;", page)
        self.assertIn('role="alert"', page)
        self.assertIn('aria-invalid="true"', page)
        self.assertIn('aria-describedby="q1-wrong"', page)
        fixed = Inputs(page).values | {"email": "ines@example.com", "look": "moon"}
        self.assertEqual(self.client.post(self.address, fixed).status_code, 303)
        self.assertEqual(self.submissions(), 1)

    def test_a_forged_rendering_is_a_rendering_of_its_own(self) -> None:
        answers = {"email": "ines@example.com", "_rendering": "x:y:z"}
        self.assertEqual(self.client.post(self.address, answers).status_code, 303)
        self.assertEqual(self.client.post(self.address, answers).status_code, 303)
        self.assertEqual(self.submissions(), 2)

    def test_a_form_rendered_before_a_change_is_judged_by_what_it_showed(self) -> None:
        answers = self.opened() | {"email": "ines@example.com", "look": "planets"}
        self.change(
            lambda route: route.model_copy(
                update={
                    "form": route.form.model_copy(update={"questions": route.form.questions[:2]}),
                    "then": route.then[:1],
                }
            )
        )
        self.assertEqual(self.client.post(self.address, answers).status_code, 303)
        stored = Submission.objects.of(self.world.workspace).get()
        self.assertEqual(stored.shown.number, 1)

    def test_another_page_gets_the_chosen_answers_and_nothing_else(self) -> None:
        self.change(
            lambda route: route.model_copy(
                update={
                    "visitor_sees": VisitorSees(
                        kind="page",
                        address="https://www.larkmoor.example/thanks",
                        passing=(Passing(question="first_name", parameter="name"),),
                    )
                }
            )
        )
        answers = self.opened() | {
            "email": "ines@example.com",
            "first_name": "Ines & co\r\nLocation: https://evil.example",
            "_next": "https://evil.example",
        }
        answer = self.client.post(self.address, answers)
        self.assertEqual(
            answer.headers["Location"],
            "https://www.larkmoor.example/thanks"
            "?name=Ines+%26+co%0D%0ALocation%3A+https%3A%2F%2Fevil.example",
        )
        policy = self.client.get(self.address).headers["Content-Security-Policy"]
        self.assertRegex(policy, r"form-action 'self' https://www\.larkmoor\.example(;|$)")

    def test_too_much_is_refused_with_a_sentence(self) -> None:
        big = self.client.post(self.address, {"email": "a@b.example", "x": "y" * 70_000})
        self.assertEqual(big.status_code, 413)
        self.assertContains(big, "more than a form can take", status_code=413)
        many = self.client.post(self.address, {f"f{number}": "x" for number in range(201)})
        self.assertEqual(many.status_code, 413)
        self.assertEqual(self.submissions(), 0)

    def test_odd_bytes_arrive_whole(self) -> None:
        answers = {"email": "ines@example.com", "first_name": "Zoë \U0001f52d \u202eعلى\x00"}
        self.client.post(self.address, answers)
        stored = dict(Submission.objects.of(self.world.workspace).get().answers)
        self.assertEqual(stored["first_name"], "Zoë \U0001f52d \u202eعلى\ufffd")

    def test_a_form_that_is_not_open(self) -> None:
        pause(self.world.source)
        self.assertContains(self.client.get(self.address), "not open", status_code=404)
        self.assertEqual(self.client.post(self.address, {"email": "a@b.example"}).status_code, 404)
        self.assertEqual(self.client.get("/f/nothing").status_code, 404)
        resume(self.world.source)
        self.assertEqual(self.client.get(self.address).status_code, 200)

    def test_the_ip_address_is_kept_only_where_the_workspace_says_so(self) -> None:
        self.client.post(self.address, {"email": "a@b.example"})
        self.assertIn("ip", Submission.objects.of(self.world.workspace).get().context)
        self.world.workspace.keeps_ip = False
        self.world.workspace.save()
        forget(self.world.source)
        self.client.post(self.address, {"email": "c@b.example"})
        newest = Submission.objects.of(self.world.workspace).order_by("-received_at").first()
        self.assertNotIn("ip", newest.context)

    def change(self, change: Any) -> None:
        source = self.world.source
        live = source.revisions.get(state="live")
        document = change(RouteDocument.model_validate(live.document))
        save_route_draft(source, document, None, None)
        turn_on(source, None)

    def test_every_input_has_a_label(self) -> None:
        page = self.client.get(self.address).content.decode()
        for found in re.findall(r'<input id="([^"]+)"', page):
            self.assertIn(f'<label for="{found}"', page)
