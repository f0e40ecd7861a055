"""The log of submissions: filtered, exported, held, removed, and forgotten in time."""

import csv
import io
import json
from datetime import timedelta
from typing import Any
from unittest import mock

from django.db import connection
from django.test import TestCase

from core.reading import restored
from server.people.erased import erased_at
from server.people.models import Subscriber
from server.routing.routing import route_submission
from server.submissions.log import forget_old, hold, mark_test, release, remove
from server.submissions.models import Submission
from server.workspaces import clock
from tests.world import BACKEND, make_world

State = Submission.State


class Log(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        self.client.force_login(self.world.user, BACKEND)
        self.at = f"/api/workspaces/{self.workspace.slug}/submissions"

    def get(self, query: str = "") -> Any:
        return self.client.get(f"{self.at}?{query}").json()

    def export(self, query: str) -> str:
        answer: Any = self.client.get(f"{self.at}/export?{query}")
        self.assertIn("attachment", answer.headers["Content-Disposition"])
        return b"".join(answer.streaming_content).decode()

    def test_filters(self) -> None:
        self.world.arrive("ines@example.com", first_name="Ines", look="moon")
        self.world.arrive("bo@example.com", first_name="Bo")
        waiting = self.world.submit("late@example.com")
        self.assertEqual(self.get()["total"], 3)
        self.assertEqual(self.get("state=received")["submissions"][0]["id"], str(waiting.pk))
        stuck, held = (self.world.submit(f"{one}@example.com") for one in ("stuck", "held"))
        Submission.everywhere.filter(pk=stuck.pk).update(state="stuck")
        Submission.everywhere.filter(pk=held.pk).update(state="held")
        found = {one["id"] for one in self.get("state=attention")["submissions"]}
        self.assertEqual(found, {str(stuck.pk), str(held.pk)})
        Submission.everywhere.filter(pk__in=[stuck.pk, held.pk]).delete()
        self.assertEqual(self.get("text=MOON")["total"], 1)
        self.assertEqual(self.get("text=bo@example")["total"], 1)
        later = (clock.now(self.workspace) + timedelta(hours=1)).isoformat().replace("+", "%2B")
        self.assertEqual(self.get(f"since={later}")["total"], 0)
        self.assertEqual(self.get(f"until={later}")["total"], 3)
        self.assertEqual(self.client.get(f"{self.at}?state=nonsense").status_code, 422)

    def test_words_are_found_by_an_index_and_by_the_people_too(self) -> None:
        self.world.arrive("ines@example.com", first_name="Ines")
        self.world.submit("renamed@example.com")
        Subscriber.objects.of(self.workspace).update(searched="renamed since")
        self.assertEqual(self.get("text=renamed")["total"], 2)
        self.assertEqual(self.get("text=since")["total"], 1)
        # PostgreSQL says by what it would find them, were the table too long to read.
        with connection.cursor() as cursor:
            cursor.execute("SET LOCAL enable_seqscan = off")
        plan = Submission.everywhere.filter(answers__icontains="moonlit").explain()
        self.assertIn("submission_answers", plan)

    def test_the_total_is_counted_so_far(self) -> None:
        for name in ("a", "b", "c"):
            self.world.submit(f"{name}@example.com")
        with mock.patch("server.submissions.api.COUNTED", 2):
            self.assertEqual(self.get()["total"], 2)

    def test_what_is_filtered_is_what_is_exported(self) -> None:
        self.world.arrive("ines@example.com", first_name="=HYPERLINK(1)", look="moon")
        self.world.arrive("bo@example.com", first_name="Bo\nline")
        text = self.export("form=csv&text=moon")
        header, row = list(csv.reader(io.StringIO(text)))
        found = dict(zip(header, row, strict=True))
        # OWASP, CSV injection: the cell is defused, and comes back when it is read.
        self.assertEqual(found["first_name"], "'=HYPERLINK(1)")
        self.assertEqual(restored(found["first_name"]), "=HYPERLINK(1)")
        self.assertEqual(found["address"], "ines@example.com")
        lines = [json.loads(line) for line in self.export("form=jsonl").splitlines()]
        self.assertEqual(len(lines), 2)
        self.assertIn({"name": "first_name", "text": "Bo\nline"}, lines[1]["answers"])

    def test_held_and_let_through(self) -> None:
        one = self.world.submit("ines@example.com")
        self.assertEqual(hold(self.workspace, [one.pk], "held by Noor"), 1)
        route_submission(str(one.pk))
        one.refresh_from_db()
        self.assertEqual((one.state, one.routed_at), (State.HELD, None))
        self.assertEqual(release(self.workspace, [one.pk]), 1)
        route_submission(str(one.pk))
        one.refresh_from_db()
        self.assertEqual(one.state, State.ROUTED)
        self.assertEqual(hold(self.workspace, [one.pk], "too late"), 0)

    def test_a_submission_marked_as_test_counts_no_more(self) -> None:
        one = self.world.arrive("ines@example.com").submissions.get()
        self.assertEqual(mark_test(self.workspace, [one.pk], True), 1)
        self.assertEqual(self.get()["total"], 0)
        self.assertEqual(self.get("tests=only")["total"], 1)
        self.assertEqual(mark_test(self.workspace, [one.pk], True), 0)

    def test_removed_with_all_that_is_known_of_the_person(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="Ines")
        self.world.arrive("ines@example.com", look="moon")
        first = person.submissions.order_by("received_at").first()
        assert first is not None
        self.assertEqual(remove(self.workspace, [first.pk], with_people=False), (1, 0))
        self.assertEqual(Subscriber.objects.of(self.workspace).count(), 1)
        rest = person.submissions.get()
        self.assertEqual(remove(self.workspace, [rest.pk], with_people=True), (1, 1))
        self.assertEqual(Subscriber.objects.of(self.workspace).count(), 0)
        self.assertEqual(Submission.objects.of(self.workspace).count(), 0)
        # However they were erased, no import brings them back.
        self.assertIn("ines@example.com", erased_at(self.workspace, ["ines@example.com"]))

    def test_one_submission_with_its_times_and_body(self) -> None:
        one = self.world.arrive("ines@example.com").submissions.get()
        shown = self.client.get(f"{self.at}/{one.pk}").json()
        self.assertEqual(shown["state"], "routed")
        self.assertIsNone(shown["first_sent_at"])
        self.assertEqual(shown["decision"]["address"], "ines@example.com")

    def test_what_was_sent_goes_when_its_time_is_over(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="Ines")
        waiting = self.world.submit("late@example.com")
        self.assertEqual(forget_old(self.workspace), 0)
        self.workspace.retention_days = 30
        self.workspace.save()
        clock.set_time(self.workspace, clock.now(self.workspace) + timedelta(days=31))
        self.assertEqual(forget_old(self.workspace), 1)
        gone = person.submissions.get()
        self.assertEqual(
            (gone.answers, gone.context, gone.raw, gone.decision), ([], {}, None, None)
        )
        person.refresh_from_db()
        self.assertEqual(person.values["first_name"], "Ines")
        waiting.refresh_from_db()
        self.assertTrue(waiting.answers)
        self.assertTrue(self.get()["submissions"][-1]["forgotten"])


class Seen(TestCase):
    def test_questions_as_they_came_and_lines_for_them(self) -> None:
        world = make_world()
        self.client.force_login(world.user, BACKEND)
        for number in range(3):
            world.arrive(f"p{number}@example.com", first_name="Ines", Colour="red")
        at = f"/api/workspaces/{world.workspace.slug}/sources/{world.source.pk}/seen"
        found = self.client.get(at).json()
        shares = {one["name"]: one["share"] for one in found["questions"]}
        self.assertEqual(shares["Colour"], 1.0)
        # The form asks for it, and no line reads it yet.
        proposed = [one["question"] for one in found["proposals"]]
        self.assertIn("What do you look at?", proposed)
