"""Audiences over the API: made, changed as a draft, turned on; counted and explained as they are."""

import csv
import io
import json
from typing import Any

import vobject
from django.test import TestCase

from core.audiences import AudienceDocument
from core.conditions import FieldTest, Group, MembershipTest, TagTest
from server.audiences.actions import make_audience
from server.audiences.models import Audience, AudienceRevision, live_document
from server.people.models import Field, Subscriber, Tag, Tagging
from server.profiles.erasing import erase
from server.workspaces.models import HistoryEntry, Role
from tests.server.test_erasing import dump
from tests.world import BACKEND, make_world


class AudienceCase(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.client.force_login(self.world.user, BACKEND)
        self.people = [
            self.world.arrive(f"person{number}@example.com", look=look)
            for number, look in enumerate(("moon", "planets", "moon", "planets", "moon"))
        ]
        tag = Tag.objects.of(self.world.workspace).get(name="moon")
        Subscriber.everywhere.filter(pk=self.people[4].pk).update(is_test=True)
        self.tag = str(tag.pk)
        self.news = str(self.world.news.pk)

    def call(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        answer = getattr(self.client, method)(
            f"/api/workspaces/{self.world.workspace.slug}{path}",
            data=None if body is None else json.dumps(body),
            content_type="application/json",
        )
        self.assertEqual(answer.status_code, status, answer.content[:500])
        return answer.json()

    def who(self, *parts: Any) -> dict[str, Any]:
        return Group(of=parts).model_dump(mode="json")

    def make(self, *parts: Any, name: str = "Moon people") -> Any:
        return self.call("post", "/audiences", {"name": name, "who": self.who(*parts)})


class Audiences(AudienceCase):
    def test_from_its_name_to_its_second_revision(self) -> None:
        made = self.make(TagTest(tag=self.tag))
        at = f"/audiences/{made['id']}"
        self.assertEqual(made["sentence"], "has the tag moon")
        self.assertFalse(made["differs"])
        changed = {"who": self.who(TagTest(tag=self.tag), MembershipTest(list=self.news))}
        saved = self.call("put", f"{at}/draft", {"document": changed, "based_on": made["edits"]})
        self.assertEqual(saved["changes"], ["New: “is subscribed to Open-night news”."])
        # What is live stays as it is until the draft is turned on.
        row = Audience.everywhere.get(pk=made["id"])
        self.assertEqual(len(live_document(row).who.of), 1)
        self.call("put", f"{at}/draft", {"document": changed, "based_on": 0}, status=409)
        live = self.call("post", f"{at}/turn-on", {"based_on": saved["edits"], "note": "On it"})
        self.assertEqual([one["number"] for one in live["revisions"]], [2, 1])
        self.assertEqual(len(live_document(row).who.of), 2)
        first = self.call("get", f"{at}/revisions/1")
        self.assertEqual(first["sentence"], "has the tag moon")
        back = self.call("post", f"{at}/revisions/1/go-back", {"based_on": live["edits"]})
        self.assertTrue(back["differs"])
        again = self.call("post", f"{at}/discard", {"based_on": back["edits"]})
        self.assertFalse(again["differs"])
        copy = self.call("post", f"{at}/copy", {"name": "Moon people again"})
        self.assertEqual(copy["document"], again["document"])
        self.call("delete", f"/audiences/{copy['id']}")
        self.call("put", f"{at}/name", {"name": "On the Moon"})
        self.call("delete", at)
        self.assertFalse(Audience.objects.of(self.world.workspace).exists())
        said = list(
            HistoryEntry.objects.of(self.world.workspace)
            .order_by("at", "pk")
            .values_list("sentence", flat=True)
        )
        for part in ("made", "changed the draft of", "turned on the changes of", "deleted"):
            self.assertTrue(any(one.startswith(part) for one in said), (part, said))

    def test_pre_flight_stops_what_asks_nothing(self) -> None:
        made = self.make(TagTest(tag=self.tag))
        at = f"/audiences/{made['id']}"
        saved = self.call(
            "put", f"{at}/draft", {"document": {"who": self.who()}, "based_on": made["edits"]}
        )
        self.assertEqual([one["code"] for one in saved["findings"]], ["condition_empty"])
        said = self.call("post", f"{at}/turn-on", {"based_on": saved["edits"]}, status=422)
        self.assertIn("Pre-flight", json.dumps(said))

    def test_how_many_of_how_many(self) -> None:
        found = self.call(
            "post", "/conditions/size", {"condition": self.who(TagTest(tag=self.tag))}
        )
        # The fifth is a test person, and nobody.
        self.assertEqual((found["people"], found["of"]), (2, 4))
        self.assertEqual(found["lists"], [{"name": "Open-night news", "people": 2}])
        tagged = Tagging.objects.of(self.world.workspace).filter(tag=self.tag)
        self.assertEqual(tagged.filter(subscriber__is_test=False).count(), 2)

    def test_the_list_shows_the_last_count(self) -> None:
        made = self.make(TagTest(tag=self.tag))
        [line] = self.call("get", "/audiences")
        self.assertIsNone(line["people"])
        self.call("post", f"/audiences/{made['id']}/count")
        [line] = self.call("get", "/audiences")
        self.assertEqual(line["people"], 2)
        self.assertIsNotNone(line["counted_at"])

    def test_ten_of_them_and_who_misses_one_part(self) -> None:
        who = self.who(TagTest(tag=self.tag), MembershipTest(list=self.news))
        found = self.call("post", "/conditions/examples", {"condition": who})

        def held(people: Any) -> dict[str, list[bool]]:
            return {
                one["address"]: [part["held"] for part in one["because"]["of"]] for one in people
            }

        self.assertEqual(
            held(found["fit"]),
            {"person0@example.com": [True, True], "person2@example.com": [True, True]},
        )
        tag, news = found["nearly"]
        self.assertEqual((tag["part"], tag["people"]), ("has the tag moon", 2))
        self.assertEqual(
            held(tag["some"]),
            {"person1@example.com": [False, True], "person3@example.com": [False, True]},
        )
        self.assertEqual((news["people"], news["some"]), (0, []))
        alone = self.call(
            "post", "/conditions/examples", {"condition": self.who(TagTest(tag=self.tag))}
        )
        self.assertEqual(alone["nearly"], [])

    def field(self, key: str) -> str:
        return str(Field.objects.of(self.world.workspace).get(key=key).pk)

    def test_erased_from_every_revision(self) -> None:
        address = self.people[0].address
        named = FieldTest(field=self.field("email"), op="is", value=address)
        # The name that is proposed is the condition in words.
        made = self.make(named, name=f"Email is {address}")
        self.call(
            "put",
            f"/audiences/{made['id']}/draft",
            {
                "document": {"who": self.who(named, TagTest(tag=self.tag))},
                "based_on": made["edits"],
            },
        )
        self.call("put", f"/audiences/{made['id']}/name", {"name": f"Email is {address.upper()}"})
        erase(self.people[0])
        self.assertEqual(AudienceRevision.objects.of(self.world.workspace).count(), 2)
        left = [table for table, rows in dump().items() if address in rows.lower()]
        self.assertEqual(left, [])
        [row] = Audience.objects.of(self.world.workspace)
        self.assertEqual(row.name, "Email is somebody who was erased")

    def test_a_name_is_taken_once(self) -> None:
        self.make(TagTest(tag=self.tag))
        self.call("post", "/audiences", {"name": "moon PEOPLE", "who": self.who()}, status=422)

    def test_a_reader_counts_and_changes_nothing(self) -> None:
        row = make_audience(self.world.workspace, "Moon", has_tag(self.tag), None)
        self.world.member.role = Role.READER
        self.world.member.save()
        self.call("get", f"/audiences/{row.pk}")
        self.call("post", f"/audiences/{row.pk}/count")
        self.call("delete", f"/audiences/{row.pk}", status=403)


def has_tag(tag: str) -> AudienceDocument:
    return AudienceDocument(who=Group(of=(TagTest(tag=tag),)))


class Exports(AudienceCase):
    """The people of an audience as files, read by other libraries."""

    def setUp(self) -> None:
        super().setUp()
        self.row = make_audience(self.world.workspace, "Moon", has_tag(self.tag), None)

    def export(self, form: str) -> str:
        answer = self.client.get(
            f"/api/workspaces/{self.world.workspace.slug}/audiences/{self.row.pk}/export?form={form}"
        )
        self.assertEqual(answer.status_code, 200)
        self.assertIn(f'filename="Moon.{form}"', answer["Content-Disposition"])
        return b"".join(answer.streaming_content).decode()  # type: ignore[attr-defined]

    def test_csv(self) -> None:
        rows = list(csv.DictReader(io.StringIO(self.export("csv"))))
        self.assertEqual(
            [one["address"] for one in rows], ["person2@example.com", "person0@example.com"]
        )
        self.assertEqual(rows[0]["tags"].split("\n"), ["guide", "moon"])
        self.assertEqual(rows[0]["subscribed to"], "Open-night news")

    def test_json_lines(self) -> None:
        found = [json.loads(line) for line in self.export("jsonl").splitlines()]
        self.assertEqual(
            {one["id"] for one in found}, {str(self.people[index].pk) for index in (0, 2)}
        )
        self.assertEqual(found[0]["tags"], ["guide", "moon"])

    def test_vcards(self) -> None:
        cards = list(vobject.readComponents(self.export("vcf")))
        self.assertEqual(
            [one.email.value for one in cards], ["person2@example.com", "person0@example.com"]
        )
        self.assertEqual(cards[0].categories.value, ["guide", "moon"])

    def test_one_that_asks_nothing_hands_out_nobody(self) -> None:
        everybody = make_audience(self.world.workspace, "New", AudienceDocument(), None)
        found = self.call("get", f"/audiences/{everybody.pk}/export", status=422)
        self.assertIn("condition_empty", json.dumps(found))

    def test_it_stands_in_the_history_and_is_no_reader_s(self) -> None:
        self.export("csv")
        said = HistoryEntry.objects.of(self.world.workspace).values_list("sentence", flat=True)
        self.assertIn("exported the people of the audience “Moon” (csv)", said)
        self.world.member.role = Role.READER
        self.world.member.save()
        self.call("get", f"/audiences/{self.row.pk}/export", status=403)
