"""What documents refer to, what a condition fits, tasks, connections, and pages of people."""

import json
from datetime import timedelta
from typing import Any
from unittest import mock

from django.db import connection
from django.test import Client, TestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from core.deciding import RouteDocument, Rule, SendNow
from server.mail.editing import make_message
from server.people.actions import make_list, make_tag
from server.people.api import _PARTS
from server.people.models import Fact, Membership, Subscriber, Tagging, Task
from server.routes.actions import check
from server.sources.actions import make_source, shown_revision
from server.sources.models import Source
from server.submissions.models import Submission
from server.workspaces.models import Member, Role
from tests.world import BACKEND, WHY, World, make_user, make_world

Body = dict[str, Any]


class Api(TestCase):
    """A member of a workspace who asks the API."""

    world: World

    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        self.client.force_login(self.world.user, BACKEND)

    def get(self, path: str, status: int = 200) -> Any:
        answer = self.client.get(f"/api/workspaces/{self.workspace.slug}{path}")
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()

    def send(self, method: str, path: str, body: Body | None = None, status: int = 200) -> Any:
        answer = getattr(self.client, method)(
            f"/api/workspaces/{self.workspace.slug}{path}",
            json.dumps(body or {}),
            "application/json",
        )
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()

    def reader(self) -> Client:
        user = make_user("reader@larkmoor.example")
        Member.objects.create(workspace=self.workspace, user=user, role=Role.READER)
        client = Client()
        client.force_login(user, BACKEND)
        return client


class Conditions(Api):
    def setUp(self) -> None:
        super().setUp()
        for number in range(3):
            self.world.arrive(f"moon{number}@example.com", look="moon")
        self.world.arrive("planets@example.com", look="planets")
        self.tags = {one["name"]: one["id"] for one in self.get("/catalogue")["tags"]}

    def condition(self, *of: Body, kind: str = "all") -> Body:
        return {"condition": {"kind": kind, "of": list(of)}}

    def test_how_many_people(self) -> None:
        moon = {"kind": "tag", "tag": self.tags["moon"]}
        found = self.send("post", "/conditions/count", self.condition(moon))
        self.assertEqual(found, {"sentence": "has the tag moon", "people": 3})
        found = self.send("post", "/conditions/count", self.condition(moon, kind="none"))
        self.assertEqual(found["people"], 1)
        self.assertEqual(self.send("post", "/conditions/count", self.condition())["people"], 4)

    def test_of_the_last_submissions_of_a_source(self) -> None:
        look = {"kind": "answer", "question": "look", "value": "MOON"}
        at = f"/sources/{self.world.source.pk}/fits"
        found = self.send("post", at, self.condition(look))
        self.assertEqual((found["fits"], found["of"]), (3, 4))
        self.assertEqual(found["sentence"], "the answer to “What do you look at?” is MOON")

    def test_tests_are_not_counted(self) -> None:
        Submission.objects.of(self.workspace).filter(
            subscriber__address="moon0@example.com"
        ).update(is_test=True)
        Subscriber.objects.of(self.workspace).filter(address="moon0@example.com").update(
            is_test=True
        )
        moon = {"kind": "tag", "tag": self.tags["moon"]}
        self.assertEqual(self.send("post", "/conditions/count", self.condition(moon))["people"], 2)
        fits = self.send("post", f"/sources/{self.world.source.pk}/fits", self.condition())
        self.assertEqual(fits["of"], 3)

    def test_who_they_are_in_pages_and_by_name(self) -> None:
        moon = self.condition({"kind": "tag", "tag": self.tags["moon"]})
        found = self.send("post", "/conditions/people", moon)
        self.assertEqual(
            [one["address"] for one in found["people"]],
            ["moon2@example.com", "moon1@example.com", "moon0@example.com"],
        )
        self.assertEqual((found["total"], found["next"]), (3, None))
        found = self.send("post", "/conditions/people", {**moon, "search": "moon1"})
        self.assertEqual([one["address"] for one in found["people"]], ["moon1@example.com"])
        self.assertEqual(found["people"][0]["tags"], ["guide", "moon"])
        with mock.patch("server.workspaces.paging.PAGE", 2):
            first = self.send("post", "/conditions/people", moon)
            second = self.send("post", "/conditions/people", {**moon, "after": first["next"]})
        self.assertEqual((len(first["people"]), len(second["people"])), (2, 1))
        self.assertEqual(second["total"], 3)
        self.send("post", "/conditions/people", {**moon, "after": "nonsense"}, 422)

    def test_a_reader_may_count(self) -> None:
        answer = self.reader().post(
            f"/api/workspaces/{self.workspace.slug}/conditions/count",
            json.dumps(self.condition()),
            "application/json",
        )
        self.assertEqual(answer.json()["people"], 4)

    def test_what_cannot_be_a_condition_names_its_place(self) -> None:
        wrong = self.condition({"kind": "score", "op": "begins"})
        found = self.send("post", "/conditions/count", wrong, 422)
        self.assertIn("of.0", found["errors"][0]["place"])

    def test_a_deep_nest_is_answered_and_not_a_crash(self) -> None:
        deep: Body = {"kind": "tag", "tag": self.tags["moon"]}
        for _ in range(20):
            deep = {"kind": "none", "of": [deep]}
        found = self.send("post", "/conditions/count", self.condition(deep))
        self.assertEqual(found["people"], 3)
        for more in (30, 100):
            for _ in range(more):
                deep = {"kind": "none", "of": [deep]}
            self.send("post", "/conditions/count", self.condition(deep), 422)

    def test_the_ids_of_nobody_fit_nobody(self) -> None:
        for leaf in (
            {"kind": "tag", "tag": "nonsense"},
            {"kind": "membership", "list": "'; DROP TABLE people; --"},
            {"kind": "field", "field": "x y", "op": "is", "value": "z"},
            {"kind": "run", "sequence": "00000000-0000-0000-0000-000000000000"},
        ):
            with self.subTest(leaf=leaf):
                found = self.send("post", "/conditions/count", self.condition(leaf))
                self.assertEqual(found["people"], 0)


