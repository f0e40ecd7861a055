"""Handing people to services, over real HTTP to those of the outside world, in every mood."""

import contextlib
import json
import re
from datetime import timedelta
from typing import Any
from unittest.mock import patch

from django.test import Client, TestCase, TransactionTestCase, override_settings

from core.deciding import HandOver, Rule
from core.sequences import ActStep, SequenceDocument
from core.services import Chosen, FarLine, Handover
from outside.services.lists import KEY
from server.connections.reading import read_what_is_used
from server.people.actions import make_list
from server.people.erasing import erase_person
from server.people.memberships import confirm, unsubscribe
from server.people.models import Field, MailingList, Subscriber
from server.people.suppression import suppress
from server.routes.actions import turn_on
from server.sequences import actions as sequences
from server.sequences.going_on import advance_due_runs
from server.sequences.rehearsing import MadeUp, rehearse_for
from server.services.connecting import (
    change,
    connect,
    make_field,
    make_thing,
    read_again,
    set_secrets,
)
from server.services.described import shipped
from server.services.handing import hand_over_due
from server.services.models import Attempt, Handoff, Service
from server.services.tasks import forget
from server.snags.models import Snag
from server.sources.actions import route_of_revision, save_route_draft, shown_revision
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import Refused
from tests.outside_world import Outside
from tests.world import BACKEND, WHY, World, make_world


class Handing(Outside):
    """A mixin: a workspace whose form hands people to the list service."""

    world: World
    service: Service

    def setUp(self) -> None:
        for one in ("lists", "pipeline", "courses", "shop", "rows"):
            self.mood(one, "well")
        self.world = make_world()
        self.service = self.connected("list-service", "Star letters", key=KEY)
        change(self.service, list=self.world.news)

    def connected(self, kind: str, called: str, **secrets: str) -> Service:
        row = connect(self.world.workspace, called, "", shipped()[kind])
        if secrets:
            set_secrets(row, secrets)
        row.refresh_from_db()
        return row

    def field(self, key: str) -> str:
        return str(Field.objects.of(self.world.workspace).get(key=key).pk)

    def lines(self, **to: str) -> tuple[FarLine, ...]:
        return tuple(
            FarLine(id=f"l{n}", to=far, what=self.field(ours))
            for n, (far, ours) in enumerate(to.items())
        )

    def handover(self, **more: Any) -> Handover:
        return Handover(
            **{
                "service": str(self.service.pk),
                "operation": "subscribe",
                "chosen": {"list": Chosen(things=("news",))},
                "lines": self.lines(email="email", first_name="first_name"),
                "confirm": False,
                **more,
            }
        )

    def hands_over(self, handover: Handover) -> None:
        """Turn on a rule that hands everybody over."""
        source = self.world.source
        revision = shown_revision(source)
        route = route_of_revision(str(revision.pk))
        rule = Rule(id="r-service", action=HandOver(handover=handover))
        kept = tuple(one for one in route.then if one.id != "r-service")
        save_route_draft(
            source, route.model_copy(update={"then": (*kept, rule)}), None, self.world.member
        )
        turn_on(source, self.world.member, "")

    def person(self, address: str) -> Any:
        found = self.ask(f"/lists/people?email={address}", X_List_Key=KEY)["people"]
        return found[0] if found else None

    def handoff(self, address: str = "ines@example.com") -> Handoff:
        found: Handoff = Handoff.everywhere.filter(subscriber__address=address).latest("pk")
        return found

    def later(self, **delta: float) -> None:
        workspace = self.world.workspace
        clock.set_time(workspace, clock.now(workspace) + timedelta(**delta))


