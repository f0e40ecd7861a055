"""What services tell: signed calls, polls, events in the trail, in conditions, at doors; and leaving."""

import json
import time
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest.mock import Mock, patch

import httpx
from django.test import Client, TestCase, override_settings
from standardwebhooks import Webhook

from core.conditions import Circumstances, Group, HappenedTest, holds
from core.services import Chosen, FarLine, Handover, HeardRule
from outside.services.shop import KEY
from server.audiences.query import audience_query
from server.connections.hearing import store_events, take_heard
from server.connections.polling import poll
from server.people.actions import make_tag
from server.people.erasing import erase_person
from server.people.facts import happenings
from server.people.models import Fact, Subscriber
from server.sequences.facts import catalogue_of
from server.services.connecting import change, connect, renew_hear_secret, set_secrets
from server.services.described import shipped
from server.services.handing import hand_over_due
from server.services.models import Heard
from server.workspaces import clock
from server.workspaces.sealing import opened
from tests.outside_world import Outside
from tests.world import full_person, make_world

DESCRIBED = override_settings(OUTSIDE_ADDRESS="http://127.0.0.1:9")


class Telling(TestCase):
    """A shop that tells of orders."""

    def setUp(self) -> None:
        self.world = make_world()
        with DESCRIBED:
            self.service = connect(self.world.workspace, "Shop", "", shipped()["telescope-shop"])
            self.lists = connect(self.world.workspace, "Lists", "", shipped()["list-service"])
        self.person = self.world.arrive("ines@example.com", first_name="Ines")
        self.client = Client()

    def order(self, address: str = "ines@example.com", **more: Any) -> dict[str, Any]:
        data = {"email": address, "product": "Moon atlas", "amount": "24.50", "currency": "EUR"}
        return {
            "id": "evt_1",
            "type": "order.paid",
            "timestamp": "2026-11-20T10:00:00Z",
            "data": {**data, **more},
        }

    def call(
        self,
        event: Any,
        *,
        secret: str | None = None,
        at: datetime | None = None,
        headers: dict[str, str] | None = None,
    ) -> Any:
        body = event if isinstance(event, str) else json.dumps(event)
        moment = at or datetime.fromtimestamp(int(time.time()), UTC)
        signed = Webhook(secret or opened(self.service.hear_secret)).sign("msg_1", moment, body)
        return self.client.post(
            f"/hear/{self.service.hear_key}",
            body,
            content_type="application/json",
            headers={
                "webhook-id": "msg_1",
                "webhook-timestamp": str(int(moment.timestamp())),
                "webhook-signature": signed,
                **(headers or {}),
            },
        )

    def hears(self, **rule: Any) -> None:
        made = HeardRule(**rule)
        change(self.service, hears={"order.paid": made.model_dump(mode="json")})