class Catalogue(Api):
    def test_everything_that_a_document_can_refer_to(self) -> None:
        found = self.get("/catalogue")
        self.assertEqual({one["name"] for one in found["tags"]}, {"guide", "moon", "planets"})
        self.assertEqual([one["name"] for one in found["lists"]], ["Open-night news"])
        self.assertFalse(found["lists"][0]["confirms"])
        [sequence] = found["sequences"]
        self.assertTrue(sequence["live"])
        self.assertEqual([one["id"] for one in sequence["lanes"]], ["a"])
        self.assertEqual({one["name"] for one in found["sources"]}, {"Telescope guide"})
        self.assertEqual(len(found["members"]), 1)

    def test_how_many_queries_it_takes_does_not_grow(self) -> None:
        counts = []
        for number in (1, 30):
            for one in range(number):
                make_tag(self.workspace, f"tag {number} {one}")
                make_list(self.workspace, f"list {number} {one}")
            with CaptureQueriesContext(connection) as seen:
                self.get("/catalogue")
            counts.append(len(seen))
        self.assertEqual(counts[0], counts[1])


class Tasks(Api):
    def test_shown_where_they_are_due_and_done_once(self) -> None:
        person = self.world.arrive("ines@example.com")
        for days in (3, 1):
            Task.everywhere.create(
                workspace=self.workspace,
                subscriber=person,
                member=self.world.member,
                title=f"In {days}",
                made_at=person.added_at,
                due_at=person.added_at + timedelta(days=days),
                because=WHY,
            )
        first, second = self.get("/tasks")
        self.assertEqual((first["title"], second["title"]), ("In 1", "In 3"))
        self.assertEqual(first["address"], "ines@example.com")
        left = self.send("post", f"/tasks/{first['id']}/done")
        self.assertEqual([one["title"] for one in left], ["In 3"])
        done_at = Task.everywhere.get(pk=first["id"]).done_at
        self.send("post", f"/tasks/{first['id']}/done")
        self.assertEqual(Task.everywhere.get(pk=first["id"]).done_at, done_at)

    def test_of_one_person_and_never_of_a_test(self) -> None:
        mine, other = self.world.arrive("a@b.example"), self.world.arrive("c@d.example")
        for one in (mine, other):
            Task.everywhere.create(
                workspace=self.workspace,
                subscriber=one,
                title="Call",
                made_at=one.added_at,
                due_at=one.added_at,
                because=WHY,
            )
        self.assertEqual(len(self.get(f"/tasks?person={mine.pk}")), 1)
        Subscriber.objects.of(self.workspace).filter(pk=other.pk).update(is_test=True)
        self.assertEqual([one["address"] for one in self.get("/tasks")], ["a@b.example"])