class ToTheListService(Handing, TestCase):
    def test_connecting_reads_what_there_is(self) -> None:
        self.assertEqual(
            (self.service.state, self.service.account), ("working", "Larkmoor Observatory")
        )
        self.assertIn("first_name", [one["key"] for one in self.service.fields])
        self.assertEqual(self.service.things["list"][0]["id"], "news")
        self.assertNotIn(KEY, self.service.secret)

    def test_fields_in_parts_are_read_to_the_end(self) -> None:
        """The list service gives 25 at a time."""
        self.press("/services/lists/", do="restore")
        for n in range(40):
            key = f"extra_{n}"
            with contextlib.suppress(Refused):
                make_field(self.service, key, f"Extra {n}", "text", [])
        try:
            read_again(self.service)
            self.service.refresh_from_db()
            extra = [one for one in self.service.fields if one["key"].startswith("extra_")]
            self.assertEqual(len(extra), 40)
            with (
                patch("server.services.connecting.MOST_PAGES", 1),
                self.assertRaises(Refused) as refused,
            ):
                read_again(self.service)
            self.assertIn("more than 1 pages", str(refused.exception.problems))
            self.service.refresh_from_db()
            self.assertGreaterEqual(len(self.service.fields), 40)
        finally:
            for n in range(40):
                self.press("/services/lists/", do="remove-field", field=f"extra_{n}")

    def test_a_wrong_key_is_said_and_the_right_one_sets_it_right(self) -> None:
        row = self.connected("list-service", "Another", key="not the key")
        self.assertEqual(row.state, "needs_look")
        self.assertIn("refuses the sign-in: This key is not valid.", row.trouble)
        set_secrets(row, {"key": KEY})
        row.refresh_from_db()
        self.assertEqual((row.state, row.trouble), ("working", ""))

    def test_somebody_arrives_over_there_once(self) -> None:
        self.hands_over(self.handover())
        self.world.arrive("ines@example.com", first_name="Ines", consent="on")
        self.assertEqual(self.handoff().state, "waiting")
        self.assertEqual(hand_over_due(self.service.pk), 1)
        row = self.handoff()
        self.assertEqual((row.state, row.outcome), ("done", ""))
        there = self.person("ines@example.com")
        self.assertEqual((there["id"], there["lists"]), (row.their_id, {"news": "subscribed"}))
        self.assertEqual(there["fields"]["first_name"], "Ines")
        [attempt] = Attempt.everywhere.filter(handoff=row)
        self.assertEqual(attempt.status, 200)
        self.assertIn('"first_name": "Ines"', attempt.request)
        self.assertNotIn(KEY, attempt.request + attempt.answer)
        self.assertEqual(hand_over_due(self.service.pk), 0)

    def test_whoever_may_not_is_not_handed_over(self) -> None:
        other = make_list(self.world.workspace, "Shop offers")
        self.hands_over(self.handover(list=str(other.pk)))
        self.world.arrive("no@example.com", first_name="No")
        self.assertFalse(Handoff.everywhere.exists())
        # Who leaves while it waits is not handed over either.
        self.hands_over(self.handover())
        person = self.world.arrive("ines@example.com", first_name="Ines", consent="on")
        unsubscribe(person, MailingList.everywhere.filter(pk=self.world.news.pk), WHY, "/p")
        hand_over_due(self.service.pk)
        self.assertEqual(self.handoff().state, "not_allowed")
        self.assertIn("not subscribed to", self.handoff().outcome)
        self.assertIsNone(self.person("no@example.com"))

    def test_whoever_is_suppressed_meanwhile_is_not_handed_over(self) -> None:
        self.hands_over(self.handover())
        self.world.arrive("sue@example.com", first_name="Sue", consent="on")
        suppress(self.world.workspace, ["sue@example.com"], "asked", None)
        hand_over_due(self.service.pk)
        self.assertEqual(self.handoff("sue@example.com").state, "not_allowed")
        self.assertIsNone(self.person("sue@example.com"))

    def test_who_has_to_confirm_goes_once_they_have(self) -> None:
        MailingList.everywhere.filter(pk=self.world.news.pk).update(confirms=True)
        catalogue_changed(self.world.workspace)
        self.hands_over(self.handover())
        person = self.world.arrive("pia@example.com", first_name="Pia", consent="on")
        hand_over_due(self.service.pk)
        self.assertEqual(self.handoff("pia@example.com").state, "consent")
        self.assertIsNone(self.person("pia@example.com"))
        confirm(person.memberships.get(), clock.now(self.world.workspace), "Yes", "/c")
        self.assertEqual(self.handoff("pia@example.com").state, "waiting")
        hand_over_due(self.service.pk)
        self.assertEqual(self.person("pia@example.com")["lists"], {"news": "subscribed"})

    def test_a_value_that_does_not_fit_goes_without_or_waits(self) -> None:
        too_long = {"first_name": "N" * 41}
        self.hands_over(self.handover())
        self.world.arrive("long@example.com", consent="on", **too_long)
        hand_over_due(self.service.pk)
        row = self.handoff("long@example.com")
        self.assertEqual(row.state, "done")
        self.assertIn("First name takes 40 characters, and this has 41.", row.outcome)
        self.assertEqual(self.person("long@example.com")["fields"], {})
        self.hands_over(self.handover(if_wrong="wait"))
        self.world.arrive("longer@example.com", consent="on", **too_long)
        hand_over_due(self.service.pk)
        self.assertEqual(self.handoff("longer@example.com").state, "failed")
        self.assertIsNone(self.person("longer@example.com"))
        snag = Snag.everywhere.get(about="service")
        self.assertIn("takes 40 characters", snag.sentence)

    def test_a_missing_field_is_made_from_here(self) -> None:
        made = make_field(self.service, "", "Telescope", "choice", ["Dobson", "None"])
        self.assertEqual((made.key, made.type), ("telescope", "choice"))
        self.assertEqual([one.value for one in made.choices], ["Dobson", "None"])
        with self.assertRaises(Refused) as again:
            make_field(self.service, "", "Telescope", "text", [])
        self.assertIn("There is a field telescope already.", str(again.exception))
        self.assertEqual(make_thing(self.service, "tag", "From Yalla").label, "From Yalla")

    def test_a_field_that_vanished_is_noticed(self) -> None:
        make_field(self.service, "", "Shoe size", "number", [])
        self.press("/services/lists/", do="remove-field", field="shoe_size")
        changed = read_again(self.service)
        self.assertEqual([(one.key, one.what) for one in changed], [("shoe_size", "gone")])

    def test_leaving_here_is_leaving_there_and_erasing_too(self) -> None:
        self.hands_over(self.handover())
        person = self.world.arrive("lea@example.com", first_name="Lea", consent="on")
        hand_over_due(self.service.pk)
        unsubscribe(person, MailingList.everywhere.filter(pk=self.world.news.pk), WHY, "/p")
        hand_over_due(self.service.pk)
        self.assertEqual(self.person("lea@example.com")["lists"], {"news": "left"})
        erase_person(Subscriber.everywhere.get(pk=person.pk))
        hand_over_due(self.service.pk)
        self.assertIsNone(self.person("lea@example.com"))
        for row in Handoff.everywhere.filter(service=self.service):
            self.assertEqual((row.address, row.answers, row.subscriber_id), ("", [], None))
        kept = list(Attempt.everywhere.values_list("request", "answer"))
        self.assertFalse([one for one in kept if "lea" in (one[0] + one[1]).lower()], kept)


