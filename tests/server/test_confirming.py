"""Double opt-in: asked by email, confirmed by POST alone, once, within fourteen days."""

import re
from datetime import timedelta
from typing import Any

from django.test import Client, TransactionTestCase

from core.conditions import HappenedTest
from core.messages import simple_message
from server.audiences.query import audience_query
from server.mail.actions import deliver_queued
from server.mail.confirming import set_confirming
from server.mail.editing import make_message, save_message
from server.people.models import Evidence, Subscriber
from server.routes.actions import turn_on
from server.sequences.moving_time import move_time
from server.sources.actions import route_of_revision, save_route_draft
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.errors import Refused
from tests.world import RealMail, make_world


class Confirming(RealMail, TransactionTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.workspace = self.world.workspace
        # The message of the sequence would only be in the way.
        source = self.world.source
        live = route_of_revision(str(source.revisions.get(state="live").pk))
        save_route_draft(source, live.model_copy(update={"then": ()}), None, None)
        turn_on(source, None)
        set_confirming(self.world.news, True, self.world.member)
        self.client = Client(enforce_csrf_checks=True)

    def arrive(self, address: str = "ines@example.com", **answers: str) -> Subscriber:
        person = self.world.arrive(address, **answers)
        deliver_queued(self.workspace)
        return person

    def state(self, person: Subscriber) -> str:
        return str(person.memberships.get(list=self.world.news).state)

    def link(self, at: int = 0) -> str:
        """The link of the email that came last (or before it)."""
        html = self.mailbox.list()[at].part("html")
        found = re.search(r'href="(http[^"]+/c/[^"]+)"', html)
        assert found, html
        return found[1].replace("http://127.0.0.1:8400", "")

    def test_the_way_through(self) -> None:
        person = self.arrive(first_name="ines")
        self.assertEqual(self.state(person), "pending")
        [letter] = self.mailbox.list()
        self.assertEqual(letter.message["Subject"], "Please confirm: Open-night news")
        self.assertIn("Hello Ines", letter.part("plain"))
        for part in ("plain", "html"):
            self.assertIn("this address was entered", " ".join(letter.part(part).split()))
            self.assertNotIn("you signed up", letter.part(part))
        page = self.client.get(self.link())
        self.assertContains(page, "Yes, subscribe me")
        # Scanners fetch links, some with HEAD; nothing changes by it.
        self.client.head(self.link())
        self.assertEqual(self.state(person), "pending")
        self.assertContains(self.client.post(self.link()), "You are subscribed")
        self.assertEqual(self.state(person), "subscribed")
        changes = Evidence.everywhere.filter(membership__subscriber=person).order_by("at")
        self.assertEqual(
            [(one.before, one.after) for one in changes],
            [("none", "pending"), ("pending", "subscribed")],
        )
        proof = changes.last()
        assert proof is not None
        self.assertIn("confirmed", proof.because["sentence"])
        self.assertEqual(proof.ip, "127.0.0.1")
        counted = HappenedTest(what="confirmed", about=str(self.world.news.pk))
        catalogue = full_catalogue(self.workspace)
        found = audience_query(counted, self.workspace, catalogue, clock.now(self.workspace))
        self.assertEqual([one.address for one in found], [person.address])
        # A second press changes nothing, and says so kindly.
        self.assertContains(self.client.post(self.link()), "You are subscribed")
        self.assertEqual(changes.count(), 2)

    def test_the_evidence_keeps_what_the_page_said_when_it_was_read(self) -> None:
        person = self.arrive()
        news = self.world.news
        news.description = "When the dome is open"
        news.words = {"confirm_button": "Count me in <3"}
        news.save()
        page = self.client.get(self.link()).content.decode()
        self.assertIn("Count me in &lt;3</button>", page)
        found = re.search(r'name="shown" value="([^"]+)"', page)
        assert found
        # Somebody words it otherwise before the button is pressed.
        news.words = {"confirm_button": "My gift, please"}
        news.save()
        self.client.post(self.link(), {"shown": found[1]})
        proofs = Evidence.everywhere.filter(membership__subscriber=person).order_by("at")
        self.assertEqual(
            proofs.last().wording,  # type: ignore[union-attr]
            "Open-night news · When the dome is open · Count me in <3",
        )

    def test_what_came_along_changed_is_not_believed(self) -> None:
        forged, other = self.arrive("a@example.com"), self.arrive("b@example.com")
        page = self.client.get(self.link()).content.decode()
        found = re.search(r'name="shown" value="([^"]+)"', page)
        assert found
        # The page of one person, pressed with the link of another; and one that is nobody's.
        self.client.post(self.link(1), {"shown": found[1]})
        self.client.post(self.link(), {"shown": "W10:forged"})
        for person in (forged, other):
            proof = Evidence.everywhere.filter(membership__subscriber=person).latest("at")
            self.assertEqual(proof.wording, "Open-night news · Yes, subscribe me")

    def test_the_visitor_is_told_to_look_in_the_inbox(self) -> None:
        thanks = f"/f/{self.world.source.key}/thanks"
        self.assertContains(self.client.get(thanks), "check your inbox")
        set_confirming(self.world.news, False, None)
        self.assertNotContains(self.client.get(thanks), "inbox")

    def test_a_welcome_follows_once(self) -> None:
        hello = make_message(self.workspace, "Welcome")
        save_message(hello, simple_message("Welcome", body="<p>Hi</p>"), None, None)
        set_confirming(self.world.news, True, None, welcome=hello)
        self.arrive()
        link = self.link()
        for _ in range(2):
            self.client.post(link)
            deliver_queued(self.workspace)
        subjects = [str(one.message["Subject"]) for one in self.mailbox.list()]
        self.assertEqual(subjects.count("Welcome"), 1)

    def test_asked_again_at_most_once_in_ten_minutes(self) -> None:
        self.arrive()
        self.arrive(look="moon")
        self.assertEqual(len(self.mailbox.list()), 1)
        move_time(self.workspace, clock.now(self.workspace) + timedelta(minutes=11))
        self.arrive(look="planets")
        self.assertEqual(len(self.mailbox.list()), 2)
        self.assertNotEqual(self.link(0), self.link(1))

    def test_a_link_that_is_too_old(self) -> None:
        person = self.arrive()
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=14, minutes=1))
        answer = self.client.post(self.link())
        self.assertContains(answer, "older than 14 days", status_code=410)
        self.assertEqual(self.state(person), "pending")

    def test_a_forged_link(self) -> None:
        self.arrive()
        self.assertEqual(self.client.post(self.link() + "x").status_code, 404)
        self.assertEqual(self.client.get("/c/nonsense").status_code, 404)

    def test_who_left_meanwhile_is_not_brought_back_by_the_old_link(self) -> None:
        person = self.arrive()
        person.memberships.update(state="unsubscribed")
        answer = self.client.post(self.link())
        self.assertContains(answer, "unsubscribed since", status_code=410)
        self.assertEqual(self.state(person), "unsubscribed")

    def test_a_route_is_stricter_than_its_list_and_never_laxer(self) -> None:
        set_confirming(self.world.news, False, None)
        source = self.world.source
        live = route_of_revision(str(source.revisions.get(state="live").pk))
        for confirm, state in ((True, "pending"), (False, "subscribed")):
            line: Any = live.consent[0].model_copy(update={"confirm": confirm})
            document = live.model_copy(update={"consent": (line,)})
            save_route_draft(source, document, None, None)
            turn_on(source, None)
            person = self.arrive(f"{state}@example.com")
            self.assertEqual(self.state(person), state)
        set_confirming(self.world.news, True, None)
        self.assertEqual(self.state(self.arrive("third@example.com")), "pending")

    def test_the_message_that_asks_has_to_hold_the_link(self) -> None:
        with self.assertRaises(Refused):
            set_confirming(self.world.news, True, None, asking=self.world.fits)
