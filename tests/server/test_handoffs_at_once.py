"""Workers that are killed while they hand over, and two at once: nothing lost, nothing doubled."""

import contextlib
import re
import sqlite3
import subprocess
import threading
import time
from collections import Counter
from pathlib import Path
from urllib.parse import parse_qs, urlsplit

import httpx
from django.db import connection
from django.test import TransactionTestCase

from core.services import Call, Chosen, FarLine, Handover, Look
from outside.services.lists import KEY
from server.people.models import Field, Subscriber
from server.services.claims import SET
from server.services.connecting import change, connect, set_secrets, try_it
from server.services.described import shipped
from server.services.handing import hand_over_due
from server.services.models import Attempt, Handoff, Service
from server.services.outbox import Handoffs
from server.services.tokens import begin, finish
from server.snags.models import Snag
from server.workspaces import clock
from tests.outside_world import Outside
from tests.processes import kill, start, stop
from tests.world import WHY, World, make_world

MANY = 28
THOUSAND = 1_000


class Dealing(Outside):
    """A mixin: a pipeline that many deals are made in."""

    world: World

    def setUp(self) -> None:
        self.world = make_world()
        for one in ("lists", "pipeline"):
            self.mood(one, "well")

    def queue(self, row: Service, count: int, **to: str) -> None:
        """Hand over so many people, one handoff each."""
        fields = {one.key: str(one.pk) for one in Field.objects.of(self.world.workspace)}
        lines = tuple(FarLine(id=far, to=far, what=fields[ours]) for far, ours in to.items())
        chosen = {"stage": Chosen(things=("new",))}
        handover = Handover(service=str(row.pk), operation="deal", chosen=chosen, lines=lines)
        now = clock.now(self.world.workspace)
        people = [
            Subscriber(
                workspace=self.world.workspace,
                address=f"k{n}@example.com",
                address_key=f"k{n}@example.com",
                values={"first_name": f"K{n}"},
                added_at=now,
            )
            for n in range(count)
        ]
        Subscriber.everywhere.bulk_create(people)
        handoffs = Handoffs()
        for number, person in enumerate(people):
            handoffs.add_row(
                person,
                row.pk,
                handover,
                f"kill/{number}",
                now,
                WHY,
                operation="Make a deal",
            )
        handoffs.write()

    def pipeline(self, *, with_keys: bool) -> Service:
        """The pipeline, as it is or as one that knows no idempotency keys."""
        described = shipped()["sales-pipeline"]
        if not with_keys:
            deal = described.operation("deal")
            assert deal is not None
            look = Look(
                call=Call(path="/people", query={"email": "{{ address }}"}),
                there="people[0]",
                id="people[0].id",
            )
            others = tuple(one for one in described.operations if one.key != "deal")
            described = described.model_copy(
                update={
                    "idempotency_header": "",
                    "operations": (deal.model_copy(update={"look": look}), *others),
                }
            )
        row = connect(self.world.workspace, "Pipeline", "", described)
        set_secrets(
            row, {"client_id": "larkmoor-pipeline", "client_secret": "demo-pipeline-secret"}
        )
        at = begin(row, "http://127.0.0.1:9/back")
        back = httpx.post(at, data={"do": "agree"}).headers["Location"]
        said = parse_qs(urlsplit(back).query)
        finish(row, said["code"][0], said["state"][0])
        try_it(row)
        row.refresh_from_db()
        if row.state != "working":
            raise AssertionError(row.trouble)
        return row

    def deals(self) -> list[str]:
        """The addresses of all deals over there, as they stand in its own file."""
        file = Path(self.folder.name) / "outside" / "services.sqlite"
        with contextlib.closing(sqlite3.connect(file)) as db:
            rows = db.execute("SELECT body FROM thing WHERE service = 'pipeline' AND kind = 'deal'")
            return [
                address for (body,) in rows for address in re.findall(r"k\d+@example\.com", body)
            ]