class Faults(Handing, TestCase):
    def arrives(self, address: str = "ines@example.com") -> Handoff:
        self.hands_over(self.handover())
        self.world.arrive(address, first_name="Ines", consent="on")
        hand_over_due(self.service.pk)
        return self.handoff(address)

    def test_a_service_that_is_broken_is_tried_again(self) -> None:
        self.mood("lists", "broken")
        row = self.arrives("b@example.com")
        self.assertEqual((row.state, row.tries, row.looks_first), ("waiting", 1, True))
        self.assertGreater(row.due_at, clock.now(self.world.workspace))
        self.mood("lists", "well")
        self.later(minutes=1)
        hand_over_due(self.service.pk)
        self.assertEqual(self.handoff("b@example.com").state, "done")

    def test_a_member_tries_now_what_waits_for_its_next_try(self) -> None:
        self.mood("lists", "broken")
        row = self.arrives("now@example.com")
        self.mood("lists", "well")
        self.assertEqual(hand_over_due(self.service.pk), 0)
        client = Client()
        client.force_login(self.world.user, BACKEND)
        slug = self.world.workspace.slug
        answer = client.post(f"/api/workspaces/{slug}/handoffs/{row.pk}/again")
        self.assertEqual((answer.status_code, answer.json()["state"]), (200, "waiting"))
        self.assertEqual(hand_over_due(self.service.pk), 1)
        row = self.handoff("now@example.com")
        self.assertEqual((row.state, row.tries), ("done", 1))
        # What is done stays as it is.
        client.post(f"/api/workspaces/{slug}/handoffs/{row.pk}/again")
        self.assertEqual(self.handoff("now@example.com").state, "done")

    def test_what_got_through_is_not_done_twice(self) -> None:
        self.mood("lists", "stores-and-breaks")
        row = self.arrives("twice@example.com")
        self.assertEqual(row.state, "waiting")
        self.mood("lists", "well")
        self.later(minutes=1)
        hand_over_due(self.service.pk)
        row = self.handoff("twice@example.com")
        self.assertEqual((row.state, row.outcome), ("done", "The try before had got through."))
        asked = Attempt.everywhere.filter(handoff=row).order_by("pk")
        self.assertEqual([one.what for one in asked], ["sends", "looks"])

    def test_it_waits_as_long_as_it_is_asked_to(self) -> None:
        self.mood("lists", "limited")
        self.hands_over(self.handover())
        for n in range(4):
            self.world.arrive(f"r{n}@example.com", first_name="R", consent="on")
        hand_over_due(self.service.pk)
        states = [self.handoff(f"r{n}@example.com").state for n in range(4)]
        self.assertEqual(sorted(states), ["done", "done", "waiting", "waiting"])
        self.service.refresh_from_db()
        self.assertEqual((self.service.state, self.service.open_until), ("working", None))

    def test_rubbish_is_an_error_that_says_so(self) -> None:
        for mood, said in (
            ("rubbish", "The answer is not JSON."),
            ("wrong-types", "The answer is not as described: it names no id."),
            ("redirects", "The service leads to another address, which is not followed."),
        ):
            self.mood("lists", mood)
            row = self.arrives(f"{mood}@example.com")
            self.assertEqual((row.state, row.outcome), ("failed", said), mood)
        self.assertEqual(Snag.everywhere.filter(about="service").count(), 3)

    def test_a_huge_answer_is_given_up(self) -> None:
        self.mood("lists", "huge")
        row = self.arrives("huge@example.com")
        self.assertEqual(row.state, "waiting")
        self.assertIn("larger than 5 MB", row.outcome)

    def test_a_key_that_is_refused_holds_everybody_and_loses_nobody(self) -> None:
        self.mood("lists", "expired")
        row = self.arrives("key@example.com")
        self.assertEqual((row.state, row.tries), ("waiting", 0))
        self.service.refresh_from_db()
        self.assertEqual(self.service.state, "needs_look")
        self.assertEqual(Snag.everywhere.get().sentence, "Star letters refuses the sign-in.")
        self.mood("lists", "well")
        set_secrets(self.service, {"key": KEY})
        self.assertIsNotNone(Snag.everywhere.get().closed_at)
        hand_over_due(self.service.pk)
        self.assertEqual(self.handoff("key@example.com").state, "done")

    def test_a_service_that_is_down_is_left_alone_and_comes_back_by_itself(self) -> None:
        self.mood("lists", "broken")
        self.hands_over(self.handover())
        for n in range(6):
            self.world.arrive(f"d{n}@example.com", first_name="D", consent="on")
        hand_over_due(self.service.pk)
        self.service.refresh_from_db()
        self.assertIsNotNone(self.service.open_until)
        asked = Attempt.everywhere.count()
        self.world.arrive("d9@example.com", first_name="D", consent="on")
        self.assertEqual(hand_over_due(self.service.pk), 0)
        self.assertEqual(Attempt.everywhere.count(), asked)
        # One goes first, to see; then all the others.
        self.mood("lists", "well")
        self.later(minutes=2)
        self.assertEqual(hand_over_due(self.service.pk), 7)
        self.assertEqual(Handoff.everywhere.filter(state="done").count(), 7)
        self.service.refresh_from_db()
        self.assertEqual((self.service.failures, self.service.open_until), (0, None))
        self.assertFalse(Snag.everywhere.filter(closed_at=None).exists())

    def test_one_persons_handoffs_go_in_their_order(self) -> None:
        make_thing(self.service, "tag", "Order")
        tag = next(one["id"] for one in self.service.things["tag"] if one["label"] == "Order")
        self.hands_over(self.handover())
        person = self.world.arrive("o@example.com", first_name="O", consent="on")
        from server.services.outbox import Handoffs

        more = Handoffs()
        more.add_row(
            person,
            self.service.pk,
            self.handover(operation="tag", chosen={"tags": Chosen(things=(tag,))}),
            "later",
            clock.now(self.world.workspace),
            WHY,
            operation="Add tags",
        )
        more.write()
        self.assertEqual(hand_over_due(self.service.pk), 2)
        first, second = Handoff.everywhere.order_by("pk")
        self.assertEqual((first.state, second.state), ("done", "done"))
        self.assertEqual(self.person("o@example.com")["tags"], ["Order"])
        self.assertLess(
            max(one.pk for one in first.attempts.all()),
            min(one.pk for one in second.attempts.all()),
        )

    def test_a_private_address_is_not_reached(self) -> None:
        with override_settings(FETCH_HOSTS=[]):
            row = self.arrives("p@example.com")
        self.assertEqual(row.state, "waiting")
        self.assertIn("is in a private network", row.outcome)