class Connections(Api):
    def make(self, kind: Source.Kind) -> Source:
        return make_source(self.workspace, f"By {kind}", self.world.member, kind=kind)

    def test_a_secret_is_shown_to_editors_and_can_be_changed(self) -> None:
        at = f"/sources/{self.make(Source.Kind.WEBHOOK).pk}/hook"
        first = self.send("put", at, {"signed": True})
        self.assertTrue(first["secret"].startswith("whsec_"))
        self.assertIn("webhook-signature", first["curl"])
        second = self.send("put", at, {"signed": True})
        self.assertNotEqual(first["secret"], second["secret"])
        bare = self.send("put", at, {"signed": False})
        self.assertEqual((bare["signed"], bare["secret"]), (False, ""))

    def test_a_reader_sees_that_there_is_one_and_not_the_secret(self) -> None:
        at = f"/api/workspaces/{self.workspace.slug}/sources/{self.make(Source.Kind.WEBHOOK).pk}/hook"
        self.client.put(at, json.dumps({"signed": True}), "application/json")
        reader = self.reader()
        found = reader.get(at).json()
        self.assertTrue(found["signed"])
        self.assertEqual((found["secret"], found["address"], found["curl"]), ("", "", ""))
        refused = reader.put(at, json.dumps({"signed": True}), "application/json")
        self.assertEqual(refused.status_code, 403)

    def test_a_source_of_another_kind_says_so(self) -> None:
        hook, sheet = self.make(Source.Kind.WEBHOOK), self.make(Source.Kind.SHEET)
        for path in (f"/sources/{sheet.pk}/hook", f"/sources/{hook.pk}/watch"):
            found = self.get(path, 422)
            self.assertEqual(found["errors"][0]["code"], "other_kind")

    def test_a_sheet_is_watched_as_often_as_was_said(self) -> None:
        at = f"/sources/{self.make(Source.Kind.SHEET).pk}/watch"
        self.assertEqual(self.get(at)["address"], "")
        for address in ("file:///etc/passwd", "nonsense", "https://"):
            found = self.send("put", at, {"address": address, "minutes": 15}, 422)
            self.assertEqual(found["errors"][0]["place"], "address")
        self.assertEqual(self.get(at)["address"], "")
        # A private address is one that somebody could mean: the look says what is wrong with it.
        self.send("put", at, {"address": "http://169.254.169.254/x", "minutes": 60})
        looked = self.send("post", f"{at}/look")
        self.assertEqual(looked["problem"]["code"], "private_network")
        self.assertEqual(looked["minutes"], 60)


class People(Api):
    def test_searched_by_parts_whatever_the_case_and_accents(self) -> None:
        self.world.arrive("zoe@example.com", first_name="Zoë")
        for words, count in (("ZOE", 1), ("zoë example", 1), ("zoe nobody", 0), ("%", 0), ("_", 0)):
            self.assertEqual(
                self.get(f"/people?search={words.replace('%', '%25')}")["total"], count
            )

    def test_the_trail_in_pages_tells_everything_once(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="Ines", look="moon")
        for number in range(1, 40):
            self.world.arrive("ines@example.com", first_name=f"Ines{'x' * number}", look="moon")
        seen: list[str] = []
        after = ""
        while True:
            page = self.get(f"/people/{person.pk}/trail{after}")
            seen += [one["id"] for one in page["facts"]]
            if page["next"] is None:
                break
            after = f"?after={page['next']}"
        self.assertEqual(len(seen), len(set(seen)))
        self.assertEqual(len(seen), person.facts.count())


class ConfirmingLists(Api):
    def test_turning_it_on_brings_a_message_that_holds_the_link(self) -> None:
        at = f"/lists/{self.world.news.pk}/confirming"
        self.assertFalse(self.get(at)["confirms"])
        found = self.send("put", at, {"confirms": True})
        self.assertTrue(found["confirms"])
        message = self.get(f"/messages/{found['asking']}")
        self.assertIn("{{ confirm_link }}", str(message["document"]))
        self.assertEqual(self.get("/catalogue")["lists"][0]["confirms"], True)

    def test_a_message_without_the_link_is_refused(self) -> None:
        body = {"confirms": True, "asking": str(self.world.guide.pk)}
        found = self.send("put", f"/lists/{self.world.news.pk}/confirming", body, 422)
        self.assertTrue(found["errors"][0]["fix"])