class Told(Telling):
    def test_a_signed_call_becomes_an_event_with_its_data(self) -> None:
        self.assertEqual(self.call(self.order()).status_code, 202)
        self.assertEqual(take_heard(self.world.workspace.pk), 1)
        event = Fact.everywhere.get(subscriber=self.person, kind="event")
        self.assertEqual(event.about, "bought")
        self.assertEqual(event.what["data"]["product"], "Moon atlas")
        self.assertEqual(event.because["service_name"], "Shop")
        self.assertEqual(event.because["kind"], "service")
        row = Heard.everywhere.get()
        self.assertEqual((row.state, row.subscriber_id), ("taken", self.person.pk))

    def test_the_same_event_twice_is_one(self) -> None:
        self.assertEqual(self.call(self.order()).status_code, 202)
        self.assertEqual(self.call(self.order()).status_code, 200)
        take_heard(self.world.workspace.pk)
        self.assertEqual(self.call(self.order()).status_code, 200)
        take_heard(self.world.workspace.pk)
        self.assertEqual(Fact.everywhere.filter(kind="event").count(), 1)

    def test_what_is_not_signed_well_is_refused_and_keeps_nothing_of_it(self) -> None:
        old = datetime.now(UTC) - timedelta(minutes=10)
        for answer in (
            self.call(self.order(), secret="whsec_" + "A" * 32),
            self.call(self.order(), at=old.replace(microsecond=0)),
            self.call(self.order(), headers={"webhook-signature": "v1,nonsense"}),
            self.client.post(
                f"/hear/{self.service.hear_key}", self.order(), content_type="application/json"
            ),
        ):
            self.assertEqual(answer.status_code, 401)
        self.assertEqual(
            self.client.post("/hear/unknown", "{}", content_type="x/y").status_code, 404
        )
        self.assertEqual(self.call("not json").status_code, 422)
        self.assertEqual(self.call("[1]").status_code, 422)
        self.assertEqual(self.call('{"type": "a\\u0000b"}').status_code, 422)
        self.assertEqual(self.call(json.dumps("x" * 70_000)).status_code, 413)
        self.assertEqual(set(Heard.everywhere.values_list("state", "content")), {("refused", None)})
        take_heard(self.world.workspace.pk)
        self.assertFalse(Fact.everywhere.filter(kind="event").exists())

    def test_a_secret_that_is_replaced_is_good_for_a_day(self) -> None:
        before = opened(self.service.hear_secret)
        after = renew_hear_secret(self.service)
        self.assertEqual(self.call(self.order(), secret=after).status_code, 202)
        self.assertEqual(self.call(self.order(), secret=before).status_code, 200)
        now = clock.now(self.world.workspace)
        change(self.service, hear_secret_until=now - timedelta(seconds=1))
        self.assertEqual(self.call(self.order(), secret=before).status_code, 401)
        self.assertEqual(self.call(self.order(), secret=after).status_code, 200)

    def test_a_body_that_is_deep_breaks_nothing(self) -> None:
        taken, refused = {200, 202}, {422}
        for depth, expected in ((50, taken), (99, taken), (101, refused), (10_000, refused)):
            for body in (
                '{"a":' * depth + "1" + "}" * depth,
                '{"a":' + "[" * (depth - 1) + "]" * (depth - 1) + "}",
            ):
                answer = self.call(body)
                self.assertIn(answer.status_code, expected, depth)
        take_heard(self.world.workspace.pk)
        self.assertFalse(Heard.everywhere.filter(state="waiting").exists())

    def test_refused_calls_are_kept_up_to_a_number(self) -> None:
        for _ in range(60):
            self.client.post(f"/hear/{self.service.hear_key}", "{}", content_type="x/y")
        self.assertEqual(Heard.everywhere.count(), 50)

    def test_a_flood_is_not_stored_and_shuts_nobody_out(self) -> None:
        """What is not signed costs no row after some of a minute; what is signed is limited apart."""
        for _ in range(60):
            self.client.post(f"/hear/{self.service.hear_key}", "{}", content_type="x/y")
        stored = list(Heard.everywhere.order_by("pk").values_list("pk", flat=True))
        self.client.post(f"/hear/{self.service.hear_key}", "{}", content_type="x/y")
        self.assertEqual(stored, list(Heard.everywhere.order_by("pk").values_list("pk", flat=True)))
        self.assertEqual(self.call(self.order()).status_code, 202)
        with (
            override_settings(POSTS_PER_MINUTE=2),
            patch("server.connections.hearing.time", Mock(time=lambda: 0.0)),
        ):
            codes = [self.call({**self.order(), "id": f"evt_x{n}"}).status_code for n in range(4)]
        self.assertEqual(codes, [202, 202, 429, 429])
        refused = Heard.everywhere.filter(event_id__in=("evt_x2", "evt_x3"))
        self.assertFalse(refused.exists(), "what is sent again later is new then")

    def test_the_newest_of_one_kind_or_outcome(self) -> None:
        self.client.post(f"/hear/{self.service.hear_key}", "{}", content_type="x/y")
        self.call(self.order())
        take_heard(self.world.workspace.pk)
        self.client.force_login(self.world.user)
        at = f"/api/workspaces/{self.world.workspace.slug}/services/{self.service.pk}/heard"
        states = {
            query: [one["state"] for one in self.client.get(f"{at}{query}").json()]
            for query in ("", "?type=order.paid", "?state=refused", "?type=other")
        }
        self.assertEqual([*states.values()], [["taken", "refused"], ["taken"], ["refused"], []])

    def test_somebody_unknown_is_ignored_or_added_to_no_list(self) -> None:
        self.call(self.order("new@example.com"))
        take_heard(self.world.workspace.pk)
        self.assertEqual(Heard.everywhere.get().state, "ignored")
        self.assertFalse(Subscriber.everywhere.filter(address="new@example.com").exists())
        change(self.service, hears_unknown=True)
        self.call({**self.order("new@example.com"), "id": "evt_2"})
        take_heard(self.world.workspace.pk)
        added = Subscriber.everywhere.get(address="new@example.com")
        self.assertFalse(added.memberships.exists())
        self.assertEqual(added.facts.filter(kind="event").count(), 1)

    def test_who_was_erased_is_not_brought_back(self) -> None:
        change(self.service, hears_unknown=True)
        erase_person(Subscriber.everywhere.get(pk=self.person.pk))
        self.call(self.order())
        take_heard(self.world.workspace.pk)
        self.assertFalse(Subscriber.everywhere.filter(address="ines@example.com").exists())
        self.assertIn("was erased", Heard.everywhere.get().outcome)

    def test_fields_and_tags_as_they_are_set(self) -> None:
        tag = str(make_tag(self.world.workspace, "customer").pk)
        first = next(
            one.id
            for one in catalogue_of(self.world.workspace).fields.values()
            if one.key == "first_name"
        )
        self.hears(event="paid", tags=(tag,), fields={"name": first})
        self.call(self.order(name="Inés"))
        take_heard(self.world.workspace.pk)
        self.person.refresh_from_db()
        self.assertEqual(self.person.values["first_name"], "Inés")
        self.assertTrue(self.person.taggings.filter(tag__name="customer").exists())
        self.assertEqual(Fact.everywhere.get(kind="event").about, "paid")
        self.hears(take=False)
        self.call({**self.order(), "id": "evt_2"})
        take_heard(self.world.workspace.pk)
        self.assertEqual(Heard.everywhere.latest("pk").state, "ignored")

    def test_conditions_see_what_was_bought_and_for_how_much(self) -> None:
        for number, (product, amount) in enumerate(
            (("Moon atlas", "24.50"), ("Red torch", "14"), ("Moon atlas", "24.50"))
        ):
            event = {**self.order(product=product, amount=amount), "id": f"evt_{number}"}
            self.call(event)
        take_heard(self.world.workspace.pk)
        workspace, now = self.world.workspace, clock.now(self.world.workspace)
        catalogue = catalogue_of(workspace)
        for test, expected in (
            ({"detail": "product", "detail_is": "moon ATLAS", "at_least": 2}, True),
            ({"detail": "product", "detail_is": "moon atlas", "at_least": 3}, False),
            ({"detail": "product", "detail_is": "tent"}, False),
            ({"total_of": "amount", "total_at_least": "63"}, True),
            ({"total_of": "amount", "total_at_least": "63.01"}, False),
            (
                {
                    "detail": "product",
                    "detail_is": "red torch",
                    "total_of": "amount",
                    "total_at_least": "14.5",
                },
                False,
            ),
            ({"total_of": "amount", "total_at_least": "10", "within_hours": 24}, False),
        ):
            condition = Group(
                of=(HappenedTest.model_validate({"what": "event", "about": "bought", **test}),)
            )
            fits = holds(condition, full_person(self.person), Circumstances(now=now), catalogue)
            self.assertEqual(fits, expected, test)
            found = audience_query(condition, workspace, catalogue, now)
            self.assertEqual(found.exists(), expected, test)

    def test_leaving_there_is_leaving_here_and_coming_back_there_is_nothing(self) -> None:
        change(self.lists, list=self.world.news)
        left = {"id": "e1", "type": "person.left", "data": {"email": "INES@example.com"}}
        store_events(self.lists, [("e1", "person.left", left)])
        take_heard(self.world.workspace.pk)
        membership = self.person.memberships.get()
        self.assertEqual(membership.state, "unsubscribed")
        evidence = membership.evidence.latest("number")
        self.assertEqual(evidence.because["service_name"], "Lists")
        self.assertTrue(self.person.runs.filter(ended="unsubscribed").exists())
        back = {"id": "e2", "type": "person.subscribed", "data": {"email": "ines@example.com"}}
        store_events(self.lists, [("e2", "person.subscribed", back)])
        take_heard(self.world.workspace.pk)
        membership.refresh_from_db()
        self.assertEqual(membership.state, "unsubscribed")

    def test_one_that_cannot_be_taken_stops_nobody(self) -> None:
        self.call(self.order())
        self.call({**self.order(), "id": "evt_2"})
        self.call({**self.order(), "id": "evt_3"})
        from server.connections import hearing

        taken = hearing.taken
        self.assertTrue(callable(taken))

        def breaks(told: Any, *args: Any) -> Any:
            if told.id == "evt_2":
                raise ValueError("a fault")
            return taken(told, *args)

        with patch.object(hearing, "taken", breaks):
            take_heard(self.world.workspace.pk)
        states = dict(Heard.everywhere.values_list("event_id", "state"))
        self.assertEqual(states, {"evt_1": "taken", "evt_2": "refused", "evt_3": "taken"})
        self.assertEqual(Fact.everywhere.filter(kind="event").count(), 2)

    def test_a_set_takes_few_statements(self) -> None:
        def events(first: int, count: int) -> None:
            store_events(
                self.service,
                [
                    (f"e{n}", "order.paid", {**self.order(f"p{n}@example.com"), "id": f"e{n}"})
                    for n in range(first, first + count)
                ],
            )

        change(self.service, hears_unknown=True)
        events(0, 5)
        take_heard(self.world.workspace.pk)
        with self.assertNumQueries(self._statements(lambda: events(100, 10))):
            events(200, 60)
        few = self._statements(lambda: take_heard(self.world.workspace.pk))
        self.assertLess(few, 45)
        self.assertEqual(Heard.everywhere.filter(state="taken").count(), 75)

    def _statements(self, act: Any) -> int:
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        with CaptureQueriesContext(connection) as counted:
            act()
        return len(counted)