class Killed(Dealing, TransactionTestCase):
    def worker(self) -> subprocess.Popen[bytes]:
        return start(
            "manage.py",
            "worker",
            "live",
            YALLA_FETCH_HOSTS=self.host.removeprefix("http://"),
            YALLA_OUTSIDE_ADDRESS=self.host,
        )

    def killed_while_it_works(self, row: Service) -> None:
        self.mood("pipeline", "slow")
        before = set(self.deals())
        for pause in (1.5, 1.0):
            worker = self.worker()
            deadline = time.monotonic() + 30
            while not Handoff.everywhere.filter(state="sending").exists():
                self.assertLess(time.monotonic(), deadline)
                time.sleep(0.1)
            time.sleep(pause)
            kill(worker)
        self.assertTrue(Handoff.everywhere.filter(state="sending").exists())
        # What was on its way when the last one died is through by then.
        time.sleep(4)
        self.mood("pipeline", "well")
        worker = self.worker()
        deadline = time.monotonic() + 60
        while Handoff.everywhere.exclude(state="done").exists():
            self.assertLess(time.monotonic(), deadline, self.states())
            time.sleep(0.3)
        stop(worker)
        found = [one for one in self.deals() if one not in before]
        self.assertEqual(sorted(found), sorted(f"k{n}@example.com" for n in range(MANY)))

    def states(self) -> list[tuple[str, str]]:
        return list(Handoff.everywhere.exclude(state="done").values_list("state", "outcome"))

    def test_with_keys_nothing_is_lost_or_doubled(self) -> None:
        row = self.pipeline(with_keys=True)
        self.queue(row, MANY, email="email", name="first_name")
        self.killed_while_it_works(row)

    def test_without_keys_it_looks_before_it_tries_again(self) -> None:
        # The people of the test before are over there already, and would be found.
        self.press("/services/pipeline/", do="empty")
        row = self.pipeline(with_keys=False)
        self.queue(row, MANY, email="email", name="first_name")
        self.killed_while_it_works(row)
        self.assertTrue(Attempt.everywhere.filter(what="looks").exists())


class RunsOut(Dealing, TransactionTestCase):
    def test_a_token_that_ends_in_the_middle_of_a_thousand(self) -> None:
        self.press("/services/pipeline/", do="empty")
        row = self.pipeline(with_keys=True)
        change(row, description={**row.description, "per_minute": None})
        self.queue(row, THOUSAND, email="email", name="first_name")
        working = threading.Thread(target=self.hand_over_all, args=[row])
        working.start()
        try:
            for share in (0.2, 0.5, 0.8):
                deadline = time.monotonic() + 90
                while Handoff.everywhere.filter(state="done").count() < share * THOUSAND:
                    self.assertLess(time.monotonic(), deadline)
                    time.sleep(0.02)
                self.mood("pipeline", "expired")
        finally:
            working.join(timeout=120)
        states = Counter(Handoff.everywhere.values_list("state", flat=True))
        self.assertEqual(states, {"done": THOUSAND})
        self.assertEqual(sorted(self.deals()), sorted(f"k{n}@example.com" for n in range(THOUSAND)))
        refused = Attempt.everywhere.filter(status=401).count()
        self.assertTrue(0 < refused <= 3 * SET, refused)
        self.assertFalse(Snag.everywhere.exists())

    def hand_over_all(self, row: Service) -> None:
        try:
            while hand_over_due(row.pk):
                pass
        finally:
            connection.close()


class TwoAtOnce(Outside, TransactionTestCase):
    def queued(self, count: int, per_minute: int | None = None) -> Service:
        """So many people that wait for the list service, which takes so many requests in a minute. It is
        told of one after the other."""
        self.mood("lists", "well")
        world = make_world()
        described = shipped()["list-service"].model_copy(update={"per_minute": per_minute})
        alone = tuple(one.model_copy(update={"batch": None}) for one in described.operations)
        described = described.model_copy(update={"operations": alone})
        row = connect(world.workspace, "Lists", "", described)
        set_secrets(row, {"key": KEY})
        email = str(Field.objects.of(world.workspace).get(key="email").pk)
        lines = (FarLine(id="1", to="email", what=email),)
        handover = Handover(service=str(row.pk), operation="save", lines=lines)
        handoffs = Handoffs()
        now = clock.now(world.workspace)
        for number in range(count):
            person = world.arrive(f"two{number}@example.com", first_name="T")
            origin = f"two/{number}"
            handoffs.add_row(person, row.pk, handover, origin, now, WHY, operation="save")
        handoffs.write()
        return row

    def handed_over_by(self, workers: int, row: Service) -> int:
        """By so many threads at once; how many went."""
        went: list[int] = []

        def work() -> None:
            try:
                went.append(hand_over_due(row.pk))
            finally:
                connection.close()

        threads = [threading.Thread(target=work) for _ in range(workers)]
        for one in threads:
            one.start()
        for one in threads:
            one.join(timeout=60)
        return sum(went)

    def test_three_workers_hand_over_each_once(self) -> None:
        row = self.queued(150)
        self.assertEqual(self.handed_over_by(3, row), 150)
        self.assertEqual(Handoff.everywhere.filter(state="done").count(), 150)
        self.assertEqual(Attempt.everywhere.count(), 150)

    def test_a_rate_is_kept_by_all_of_them(self) -> None:
        row = self.queued(80, per_minute=120)
        began = time.monotonic()
        went = self.handed_over_by(2, row)
        # A quarter of a minute's worth at once, and two more for each second that it took.
        self.assertLessEqual(went, 30 + 2 * (time.monotonic() - began) + 1)
        self.assertGreaterEqual(went, 30)
        self.assertEqual(Handoff.everywhere.filter(state="waiting").count(), 80 - went)