class Previews(Api):
    def test_of_a_person_and_of_nobody(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="<b>Ines</b>")
        at = f"/messages/{self.world.fits.pk}/preview"
        found = self.get(f"{at}?person={person.pk}")
        self.assertIn("<b>Ines</b>", found["text"])
        self.assertEqual(found["holes"], [])
        self.assertTrue(self.get(at)["holes"])

    def test_the_page_runs_nothing_and_stands_in_no_other_website(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="<script>alert(1)</script>")
        page = self.client.get(
            f"/api/workspaces/{self.workspace.slug}/messages/{self.world.fits.pk}/preview.html"
            f"?person={person.pk}"
        )
        self.assertNotIn("<script", page.content.decode())
        policy = page.headers["Content-Security-Policy"]
        self.assertIn("script-src 'none'", policy)
        self.assertIn("frame-ancestors 'self'", policy)
        self.assertIn("sandbox", policy)


class Trails(Api):
    def test_every_kind_of_fact_is_in_one_part(self) -> None:
        kinds = [kind for part in _PARTS.values() for kind in part]
        self.assertEqual(sorted(kinds), sorted(Fact.Kind.values))

    def test_a_part_shows_its_facts_alone(self) -> None:
        person = self.world.arrive("ines@example.com", look="moon")
        at = f"/people/{person.pk}/trail"
        self.assertEqual({one["kind"] for one in self.get(f"{at}?what=tags")["facts"]}, {"tag"})
        came = [one["kind"] for one in self.get(f"{at}?what=came")["facts"]]
        self.assertEqual(sorted(came), ["added", "submitted"])
        self.get(f"{at}?what=other", status=422)

    def test_tags_and_lists_say_how_they_grew(self) -> None:
        self.world.arrive("ines@example.com", look="moon")
        moon = next(one for one in self.get("/tags") if one["name"] == "moon")
        self.assertEqual((moon["people"], moon["lately"]), (1, 1))
        Tagging.everywhere.update(at=timezone.now() - timedelta(days=31))
        Membership.everywhere.update(changed_at=timezone.now() - timedelta(days=31))
        moon = next(one for one in self.get("/tags") if one["name"] == "moon")
        self.assertEqual((moon["people"], moon["lately"]), (1, 0))
        [news] = self.get("/lists")
        self.assertEqual((news["subscribed"], news["lately"]), (1, 0))
        counts = {one["name"]: one["people"] for one in self.get("/catalogue")["tags"]}
        self.assertEqual(counts, {"guide": 1, "moon": 1, "planets": 0})


class Uses(Api):
    def test_what_fills_a_tag_and_a_list(self) -> None:
        tags = {one["name"]: one["id"] for one in self.get("/tags")}
        found = self.get("/uses")
        [filled] = found[tags["moon"]]
        self.assertEqual(
            (filled["name"], filled["how"], filled["live"]), ("Telescope guide", "fills", True)
        )
        of_list = {(one["name"], one["how"]) for one in found[str(self.world.news.pk)]}
        self.assertEqual(of_list, {("Telescope guide", "fills"), ("First telescope", "belongs to")})
        self.assertEqual(
            [one["name"] for one in found[str(self.world.guide.pk)]], ["First telescope"]
        )


class Messages(Api):
    def test_pre_flight_of_a_route_looks_into_the_messages_that_it_sends(self) -> None:
        empty = make_message(self.workspace, "Empty")
        rule = Rule(id="t9", action=SendNow(message=str(empty.pk)))
        document = RouteDocument.model_validate(
            shown_revision(self.world.source).document
        ).model_copy(update={"then": (rule,)})
        found = check(self.world.source, document)
        codes = {(one.code, one.place) for one in found}
        self.assertLessEqual({("no_subject", "t9"), ("no_text", "t9")}, codes)
        off = document.model_copy(update={"then": (rule.model_copy(update={"on": False}),)})
        self.assertNotIn("t9", {one.place for one in check(self.world.source, off)})


class Lists(Api):
    def test_renamed_and_removed_while_nobody_was_on_it(self) -> None:
        made = self.send("post", "/lists", {"name": "Workshops"})
        at = f"/lists/{made['id']}"
        self.send("put", at, {"name": "Star workshops"})
        self.assertIn("Star workshops", [one["name"] for one in self.get("/lists")])
        taken = self.send("put", at, {"name": "OPEN-NIGHT NEWS"}, 422)
        self.assertEqual(taken["errors"][0]["place"], "name")
        self.send("delete", at)
        self.assertEqual(len(self.get("/lists")), 1)
        self.world.arrive("ines@example.com")
        kept = self.send("delete", f"/lists/{self.world.news.pk}", status=422)
        self.assertIn("1", kept["title"])
