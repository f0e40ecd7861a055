"""Frozen groups: the people of a moment; nobody comes in later, and only who is erased goes."""

import csv
import io
import json
from datetime import UTC, datetime
from typing import Any

from django.test import TestCase

from core.audiences import AudienceDocument
from core.broadcasts import BroadcastDocument, To, Version
from core.conditions import FieldTest, FrozenTest, Group, TagTest
from core.documents import Because
from server.audiences.actions import make_audience, remove
from server.audiences.groups import freeze, remove_group
from server.broadcasts.actions import make_broadcast
from server.broadcasts.recipients import recipients_of
from server.mail.editing import save_message
from server.mail.models import shown_document
from server.people.models import Field, FrozenGroup, FrozenMember, Subscriber
from server.profiles.erasing import erase
from server.profiles.merges import merge_people, undo_merge
from server.workspaces import clock
from server.workspaces.errors import Refused
from server.workspaces.models import HistoryEntry, Workspace
from tests.world import BACKEND, make_world

START = datetime(2027, 3, 2, 10, tzinfo=UTC)
BY_HAND = Because(kind="member", sentence="by hand")


class Groups(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        clock.set_time(self.workspace, START)
        self.client.force_login(self.world.user, BACKEND)
        self.ines, self.jon, self.mira = (
            self.world.arrive(f"{one}@example.com", first_name=one.capitalize())
            for one in ("ines", "jon", "mira")
        )

    def field(self, key: str) -> str:
        return str(Field.everywhere.get(workspace=self.workspace, key=key).pk)

    def fresh(self) -> Workspace:
        self.workspace = Workspace.objects.get(pk=self.workspace.pk)
        return self.workspace

    def named(self, *names: str) -> Group:
        field = self.field("first_name")
        tests = tuple(FieldTest(field=field, value=name) for name in names)
        return Group(kind="any", of=tests)

    def freeze(self, name: str = "March", *names: str) -> FrozenGroup:
        who = self.named(*(names or ("Ines", "Jon")))
        return freeze(self.fresh(), name, who, self.world.member)

    def inside(self, row: FrozenGroup) -> set[str]:
        people = Subscriber.everywhere.filter(groups__group=row)
        return {one.partition("@")[0] for one in people.values_list("address", flat=True)}

    def call(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        answer = getattr(self.client, method)(
            f"/api/workspaces/{self.workspace.slug}{path}",
            data=None if body is None else json.dumps(body),
            content_type="application/json",
        )
        self.assertEqual(answer.status_code, status, answer.content[:600])
        return answer.json()

    def test_nobody_comes_in_later(self) -> None:
        row = self.freeze()
        self.assertEqual(self.inside(row), {"ines", "jon"})
        self.world.arrive("ines2@example.com", first_name="Ines")
        Subscriber.everywhere.filter(pk=self.jon.pk).update(values={}, folded={})
        self.assertEqual(self.inside(row), {"ines", "jon"})
        erase(Subscriber.everywhere.get(pk=self.jon.pk))
        self.assertEqual(self.inside(row), {"ines"})

    def test_people_of_tests_and_of_other_workspaces_are_in_none(self) -> None:
        other = make_world("Other", "other@larkmoor.example")
        other.arrive("ines@example.com", first_name="Ines")
        Subscriber.everywhere.filter(pk=self.jon.pk).update(is_test=True)
        row = self.freeze()
        self.assertEqual(self.inside(row), {"ines"})
        self.assertEqual(FrozenMember.everywhere.count(), 1)

    def test_two_who_were_one_are_in_it_once_and_apart_again(self) -> None:
        both, one = self.freeze("Both"), self.freeze("One", "Jon")
        merge = merge_people(self.ines, self.jon, frozenset(), BY_HAND)
        self.assertEqual((self.inside(both), self.inside(one)), ({"ines"}, {"ines"}))
        undo_merge(merge, BY_HAND)
        self.assertEqual((self.inside(both), self.inside(one)), ({"ines", "jon"}, {"jon"}))

    def test_over_the_api(self) -> None:
        who = self.named("Ines", "Jon").model_dump(mode="json")
        made = self.call("post", "/groups", {"name": " March ", "who": who})
        self.assertEqual((made["name"], made["people"]), ("March", 2))
        self.assertEqual(made["of"], "First name is Ines or First name is Jon")
        self.assertIn("March", HistoryEntry.everywhere.latest("at").sentence)
        taken = self.call("post", "/groups", {"name": "march", "who": who}, 422)
        self.assertIn("There is a frozen group named", json.dumps(taken))
        nobody = self.named("Nobody").model_dump(mode="json")
        empty = self.call("post", "/groups", {"name": "Empty", "who": nobody}, 422)
        self.assertIn("Nobody fits this now", json.dumps(empty))
        self.assertEqual([one["name"] for one in self.call("get", "/groups")], ["March"])
        self.assertEqual(self.call("get", "/catalogue")["groups"][0]["name"], "March")
        size = self.call(
            "post", "/conditions/size",
            {"condition": {"kind": "all", "of": [{"kind": "frozen", "group": made["id"]}]}},
        )  # fmt: skip
        self.assertEqual((size["people"], size["sentence"]), (2, "is in the group March"))
        renamed = self.call("put", f"/groups/{made['id']}/name", {"name": "Spring"})
        self.assertEqual(renamed["name"], "Spring")
        file = self.client.get(
            f"/api/workspaces/{self.workspace.slug}/groups/{made['id']}/export"
        ).getvalue()
        rows = list(csv.DictReader(io.StringIO(file.decode())))
        self.assertEqual({one["address"] for one in rows}, {"ines@example.com", "jon@example.com"})
        self.call("delete", f"/groups/{made['id']}")
        self.assertEqual(self.call("get", "/groups"), [])

    def test_what_is_named_is_not_deleted(self) -> None:
        """Whoever a group or an audience keeps out of a broadcast would get it."""
        row = self.freeze()
        held = Group(of=(FrozenTest(group=str(row.pk)),))
        audience = make_audience(
            self.fresh(), "Tried before", AudienceDocument(who=held), self.world.member
        )
        with self.assertRaisesRegex(Refused, "used by the audience “Tried before”"):
            remove_group(row)
        document = BroadcastDocument(
            to=To(list=str(self.world.news.pk), less_audiences=(str(audience.pk),)),
            versions=(Version(id="a", message=str(self.world.guide.pk)),),
        )
        letter = make_broadcast(self.fresh(), "Letter", document, self.world.member)
        with self.assertRaisesRegex(Refused, "used by the broadcast “Letter”"):
            remove(audience)
        letter.delete()
        remove(audience)
        # A block of a message can be for a group alone.
        letter_text = shown_document(self.world.guide)
        only = Group(of=(FrozenTest(group=str(row.pk), within=False),))
        blocks = (letter_text.blocks[0].model_copy(update={"only": only}), *letter_text.blocks[1:])
        save_message(
            self.world.guide,
            letter_text.model_copy(update={"blocks": blocks}),
            None,
            self.world.member,
        )
        with self.assertRaisesRegex(Refused, f"used by the message “{self.world.guide.name}”"):
            remove_group(row)
        save_message(self.world.guide, letter_text, None, self.world.member)
        remove_group(row)
        self.assertFalse(FrozenGroup.everywhere.exists())

    def test_a_broadcast_leaves_a_group_out(self) -> None:
        row = self.freeze("Had it by post", "Jon")
        less = Group(of=(FrozenTest(group=str(row.pk)),))
        document = BroadcastDocument(
            to=To(list=str(self.world.news.pk), less=less),
            versions=(Version(id="a", message=str(self.world.guide.pk)),),
        )
        letter = make_broadcast(self.fresh(), "Letter", document, self.world.member)
        now = clock.now(self.workspace)
        counted = recipients_of(letter, document, now, now).counted()
        self.assertEqual(counted.gets, 2)

    def test_an_erased_address_leaves_its_name(self) -> None:
        email = self.field("email")
        who = Group(
            kind="any", of=(FieldTest(field=email, value="ines@example.com"), *self.named("Jon").of)
        )
        row = freeze(self.fresh(), "ines@example.com and Jon", who, self.world.member)
        erase(Subscriber.everywhere.get(pk=self.ines.pk))
        row.refresh_from_db()
        self.assertNotIn("ines@", row.name + row.of)

    def test_a_tag_that_is_gone_freezes_nobody(self) -> None:
        who = Group(of=(TagTest(tag="00000000-0000-0000-0000-000000000000", has=False),))
        with self.assertRaises(Refused):
            freeze(self.fresh(), "All", who, self.world.member)
