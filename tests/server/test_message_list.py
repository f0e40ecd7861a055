"""The list of messages: each figure beside the same counted one by one."""

import random
from collections import defaultdict
from datetime import timedelta
from uuid import UUID

from django.test import TestCase

from core.documents import Because
from server.mail.models import Message, Send
from server.people.models import Subscriber
from server.sequences.models import Run
from server.workspaces import clock
from tests.world import BACKEND, make_world

WHY = Because(kind="member", sentence="a test")
EMAILS = 240


class MessageList(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.client.force_login(self.world.user, BACKEND)
        self.now = clock.now(self.world.workspace)

    def get(self, path: str) -> list[dict[str, object]]:
        answer = self.client.get(f"/api/workspaces/{self.world.workspace.slug}{path}")
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        found: list[dict[str, object]] = answer.json()
        return found

    def people(self, rng: random.Random) -> list[Subscriber]:
        found = []
        for number in range(24):
            person = self.world.arrive(f"person{number}@example.com")
            person.is_test = number % 8 == 0
            person.save()
            run = person.runs.get()
            if rng.random() < 0.6:
                reached = self.now - timedelta(days=rng.randrange(40))
                Run.everywhere.filter(pk=run.pk).update(goal="g", goal_at=reached)
            found.append(person)
        Send.objects.of(self.world.workspace).delete()
        return found

    def test_figures_of_the_last_days(self) -> None:
        rng = random.Random(28)
        people = self.people(rng)
        goals = dict(Run.everywhere.values_list("subscriber", "goal_at"))
        messages: list[Message] = [self.world.guide, self.world.fits]
        sends = []
        for number in range(EMAILS):
            sent_at = self.now - timedelta(days=rng.randrange(45), hours=rng.randrange(1, 24))
            state = rng.choice(["sent", "sent", "sent", "queued", "withdrawn", "refused"])

            def perhaps(share: float, at: object = sent_at) -> object:
                return at if rng.random() < share else None

            sends.append(
                Send.everywhere.create(
                    workspace=self.world.workspace,
                    subscriber=rng.choice(people),
                    message=rng.choice(messages),
                    origin=f"list/{number}",
                    because=WHY,
                    queued_at=sent_at,
                    state=state,
                    sent_at=sent_at if state == "sent" else None,
                    sequence=self.world.sequence.pk if rng.random() < 0.7 else None,
                    counts_opens=rng.random() < 0.8,
                    links=rng.randrange(3),
                    opened_at=perhaps(0.4),
                    clicked_at=perhaps(0.2),
                    left_at=perhaps(0.1),
                )
            )
        counted: dict[UUID, dict[str, int]] = defaultdict(lambda: defaultdict(int))
        for one in sends:
            row = counted[one.message_id]
            row["waiting"] += one.state in {"queued", "refused"}
            if one.state != "sent" or one.subscriber.is_test:
                continue
            if one.sent_at is None or one.sent_at < self.now - timedelta(days=30):
                continue
            row["sent"] += 1
            row["counted_opens"] += one.counts_opens
            row["counted_clicks"] += one.links > 0
            row["opened"] += one.opened_at is not None
            row["clicked"] += one.clicked_at is not None
            row["left"] += one.left_at is not None
            if one.sequence:
                goal_at = goals[one.subscriber_id]
                row["goal of"] += 1
                row["goal"] += goal_at is not None and goal_at >= one.sent_at
        listed = {UUID(str(one["id"])): one["lately"] for one in self.get("/messages")}
        goal = {UUID(str(one["message"])): one for one in self.get("/goals-after")}
        for message in messages:
            row, lately = counted[message.pk], listed[message.pk]
            assert isinstance(lately, dict)
            for name in ("sent", "opened", "clicked", "left", "waiting"):
                self.assertGreater(row[name], 0, name)
            for name in ("sent", "opened", "clicked", "left", "waiting", "counted_opens"):
                self.assertEqual(lately[name], row[name], name)
            self.assertEqual(lately["counted_clicks"], row["counted_clicks"])
            self.assertGreater(row["goal"], 0)
            self.assertLess(row["goal"], row["goal of"])
            found = goal[message.pk]
            self.assertEqual((found["sent"], found["reached"]), (row["goal of"], row["goal"]))
