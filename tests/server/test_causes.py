"""The trail by reference and by month: what is read back is what was said, wherever it lies."""

import json
from dataclasses import asdict
from datetime import UTC, date, datetime
from typing import Any
from uuid import UUID

from django.db import connection, transaction
from django.db.migrations.executor import MigrationExecutor
from django.test import TestCase, TransactionTestCase
from django.test.utils import CaptureQueriesContext

from core.documents import Because
from server.people.models import Fact, Subscriber, Tagging
from server.people.trail import fact
from server.workspaces.causes import Cause
from server.workspaces.copying import store_all
from server.workspaces.ids import new_id
from server.workspaces.partitions import bound, is_parted, make_months
from tests.world import make_world

SUBMISSION, RUN = "0197a1f0-0000-7000-8000-000000000001", "0197a1f0-0000-7000-8000-000000000002"


def rows(statement: str, *values: Any) -> list[tuple[Any, ...]]:
    with connection.cursor() as cursor:
        cursor.execute(statement, values)
        return cursor.fetchall()


class Causes(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.person = self.world.arrive("ines@example.com")

    def noted(self, because: Because) -> Fact:
        row = fact(self.person, Fact.Kind.EVENT, {}, because, self.person.added_at)
        store_all([row])
        return Fact.everywhere.get(pk=row.id)

    def test_a_because_is_read_as_it_was_written(self) -> None:
        full = Because(
            kind="route",
            sentence="rule 2: the answer was Planets",
            source_id="a",
            source_name="Guide",
            submission_id=SUBMISSION,
            revision=3,
            band="then",
            line_id="t2",
            sequence_id="b",
            sequence_name="First telescope",
            run_id=RUN,
            step_id="s1",
            send_id=SUBMISSION,
            member="m",
            service_id="s",
            service_name="Shop",
            broadcast_id="e",
            broadcast_name="March letter",
            replay_id=RUN,
            own=True,
        )
        self.assertEqual([name for name, one in asdict(full).items() if one is None], [])
        for because in (full, Because(kind="person", sentence="they said so")):
            self.assertEqual(self.noted(because).because, because.as_json())

    def test_many_share_one_cause_and_keep_their_own(self) -> None:
        before = Cause.everywhere.count()
        people = [
            Because(kind="route", sentence=f"{name}'s", source_id="x", submission_id=SUBMISSION)
            for name in ("zq-ines", "zq-tomas")
        ]
        first, second = (self.noted(one) for one in people)
        self.assertEqual(first.cause_id, second.cause_id)
        self.assertEqual(Cause.everywhere.count(), before + 1)
        self.assertEqual(second.because["sentence"], "zq-tomas's")
        # What can name somebody goes with their rows, and is in no row that others share.
        self.assertNotIn("zq-", json.dumps([one.content for one in Cause.everywhere.all()]))

    def test_of_another_workspace_it_is_another(self) -> None:
        other = make_world("other", "tomas@larkmoor.example").workspace
        because = Because(kind="person", sentence="x")
        mine, theirs = (
            fact(Subscriber(workspace=one), Fact.Kind.EVENT, {}, because, self.person.added_at)
            for one in (self.world.workspace, other)
        )
        self.assertNotEqual(mine.cause_id, theirs.cause_id)

    def test_a_person_is_read_in_few_statements(self) -> None:
        for number in range(30):
            self.noted(Because(kind="route", sentence="x", line_id=f"t{number}"))
        self.client.force_login(self.world.user)
        path = f"/api/workspaces/{self.world.workspace.slug}/people/{self.person.pk}/trail"
        # The session, the user, the member, the person, and the page of the trail.
        with self.assertNumQueries(5):
            found = self.client.get(path).json()
        self.assertGreater(len({one["because"]["line_id"] for one in found["facts"]}), 20)


class StoredOnce(TransactionTestCase):
    """What was stored for good is not stored again; what was taken back is."""

    def note(self, number: int, *, fails: bool = False) -> int:
        """An entry of the trail in a transaction of its own; how many statements store causes."""
        because = Because(kind="route", sentence=f"{number}", source_id="x", line_id="t1")
        row = fact(self.person, Fact.Kind.EVENT, {}, because, self.person.added_at)
        with CaptureQueriesContext(connection) as made:
            try:
                with transaction.atomic():
                    store_all([row])
                    if fails:
                        raise ValueError
            except ValueError:
                pass
        return sum("workspaces_cause" in one["sql"] for one in made.captured_queries)

    def test_after_a_commit_and_after_a_rollback(self) -> None:
        self.person = make_world().arrive("ines@example.com")
        self.assertEqual(self.note(1, fails=True), 1)
        self.assertFalse(Cause.everywhere.filter(content__line_id="t1", content__source_id="x"))
        self.assertEqual([self.note(number) for number in (2, 3, 4)], [1, 0, 0])
        facts = Fact.everywhere.filter(kind="event").select_related("cause").order_by("sentence")
        self.assertEqual([one.because["line_id"] for one in facts], ["t1"] * 3)


class Copied(TestCase):
    """What COPY has signs of its own for is stored as it stands."""

    def test_texts_and_json_that_look_like_signs_of_copy(self) -> None:
        person = make_world().arrive("ines@example.com")
        texts = ["\\N", "\\.", "a\tb\nc\rd", 'say "x" \\ \\\\ {}', "\U0001f52d é", "", "null"]
        for text in texts:
            with self.subTest(text=text):
                because = Because(kind="person", sentence=text)
                what = {"text": text, text: [text, None, 1.5, True]}
                row = fact(person, Fact.Kind.EVENT, what, because, person.added_at, text)
                store_all([row])
                # Read by PostgreSQL's own parser, not by the library that wrote it.
                [found] = rows(
                    "SELECT what->>'text' = %s, sentence = %s, about = %s, what->%s->>0 = %s "
                    "FROM people_fact WHERE id = %s",
                    *(text, text, text, text, text, row.id),
                )
                self.assertEqual(found, (True, True, True, True))


class Months(TestCase):
    def test_bounds(self) -> None:
        """RFC 9562, 5.7: the first 48 bits are the milliseconds since 1970."""
        self.assertEqual(bound(date(1970, 1, 1)).int, 0)
        # printf %012x $(($(date -u -d 2026-03-01 +%s) * 1000))
        self.assertEqual(str(bound(date(2026, 3, 1))), "019ca6b1-dc00-0000-0000-000000000000")

    def test_each_lies_in_its_month(self) -> None:
        person = make_world().arrive("ines@example.com")
        because = Because(kind="person", sentence="x")
        made = []
        last = _made_at(2031, 1, 31, 23, 59)
        for pk in (last, _made_at(2031, 2, 1, 0, 0), _made_at(2031, 2, 28, 23, 59)):
            row = fact(person, Fact.Kind.EVENT, {}, because, person.added_at)
            row.id = pk
            made.append(row)
        store_all(made)
        where = "SELECT tableoid::regclass::text FROM people_fact WHERE id = ANY(%s) ORDER BY id"
        ids = [one.id for one in made]
        # No part stands ready for years ahead, and nothing is lost by it.
        self.assertEqual(rows(where, ids), [("people_fact_rest",)] * 3)
        names = make_months("people_fact", last, date(2031, 1, 1))
        self.assertEqual(names, [f"people_fact_2031_0{month}" for month in (1, 2, 3, 4)])
        self.assertEqual(make_months("people_fact", last, date(2031, 1, 1)), [])
        found = [f"people_fact_2031_0{month}" for month in (1, 2, 2)]
        self.assertEqual(rows(where, ids), [(one,) for one in found])
        self.assertEqual(person.facts.filter(pk__in=ids).count(), 3)

    def test_a_trail_is_one_statement_over_all_parts(self) -> None:
        make_months("people_fact", _made_at(2024, 1, 1, 0, 0))
        person = make_world().arrive("ines@example.com")
        page = person.facts.select_related("cause").order_by("-at", "-pk")[:50]
        with transaction.atomic(), connection.cursor() as cursor:
            # Tables as small as here are read whole otherwise.
            cursor.execute("SET LOCAL enable_seqscan = off")
            plan = page.explain()
        self.assertIn("people_fact_2024_01", plan)
        self.assertNotIn("Seq Scan on people_fact", plan)


def _made_at(*moment: int) -> UUID:
    milliseconds = int(datetime(*moment, tzinfo=UTC).timestamp() * 1000)  # type: ignore[misc,arg-type]
    return UUID(int=(milliseconds << 80) | (new_id().int & ((1 << 80) - 1)))


class Migrating(TransactionTestCase):
    """The tables of before and back, over rows that are there."""

    def tearDown(self) -> None:
        self.migrate()

    def migrate(self, *before: tuple[str, str]) -> None:
        """To these migrations in one plan, or to the newest."""
        executor = MigrationExecutor(connection)
        graph = executor.loader.graph
        wanted = [
            next(one for one in graph.nodes if one[0] == app and one[1].startswith(number))
            for app, number in before
        ]
        executor.migrate(wanted or graph.leaf_nodes())

    def test_both_ways(self) -> None:
        world = make_world()
        for name in ("ines", "tomas", "amara"):
            world.arrive(f"{name}@example.com", look="planets")
        people = ["people_fact", "people_tagging", "people_membership", "people_task"]
        tables = [*people, "sequences_run", "mail_send"]
        said = {
            (model._meta.db_table, str(one.pk)): one.because
            for model in (Fact, Tagging)
            for one in model.everywhere.all()
        }
        self.assertGreater(len(said), 12)
        counts = [rows(f"SELECT count(*) FROM {table}") for table in tables]
        self.migrate(("people", "0014"), ("sequences", "0003"), ("mail", "0005"))
        self.assertFalse(is_parted("people_fact"))
        for table in ("people_fact", "people_tagging"):
            for pk, because in rows(f"SELECT id, because::text FROM {table}"):
                then = {
                    name: one
                    for name, one in said[table, str(pk)].items()
                    if not name.startswith(("service_", "broadcast_")) and name != "own"
                }
                found = json.loads(because)
                found.pop("own", None)
                self.assertEqual(found, then)
        self.migrate()
        self.assertTrue(is_parted("people_fact"))
        self.assertEqual([rows(f"SELECT count(*) FROM {table}") for table in tables], counts)
        for model in (Fact, Tagging):
            for one in model.everywhere.all():
                self.assertEqual(one.because, said[model._meta.db_table, str(one.pk)])
