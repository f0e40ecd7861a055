"""All addresses of a person: leaving, erasing and events find them by each; and erasing somebody who did
everything there is leaves nothing of them."""

import re
from collections import Counter
from datetime import UTC, datetime, time, timedelta
from typing import Any
from unittest import mock

from django.db import OperationalError
from django.test import TestCase, TransactionTestCase

from core.people import MembershipState
from core.sequences import DateDoor
from core.services import Chosen
from core.values import read_email
from server.connections.hearing import take_heard
from server.doors.looking import look
from server.mail.signing import add_domain
from server.people.actions import make_field
from server.people.addresses import addresses_of, current_addresses
from server.people.chain import erase_evidence
from server.people.erasing import unmake_person
from server.people.memberships import confirm
from server.people.models import Fact, FormerAddress, Membership, Mention, Subscriber, Task
from server.people.trail import fact, store_facts
from server.profiles.addresses import change_address
from server.profiles.erasing import erase
from server.profiles.merges import merge_people, merges_of, undo_merge
from server.sequences.moving_time import move_time
from server.services import handing
from server.services.claims import give_back_abandoned
from server.services.connecting import make_thing
from server.services.handing import hand_over_due
from server.services.models import Handoff, Heard
from server.services.outbox import Handoffs
from server.snags.actions import report
from server.snags.models import Snag
from server.submissions.models import FileImport
from server.workspaces import clock
from tests.server.test_erasing import dump
from tests.server.test_handoffs import Handing
from tests.server.test_handoffs_at_once import Dealing
from tests.server.test_hearing import Telling
from tests.server.test_whole_sequences import Whole
from tests.world import WHY, make_world


