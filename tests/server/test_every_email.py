"""Every email that leaves, in generated histories: limits, gaps, hours, retries, outages, refused senders, people
who leave, clocks that jump. Each is held against a model of its own (dateutil's zones, plain arithmetic), which
shares nothing with the rules."""

import random
from collections import Counter
from datetime import UTC, datetime, time, timedelta
from email import message_from_bytes
from email.utils import parseaddr
from typing import Any
from unittest import mock

from dateutil import tz
from dateutil.relativedelta import relativedelta
from django.test import TestCase

from core.deciding import RecordEvent
from core.delivering import Duration, SendingTimes
from core.sequences import EventDoor, Lane, SendStep, SequenceDocument, WaitStep
from server.consent.own import leave
from server.mail import deliver as delivering
from server.mail.actions import deliver_queued, send_again
from server.mail.backend import NotReached, Refused
from server.mail.models import Send, SendingHold
from server.people.models import Membership, Subscriber
from server.people.suppression import suppress
from server.sequences import actions as sequences
from server.sequences.moving_time import move_time
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.models import Workspace
from tests.server.test_whole_sequences import Whole

ZONES = ("Europe/London", "America/New_York", "Asia/Kathmandu", "Pacific/Auckland")
HISTORIES = 5
BACKOFF = (1, 5, 15, 60, 180, 360, 720)
"""Minutes, as docs/messages.md states them."""


class Witness:
    """The mail server: it notes what it is given, at which moment, and answers as it is told."""

    def __init__(self, test: "EveryEmail") -> None:
        self.test = test
        self.mood = "takes"
        self.failures: list[Exception] = []
        self.taken: list[tuple[datetime, str, str]] = []
        self.put_off: dict[str, tuple[datetime, int]] = {}

    def __call__(self, mail: Any) -> None:
        workspace = self.test.fresh()
        now, to = clock.now(workspace), parseaddr(mail.to[0])[1]
        identity = str(message_from_bytes(mail.message().as_bytes())["Message-ID"])
        try:
            self.test.check(now, to, identity)
        except Exception as error:
            # What is raised here would only hold the email.
            self.failures.append(error)
        if self.mood == "away":
            self._note(identity, now)
            raise NotReached("no route")
        if self.mood == "busy" and self.test.random.random() < 0.5:
            self._note(identity, now)
            raise Refused("rcpt", "451 4.7.1 try again later")
        if self.mood == "refuses the sender":
            raise Refused("mail", "550 Sender address rejected: not owned by user")
        self.taken.append((now, to, identity))
        self.put_off.pop(identity, None)
        self.test.counts["taken"] += 1

    def _note(self, identity: str, now: datetime) -> None:
        _, tries = self.put_off.get(identity, (now, 0))
        self.put_off[identity] = (now, tries + 1)
        self.test.counts["put off"] += 1


