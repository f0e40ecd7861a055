"""Sequences with real workers: two at a time, and killed in the middle; nothing is lost or doubled."""

import threading
import time
from collections import Counter
from collections.abc import Iterable
from datetime import timedelta
from unittest import mock
from uuid import UUID

from django.db import connection, connections
from django.test import TransactionTestCase
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from core.conditions import Group, HappenedTest, TagTest
from core.deciding import AddTags, ChangeScore, RecordEvent
from core.delivering import Duration
from core.documents import Because
from core.sequences import (
    ActStep,
    EventDoor,
    Goal,
    Lane,
    SendStep,
    SequenceDocument,
    SplitBranch,
    SplitStep,
    WaitStep,
    Way,
)
from server.doors.by_hand import admit, let_all_in
from server.mail.models import Send
from server.people.actions import make_tag
from server.people.models import Fact, Subscriber, Tagging
from server.people.trail import fact, store_facts
from server.sequences import actions as sequences
from server.sequences import going_on
from server.sequences.going_on import advance_due_runs
from server.sequences.models import Run, Sequence, Signal, Visit
from server.workspaces.models import Workspace
from tests.processes import kill, start, stop
from tests.world import make_world

PEOPLE = 120


class AtOnce(TransactionTestCase):
    def setUp(self) -> None:
        ProcrastinateJob.objects.all()._raw_delete("default")
        self.world = make_world()
        self.workspace = self.world.workspace
        self.tag = str(make_tag(self.workspace, "far").pk)
        self.own = sequences.make_sequence(self.workspace, "Many", self.world.member)
        bought = Group(of=(HappenedTest(what="event", about="bought"),))
        even = Group(of=(TagTest(tag=str(make_tag(self.workspace, "even").pk)),))
        document = SequenceDocument(
            list=str(self.world.news.pk),
            again="start_over",
            doors=(EventDoor(id="e", name="asked"),),
            goals=(Goal(id="g", event="bought"),),
            lanes=(
                Lane(
                    id="a",
                    steps=(
                        WaitStep(id="w", duration=Duration(amount=1, unit="hours")),
                        SplitStep(
                            id="p",
                            of=(
                                SplitBranch(id="b", when=bought, way=Way(to="end")),
                                SplitBranch(id="y", when=even, way=Way(to="lane", lane="b")),
                            ),
                        ),
                        ActStep(id="t", action=AddTags(tags=(self.tag,))),
                        ActStep(id="c", action=ChangeScore(by=1)),
                        ActStep(id="v", action=RecordEvent(name="came far")),
                        SendStep(id="s", message=str(self.world.guide.pk)),
                    ),
                ),
                Lane(id="b", steps=(SendStep(id="z", message=str(self.world.guide.pk)),)),
            ),
        )
        sequences.save_sequence_draft(self.own, document, None, self.world.member)
        sequences.turn_on(self.own, self.world.member)
        self.workspace = Workspace.objects.get(pk=self.workspace.pk)
        sequences.pause(self.world.sequence)
        for number in range(PEOPLE):
            self.world.arrive(f"p{number}@example.com")
        ProcrastinateJob.objects.all()._raw_delete("default")
        Send.everywhere.all().delete()

    def enter_all(self) -> None:
        self.own.workspace = Workspace.objects.get(pk=self.workspace.pk)
        row = let_all_in(self.own, Group(), None, PEOPLE, self.world.member)
        admit(str(row.pk))

    def due(self) -> None:
        Run.everywhere.filter(sequence=self.own, ended_at=None).update(
            due_at=timezone.now() - timedelta(seconds=1)
        )

    def check(self) -> None:
        """Everybody went through once, and each effect is there once."""
        self.assertEqual(
            Counter(Run.everywhere.filter(sequence=self.own).values_list("ended", flat=True)),
            {"finished": PEOPLE},
        )
        self.assertEqual(Visit.everywhere.filter(sequence=self.own).count(), 6 * PEOPLE)
        self.assertEqual(Tagging.everywhere.filter(tag=self.tag).count(), PEOPLE)
        self.assertEqual(set(Subscriber.everywhere.values_list("score", flat=True)), {1})
        self.assertEqual(Fact.everywhere.filter(kind="event", about="came far").count(), PEOPLE)
        self.assertEqual(Send.everywhere.filter(sequence=self.own.pk).count(), PEOPLE)

    def test_two_workers_never_do_the_same(self) -> None:
        self.enter_all()
        self.due()
        failed: list[BaseException] = []

        def work() -> None:
            try:
                advance_due_runs(None)
            except BaseException as error:
                failed.append(error)
            finally:
                connections.close_all()

        threads = [threading.Thread(target=work) for _ in range(3)]
        for one in threads:
            one.start()
        for one in threads:
            one.join()
        # Whoever was in another worker's hands is left to the next look.
        advance_due_runs(None)
        self.assertEqual(failed, [])
        self.check()

    def test_what_changes_before_the_lock_is_held_is_not_written_over(self) -> None:
        self.enter_all()
        self.due()
        real = going_on.try_keys

        def change_and_try(workspace: UUID, keys: Iterable[str]) -> set[str]:
            def change() -> None:
                Subscriber.everywhere.update(score=10, values={"first_name": "Later"})
                connections.close_all()

            other = threading.Thread(target=change)
            other.start()
            other.join()
            return real(workspace, keys)

        with mock.patch.object(going_on, "try_keys", change_and_try):
            going_on._advance_some(self.workspace, set())
        rows = Subscriber.everywhere.filter(runs__sequence=self.own).values_list("score", "values")
        self.assertEqual(
            Counter((score, values.get("first_name")) for score, values in rows),
            {(11, "Later"): PEOPLE},
        )

    def test_killed_again_and_again(self) -> None:
        self.enter_all()
        self.due()
        killed = 0
        deadline = time.monotonic() + 120
        runs = Run.everywhere.filter(sequence=self.own, ended_at=None)
        with connection.cursor() as cursor:
            cursor.execute("SELECT pid FROM pg_stat_activity WHERE datname = current_database()")
            own = [pid for (pid,) in cursor.fetchall()]
        worker = start("manage.py", "worker", "live")
        try:
            while runs.exists() and time.monotonic() < deadline:
                time.sleep(0.5 if killed < 6 else 5)
                if killed % 2:
                    kill(worker)
                    worker = start("manage.py", "worker", "live")
                else:
                    with connection.cursor() as cursor:
                        cursor.execute(
                            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity"
                            " WHERE datname = current_database() AND NOT pid = ANY(%s)",
                            [own],
                        )
                killed += 1
                if worker.poll() is not None:
                    worker = start("manage.py", "worker", "live")
        finally:
            stop(worker)
        self.assertGreaterEqual(killed, 2)
        self.check()

    def test_goals_and_starting_over_with_a_worker_that_is_killed(self) -> None:
        self.enter_all()
        people = list(Subscriber.everywhere.order_by("pk"))
        because = Because(kind="member", sentence="bench")
        now = timezone.now()
        half = PEOPLE // 2
        store_facts(
            [
                fact(one, Fact.Kind.EVENT, {"event": name}, because, now, name)
                for one, name in zip(
                    people, ["bought"] * half + ["asked"] * (PEOPLE - half), strict=True
                )
            ]
        )
        self.assertEqual(Signal.everywhere.count(), PEOPLE)
        deadline = time.monotonic() + 240
        worker = start("manage.py", "worker", "live")
        turns = 0
        try:
            while Signal.everywhere.exists() and time.monotonic() < deadline:
                # A worker takes four seconds to begin, and many more beside other tests: each of the later ones
                # has longer than the one before.
                time.sleep(0.7 if turns < 3 else 3 * turns)
                kill(worker)
                worker = start("manage.py", "worker", "live")
                turns += 1
        finally:
            stop(worker)
        ended = Counter(Run.everywhere.filter(sequence=self.own).values_list("ended", flat=True))
        again = PEOPLE - half
        self.assertEqual(ended, {"goal": half, "started_over": again, "": again})
        self.assertEqual(Fact.everywhere.filter(kind="goal").count(), half)
        own = Sequence.everywhere.get(pk=self.own.pk)
        self.assertEqual(own.runs.filter(number=2).count(), again)
