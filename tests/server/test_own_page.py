"""The person's own page: everything by POST, by signed links, and nothing for anybody else."""

import json
import re
from datetime import timedelta
from typing import Any

from django.apps import apps
from django.core import mail
from django.db.models import Model
from django.test import TestCase, override_settings

from core.documents import Because
from server.consent.own import come_back
from server.mail.actions import deliver_queued, queue_send
from server.mail.models import Send
from server.mail.own_requests import MOST_A_DAY, ask, send_link
from server.people.erased import erased_at
from server.people.links import own_address, request_address
from server.people.models import Erased, OwnRequest, Subscriber
from server.people.suppression import suppress, suppressed_among
from server.profiles.erasing import erase
from server.routing.routing import route_submission
from server.snags.actions import report
from server.snags.models import Snag
from server.submissions.models import Submission
from server.workspaces import clock
from server.workspaces.models import Workspace
from tests.world import make_world

WHY = Because(kind="person", sentence="they said so")


class Own(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        self.person = self.world.arrive("ines@example.com", first_name="Ines", look="moon")
        self.at = self.page()

    def page(self, **ago: float) -> str:
        made = clock.now(self.workspace) - timedelta(**ago)
        return own_address(self.person.pk, made).partition("/p/")[2]

    def do(self, what: str, status: int = 200, **more: str) -> Any:
        answer = self.client.post(f"/p/{self.at}", {"do": what, **more})
        self.assertEqual(answer.status_code, status, answer.content)
        self.person.refresh_from_db()
        return answer

    def state(self) -> str:
        return str(self.person.memberships.get().state)

    def link(self, kind: str, *, deliver: bool = True) -> str:
        """The path of the link in the newest email about a request of this kind."""
        row = OwnRequest.objects.of(self.workspace).filter(kind=kind).order_by("-asked_at").first()
        assert row is not None
        mail.outbox.clear()
        send_link(str(row.pk))
        [sent] = mail.outbox
        self.assertEqual(sent.to, [row.to])
        found = re.search(r"https?://[^/]+(/\S+)", str(sent.body))
        assert found is not None
        return found[1]


class Page(Own):
    def test_it_shows_their_lists_and_fields(self) -> None:
        page = self.client.get(f"/p/{self.at}")
        for text in (
            "ines@example.com",
            "Open-night news",
            "Ines",
            "at most one email every 7 days",
        ):
            self.assertContains(page, text)
        self.assertEqual(page["Cache-Control"].split(",")[0], "max-age=0")

    def test_a_scanner_that_gets_everything_changes_nothing(self) -> None:
        for method in (self.client.get, self.client.head):
            method(f"/p/{self.at}?do=all")
        self.assertEqual(self.state(), "subscribed")

    def test_leaving_one_and_all(self) -> None:
        self.do(f"leave:{self.world.news.pk}")
        self.assertEqual(self.state(), "unsubscribed")
        self.assertEqual(self.person.runs.get().ended, "unsubscribed")
        proof = self.person.memberships.get().evidence.order_by("-at").first()
        assert proof is not None
        self.assertEqual(
            (proof.page, proof.because["sentence"]),
            ("their own page", "they said so on their own page"),
        )
        self.do("all")
        self.assertEqual(self.state(), "unsubscribed")

    def test_coming_back_is_their_own_opt_in(self) -> None:
        self.do("all")
        answer = self.do(f"back:{self.world.news.pk}")
        self.assertContains(answer, "subscribed again")
        self.assertEqual(self.state(), "subscribed")
        proof = self.person.memberships.get().evidence.order_by("-at").first()
        assert proof is not None
        self.assertEqual(proof.wording, "Subscribe again to Open-night news")

    @override_settings(PROXIES=1)
    def test_where_it_came_from_is_kept_where_the_workspace_keeps_addresses(self) -> None:
        def proved() -> str | None:
            return self.person.memberships.get().evidence.latest("at", "pk").ip

        behind: Any = {"headers": {"X-Forwarded-For": "198.51.100.1, 192.0.2.7"}}
        Workspace.objects.update(keeps_ip=False)
        self.client.post(f"/p/{self.at}", {"do": "all"}, **behind)
        self.assertIsNone(proved())
        Workspace.objects.update(keeps_ip=True)
        self.client.post(f"/p/{self.at}", {"do": f"back:{self.world.news.pk}"}, **behind)
        self.assertEqual(proved(), "192.0.2.7")
        self.client.post(f"/p/{self.at}", {"do": f"leave:{self.world.news.pk}"}, **behind)
        self.assertEqual(proved(), "192.0.2.7")

    def test_after_a_complaint_only_a_confirmation_brings_back(self) -> None:
        self.person.memberships.update(state="complained")
        self.assertTrue(come_back(self.person, str(self.world.news.pk)))
        self.assertEqual(self.state(), "pending")

    def test_a_list_that_is_not_theirs_is_refused(self) -> None:
        other = make_world("Other", "other@larkmoor.example")
        for what in (f"leave:{other.news.pk}", f"back:{other.news.pk}", "leave:x", "nothing"):
            self.do(what, status=422)

    def test_wrong_old_and_foreign_links(self) -> None:
        for token in ("x", self.at + "x", self.at.replace(".", ",")):
            self.assertEqual(self.client.get(f"/p/{token}").status_code, 404)
        old = self.page(days=61)
        self.assertEqual(self.client.get(f"/p/{old}").status_code, 410)
        self.assertNotContains(self.client.get(f"/p/{old}"), "ines@example.com", status_code=410)
        self.client.post(f"/p/{old}", {"do": "all"})
        self.assertEqual(self.state(), "subscribed")
        fresh = self.link("page")
        self.assertEqual(self.client.get(fresh).status_code, 200)
        # A link of one purpose opens nothing else.
        for path in (f"/q/{self.at}", f"/u/{self.at}", f"/c/{self.at}", f"/d/{self.at}"):
            self.assertEqual(self.client.get(path).status_code, 404)

    def test_the_page_of_somebody_erased_is_gone(self) -> None:
        erase(self.person)
        self.assertEqual(self.client.get(f"/p/{self.at}").status_code, 404)

    def test_personal_text_is_escaped(self) -> None:
        self.person.values["first_name"] = "<script>alert(1)</script>"
        self.person.save()
        self.assertNotContains(self.client.get(f"/p/{self.at}"), "<script>alert")


class Fewer(Own):
    def send(self, number: int, *, act: str = "") -> Send:
        queue_send(
            self.person,
            str(self.world.guide.pk),
            str(self.world.news.pk),
            f"test/{number}",
            WHY,
            clock.now(self.workspace),
            act=act,
            answers=[],
        )
        deliver_queued(self.workspace)
        return Send.objects.of(self.workspace).get(origin=f"test/{number}")

    def forward(self, **by: float) -> None:
        clock.set_time(self.workspace, clock.now(self.workspace) + timedelta(**by))

    def test_a_second_marketing_email_waits(self) -> None:
        self.do("fewer", days="7")
        self.assertEqual(self.person.gap_days, 7)
        self.assertEqual(self.send(1).state, "sent")
        second = self.send(2)
        self.assertEqual(second.state, "queued")
        self.assertIn("at most one email every 7 days", second.reply)
        # What they ask for comes at once.
        self.assertEqual(self.send(3, act="confirmation").state, "sent")
        self.forward(days=7, minutes=1)
        deliver_queued(self.workspace)
        second.refresh_from_db()
        self.assertEqual(second.state, "sent")

    def test_of_several_one_goes_in_each_time(self) -> None:
        self.do("fewer", days="3")
        rows = [self.send(number) for number in range(3)]
        for sent in (1, 2, 3):
            states = [Send.everywhere.get(pk=one.pk).state for one in rows]
            self.assertEqual(states.count("sent"), sent)
            self.forward(days=3, minutes=1)
            deliver_queued(self.workspace)

    def test_leaving_withdraws_what_waits(self) -> None:
        self.do("fewer", days="30")
        self.send(1)
        waiting = self.send(2)
        self.do("all")
        waiting.refresh_from_db()
        self.assertEqual(waiting.state, "withdrawn")

    def test_only_what_the_page_offers(self) -> None:
        for days in ("-1", "2", "x", "", "99999"):
            self.do("fewer", status=422, days=days)
        self.do("fewer", days="0")


class Requests(Own):
    def test_another_address_is_confirmed_at_the_new_one(self) -> None:
        self.do("address", address="Ines@New.example")
        self.assertEqual(self.person.address, "ines@example.com")
        path = self.link("address")
        self.assertEqual(OwnRequest.objects.of(self.workspace).get().to, "Ines@new.example")
        self.client.get(path)
        self.person.refresh_from_db()
        self.assertEqual(self.person.address, "ines@example.com")
        self.assertContains(self.client.post(path), "Your address is changed")
        self.person.refresh_from_db()
        self.assertEqual(self.person.address, "Ines@new.example")
        self.assertEqual(self.client.post(path).status_code, 410)

    def test_the_old_address_is_told(self) -> None:
        self.do("address", address="ines@new.example")
        self.client.post(self.link("address"))
        row = OwnRequest.objects.of(self.workspace).get(kind="changed")
        mail.outbox.clear()
        send_link(str(row.pk))
        [sent] = mail.outbox
        self.assertEqual(sent.to, ["ines@example.com"])
        self.assertIn("ines@new.example", str(sent.body))
        self.assertNotIn("/q/", str(sent.body))

    def test_an_address_that_somebody_has_is_merged(self) -> None:
        other = self.world.arrive("second@example.com", look="planets")
        self.do("address", address="second@example.com")
        self.client.post(self.link("address"))
        self.assertFalse(Subscriber.objects.of(self.workspace).filter(pk=self.person.pk).exists())
        self.assertEqual(self.world.tags_of(other), {"guide", "moon", "planets"})

    def test_what_is_no_address_is_refused_with_what_to_do(self) -> None:
        self.assertContains(self.do("address", 422, address="no"), "no", status_code=422)
        self.do("address", 422, address="INES@example.com")
        self.assertFalse(OwnRequest.objects.of(self.workspace).exists())

    def test_their_data_comes_by_their_inbox(self) -> None:
        self.do("data")
        path = self.link("data")
        self.assertNotContains(self.client.get(path), "You also get the news.")
        record = json.loads(self.client.post(path, {"as": "file"}).content)
        self.assertEqual(record["fields"], {"First name": "Ines"})
        self.assertContains(self.client.post(path, {"as": "page"}), "You also get the news.")

    def test_links_run_out(self) -> None:
        self.do("data")
        row = OwnRequest.objects.of(self.workspace).get()
        made = clock.now(self.workspace) - timedelta(days=8)
        path = request_address(row.pk, made).partition("/q/")[2]
        self.assertEqual(self.client.post(f"/q/{path}").status_code, 410)

    def test_nobody_is_flooded(self) -> None:
        self.assertTrue(ask(self.person, OwnRequest.Kind.DATA, WHY))
        self.assertFalse(ask(self.person, OwnRequest.Kind.DATA, WHY))
        for number in range(MOST_A_DAY + 3):
            ask(self.person, OwnRequest.Kind.ADDRESS, WHY, to=f"a{number}@example.net")
        kinds = OwnRequest.objects.of(self.workspace).filter(kind="address")
        self.assertEqual(kinds.count(), MOST_A_DAY)

    def test_without_a_sender_there_is_a_snag(self) -> None:
        self.workspace.sender_address = ""
        self.workspace.save()
        self.do("data")
        send_link(str(OwnRequest.objects.of(self.workspace).get().pk))
        self.assertEqual(mail.outbox, [])
        self.assertTrue(Snag.objects.of(self.workspace).filter(cause="no_sender").exists())


class Erasing(Own):
    def test_it_is_confirmed_by_the_inbox_and_leaves_a_hash(self) -> None:
        self.do("erase")
        path = self.link("erase")
        self.client.get(path)
        self.assertTrue(Subscriber.objects.of(self.workspace).exists())
        self.assertContains(self.client.post(path), "Your data is deleted")
        self.assertFalse(Subscriber.objects.of(self.workspace).exists())
        self.assertEqual(self.client.post(path).status_code, 404)
        self.assertEqual(
            set(erased_at(self.workspace, ["INES@example.com", "ada@example.com"])),
            {"INES@example.com"},
        )

    def test_nothing_personal_is_left_anywhere(self) -> None:
        report(self.workspace, Snag.About.SEND, "x", "The mail server refused ines@example.com.")
        deliver_queued(self.workspace)
        erase(self.person)
        for model in apps.get_models():
            if model._meta.app_label in ("procrastinate", "sessions", "axes", "contenttypes"):
                continue
            for row in _all(model):
                words = json.dumps(
                    {field.name: str(getattr(row, field.attname)) for field in _fields(model)}
                ).lower()
                self.assertNotIn("ines", words.replace("business", ""), model._meta.label)

    def test_a_suppressed_address_stays_suppressed(self) -> None:
        suppress(self.workspace, ["ines@example.com"], "complained", None)
        erase(self.person)
        self.assertTrue(suppressed_among(self.workspace, ["ines@example.com"]))
        self.assertTrue(Erased.objects.of(self.workspace).get().suppressed)

    def test_an_own_form_brings_back_and_a_batch_does_not(self) -> None:
        erase(self.person)
        self.world.source.kind = "webhook"
        self.world.source.save()
        again = self.world.submit("ines@example.com", look="planets")
        route_submission(str(again.pk))
        again.refresh_from_db()
        self.assertEqual((again.state, again.answers, again.subscriber), ("routed", [], None))
        self.assertFalse(Subscriber.objects.of(self.workspace).exists())
        self.assertFalse(Snag.objects.of(self.workspace).exists())
        self.world.source.kind = "form"
        self.world.source.save()
        self.assertEqual(self.world.arrive("ines@example.com").address, "ines@example.com")

    def test_submissions_keep_their_count_and_nothing_else(self) -> None:
        erase(self.person)
        row = Submission.objects.of(self.workspace).get()
        self.assertEqual((row.answers, row.context, row.raw, row.decision), ([], {}, None, None))
        self.assertIsNotNone(row.forgotten_at)


def _all(model: type[Model]) -> Any:
    return getattr(model, "everywhere", model._default_manager).all()


def _fields(model: type[Model]) -> Any:
    return list(model._meta.concrete_fields)
