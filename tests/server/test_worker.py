"""A worker that is really killed, again and again: nothing is lost and nothing is doubled."""

import asyncio
import random
import subprocess
import time
from collections import Counter
from typing import Any

from django.conf import settings
from django.db import connection
from django.db.models import Count
from django.test import SimpleTestCase, TransactionTestCase
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from server.config.management.commands.worker import SLOTS, forget_old, give_back
from server.mail.models import Send
from server.people.models import Fact, Subscriber, Tagging
from server.sequences.models import Run
from server.snags.models import Snag
from server.submissions.models import Submission
from tests.processes import kill, start, stop
from tests.world import RealMail, make_world

PEOPLE = 360
KILLS = 4


class KilledWorker(RealMail, TransactionTestCase):
    def test_kill_9_at_any_moment(self) -> None:
        ProcrastinateJob.objects.all()._raw_delete("default")
        world = make_world()
        for number in range(PEOPLE):
            world.submit(f"p{number}@example.com", first_name="ines", look="moon")
        chance = random.Random(4)
        killed_at = []
        for _ in range(KILLS):
            worker = self.worker()
            # Long enough to begin, never long enough to finish.
            done = self.routed()
            while self.routed() < min(done + chance.randrange(1, 30), PEOPLE):
                time.sleep(0.01)
            kill(worker)
            killed_at.append(self.routed())
        self.assertLess(killed_at[-1], PEOPLE, "the worker was never killed in the middle")
        worker = self.worker()
        try:
            self.wait_until_settled()
        finally:
            stop(worker)
        self.assert_nothing_lost_or_doubled()

    def worker(self) -> subprocess.Popen[bytes]:
        # Small batches: a kill finds more of them in the middle.
        return start(
            "manage.py", "worker", YALLA_SMTP_PORT=str(self.smtp_port), YALLA_ROUTE_BATCH="30"
        )

    def routed(self) -> int:
        return int(Submission.everywhere.filter(state="routed").count())

    def wait_until_settled(self) -> None:
        open_states = [Send.State.QUEUED, Send.State.HANDING_OVER]
        deadline = time.monotonic() + 120
        while self.routed() < PEOPLE or Send.everywhere.filter(state__in=open_states).exists():
            self.assertLess(time.monotonic(), deadline, "it did not settle")
            time.sleep(0.2)

    def assert_nothing_lost_or_doubled(self) -> None:
        self.assertEqual(Subscriber.everywhere.count(), PEOPLE)
        self.assertEqual(Run.everywhere.count(), PEOPLE)
        self.assertEqual(Tagging.everywhere.count(), 2 * PEOPLE)
        kinds = Fact.everywhere.exclude(kind="sent").values("subscriber", "kind")
        counts = {(one["kind"], one["count"]) for one in kinds.annotate(count=Count("pk"))}
        once = {("added", 1), ("submitted", 1), ("field", 1), ("membership", 1), ("entered", 1)}
        self.assertEqual(counts, {*once, ("tag", 2)})
        self.assertEqual(Send.everywhere.count(), PEOPLE)
        states = Counter(Send.everywhere.values_list("state", flat=True))
        self.assertEqual(states["sent"] + states["unknown"], PEOPLE, states)
        received = Counter(one.message["Message-ID"] for one in self.mailbox.list())
        self.assertEqual(set(received.values()), {1}, "an email went out twice")
        self.assertGreaterEqual(len(received), states["sent"])
        # What a task defers is in its own transaction: no job is about what is not there.
        failed = ProcrastinateJob.objects.filter(status="failed")
        self.assertEqual(list(failed.values_list("task_name", "args")), [])
        # A send that a killed worker may have handed over is a snag, not a repeat.
        self.assertEqual(bool(states["unknown"]), Snag.everywhere.exists())


class GivenBack(TransactionTestCase):
    """Jobs of a worker that is gone."""

    def job(self, status: str, lock: str | None) -> int:
        with connection.cursor() as cursor:
            cursor.execute(
                "INSERT INTO procrastinate_jobs (queue_name, task_name, status, queueing_lock) "
                "VALUES ('mail', 'mail.find_due', %s, %s) RETURNING id",
                [status, lock],
            )
            return int(cursor.fetchone()[0])

    def test_each_is_done_again_unless_one_waits_that_does_the_same(self) -> None:
        ProcrastinateJob.objects.all()._raw_delete("default")
        again, double, waiting = (
            self.job("doing", "a"),
            self.job("doing", "b"),
            self.job("todo", "b"),
        )

        async def rescue() -> None:
            one = app.with_connector(app.connector.get_worker_connector())  # type: ignore[attr-defined]
            async with one.open_async():
                await give_back(one)

        asyncio.run(rescue())
        left = dict(ProcrastinateJob.objects.values_list("id", "status"))
        self.assertEqual(left, {again: "todo", waiting: "todo"})
        self.assertNotIn(double, left)


class Forgotten(TransactionTestCase):
    """Jobs that failed long ago."""

    def job(self, status: str, days: int) -> int:
        with connection.cursor() as cursor:
            cursor.execute(
                "INSERT INTO procrastinate_jobs (queue_name, task_name, status) "
                "VALUES ('mail', 'mail.find_due', %s) RETURNING id",
                ["todo" if status == "cancelled" else "doing"],
            )
            job = int(cursor.fetchone()[0])
            cursor.execute("UPDATE procrastinate_jobs SET status = %s WHERE id = %s", [status, job])
            cursor.execute(
                "UPDATE procrastinate_events SET at = now() - make_interval(days => %s) WHERE job_id = %s",
                [days, job],
            )
        return job

    def test_they_go_after_a_month_and_nothing_else_does(self) -> None:
        ProcrastinateJob.objects.all()._raw_delete("default")
        kept = {self.job("failed", 29), self.job("doing", 90), self.job("todo", 90)}
        gone = {self.job("failed", 31), self.job("cancelled", 31), self.job("aborted", 31)}

        async def forget() -> None:
            one = app.with_connector(app.connector.get_worker_connector())  # type: ignore[attr-defined]
            async with one.open_async():
                await forget_old(one)

        asyncio.run(forget())
        left = set(ProcrastinateJob.objects.values_list("id", flat=True))
        self.assertEqual((left & kept, left & gone), (kept, set()))


class Slots(SimpleTestCase):
    def test_every_job_at_once_has_a_connection(self) -> None:
        """A job that gets none fails: the pool has one for each, also of a worker that does everything."""
        default: Any = settings.DATABASES["default"]
        pool = default["OPTIONS"]["pool"]
        self.assertLess(
            sum(n for queues in SLOTS.values() for n in queues.values()), pool["max_size"]
        )

    def test_every_queue_that_a_task_names_has_slots(self) -> None:
        named = {one.queue for one in app.tasks.values() if not one.name.startswith("builtin")}
        there = {queue for queues in SLOTS.values() for queue in queues}
        self.assertEqual(named - there, set())