class Addresses(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace

    def arrive(self, address: str) -> Subscriber:
        person = self.world.arrive(address, first_name="Zebedee")
        person.workspace = self.workspace
        return person

    def test_each_change_and_merge_is_kept_with_its_times(self) -> None:
        person = change_address(self.arrive("first@example.com"), "second@example.com", WHY)
        person = change_address(person, "third@example.com", WHY)
        self.assertEqual(
            addresses_of(person), ("third@example.com", "second@example.com", "first@example.com")
        )
        rows = list(FormerAddress.everywhere.order_by("until"))
        self.assertEqual(rows[0].until, rows[1].since)
        other = self.arrive("other@example.com")
        merge_people(other, person, frozenset(), WHY)
        self.assertEqual(
            set(addresses_of(other)[1:]), {f"{n}@example.com" for n in ("first", "second", "third")}
        )
        self.assertEqual(
            current_addresses(self.workspace, ["FIRST@example.com", "new@example.com"]),
            {"FIRST@example.com": "other@example.com", "new@example.com": "new@example.com"},
        )
        [row] = merges_of(other)
        back = undo_merge(row, WHY)
        self.assertEqual(addresses_of(other), ("other@example.com",))
        self.assertEqual(len(addresses_of(back)), 3)

    def test_one_that_somebody_else_has_by_now_is_theirs(self) -> None:
        person = change_address(self.arrive("mine@example.com"), "new@example.com", WHY)
        self.world.arrive("mine@example.com", look="moon")
        self.assertEqual(addresses_of(person), ("new@example.com",))
        self.assertEqual(
            current_addresses(self.workspace, ["mine@example.com"]),
            {"mine@example.com": "mine@example.com"},
        )

    def test_going_back_to_an_old_one(self) -> None:
        person = change_address(self.arrive("a@example.com"), "b@example.com", WHY)
        person = change_address(person, "a@example.com", WHY)
        self.assertEqual(addresses_of(person), ("a@example.com", "b@example.com"))


class Merged(TestCase):
    def test_a_merge_turns_no_address_into_a_subscriber_that_bounced_or_has_not_confirmed(
        self,
    ) -> None:
        world = make_world()
        for kept_state in ("bounced", "pending"):
            kept, gone = (world.arrive(f"{one}{kept_state}@example.com") for one in "kg")
            Membership.everywhere.filter(subscriber=kept).update(state=kept_state)
            for one in (kept, gone):
                one.refresh_from_db()
                one.workspace = world.workspace
            merge_people(kept, gone, frozenset(), WHY)
            self.assertEqual(kept.memberships.get().state, kept_state)

    def test_what_bounced_or_waits_under_the_other_address_is_not_said_of_this_one(self) -> None:
        world = make_world()
        state: MembershipState
        for state in ("bounced", "pending"):
            kept, gone = (world.arrive(f"{one}{state}@example.com") for one in "xy")
            # As if they had never joined.
            theirs = Membership.everywhere.filter(subscriber=kept)
            erase_evidence(list(theirs.values_list("pk", flat=True)))
            theirs.delete()
            Membership.everywhere.filter(subscriber=gone).update(state=state)
            for one in (kept, gone):
                one.refresh_from_db()
                one.workspace = world.workspace
            merge_people(kept, gone, frozenset(), WHY)
            self.assertEqual(kept.memberships.get().state, "none")
            [row] = merges_of(kept)
            back = undo_merge(row, WHY)
            self.assertEqual(back.memberships.get().state, state)


class Dates(Whole):
    def test_a_birthday_comes_once_wherever_somebody_moves(self) -> None:
        birthday = make_field(self.workspace, "Birthday", "date")
        people = {name: self.person(name) for name in ("west", "east", "stays", "twice")}
        zones = {
            "west": "Pacific/Auckland",
            "east": "America/Los_Angeles",
            "stays": "Europe/London",
            "twice": "Pacific/Auckland",
        }
        for name, one in people.items():
            row = Subscriber.everywhere.get(pk=one.pk)
            row.time_zone, row.values = zones[name], {**row.values, "birthday": "1990-03-05"}
            row.save()
        door = DateDoor(id="d", field=str(birthday.pk), at=time(9), yearly=True, again="start_over")
        self.turn_on(self.send("a1"), doors=(door,))
        look(self.workspace)
        move_time(self.workspace, datetime(2027, 3, 5, 0, 0, tzinfo=UTC))
        self.moves(people["west"], "America/Los_Angeles")
        self.moves(people["east"], "Pacific/Auckland")
        move_time(self.workspace, datetime(2027, 3, 5, 3, 0, tzinfo=UTC))
        for zone in ("America/Los_Angeles", "Pacific/Auckland", "Europe/London"):
            self.moves(people["twice"], zone)
            move_time(self.workspace, clock.now(self.workspace) + timedelta(hours=7))
        move_time(self.workspace, datetime(2027, 3, 8, tzinfo=UTC))
        counts = {name: len(self.runs(subscriber=one)) for name, one in people.items()}
        self.assertEqual(counts, dict.fromkeys(people, 1))
        # And again a year later.
        move_time(self.workspace, datetime(2028, 3, 8, tzinfo=UTC))
        counts = {name: len(self.runs(subscriber=one)) for name, one in people.items()}
        self.assertEqual(counts, dict.fromkeys(people, 2))

    def moves(self, person: Subscriber, zone: str) -> None:
        row = Subscriber.everywhere.get(pk=person.pk)
        before, row.time_zone = row.time_zone, zone
        row.save(update_fields=["time_zone"])
        at = clock.now(self.fresh())
        store_facts([fact(row, Fact.Kind.ZONE, {"before": before, "after": zone}, WHY, at)])


class AtServices(Handing, TestCase):
    def test_leaving_reaches_the_address_that_they_are_known_by_there(self) -> None:
        self.hands_over(self.handover())
        person = self.world.arrive("before@example.com", first_name="Ines", consent="on")
        hand_over_due(self.service.pk)
        person.workspace = self.world.workspace
        person = change_address(person, "after@example.com", WHY)
        from server.consent.own import leave

        leave(person, None)
        hand_over_due(self.service.pk)
        self.assertEqual(self.person("before@example.com")["lists"], {"news": "left"})

    def test_erasing_after_a_merge_reaches_the_other_address(self) -> None:
        self.hands_over(self.handover())
        gone = self.world.arrive("gone@example.com", first_name="Ines", consent="on")
        hand_over_due(self.service.pk)
        kept = self.world.arrive("kept@example.com", first_name="Ines")
        for one in (gone, kept):
            one.workspace = self.world.workspace
        merge_people(kept, gone, frozenset(), WHY)
        erase(kept)
        hand_over_due(self.service.pk)
        self.assertIsNone(self.person("gone@example.com"))

    def test_what_comes_behind_a_confirmation_waits_with_it(self) -> None:
        make_thing(self.service, "tag", "Order")
        self.service.refresh_from_db()
        tag = next(one["id"] for one in self.service.things["tag"] if one["label"] == "Order")
        person = self.world.arrive("ord@example.com", first_name="Ord")
        Membership.everywhere.filter(subscriber=person).update(state="pending")
        now = clock.now(self.world.workspace)
        tagging = self.handover(
            operation="tag", chosen={"tags": Chosen(things=(tag,))}, lines=self.lines(email="email")
        )
        for number, (handover, name) in enumerate(((self.handover(), "Add"), (tagging, "Tag"))):
            handoffs = Handoffs()
            handoffs.add_row(
                person, self.service.pk, handover, f"o/{number}", now, WHY, operation=name
            )
            handoffs.write()
        for _ in range(3):
            hand_over_due(self.service.pk)
        self.assertEqual(self.states(person), ["consent", "consent"])
        membership = Membership.everywhere.select_related("workspace", "list", "subscriber").get(
            subscriber=person
        )
        confirm(membership, now, "yes", "/c")
        for _ in range(3):
            hand_over_due(self.service.pk)
        self.assertEqual(self.states(person), ["done", "done"])
        self.assertIn("Order", self.person("ord@example.com")["tags"])

    def states(self, person: Subscriber) -> list[str]:
        rows = Handoff.everywhere.filter(subscriber=person).order_by("pk")
        return list(rows.values_list("state", flat=True))


class Doubled(Dealing, TransactionTestCase):
    def fails_once(self, row: Any) -> None:
        real, calls = handing.store_all, []

        def once(rows: Any) -> Any:
            calls.append(1)
            if len(calls) < 8:
                raise OperationalError("the connection is gone")
            return real(rows)

        with (
            mock.patch.object(handing, "store_all", side_effect=once),
            self.assertRaises(OperationalError),
        ):
            hand_over_due(row.pk)

    def test_what_was_asked_for_and_not_noted_is_looked_at_first(self) -> None:
        row = self.pipeline(with_keys=False)
        self.queue(row, 3, email="email", name="first_name", title="first_name")
        self.fails_once(row)
        give_back_abandoned()
        self.assertEqual(
            {(one.state, one.looks_first) for one in Handoff.everywhere.all()}, {("waiting", True)}
        )
        hand_over_due(row.pk)
        self.assertEqual(set(Handoff.everywhere.values_list("state", flat=True)), {"done"})
        self.assertEqual(Counter(self.deals()), Counter({f"k{n}@example.com": 1 for n in range(3)}))


class AtTheDoor(Telling):
    def test_an_event_about_an_old_address_is_about_who_had_it(self) -> None:
        self.person.workspace = self.world.workspace
        change_address(self.person, "new@example.com", WHY)
        self.call(self.order())
        take_heard(self.world.workspace.pk)
        self.assertTrue(Fact.everywhere.filter(subscriber=self.person, kind="event").exists())

    def test_what_is_not_taken_keeps_nobody_who_is_erased(self) -> None:
        event = self.order(name="Ines Personal")
        event["type"] = "page.viewed"
        self.call(event)
        take_heard(self.world.workspace.pk)
        self.assertTrue(Mention.everywhere.filter(key="ines@example.com", kind="heard").exists())
        person = Subscriber.everywhere.get(pk=self.person.pk)
        person.workspace = self.world.workspace
        erase(person)
        row = Heard.everywhere.get()
        self.assertEqual((row.content, row.address_key), (None, ""))

    def test_an_event_of_somebody_else_that_names_them(self) -> None:
        other = self.world.arrive("noor@example.com", first_name="Noor")
        self.call(self.order("noor@example.com", product="Gift for INES@example.com, with love"))
        take_heard(self.world.workspace.pk)
        person = Subscriber.everywhere.get(pk=self.person.pk)
        person.workspace = self.world.workspace
        erase(person)
        event = Fact.everywhere.get(subscriber=other, kind="event")
        self.assertEqual(event.what["data"]["product"], "Gift for …, with love")
        self.assertFalse(Mention.everywhere.exists())


class EverythingAtOnce(Telling):
    """Somebody who did everything there is."""

    TRACES = re.compile(r"zebedee|ines@|old-ines|third-ines|Tynwald|zq-friend", re.IGNORECASE)

    def setUp(self) -> None:
        super().setUp()
        self.workspace = self.world.workspace
        unmake_person(self.person)

    def test_nothing_is_left(self) -> None:
        world, workspace = self.world, self.workspace
        person = world.arrive("old-ines@example.com", first_name="Zebedee", utm_source="zq-friend")
        person.workspace = workspace
        person = change_address(person, "ines@example.com", WHY)
        other = world.arrive("third-ines@example.com", first_name="Tynwald")
        other.workspace = workspace
        merge_people(person, other, frozenset(), WHY)
        self.call(self.order(name="Zebedee"))
        unknown = self.order("old-ines@example.com", name="Zebedee")
        unknown["type"], unknown["id"] = "page.viewed", "evt_2"
        self.call(unknown)
        take_heard(workspace.pk)
        noor = world.arrive("noor@example.com", first_name="Noor")
        told = self.order("noor@example.com", product="for third-ines@example.com")
        told["id"] = "evt_3"
        self.call(told)
        take_heard(workspace.pk)
        self.assertEqual(Fact.everywhere.filter(kind="event").count(), 2)
        Task.everywhere.create(
            workspace=workspace,
            subscriber=person,
            title="Ring Zebedee",
            made_at=clock.now(workspace),
            due_at=clock.now(workspace),
            because=WHY,
        )
        from server.imports.models import RefusedRow

        files = FileImport.everywhere.create(
            workspace=workspace,
            source=world.source,
            name="Zebedee.csv",
            created_at=clock.now(workspace),
            size=1,
        )
        RefusedRow.everywhere.create(
            workspace=workspace,
            file_import=files,
            number=1,
            cells=["old-ines@example.com", "Zebedee"],
            problem={},
        )
        report(workspace, Snag.About.SUBMISSION, "c1", "“Zebedee” is no phone number.")
        report(
            workspace,
            Snag.About.SEND,
            "c2",
            "old-ines@example.com was refused.",
            place={"person": str(person.pk)},
        )
        before = {name for name, text in dump().items() if self.TRACES.search(text)}
        self.assertGreaterEqual(len(before), 10, before)
        erase(Subscriber.everywhere.select_related("workspace").get(pk=person.pk))
        hand_over_due(self.lists.pk)
        left = {
            name: self.TRACES.findall(text)
            for name, text in dump().items()
            if self.TRACES.search(text)
        }
        self.assertEqual(left, {})
        self.assertTrue(Subscriber.everywhere.filter(pk=noor.pk).exists())


class Domains(TestCase):
    def test_one_domain_is_one_wherever_it_stands(self) -> None:
        """RFC 5891: ß is a letter of its own, where IDNA 2003 made it ss."""
        world = make_world()
        row = add_domain(world.workspace, "straße.example")
        address = read_email("hello@straße.example")
        self.assertEqual(row.domain, "xn--strae-oqa.example")
        self.assertTrue(str(address).endswith(f"@{row.domain}"), address)
