"""Broadcasts: exactly those who may get it, each once, and none of them after they left."""

import json
import random
import re
from collections import Counter
from datetime import UTC, datetime, timedelta
from email import message_from_bytes
from typing import Any
from unittest import mock
from zoneinfo import ZoneInfo

from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PublicKey
from django.core import mail
from django.db import connection
from django.test import TestCase

from core.broadcasts import (
    BroadcastDocument,
    Goes,
    Known,
    LeftOut,
    To,
    Trial,
    Version,
    When,
    place_of,
)
from core.conditions import Circumstances, FieldTest, Group, MembershipTest, TagTest, holds
from core.documents import Because
from core.messages import simple_message
from core.sequences import Lane, SendStep, SequenceDocument, WaitStep
from server.audiences.actions import make_audience
from server.broadcasts import actions
from server.broadcasts.catalogue import conditions_of, whole_catalogue
from server.broadcasts.going import look
from server.broadcasts.models import Broadcast
from server.broadcasts.proof import report_unproven, unproven
from server.broadcasts.recipients import Recipients
from server.consent.own import leave
from server.mail import deliver as delivering
from server.mail.deliver import deliver_everything
from server.mail.editing import save_message, turn_on_changes
from server.mail.models import BroadcastPause, Message, Send
from server.people.actions import make_list
from server.people.models import Evidence, Membership, Subscriber
from server.people.suppression import suppress
from server.profiles.erasing import erase
from server.profiles.merges import merge_people
from server.sequences import actions as sequences
from server.sequences.models import Run, SequenceRevision
from server.sequences.moving_time import move_time
from server.sequences.people import full_people
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.causes import caused_by, keep_causes
from server.workspaces.errors import Conflict, Forbidden, Refused
from server.workspaces.history import acting
from server.workspaces.models import Member, Role, User, Workspace
from tests.server.test_audiences import AudienceDocument
from tests.server.test_evidence import decoded
from tests.world import BACKEND, make_world

START = datetime(2027, 3, 2, 10, tzinfo=UTC)
BY_HAND = Because(kind="member", sentence="by hand")