class OtherServices(Handing, TransactionTestCase):
    def test_a_deal_for_each_with_oauth_that_runs_out(self) -> None:
        from urllib.parse import parse_qs, urlsplit

        import httpx

        from server.services.connecting import try_it
        from server.services.tokens import begin, finish

        row = self.connected(
            "sales-pipeline",
            "Pipeline",
            client_id="larkmoor-pipeline",
            client_secret="demo-pipeline-secret",
        )
        self.assertEqual(row.state, "needs_look")
        at = begin(row, "http://127.0.0.1:9/back")
        self.assertEqual(parse_qs(urlsplit(at).query)["code_challenge_method"], ["S256"])
        page = httpx.get(at)
        self.assertIn("asks to see and change the people", page.text)
        agreed = httpx.post(at, data={"do": "agree"})
        back = parse_qs(urlsplit(agreed.headers["Location"]).query)
        with self.assertRaises(httpx.HTTPError):
            finish(row, back["code"][0], "another state")
        finish(row, back["code"][0], back["state"][0])
        try_it(row)
        row.refresh_from_db()
        self.assertEqual((row.state, row.account), ("working", "Larkmoor sales"))
        self.hands_over(
            Handover(
                service=str(row.pk),
                operation="deal",
                chosen={"stage": Chosen(things=("new",))},
                lines=self.lines(email="email", name="first_name"),
            )
        )
        self.world.arrive("deal1@example.com", first_name="Dela")
        self.world.arrive("deal2@example.com", first_name="Deal")
        self.mood("pipeline", "expired")
        hand_over_due(row.pk)
        self.assertEqual({one.state for one in Handoff.everywhere.filter(service=row)}, {"done"})
        # Stored and answered with an error: the idempotency key makes the second try the same deal.
        self.mood("pipeline", "stores-and-breaks")
        self.world.arrive("deal3@example.com", first_name="Deal")
        hand_over_due(row.pk)
        self.mood("pipeline", "well")
        self.later(minutes=2)
        hand_over_due(row.pk)
        self.assertEqual(self.handoff("deal3@example.com").state, "done")
        deals = httpx.get(f"{self.host}/services/pipeline/").text
        self.assertEqual(deals.count("deal3@example.com"), 1)

    def test_who_has_no_account_there_is_no_error(self) -> None:
        row = self.connected(
            "course-platform",
            "Courses",
            client_id="larkmoor-courses",
            client_secret="demo-courses-secret",
        )
        self.assertEqual(row.state, "working")
        self.hands_over(
            Handover(
                service=str(row.pk),
                operation="enrol",
                chosen={"course": Chosen(things=("first-light",))},
                lines=self.lines(email="email"),
            )
        )
        for address in ("ines@example.com", "stranger@example.com"):
            self.world.arrive(address, first_name="I")
        hand_over_due(row.pk)
        states = dict(Handoff.everywhere.values_list("subscriber__address", "state"))
        self.assertEqual(
            states, {"ines@example.com": "done", "stranger@example.com": "not_possible"}
        )
        self.assertFalse(Snag.everywhere.exists())

    def test_rows_and_cards(self) -> None:
        rows = self.connected(
            "sheet-host", "Sheets", name="larkmoor", password="demo-sheet-password"
        )
        cards = self.connected(
            "address-book", "Contacts", name="larkmoor", password="demo-cards-password"
        )
        self.assertEqual((rows.state, cards.state), ("working", "working"))
        sheet = Handover(
            service=str(rows.pk),
            operation="row",
            chosen={"sheet": Chosen(things=("volunteers",))},
            lines=self.lines(Email="email", Name="first_name"),
        )
        self.hands_over(sheet)
        self.world.arrive("row@example.com", first_name="Röw")
        hand_over_due(rows.pk)
        self.assertEqual(self.handoff("row@example.com").state, "done")
        import httpx

        self.assertIn("Röw,row@example.com", httpx.get(f"{self.host}/sheets/volunteers.csv").text)
        self.hands_over(
            Handover(
                service=str(cards.pk),
                operation="save",
                lines=self.lines(email="email", given="first_name"),
            )
        )
        self.world.arrive("card@example.com", first_name="Zoë; Ann")
        hand_over_due(cards.pk)
        auth = ("larkmoor", "demo-cards-password")
        text = httpx.get(f"{self.host}/cards/card@example.com.vcf", auth=auth).text
        # RFC 6350 3.4: a semicolon within a component is escaped.
        self.assertIn("N:;Zoë\\;;;;", text.replace("\r\n ", ""))
        self.assertIn("EMAIL:card@example.com", text)