class EveryEmail(Whole, TestCase):
    random: random.Random
    counts: Counter[str]
    witness: Witness
    least: int
    suppressed: set[str]
    marketing: set[str]

    def check(self, now: datetime, to: str, identity: str) -> None:
        """What the model allows of an email that is handed over at this moment."""
        send = Send.everywhere.select_related("subscriber").get(
            state="handing_over", attempts__gt=0, sent_at=None, subscriber__address=to
        )
        self.assertNotIn(identity, [one for _, _, one in self.witness.taken], "gone out before")
        if identity in self.witness.put_off:
            last, tries = self.witness.put_off[identity]
            waits = timedelta(minutes=BACKOFF[min(tries, len(BACKOFF)) - 1], seconds=-2)
            self.assertGreaterEqual(now - last, waits, "tried again too soon")
            self.counts["retried"] += 1
        if send.asked_for:
            self.counts["promised"] += 1
            return
        self.counts["marketing"] += 1
        person = send.subscriber
        state = Membership.everywhere.get(subscriber=person, list=self.news).state
        self.assertEqual(state, "subscribed")
        self.assertNotIn(to, self.suppressed)
        zone = tz.gettz(person.time_zone or "Europe/London")
        local = now.astimezone(zone)
        self.assertIn(local.isoweekday(), self.times.weekdays, local)
        if self.times.begins is not None and self.times.ends is not None:
            self.assertTrue(self.times.begins <= local.time() < self.times.ends, local)
        self.assertNotIn(local.date(), self.times.quiet_dates)
        before = [
            at for at, whose, one in self.witness.taken if whose == to and one in self.marketing
        ]
        gap = max(self.fresh().email_gap_days, person.gap_days)
        if gap and before:
            last = max(before).astimezone(zone).replace(tzinfo=None)
            earliest = last + relativedelta(days=gap)
            # Two seconds: the moment is noted a little before it is spoken.
            self.assertGreaterEqual(local.replace(tzinfo=None) + timedelta(seconds=2), earliest)
            self.counts["after a gap"] += 1
        limit = self.fresh().hourly_emails
        if limit is not None:
            hour = now.replace(minute=0, second=0, microsecond=0)
            within = sum(1 for at, _, _ in self.witness.taken if hour <= at)
            self.assertLess(within, max(limit, self.least), "above the limit of the hour")
            self.counts["under a limit"] += 1
        self.marketing.add(identity)

    def choose_settings(self) -> None:
        draw = self.random
        begins = draw.choice([None, time(9), time(13)])
        first = datetime(2027, 3, 2).date()
        self.times = SendingTimes(
            weekdays=draw.choice([(1, 2, 3, 4, 5), tuple(range(1, 8)), (2, 4)]),
            begins=begins,
            ends=time(17) if begins else None,
            quiet_dates=tuple(first + timedelta(days=draw.randrange(1, 12)) for _ in range(2)),
        )
        Workspace.objects.filter(pk=self.workspace.pk).update(
            email_gap_days=draw.choice([0, 1, 3]),
            hourly_emails=draw.choice([None, 1, 2, 3]),
            sending_times=self.times.model_dump(mode="json"),
        )
        self.fresh()
        minutes = lambda n: Duration(amount=n, unit="minutes")  # noqa: E731
        waits = [
            draw.choice([minutes(1), minutes(40), Duration(amount=1, unit="days")])
            for _ in range(3)
        ]
        steps = [self.send("a0", at_once=True)]
        for number, wait in enumerate(waits):
            steps += [WaitStep(id=f"w{number}", duration=wait), self.send(f"a{number + 1}")]  # type: ignore[list-item]
        self.turn_on(*steps, doors=(EventDoor(id="e", name="asked"),))
        other = sequences.make_sequence(
            self.workspace, f"Other {draw.random()}"[:60], self.world.member
        )
        document = SequenceDocument(
            list=self.news,
            again="once_only",
            priority=draw.choice([-1, 1]),
            doors=(EventDoor(id="e", name="asked"),),
            lanes=(
                Lane(
                    id="a",
                    steps=(
                        SendStep(id="o1", message=self.guide),
                        WaitStep(id="w", duration=waits[0]),
                        SendStep(id="o2", message=self.guide),
                    ),
                ),
            ),
        )
        sequences.save_sequence_draft(other, document, None, self.world.member)
        sequences.turn_on(other, self.world.member)
        self.fresh()

    def act(self, people: list[Subscriber]) -> None:
        draw, workspace = self.random, self.fresh()
        kind = draw.choice(
            [
                "asks",
                "asks",
                "leaves",
                "suppressed",
                "mood",
                "mood",
                "limit",
                "jump",
                "wait",
                "wait",
                "again",
                "fewer",
            ]
        )
        self.counts[kind] += 1
        one = Subscriber.everywhere.select_related("workspace").get(pk=draw.choice(people).pk)
        match kind:
            case "asks":
                self.happens(one, RecordEvent(name="asked"), own=draw.random() < 0.7)
            case "leaves" if draw.random() < 0.4:
                leave(one, None)
            case "suppressed" if draw.random() < 0.4:
                suppress(workspace, [one.address], "said so", None)
                self.suppressed.add(one.address)
            case "mood":
                self.witness.mood = draw.choice(
                    ["takes", "takes", "away", "busy", "refuses the sender"]
                )
                self.counts[self.witness.mood] += 1
            case "limit":
                limit = draw.choice([None, 1, 3])
                # What went out within this hour stays within what was allowed by then.
                self.least = max(
                    self.least,
                    sum(
                        1
                        for at, _, _ in self.witness.taken
                        if clock.now(workspace) - at < timedelta(hours=1)
                    ),
                )
                Workspace.objects.filter(pk=workspace.pk).update(hourly_emails=limit)
            case "jump":
                # As after an outage of everything: nothing happened on the way.
                clock.set_time(
                    workspace, clock.now(workspace) + timedelta(hours=draw.randrange(1, 60))
                )
                deliver_queued(self.fresh())
            case "wait":
                move_time(workspace, clock.now(workspace) + timedelta(hours=draw.randrange(1, 40)))
            case "again":
                for snag in Snag.objects.of(workspace).filter(about="send", closed_at=None):
                    send_again(workspace, snag)
                deliver_queued(self.fresh())
            case "fewer":
                Subscriber.everywhere.filter(pk=one.pk).update(gap_days=draw.choice([0, 1, 7]))

    def one_history(self, seed: int) -> None:
        self.random, self.suppressed, self.marketing, self.least = (
            random.Random(seed),
            set(),
            set(),
            0,
        )
        self.at(datetime(2027, 3, 2, 10, self.random.randrange(60), tzinfo=UTC))
        Send.everywhere.all().delete()
        self.witness = Witness(self)
        with mock.patch.object(delivering, "hand_over", self.witness):
            people = [self.person(f"p{seed}x{n}") for n in range(5)]
            for person in people:
                Subscriber.everywhere.filter(pk=person.pk).update(
                    time_zone=self.random.choice(ZONES)
                )
            Send.everywhere.all().delete()
            self.choose_settings()
            for person in people:
                self.happens(person, RecordEvent(name="asked"), own=True)
            for _ in range(22):
                self.act(people)
            # In the end everything goes, within what is allowed.
            self.witness.mood = "takes"
            Workspace.objects.filter(pk=self.workspace.pk).update(hourly_emails=None)
            move_time(self.fresh(), clock.now(self.fresh()) + timedelta(days=50))
        if self.witness.failures:
            raise self.witness.failures[0]
        self.assertFalse(SendingHold.everywhere.exists())
        now = clock.now(self.fresh())
        # Whoever asked for one email a week still has some to come, each at a stated time.
        later = Send.everywhere.filter(state="queued", not_before__gt=now)
        left = Counter(Send.everywhere.exclude(pk__in=later).values_list("state", flat=True))
        self.assertLessEqual(set(left), {"sent", "withdrawn", "refused"}, left)
        self.assertEqual(left["sent"], len(self.witness.taken))

    def test_each_leaves_when_the_model_allows_it(self) -> None:
        self.counts = Counter()
        for seed in range(HISTORIES):
            with self.subTest(seed=seed):
                self.one_history(seed)
        for kind, least in (
            ("taken", 150),
            ("marketing", 100),
            ("promised", 25),
            ("put off", 8),
            ("retried", 5),
            ("after a gap", 25),
            ("under a limit", 8),
            ("refuses the sender", 2),
            ("jump", 3),
        ):
            self.assertGreaterEqual(self.counts[kind], least, (kind, self.counts))
