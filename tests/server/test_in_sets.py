"""What a batch costs: as many statements for many people as for few, whatever follows."""

import json
import re
from collections import Counter
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from hypothesis import example, given
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as GeneratedCase
from procrastinate.contrib.django.models import ProcrastinateJob

from core.deciding import (
    AddTags,
    ChangeScore,
    ChangeSubscription,
    ConsentLine,
    MakeTask,
    Notify,
    PutField,
    RecordEvent,
    RemoveTags,
    Rule,
    SendNow,
    SetOwner,
    StartSequence,
    StopSequence,
    TagFromAnswer,
)
from server.mail.models import Send
from server.people.models import Evidence, Fact, Field, Subscriber, Tag, Tagging, Task
from server.routing.routing import apply_submissions
from server.sequences.models import Run, Visit
from server.sources.actions import route_of_revision
from server.submissions.arrivals import store, store_outcomes
from server.submissions.models import Submission
from server.workspaces.arrays import array
from server.workspaces.copying import update_all
from tests.world import make_world

FEW, MANY = 50, 250


class Arrays(GeneratedCase):
    """An array as one text comes to PostgreSQL as it was; what reads it back is not what wrote it."""

    def back(self, values: Any, kind: str) -> Any:
        with connection.cursor() as cursor:
            cursor.execute(f"SELECT array_to_json(%s::{kind}[])::text", [array(values)])
            return json.loads(cursor.fetchone()[0])

    @given(st.lists(st.none() | st.text(st.characters(exclude_characters="\0", codec="utf-8"))))
    @example(["", "NULL", "null", '"', "\\", "{", "},{", ",", " a ", "%s", "\n", None])
    def test_texts(self, values: Any) -> None:
        self.assertEqual(self.back(values, "text"), values)

    @given(st.lists(st.none() | st.uuids()))
    def test_ids(self, values: Any) -> None:
        found = [one and UUID(one) for one in self.back(values, "uuid")]
        self.assertEqual(found, values)

    @given(st.lists(st.integers(-(2**63), 2**63 - 1)))
    def test_numbers(self, values: Any) -> None:
        self.assertEqual(self.back(values, "bigint"), values)

    @given(
        st.lists(st.datetimes(datetime(1971, 1, 1), datetime(2200, 1, 1), timezones=st.timezones()))
    )
    def test_times(self, values: Any) -> None:
        found = [datetime.fromisoformat(one) for one in self.back(values, "timestamptz")]
        self.assertEqual(found, [one.astimezone(UTC) for one in values])

    def test_nothing_else(self) -> None:
        with self.assertRaises(TypeError):
            array([1.5])