class BroadcastCase(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        clock.set_time(self.workspace, START)
        self.client.force_login(self.world.user, BACKEND)
        self.news = str(self.world.news.pk)
        self.guide, self.fits = str(self.world.guide.pk), str(self.world.fits.pk)

    def fresh(self) -> Workspace:
        self.workspace = Workspace.objects.get(pk=self.workspace.pk)
        return self.workspace

    def people(self, *names: str, **answers: str) -> list[Subscriber]:
        found = [
            self.world.arrive(f"{name}@example.com", first_name=name.capitalize(), **answers)
            for name in names
        ]
        deliver_everything(self.workspace.pk)
        return found

    def many(self, count: int) -> list[Subscriber]:
        """So many subscribers at once, of whom nothing else is known."""
        rows = [
            Subscriber(
                workspace=self.workspace,
                address=f"t{number}@example.com",
                address_key=f"t{number}@example.com",
                values={"first_name": f"T{number}"},
                added_at=START,
            )
            for number in range(count)
        ]
        Subscriber.everywhere.bulk_create(rows)
        on_list = [
            Membership(
                workspace=self.workspace,
                subscriber=row,
                list=self.world.news,
                state="subscribed",
                changed_at=START,
                **caused_by(self.workspace.pk, BY_HAND),
            )
            for row in rows
        ]
        keep_causes(on_list)
        Membership.everywhere.bulk_create(on_list)
        return rows

    def later(self, **by: int) -> None:
        """Time goes on, and everything that is due on the way happens."""
        self.fresh()
        move_time(self.workspace, clock.now(self.workspace) + timedelta(**by))
        self.fresh()

    def document(self, *versions: Version, **more: Any) -> BroadcastDocument:
        to = more.pop("to", {})
        return BroadcastDocument(
            to=To(list=self.news, **to),
            versions=versions or (Version(id="a", message=self.guide),),
            **more,
        )

    def make(self, *versions: Version, name: str = "March letter", **more: Any) -> Broadcast:
        return actions.make_broadcast(
            self.fresh(), name, self.document(*versions, **more), self.world.member
        )

    def go(self, row: Broadcast) -> Broadcast:
        actions.set_off(self.again(row), self.world.member)
        return self.again(row)

    def again(self, row: Broadcast) -> Broadcast:
        return Broadcast.everywhere.select_related("workspace").get(pk=row.pk)

    def emails(self, row: Broadcast, **wanted: Any) -> list[Send]:
        rows = Send.everywhere.filter(broadcast=row.pk, **wanted).select_related("subscriber")
        return list(rows.order_by("subscriber__address"))

    def letter_to(self, name: str, row: Broadcast) -> str:
        """The plain text that went out to somebody."""
        send = Send.everywhere.get(broadcast=row.pk, subscriber__address=f"{name}@example.com")
        read = [message_from_bytes(one.message().as_bytes()) for one in mail.outbox]
        (found,) = (one for one in read if str(send.pk) in one["Message-ID"])
        (plain,) = (one for one in found.walk() if one.get_content_type() == "text/plain")
        return bytes(plain.get_payload(decode=True)).decode()

    def call(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        answer = getattr(self.client, method)(
            f"/api/workspaces/{self.workspace.slug}/broadcasts{path}",
            data=None if body is None else json.dumps(body),
            content_type="application/json",
        )
        self.assertEqual(answer.status_code, status, answer.content[:600])
        return answer.json()


class FromDraftToDone(BroadcastCase):
    def test_the_whole_way_over_the_api(self) -> None:
        ines, jon, mira = self.people("ines", "jon", "mira")
        self.later(days=2)
        suppress(self.workspace, [jon.address], "asked by phone", None)
        made = self.call("post", "", {"name": "March letter"})
        at = f"/{made['id']}"
        self.assertEqual([one["code"] for one in made["findings"]], ["no_list", "no_message"])
        self.assertEqual(
            self.call("post", f"{at}/turn-on", {}, 422)["title"],
            "Pre-flight found problems to fix first.",
        )
        document = self.document().model_dump(mode="json")
        saved = self.call("put", f"{at}/draft", {"document": document, "based_on": made["edits"]})
        self.assertEqual(saved["findings"], [])
        self.assertEqual(saved["to"], "Everybody on Open-night news")
        plan = self.call("post", f"{at}/plan", {"document": document})
        self.assertEqual((plan["people"], plan["gets"]), (3, 2))
        self.assertEqual(
            [(one["title"], one["people"]) for one in plan["left_out"]],
            [("On the suppression list", 1)],
        )
        self.assertEqual(sum(one["people"] for one in plan["hours"]), 2)
        who = self.call("post", f"{at}/left-out", {"document": document, "why": "suppressed"})
        self.assertEqual([one["address"] for one in who["people"]], [jon.address])
        seen = self.call("post", f"{at}/person", {"document": document, "person": str(jon.pk)})
        self.assertEqual(
            (seen["gets"], seen["sentence"]), (False, "Does not get it. On the suppression list")
        )
        seen = self.call("post", f"{at}/person", {"document": document})
        self.assertTrue(seen["gets"])
        self.assertIn("Gets it", seen["sentence"])
        self.assertIn("your guide", seen["html"])
        gone = self.call("post", f"{at}/turn-on", {"based_on": saved["edits"]})
        self.assertEqual((gone["state"], gone["acts"]), ("waiting", ["call_back"]))
        # Nothing goes while it can be called back.
        self.later(minutes=4)
        self.assertEqual(self.emails(self.again(Broadcast.everywhere.get())), [])
        self.later(minutes=2)
        row = Broadcast.everywhere.get()
        self.assertEqual(row.state, "done")
        self.assertEqual([one.subscriber for one in self.emails(row, state="sent")], [ines, mira])
        progress = self.call("get", f"{at}/progress")
        self.assertEqual((progress["sent"], progress["waiting"]), (2, 0))
        self.assertEqual(progress["left_out"], [{"why": "On the suppression list", "people": 1}])
        # It cannot be changed any more; a copy can.
        self.call("put", f"{at}/draft", {"document": document, "based_on": gone["edits"]}, 409)
        copy = self.call("post", f"{at}/copy", {"name": "April letter"})
        self.assertEqual((copy["state"], copy["document"]["to"]["list"]), ("draft", self.news))
        self.assertEqual((copy["before"], copy["changes"]), ("March letter", []))
        listed = self.call("get", "")
        self.assertEqual(
            [(one["name"], one["sent"]) for one in listed],
            [("April letter", 0), ("March letter", 2)],
        )
        self.call("delete", at, None, 409)
        self.call("delete", f"/{copy['id']}")

    def test_called_back_whole_and_set_off_again(self) -> None:
        self.people("ines", "jon")
        self.later(days=2)
        row = self.go(self.make())
        actions.call_back(row, self.world.member)
        row = self.again(row)
        self.assertEqual((row.state, row.begins_at, row.texts), ("draft", None, {}))
        self.later(minutes=30)
        self.assertEqual(self.emails(row), [])
        row = self.go(row)
        self.later(minutes=6)
        self.assertEqual(len(self.emails(row, state="sent")), 2)
        with self.assertRaises(Conflict):
            actions.call_back(self.again(row), self.world.member)
        self.assertEqual([one.number for one in row.revisions.order_by("number")], [1, 2])

    def test_what_has_begun_cannot_be_called_back(self) -> None:
        self.people("ines")
        row = self.go(self.make())
        clock.set_time(self.workspace, clock.now(self.workspace) + timedelta(minutes=6))
        with self.assertRaisesRegex(Conflict, "begun to go out"):
            actions.call_back(self.again(row), self.world.member)

    def test_the_text_is_that_of_when_it_was_set_off(self) -> None:
        self.people("ines")
        self.later(days=2)
        row = self.go(self.make())
        message = Message.everywhere.get(pk=self.guide)
        save_message(
            message, simple_message("Another subject", body="<p>Other</p>"), None, self.world.member
        )
        turn_on_changes(message, self.world.member)
        self.later(minutes=6)
        (email,) = self.emails(row, state="sent")
        self.assertEqual(email.subject, "Your guide Ines")

    def test_as_a_file_and_in_again(self) -> None:
        row = self.make(to={"only": Group(of=(TagTest(tag=self.tag("moon")),))})
        body = self.client.get(
            f"/api/workspaces/{self.workspace.slug}/broadcasts/{row.pk}/document.json"
        ).content
        other = self.make(name="Another")
        answer = self.client.put(
            f"/api/workspaces/{self.workspace.slug}/broadcasts/{other.pk}/document.json",
            data=body,
            content_type="application/json",
        )
        self.assertEqual(answer.json(), {"missing": []})
        found = [json.loads(body)["document"], other.revisions.get().document]
        self.assertEqual(found[0], found[1])

    def tag(self, name: str) -> str:
        catalogue = whole_catalogue(self.fresh())
        return next(pk for pk, one in catalogue.tags.items() if one == name)


class WhoGetsIt(BroadcastCase):
    def test_everybody_agrees_with_a_second_reading_of_each(self) -> None:
        """Generated people and broadcasts: the statement over all against each person by the core alone."""
        chance = random.Random(30)
        people = self.people(*(f"p{number}" for number in range(24)))
        other = make_list(self.workspace, "Other")
        tags = list(whole_catalogue(self.fresh()).tags)
        zones = ["", "Asia/Tokyo", "Europe/Lisbon", "America/New_York"]
        for person in people:
            Subscriber.everywhere.filter(pk=person.pk).update(
                time_zone=chance.choice(zones),
                gap_days=chance.choice([0, 0, 3]),
                values={} if chance.random() < 0.3 else {"first_name": chance.choice(["Ines", ""])},
                folded={"first_name": "ines"},
            )
            state = chance.choice(
                ["subscribed"] * 4 + ["pending", "bounced", "complained", "unsubscribed"]
            )
            Membership.everywhere.filter(subscriber=person, list=self.news).update(state=state)
            if chance.random() < 0.4:
                person.taggings.get_or_create(
                    tag_id=chance.choice(tags),
                    defaults={"workspace": self.workspace, "at": START, "because": BY_HAND},  # type: ignore[misc]
                )
        suppress(self.workspace, [people[0].address, "@nowhere.example"], "", None)
        # Somebody got marketing yesterday.
        Send.everywhere.filter(subscriber__in=people[:9]).update(
            asked_for=False, sent_at=START - timedelta(hours=20)
        )
        audiences = [
            str(
                make_audience(self.workspace, name, AudienceDocument(who=Group(of=(one,))), None).pk
            )
            for name, one in (
                ("Moon", TagTest(tag=tags[0])),
                ("Others", TagTest(tag=tags[1], has=False)),
                ("On other", MembershipTest(list=str(other.pk))),
            )
        ]
        Workspace.objects.filter(pk=self.workspace.pk).update(email_gap_days=2)
        kinds: Counter[str] = Counter()
        for number in range(40):
            workspace = self.fresh()
            field = next(iter(whole_catalogue(workspace).fields))
            parts = (
                TagTest(tag=chance.choice(tags), has=chance.random() < 0.3),
                FieldTest(field=field, op="not_empty"),
            )
            to: dict[str, Any] = {
                "audiences": tuple(chance.sample(audiences, chance.choice([0, 0, 1, 2]))),
                "only": Group(of=parts[: chance.choice([0, 1, 2])]),
                "less_audiences": tuple(chance.sample(audiences, chance.choice([0, 1]))),
                "less": Group(
                    kind="any", of=chance.choice([(), (TagTest(tag=chance.choice(tags)),)])
                ),
                "less_recent_days": chance.choice([None, None, 1, 5]),
            }
            when = When(
                kind=chance.choice(["at_once", "local"]),  # type: ignore[arg-type]
                at=datetime(2027, 3, 3, 9),
                outside=chance.choice(["move", "leave_out"]),  # type: ignore[arg-type]
                without_zone=chance.choice(["workspace", "leave_out"]),  # type: ignore[arg-type]
            )
            message = chance.choice([self.guide, self.fits])
            document = self.document(Version(id="a", message=message), to=to, when=when)
            found = Recipients(workspace, None, document, START, START)
            places = {one.pk: one.place for one in found.everybody()}
            wanted = self.by_the_core(document, found)
            self.assertEqual(places, wanted, f"broadcast {number}")
            counted = found.counted()
            self.assertEqual(counted.gets, sum(isinstance(one, Goes) for one in wanted.values()))
            by_reason = Counter(
                (one.why, one.about) for one in wanted.values() if isinstance(one, LeftOut)
            )
            self.assertEqual(counted.left_out, by_reason)
            kinds.update(
                one.why if isinstance(one, LeftOut) else "moved" if one.moves else "goes"
                for one in wanted.values()
            )
        few = {kind: count for kind, count in kinds.items() if count < 3}
        self.assertEqual(few, {})
        self.assertGreaterEqual(len(kinds), 12, kinds)

    def by_the_core(self, document: BroadcastDocument, recipients: Recipients) -> dict[Any, Any]:
        workspace = recipients.workspace
        catalogue, to = whole_catalogue(workspace), document.to
        seen = Circumstances(now=START, zone=workspace.time_zone)
        rows = {one.pk: one for one in Subscriber.objects.of(workspace)}
        persons = full_people(workspace, list(rows.values()))
        within = conditions_of(workspace, to.audiences)
        without = conditions_of(workspace, to.less_audiences)
        needs_name = document.versions[0].message == self.fits
        found = {}
        for pk, person in persons.items():
            row = rows[pk]
            state = person.membership(self.news)
            if to.audiences:
                if not any(holds(one, person, seen, catalogue) for one in within.values()):
                    continue
            elif state in ("none", "unsubscribed"):
                continue
            less = [one for one, who in without.items() if holds(who, person, seen, catalogue)]
            if to.less.of and holds(to.less, person, seen, catalogue):
                less.append("less")
            lacks = [
                str(n)
                for n, one in enumerate(to.only.of)
                if not holds(one, person, seen, catalogue)
            ]
            left = [
                one.sent_at
                for one in Send.everywhere.filter(subscriber=pk, asked_for=False, state="sent")
            ]
            newest = max(filter(None, left), default=None)
            days = to.less_recent_days
            found[pk] = place_of(
                Known(
                    membership=state,
                    suppressed=person.suppressed,
                    lacks=lacks[0] if lacks else "",
                    less=less[0] if less else "",
                    recent=bool(days and newest and newest > START - timedelta(days=days)),
                    hole="first_name" if needs_name and not row.values.get("first_name") else "",
                    zone=row.time_zone,
                    gap_days=row.gap_days,
                    last_marketing_at=newest,
                ),
                recipients.plan,
            )
        return found

    def test_who_is_under_way_where_that_is_wanted_is_left_alone(self) -> None:
        ines, _jon = self.people("ines", "jon")
        own = sequences.make_sequence(self.workspace, "Quiet days", self.world.member)
        wait = WaitStep.model_validate({"id": "w", "duration": {"amount": 9, "unit": "days"}})
        steps = (wait, SendStep(id="s", message=self.guide))
        document = SequenceDocument(
            list=self.news, lanes=(Lane(id="a", steps=steps),), no_broadcasts=True
        )
        sequences.save_sequence_draft(own, document, None, self.world.member)
        sequences.turn_on(own, self.world.member)
        Run.everywhere.create(
            workspace=self.workspace,
            sequence=own,
            subscriber=ines,
            revision=SequenceRevision.everywhere.get(sequence=own, state="live"),
            lane="a",
            step="w",
            entered_at=START,
            because=BY_HAND,
        )
        row = self.make()
        counted = Recipients(self.fresh(), row.pk, self.document(), START, START).counted()
        self.assertEqual((counted.gets, counted.left_out), (1, Counter({("busy", ""): 1})))
        both = self.document(to={"less_busy": False})
        self.assertEqual(Recipients(self.fresh(), row.pk, both, START, START).counted().gets, 2)

    def test_by_the_clock_of_each_person(self) -> None:
        zones = ["Asia/Tokyo", "Europe/Lisbon", "America/New_York", ""]
        people = self.people(*(f"z{number}" for number in range(4)))
        for person, zone in zip(people, zones, strict=True):
            Subscriber.everywhere.filter(pk=person.pk).update(time_zone=zone)
        self.later(days=3)
        at = (clock.now(self.workspace) + timedelta(days=3)).replace(
            tzinfo=None, hour=18, minute=0, second=0, microsecond=0
        )
        row = self.go(self.make(when=When(kind="local", at=at)))
        self.later(days=5)
        sent = {one.subscriber_id: one.sent_at for one in self.emails(row, state="sent")}
        for person, zone in zip(people, zones, strict=True):
            moment = sent[person.pk]
            assert moment is not None
            shown = moment.astimezone(ZoneInfo(zone or "Europe/London"))
            self.assertEqual(shown.replace(tzinfo=None, microsecond=0), at, zone)

    def test_the_gap_is_kept_or_leaves_them_out_even_at_the_last_moment(self) -> None:
        ines, jon = self.people("ines", "jon")
        self.later(days=9)
        Workspace.objects.filter(pk=self.workspace.pk).update(email_gap_days=2)
        row = self.go(self.make(when=When(outside="leave_out")))
        moves = self.go(self.make(name="Second"))
        # Meanwhile something else goes to one of them.
        Send.everywhere.filter(subscriber=ines, asked_for=False).update(
            sent_at=clock.now(self.fresh())
        )
        self.later(minutes=7)
        first, second = self.emails(row), self.emails(moves)
        self.assertEqual([one.subscriber for one in first], [jon])
        self.assertEqual(first[0].state, "sent")
        self.assertEqual(
            {one.subscriber: one.state for one in second}, {ines: "queued", jon: "queued"}
        )
        self.later(days=3)
        self.assertEqual([one.state for one in self.emails(moves)], ["sent", "sent"])


class GoingOut(BroadcastCase):
    def slow(self, most: int) -> Any:
        """A mail server that has taken so many, and then a member acts."""
        real, done = delivering.hand_over, []

        def hand_over(mail: Any) -> None:
            real(mail)
            done.append(mail)
            if len(done) == most:
                self.act()

        return mock.patch.object(delivering, "hand_over", hand_over)

    def act(self) -> object:
        raise NotImplementedError

    def test_paused_half_way_resumed_and_each_once(self) -> None:
        people = self.people(*(f"p{number}" for number in range(8)))
        self.later(days=2)
        row = self.go(self.make())
        self.act = lambda: actions.pause(self.again(row))  # type: ignore[method-assign]
        with self.slow(3):
            self.later(minutes=6)
        self.assertEqual(self.again(row).state, "going_paused")
        self.assertEqual(len(self.emails(row, state="sent")), 3)
        self.later(days=1)
        self.assertEqual(len(self.emails(row, state="queued")), 5)
        with self.assertRaises(Conflict):
            actions.pause(self.again(row))
        actions.resume(self.again(row))
        self.later(minutes=1)
        self.assertEqual([one.subscriber for one in self.emails(row, state="sent")], people)
        self.assertEqual(self.again(row).state, "done")
        self.assertFalse(BroadcastPause.everywhere.exists())

    def test_stopped_half_way(self) -> None:
        self.people(*(f"p{number}" for number in range(6)))
        self.later(days=2)
        row = self.go(self.make())
        self.act = lambda: actions.stop(self.again(row))  # type: ignore[method-assign]
        with self.slow(2):
            self.later(minutes=6)
        self.later(days=1)
        states = Counter(one.state for one in self.emails(row))
        self.assertEqual(states, Counter(sent=2, withdrawn=4))
        self.assertEqual(self.again(row).state, "stopped")

    def test_who_leaves_while_it_goes_out_gets_nothing_any_more(self) -> None:
        people = self.people(*(f"p{number}" for number in range(6)))
        self.later(days=2)
        row = self.go(self.make())
        self.act = lambda: leave(people[4], [self.news], "")  # type: ignore[method-assign]
        with self.slow(2):
            self.later(minutes=6)
        found = {one.subscriber: (one.state, one.reply) for one in self.emails(row)}
        self.assertEqual(found[people[4]], ("withdrawn", "unsubscribed before it was due"))
        self.assertEqual(sum(state == "sent" for state, _ in found.values()), 5)

    def test_what_was_promised_and_the_sequences_go_first(self) -> None:
        self.people(*(f"p{number}" for number in range(3)))
        self.later(days=2)
        row = self.go(self.make())
        workspace = self.fresh()
        clock.set_time(workspace, clock.now(workspace) + timedelta(minutes=6))
        look(self.fresh())
        self.assertEqual(len(self.emails(row, state="queued")), 3)
        self.world.arrive("late@example.com", first_name="Late")
        order: list[str] = []
        real = delivering.hand_over

        def hand_over(mail: Any) -> None:
            order.append(mail.to[0])
            real(mail)

        with mock.patch.object(delivering, "hand_over", hand_over):
            deliver_everything(workspace.pk)
        self.assertEqual(order[0], "late@example.com")
        self.assertEqual(len(order), 4)

    def test_merged_and_erased_meanwhile(self) -> None:
        ines, jon, mira = self.people("ines", "jon", "mira")
        self.later(days=2)
        row = self.go(self.make())
        clock.set_time(self.fresh(), clock.now(self.workspace) + timedelta(minutes=6))
        look(self.fresh())
        merge_people(ines, jon, frozenset(), BY_HAND)
        erase(mira)
        self.later(minutes=1)
        (email, other) = sorted(self.emails(row), key=lambda one: one.state)
        self.assertEqual((email.state, other.state), ("sent", "withdrawn"))
        self.assertEqual({email.subscriber, other.subscriber}, {ines})

    def test_per_hour_as_the_broadcast_says(self) -> None:
        self.people(*(f"p{number}" for number in range(6)))
        self.later(days=2)
        row = self.go(self.make(when=When(per_hour=2)))
        self.later(days=1)
        times = sorted(one.sent_at for one in self.emails(row, state="sent") if one.sent_at)
        self.assertEqual(len(times), 6)
        for first, third in zip(times, times[2:], strict=False):
            self.assertGreaterEqual(third - first, timedelta(minutes=59, seconds=59))


class Trials(BroadcastCase):
    def two(self, **trial: Any) -> Broadcast:
        Workspace.objects.filter(pk=self.workspace.pk).update(counts_clicks=True)
        self.many(40)
        return self.go(
            self.make(
                Version(id="a", message=self.guide),
                Version(
                    id="b",
                    message=self.guide,
                    subject="Clear nights, {{ first_name | default: 'you' }}",
                ),
                trial=Trial(**{"share": 50, "hours": 4, **trial}),
            )
        )

    def test_a_clear_one_goes_to_the_rest_and_nobody_gets_two(self) -> None:
        row = self.two()
        self.later(minutes=6)
        row = self.again(row)
        self.assertEqual(row.state, "trying")
        tried = self.emails(row)
        self.assertTrue(5 < len(tried) < 35)
        subjects = {one.version: one.subject for one in tried}
        self.assertEqual(set(subjects), {"a", "b"})
        self.assertTrue(subjects["b"].startswith("Clear nights, T"))
        clicked = [one.pk for one in tried if one.version == "b"]
        Send.everywhere.filter(pk__in=clicked).update(clicked_at=clock.now(self.workspace))
        progress = self.call("get", f"/{row.pk}/progress")
        self.assertEqual((progress["trial"]["version"], progress["trial"]["clear"]), ("b", True))
        self.later(hours=3)
        self.assertEqual(self.again(row).state, "trying")
        self.later(hours=2)
        row = self.again(row)
        self.assertEqual((row.state, row.chosen), ("done", "b"))
        self.assertTrue(row.judged["clear"])
        everybody = self.emails(row, state="sent")
        self.assertEqual(len({one.subscriber_id for one in everybody}), 40)
        self.assertEqual(len(everybody), 40)
        rest = [one for one in everybody if one.pk not in {one.pk for one in tried}]
        self.assertEqual({one.version for one in rest}, {"b"})
        # What the trial said stays what it said, whatever the rest do.
        after = self.call("get", f"/{row.pk}/progress")["trial"]
        self.assertEqual(sum(one["sent"] for one in after["versions"]), len(tried))

    def test_too_early_to_say_sends_the_first(self) -> None:
        row = self.two()
        self.later(hours=6)
        self.later(minutes=1)
        row = self.again(row)
        self.assertEqual((row.state, row.chosen, row.judged["clear"]), ("done", "a", False))
        # Who clicks later changes what is known by now, and not what was known when it was decided.
        late = [one.pk for one in self.emails(row) if one.version == "b"]
        Send.everywhere.filter(pk__in=late).update(clicked_at=clock.now(self.workspace))
        said = self.call("get", f"/{row.pk}/progress")
        self.assertEqual((said["trial"]["version"], said["trial"]["clear"]), ("b", True))
        self.assertEqual((said["decided"]["version"], said["decided"]["clear"]), ("a", False))

    def test_a_member_chooses(self) -> None:
        row = self.two(by="member")
        self.later(days=3)
        self.assertEqual(self.again(row).state, "trying")
        with self.assertRaises(Refused):
            actions.choose(self.again(row), "z")
        actions.choose(self.again(row), "b")
        self.later(minutes=1)
        row = self.again(row)
        self.assertEqual((row.state, row.chosen), ("done", "b"))

    def test_again_to_those_who_did_not_click(self) -> None:
        Workspace.objects.filter(pk=self.workspace.pk).update(counts_clicks=True)
        ines, jon = self.people("ines", "jon")
        self.later(days=2)
        row = self.go(self.make())
        self.later(minutes=6)
        Send.everywhere.filter(broadcast=row.pk, subscriber=ines).update(clicked_at=START)
        second = actions.make_again(self.again(row), "March, once more", self.world.member)
        codes = [
            one.code for one in actions.check(second, self.document(to={"again_of": str(row.pk)}))
        ]
        self.assertEqual(codes, ["same_subject"])
        other = self.document(
            Version(id="a", message=self.guide, subject="Did you see it?"),
            to={"again_of": str(row.pk)},
        )
        actions.save_broadcast(second, other, None, self.world.member)
        second = self.go(second)
        self.later(minutes=6)
        self.assertEqual([one.subscriber for one in self.emails(second, state="sent")], [jon])
        third = actions.make_again(self.again(row), "March, a third time", self.world.member)
        actions.save_broadcast(third, other, None, self.world.member)
        with self.assertRaises(Refused):
            self.go(third)
        with self.assertRaises(Refused):
            actions.make_again(self.again(second), "No", self.world.member)


class Approval(BroadcastCase):
    def setUp(self) -> None:
        super().setUp()
        self.people("ines")
        Workspace.objects.filter(pk=self.workspace.pk).update(approves_broadcasts=True)
        user = User.objects.create_user("tove@larkmoor.example", "a password for tests")
        self.tove = Member.objects.create(workspace=self.workspace, user=user, role=Role.EDITOR)
        self.later(days=2)

    def test_a_second_member_approves(self) -> None:
        row = self.make()
        with self.assertRaisesRegex(Refused, "second member approves"):
            self.go(row)
        with self.assertRaisesRegex(Refused, "Somebody else"):
            actions.ask(row, self.world.member, self.world.member, None)
        actions.ask(row, self.tove, self.world.member, None)
        row = self.again(row)
        with self.assertRaises(Conflict):
            actions.save_broadcast(row, self.document(), None, self.world.member)
        with self.assertRaises(Forbidden):
            actions.approve(row, self.world.member)
        with acting(self.tove):
            actions.approve(row, self.tove)
        self.assertEqual(self.again(row).state, "waiting")
        self.later(minutes=6)
        self.assertEqual(len(self.emails(row, state="sent")), 1)

    def test_not_approved_it_is_edited_again(self) -> None:
        row = self.make()
        actions.ask(row, self.tove, self.world.member, None)
        actions.take_back(self.again(row), self.tove)
        row = self.again(row)
        self.assertEqual((row.state, row.asked_by, row.approved_by), ("draft", None, None))

    def test_a_test_goes_to_stated_addresses(self) -> None:
        row = self.make()
        body = {
            "document": self.document().model_dump(mode="json"),
            "to": ["a@larkmoor.example", "not an address"],
        }
        self.call("post", f"/{row.pk}/test", body, 422)
        before = len(mail.outbox)
        body["to"] = ["a@larkmoor.example", "b@larkmoor.example"]
        self.assertEqual(self.call("post", f"/{row.pk}/test", body)["count"], 2)
        self.assertEqual(
            [one.to for one in mail.outbox[before:]],
            [["a@larkmoor.example"], ["b@larkmoor.example"]],
        )
        self.assertIn("[Test]", mail.outbox[-1].subject)
        self.assertEqual(self.emails(row), [])


class Proof(BroadcastCase):
    def test_each_marketing_email_keeps_what_allowed_it(self) -> None:
        ines, _jon = self.people("ines", "jon")
        self.later(days=2)
        row = self.go(self.make())
        self.later(minutes=6)
        for email in self.emails(row, state="sent"):
            membership = Membership.everywhere.get(subscriber=email.subscriber, list=self.news)
            entry = Evidence.everywhere.filter(membership=membership, after="subscribed").latest(
                "at"
            )
            self.assertEqual((email.allowed_by, email.evidence), (membership.pk, entry.hash))
        promised = Send.everywhere.get(subscriber=ines, asked_for=True)
        self.assertEqual((promised.allowed_by, promised.evidence), (None, ""))

    def test_why_did_you_write_to_me(self) -> None:
        """As a page, and as a record whose signature another library checks by the published key."""
        ines, _jon = self.people("ines", "jon")
        self.later(days=2)
        row = self.go(self.make())
        self.later(minutes=6)
        email = Send.everywhere.get(broadcast=row.pk, subscriber=ines)
        at = f"/api/workspaces/{self.workspace.slug}/emails/{email.pk}/why"
        page = self.client.get(at)
        for part in (
            "You also get the news.",
            "Telescope guide",
            ines.address,
            "is unchanged",
            "broadcast March letter",
        ):
            self.assertContains(page, part)
        record = self.client.get(f"{at}.jws").content
        keys = self.client.get("/.well-known/jwks.json").json()
        head, body, signature = record.decode().split(".")
        public = Ed25519PublicKey.from_public_bytes(decoded(keys["keys"][0]["x"]))
        public.verify(decoded(signature), f"{head}.{body}".encode())
        said = json.loads(decoded(body))
        self.assertEqual(said["allowed_by"]["hash"], email.evidence)
        self.assertEqual(said["allowed_by"]["wording"], "You also get the news.")
        self.assertEqual(
            said["email"]["message_id"],
            mail.outbox[-2].message().as_bytes().decode().split("Message-ID: ")[1].split("\r\n")[0],
        )
        self.assertEqual(json.loads(decoded(head))["typ"], "email-proof+jws")
        promised = Send.everywhere.get(subscriber=ines, asked_for=True)
        page = self.client.get(f"/api/workspaces/{self.workspace.slug}/emails/{promised.pk}/why")
        self.assertContains(page, "asked for just before")

    def test_what_nothing_allowed_is_found(self) -> None:
        """Planted by SQL: without evidence, with that of somebody else, and of an entry that says they left."""
        people = self.people("ines", "jon", "mira", "noor")
        self.later(days=2)
        row = self.go(self.make())
        self.later(minutes=6)
        day = clock.now(self.fresh()) - timedelta(days=1), clock.now(self.workspace)
        self.assertEqual(list(unproven(self.workspace, *day)), [])
        first, second, third, _ = self.emails(row)
        leave(people[2], [self.news], "")
        left = Evidence.everywhere.get(after="unsubscribed").hash
        with connection.cursor() as cursor:
            for email, evidence in ((first, ""), (second, third.evidence), (third, left)):
                cursor.execute(
                    "UPDATE mail_send SET evidence = %s WHERE id = %s", [evidence, email.pk]
                )
        found = unproven(self.workspace, *day).order_by("subscriber__address")
        self.assertEqual(list(found), [first, second, third])
        self.assertEqual(report_unproven(self.workspace), 3)
        [snag] = Snag.objects.of(self.workspace).filter(cause__startswith="unproven/")
        self.assertEqual(snag.times, 3)


class InABrowser(BroadcastCase):
    def test_the_letter_for_everybody_and_nothing_before_it_went(self) -> None:
        self.people("ines")
        self.later(days=2)
        row = self.go(self.make(Version(id="a", message=self.fits)))
        at = f"/b/{row.page_key}"
        self.assertEqual(self.client.get(at).status_code, 404)
        self.later(minutes=6)
        self.client.logout()
        answer = self.client.get(at)
        self.assertContains(answer, "Hello")
        self.assertNotContains(answer, "Ines")
        self.assertIn("sandbox", answer["Content-Security-Policy"])
        self.assertEqual(self.client.get("/b/unknown").status_code, 404)
        self.assertEqual(self.client.post(at).status_code, 405)
        # A link that is nobody's shows what everybody may read.
        self.assertNotContains(self.client.get(f"{at}/nobodys"), "Ines")
        hidden = self.go(self.make(name="Hidden", page=False))
        self.later(minutes=6)
        self.assertEqual(self.client.get(f"/b/{hidden.page_key}").status_code, 404)
        with_page, without = (self.letter_to("ines", one) for one in (row, hidden))
        self.assertIn("Read it in a browser", with_page)
        self.assertNotIn("Read it in a browser", without)

    def test_ones_own_page_which_runs_out(self) -> None:
        """The address that stands in the email shows the letter as it was written to them, and nothing on
        it acts for them: it may be passed on."""
        self.people("ines", "tomas")
        self.later(days=2)
        row = self.go(self.make(Version(id="a", message=self.fits)))
        self.later(minutes=6)
        text = self.letter_to("ines", row)
        address = re.search(r"Read it in a browser: \S+?(/b/\S+)", text)
        assert address is not None
        own = address[1]
        self.client.logout()
        answer = self.client.get(own)
        self.assertContains(answer, "Hello Ines")
        self.assertIn("sandbox", answer["Content-Security-Policy"])
        self.assertEqual(answer["X-Robots-Tag"], "noindex")
        for acts in ("/u/", "/p/", "/c/", "/o/"):
            self.assertNotContains(answer, acts)
        self.assertNotContains(self.client.get(own[:-1] + "x"), "Ines")
        another = self.go(self.make(name="Another"))
        self.later(minutes=6)
        swapped = own.replace(row.page_key, another.page_key)
        self.assertNotContains(self.client.get(swapped), "Ines")
        self.later(days=31)
        self.assertContains(self.client.get(own), "Hello")
        self.assertNotContains(self.client.get(own), "Ines")