class FromAStep(Handing, TestCase):
    """A step of a sequence hands over; the sample beside it is the last who entered."""

    def step(self, **more: Any) -> str:
        """The live sequence with one more step after its first email."""
        world = self.world
        revision = world.sequence.revisions.get(state="live")
        document = SequenceDocument.model_validate(revision.document)
        lane = document.lanes[0]
        made = ActStep(id="hand", action=HandOver(handover=self.handover(**more)))
        steps = (lane.steps[0], made, *lane.steps[1:])
        document = document.model_copy(
            update={"lanes": (lane.model_copy(update={"steps": steps}),), "again": "start_over"}
        )
        sequences.save_sequence_draft(world.sequence, document, None, world.member)
        sequences.turn_on(world.sequence, world.member)
        return made.id

    def test_each_visit_hands_over_once(self) -> None:
        self.step()
        for look in ("moon", "planets"):
            self.world.arrive("step@example.com", first_name="Stepan", consent="on", look=look)
            advance_due_runs(str(self.world.workspace.pk))
            advance_due_runs(str(self.world.workspace.pk))
            self.later(minutes=1)
        self.assertEqual(hand_over_due(self.service.pk), 2)
        rows = Handoff.everywhere.filter(service=self.service)
        self.assertEqual({(one.state, one.line) for one in rows}, {("done", "hand")})
        there = self.person("step@example.com")
        self.assertEqual(
            (there["lists"], there["fields"]["first_name"]), ({"news": "subscribed"}, "Stepan")
        )

    def test_the_rehearsal_tells_of_it_and_hands_nobody_over(self) -> None:
        self.step()
        who = MadeUp(values={"first_name": "Ada"})
        found, _ = rehearse_for(self.world.sequence, who, None, "", None, ())
        said = [one.says for one in found.entries if one.kind == "acts"]
        self.assertEqual(said, ["Star letters: add to a list"])
        self.assertFalse(Handoff.everywhere.exists())

    def test_the_sample_is_the_last_who_entered(self) -> None:
        self.step()
        client = Client()
        client.force_login(self.world.user)
        at = f"/api/workspaces/{self.world.workspace.slug}/services/{self.service.pk}"
        body = {
            "handover": self.handover().model_dump(mode="json"),
            "sequence": str(self.world.sequence.pk),
        }

        def sample() -> Any:
            return client.post(f"{at}/sample", json.dumps(body), "application/json").json()

        # Nobody has entered: somebody who was added is looked at, and never handed over.
        stranger = Subscriber.everywhere.create(
            workspace=self.world.workspace,
            address="never@example.com",
            address_key="never@example.com",
            added_at=clock.now(self.world.workspace),
        )
        self.assertEqual(sample()["of"], "never@example.com")
        refused = client.post(f"{at}/test", json.dumps(body), "application/json")
        self.assertEqual(refused.status_code, 422)
        self.assertIsNone(self.person("never@example.com"))
        stranger.delete()
        self.assertEqual((sample()["of"], sample()["looked_at"]), ("", 0))
        for name in ("Ada", "N" * 41):
            self.world.arrive(f"{name[:3]}@example.com".lower(), first_name=name, consent="on")
        found = sample()
        self.assertEqual((found["of"], found["looked_at"]), ("nnn@example.com", 2))
        self.assertEqual(found["lines"][0]["shown"], "nnn@example.com")
        self.assertIn("takes 40 characters", found["lines"][1]["problem"]["sentence"])
        [concern] = found["concerns"]
        self.assertEqual((concern["label"], concern["count"]), ("First name", 1))
        tested = client.post(f"{at}/test", json.dumps(body), "application/json").json()
        self.assertTrue(tested["done"], tested)
        self.assertIn("nnn@example.com", tested["request"])