class InSets(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        tags = {one.name: str(one.pk) for one in Tag.objects.of(self.workspace)}
        first = Field.objects.of(self.workspace).get(key="first_name")
        member, sequence = str(self.world.member.pk), str(self.world.sequence.pk)
        route = self.world.change_route()
        news = str(self.world.news.pk)
        self.coming = (
            Rule(id="a", action=AddTags(tags=(tags["guide"],))),
            Rule(id="b", action=TagFromAnswer(question="look", prefix="looks at ")),
            Rule(id="c", action=PutField(field=str(first.pk), value="Ines")),
            Rule(id="d", action=ChangeScore(by=3)),
            Rule(id="e", action=RecordEvent(name="came")),
            Rule(id="f", action=SetOwner(how="in_turn", members=(member,))),
            Rule(id="g", action=MakeTask(title="Call")),
            Rule(id="h", action=Notify(members=(member,))),
            Rule(id="i", action=SendNow(message=str(self.world.fits.pk), list=news)),
            Rule(id="j", action=StartSequence(sequence=sequence)),
        )
        self.leaving = (
            Rule(id="k", action=RemoveTags(tags=(tags["guide"],))),
            Rule(id="l", action=StopSequence(every_sequence=True)),
            Rule(
                id="m",
                action=ChangeSubscription(list=news, direction="unsubscribe", every_list=False),
            ),
        )
        self.route = route.model_copy(
            update={"consent": (ConsentLine(id="n", list=news, wording="Send it", confirm=True),)}
        )

    def routed(self, names: range, rules: tuple[Rule, ...], **change: Any) -> Counter[str]:
        """Route a submission of each of these people at once; the statements, by their beginning."""
        route = self.route.model_copy(update={"then": rules, **change})
        revision = self.world.source.revisions.get(state="live")
        self.world.source.workspace = self.workspace
        batch = []
        for number in names:
            made = Submission(
                workspace=self.workspace,
                source=self.world.source,
                answers=[["email", f"p{number}@example.com"], ["look", "moon"]],
                idempotency_key=f"r{number}/{rules[0].id}",
                received_at=timezone.now(),
                context={},
            )
            store(made)
            batch.append((made, f"p{number}@example.com"))
        route_of_revision(str(revision.pk))
        with CaptureQueriesContext(connection) as queries:
            apply_submissions(batch, self.world.source, route, revision, timezone.now())
            store_outcomes([one for one, _ in batch])
        return Counter(
            " ".join(re.sub(r"[^\w ]", " ", str(one["sql"])).split()[:5])
            for one in queries.captured_queries
            if "SAVEPOINT" not in str(one["sql"])
        )

    def assert_as_many(self, few: Counter[str], many: Counter[str]) -> None:
        self.assertEqual(dict(many - few), {}, f"{few.total()} statements, then {many.total()}")
        self.assertGreater(few.total(), 10)

    def test_people_who_are_new(self) -> None:
        # The first makes the tag that answers name, and so a new catalogue.
        self.routed(range(2000, 2000 + FEW), self.coming)
        few = self.routed(range(FEW), self.coming)
        many = self.routed(range(1000, 1000 + MANY), self.coming)
        self.assert_as_many(few, many)
        people = 2 * FEW + MANY
        self.assertEqual(Subscriber.everywhere.count(), people)
        self.assertEqual(Tagging.everywhere.count(), 2 * people)
        self.assertEqual(Run.everywhere.count(), people)
        # The promised email, and the wait for a day, by when they may have confirmed.
        self.assertEqual(Visit.everywhere.count(), 2 * people)
        self.assertEqual(Task.everywhere.count(), people)
        # The guide, the one of the rule, and the one that asks to confirm.
        self.assertEqual(Send.everywhere.count(), 3 * people)
        self.assertEqual(Evidence.everywhere.count(), people)
        self.assertEqual(Fact.everywhere.filter(kind="entered").count(), people)
        jobs = Counter(ProcrastinateJob.objects.values_list("task_name", flat=True))
        self.assertEqual(jobs["mail.deliver_due"], 9, "three for each batch")
        self.assertEqual(jobs["routing.tell_member"], people)

    def test_people_who_are_known_and_leave(self) -> None:
        self.routed(range(FEW), self.coming, consent=self.world.change_route().consent)
        self.routed(
            range(1000, 1000 + MANY), self.coming, consent=self.world.change_route().consent
        )
        few = self.routed(range(FEW), self.leaving, consent=())
        many = self.routed(range(1000, 1000 + MANY), self.leaving, consent=())
        self.assert_as_many(few, many)
        self.assertEqual(Run.everywhere.filter(ended="").count(), 0)
        self.assertEqual(Fact.everywhere.filter(kind="left").count(), FEW + MANY)


class UpdatedInSets(TestCase):
    def test_each_row_gets_its_own_values(self) -> None:
        world = make_world()
        people = [world.arrive(f"p{number}@example.com", first_name="Ines") for number in range(3)]
        now = timezone.now()
        for number, one in enumerate(people):
            one.score, one.time_zone = number - 1, f"Etc/GMT+{number}"
            one.values = {"first_name": f"“{number}”", "sky": ["a", "b"]}
            one.left_all_at = None if number else now
            one.owner = None if number else world.member
        update_all(people, ("score", "time_zone", "values", "left_all_at", "owner"))
        for number, one in enumerate(people):
            stored = Subscriber.everywhere.get(pk=one.pk)
            self.assertEqual(stored.score, number - 1)
            self.assertEqual(stored.time_zone, f"Etc/GMT+{number}")
            self.assertEqual(stored.values, {"first_name": f"“{number}”", "sky": ["a", "b"]})
            self.assertEqual(stored.left_all_at, None if number else now)
            self.assertEqual(stored.owner_id, None if number else world.member.pk)
        update_all([], ("score",))
