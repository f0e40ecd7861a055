"""A worker that is really killed, again and again, while a broadcast goes out, and people who leave meanwhile."""

import os
import random
import subprocess
import time
from collections import Counter

from django.db import connections
from django.test import TransactionTestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from core.broadcasts import BroadcastDocument, To, Version, When
from core.documents import Because
from server.broadcasts import actions
from server.broadcasts.models import Broadcast
from server.consent.own import leave
from server.mail.models import Send
from server.people.models import Membership, Subscriber
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.causes import caused_by, keep_causes
from tests.processes import kill, start, stop
from tests.world import RealMail, World, make_world

PEOPLE = int(os.environ.get("YALLA_KILLED_PEOPLE", "500"))
KILLS = int(os.environ.get("YALLA_KILLS", "5"))
"""Each start of a worker takes seconds: 5,000 people and 20 kills are tried by hand."""
LEAVERS = PEOPLE // 20


class Killed(RealMail, TransactionTestCase):
    def test_each_once_or_a_doubt_and_none_after_they_left(self) -> None:
        ProcrastinateJob.objects.all()._raw_delete("default")
        world = make_world()
        people = self.subscribers(world)
        document = BroadcastDocument(
            to=To(list=str(world.news.pk)),
            versions=(Version(id="a", message=str(world.guide.pk)),),
            when=When(delay_minutes=0),
        )
        row = actions.make_broadcast(world.workspace, "To all", document, world.member)
        actions.set_off(row, world.member)
        chance = random.Random(30)
        leavers = chance.sample(people, LEAVERS)
        left: dict[str, float] = {}
        killed_at = []
        for number in range(KILLS):
            worker = self.worker()
            done = self.out()
            wanted = min(done + chance.randrange(1, max(2, PEOPLE // KILLS)), PEOPLE)
            deadline = time.monotonic() + 60
            while self.out() < wanted and time.monotonic() < deadline:
                time.sleep(0.01)
            for person in leavers[number * LEAVERS // KILLS : (number + 1) * LEAVERS // KILLS]:
                leave(person, [str(world.news.pk)], "")
                left[person.address] = time.time()
            kill(worker)
            killed_at.append(self.out())
        self.assertLess(killed_at[-1], PEOPLE, "the worker was never killed in the middle")
        worker = self.worker()
        try:
            self.wait_until_done(row)
        finally:
            stop(worker)
        self.assert_each_once(row, left)

    def subscribers(self, world: World) -> list[Subscriber]:
        now = clock.now(world.workspace)
        rows = [
            Subscriber(
                workspace=world.workspace,
                address=f"p{number}@example.com",
                address_key=f"p{number}@example.com",
                added_at=now,
            )
            for number in range(PEOPLE)
        ]
        Subscriber.everywhere.bulk_create(rows)
        why = Because(kind="member", sentence="by hand")
        on_list = [
            Membership(
                workspace=world.workspace,
                subscriber=one,
                list=world.news,
                state="subscribed",
                changed_at=now,
                **caused_by(world.workspace.pk, why),
            )
            for one in rows
        ]
        keep_causes(on_list)
        Membership.everywhere.bulk_create(on_list)
        return rows

    def worker(self) -> "subprocess.Popen[bytes]":
        return start("manage.py", "worker", YALLA_SMTP_PORT=str(self.smtp_port))

    def out(self) -> int:
        return int(Send.everywhere.exclude(state__in=["queued", "withdrawn"]).count())

    def wait_until_done(self, row: Broadcast) -> None:
        deadline = time.monotonic() + 60 + PEOPLE / 10
        while not Broadcast.everywhere.filter(pk=row.pk, state="done").exists():
            self.assertLess(time.monotonic(), deadline, "it did not come to its end")
            time.sleep(0.2)

    def assert_each_once(self, row: Broadcast, left: dict[str, float]) -> None:
        sends = Send.everywhere.filter(broadcast=row.pk).select_related("subscriber")
        states = Counter(one.state for one in sends)
        # Who left before it was prepared is not among them.
        self.assertGreaterEqual(len(sends), PEOPLE - LEAVERS)
        self.assertEqual(set(states) - {"sent", "unknown", "withdrawn"}, set(), states)
        received: Counter[str] = Counter()
        for email in self.mailbox.list():
            address = str(email.message["To"])
            received[address] += 1
        self.assertEqual(set(received.values()), {1}, "somebody got it twice")
        self.assertGreaterEqual(len(received), states["sent"])
        self.assertEqual(bool(states["unknown"]), Snag.everywhere.exists())
        # Nobody's email was handed over after they had left.
        seen = 0
        for one in sends:
            at = left.get(one.subscriber.address)
            if at is not None and one.state == "withdrawn":
                self.assertNotIn(one.subscriber.address, received)
            if at is not None and one.handed_at is not None:
                self.assertLessEqual(one.handed_at.timestamp(), at + 1)
            seen += at is not None
        self.assertGreater(seen, 0)
        connections.close_all()