class Polled(Outside, TestCase):
    def setUp(self) -> None:
        self.mood("shop", "well")
        self.world = make_world()
        self.service = connect(self.world.workspace, "Shop", "", shipped()["telescope-shop"])
        set_secrets(self.service, {"key": KEY})
        self.person = self.world.arrive("ines@example.com", first_name="Ines")

    def buy(self, address: str, product: str = "torch") -> None:
        self.press("/larkmoor/buy/", product=product, email=address, name="Ines")

    def test_orders_are_asked_for_by_cursor_and_come_once(self) -> None:
        poll(str(self.service.pk))
        take_heard(self.world.workspace.pk)
        bought = Fact.everywhere.filter(subscriber=self.person, kind="event")
        before = bought.count()
        for _ in range(3):
            self.buy("ines@example.com")
        self.assertEqual(poll(str(self.service.pk)), 3)
        self.assertEqual(poll(str(self.service.pk)), 0)
        take_heard(self.world.workspace.pk)
        self.assertEqual(bought.count(), before + 3)
        said = next(
            one.data for _, one in happenings(self.person.facts.all()) if one.what == "event"
        )
        self.assertEqual((said["product"], said["amount"]), ("Red torch", "14.00"))
        self.service.refresh_from_db()
        assert self.service.poll_at is not None
        self.assertGreater(self.service.poll_at, clock.now(self.world.workspace))

    def test_more_than_one_part(self) -> None:
        for _ in range(60):
            self.buy("ines@example.com")
        poll(str(self.service.pk))
        take_heard(self.world.workspace.pk)
        self.assertGreaterEqual(
            Fact.everywhere.filter(subscriber=self.person, kind="event").count(), 60
        )

    def test_a_look_that_dies_before_it_is_stored_is_made_again(self) -> None:
        self.buy("ines@example.com")
        with (
            patch("server.connections.polling.store_events", side_effect=OSError("killed")),
            self.assertRaises(OSError),
        ):
            poll(str(self.service.pk))
        self.assertGreaterEqual(poll(str(self.service.pk)), 1)

    def test_a_shop_that_does_not_answer_is_asked_again_later(self) -> None:
        self.mood("shop", "broken")
        self.assertEqual(poll(str(self.service.pk)), 0)
        self.service.refresh_from_db()
        self.assertIn("answers 500", self.service.trouble)
        self.assertEqual(self.service.cursor, "")
        self.mood("shop", "expired")
        poll(str(self.service.pk))
        self.service.refresh_from_db()
        self.assertEqual(self.service.state, "needs_look")

    def test_an_order_becomes_a_row_of_a_sheet_whoever_it_is(self) -> None:
        rows = connect(self.world.workspace, "Sheets", "", shipped()["sheet-host"])
        set_secrets(rows, {"name": "larkmoor", "password": "demo-sheet-password"})
        lines = tuple(
            FarLine(id=to, to=to, take="answer", what=what)
            for to, what in (("Email", "email"), ("Product", "product"), ("Amount", "amount"))
        )
        row = Handover(
            service=str(rows.pk),
            operation="row",
            chosen={"sheet": Chosen(things=("orders",))},
            lines=lines,
        )
        change(self.service, hears={"order.paid": HeardRule(rows=(row,)).model_dump(mode="json")})
        self.buy("stranger@example.net", "binoculars")
        poll(str(self.service.pk))
        take_heard(self.world.workspace.pk)
        hand_over_due(rows.pk)
        sheet = httpx.get(f"{self.host}/sheets/orders.csv").text
        self.assertEqual(sheet.count("stranger@example.net,Binoculars 10x50,95.00"), 1)
        self.assertFalse(Subscriber.everywhere.filter(address="stranger@example.net").exists())

    def test_the_shop_tells_as_it_happens(self) -> None:
        """What the shop signs, by the reference library, this server takes."""
        sent: list[tuple[dict[str, str], bytes]] = []

        class Catches:
            status_code = 202

        def catch(address: str, content: bytes, headers: dict[str, str], timeout: float) -> Catches:
            sent.append((headers, content))
            return Catches()

        from outside.services import events
        from outside.services.store import Store

        with patch.object(events.httpx, "post", catch):
            store = Store("test-of-telling")
            store.put(
                "hook",
                {"id": "hook", "address": "http://x", "secret": opened(self.service.hear_secret)},
            )
            events.tell(store, "order.paid", {"email": "ines@example.com", "product": "Torch"})
        headers, content = sent[0]
        answer = Client().post(
            f"/hear/{self.service.hear_key}",
            content,
            content_type="application/json",
            headers=headers,
        )
        self.assertEqual(answer.status_code, 202)