class Many(Handing, TestCase):
    def test_people_go_together_where_the_service_takes_many(self) -> None:
        self.hands_over(self.handover(operation="save", chosen={}))
        for n in range(60):
            # One of them is not as the service wants it, which concerns that one alone.
            name = "N" * 41 if n == 7 else f"Name{n}"
            self.world.arrive(f"many{n}@example.com", first_name=name)
        described = self.service.description
        # As if nobody had looked at the fields: over there it is refused.
        fields = [
            {**one, "longest": None} if one["key"] == "first_name" else one
            for one in self.service.fields
        ]
        change(self.service, fields=fields, description=described)
        self.assertEqual(hand_over_due(self.service.pk), 60)
        states = dict(Handoff.everywhere.values_list("subscriber__address", "state"))
        self.assertEqual(states.pop("many7@example.com"), "failed")
        self.assertEqual(set(states.values()), {"done"})
        self.assertEqual(self.handoff("many7@example.com").outcome, "422: First name is too long.")
        self.assertEqual(self.person("many59@example.com")["fields"]["first_name"], "Name59")
        # Of each person only what is theirs is kept.
        for one in Attempt.everywhere.select_related("handoff__subscriber"):
            self.assertTrue(one.request.startswith("POST /people/many\n"), one.request)
            assert one.handoff.subscriber is not None
            addresses = set(re.findall(r"many\d+@", one.request + one.answer))
            self.assertLessEqual(
                addresses, {f"{one.handoff.subscriber.address.partition('@')[0]}@"}
            )

    def test_a_request_for_many_that_gets_no_answer(self) -> None:
        self.hands_over(self.handover(operation="save", chosen={}))
        for n in range(5):
            self.world.arrive(f"lost{n}@example.com", first_name=f"Name{n}")
        self.mood("lists", "stores-and-breaks")
        hand_over_due(self.service.pk)
        rows = Handoff.everywhere.all()
        self.assertEqual({(one.state, one.looks_first) for one in rows}, {("waiting", True)})
        self.mood("lists", "well")
        self.later(minutes=2)
        self.assertEqual(hand_over_due(self.service.pk), 5)
        self.assertEqual({one.state for one in Handoff.everywhere.all()}, {"done"})


class Forgetting(Handing, TestCase):
    def test_attempts_go_after_their_time_and_nobody_waits_for_ever(self) -> None:
        MailingList.everywhere.filter(pk=self.world.news.pk).update(confirms=True)
        catalogue_changed(self.world.workspace)
        self.hands_over(self.handover())
        self.world.arrive("waits@example.com", first_name="W", consent="on")
        hand_over_due(self.service.pk)
        Attempt.everywhere.create(
            workspace=self.world.workspace,
            handoff=self.handoff("waits@example.com"),
            at=clock.now(self.world.workspace) - timedelta(days=61),
            what="sends",
            request="POST /",
        )
        forget(0)
        self.assertFalse(Attempt.everywhere.exists())
        self.assertEqual(self.handoff("waits@example.com").state, "consent")
        self.later(days=16)
        forget(0)
        self.assertEqual(self.handoff("waits@example.com").state, "not_allowed")

    def test_fields_that_are_gone_are_a_snag_that_names_who_uses_them(self) -> None:
        self.hands_over(self.handover())
        self.world.arrive("f@example.com", first_name="F", consent="on")
        read_what_is_used(self.world.workspace)
        self.assertFalse(Snag.everywhere.exists())
        self.press("/services/lists/", do="remove-field", field="first_name")
        self.later(minutes=20)
        read_what_is_used(self.world.workspace)
        snag = Snag.everywhere.get()
        self.assertIn("First name is gone. “Telescope guide” hands people to it, 1", snag.sentence)
        self.press("/services/lists/", do="restore")
