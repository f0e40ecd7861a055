"""What goes on, waits, fails and is found again: runs, emails that are held, and lost jobs."""

from collections.abc import Sequence
from datetime import timedelta
from typing import Any
from unittest import mock

from django.db import connection
from django.test import TestCase, TransactionTestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob
from structlog.testing import capture_logs

from core.deciding import (
    AddTags,
    ChangeScore,
    ChangeSubscription,
    PutField,
    RemoveTags,
    Rule,
    VisitorSees,
)
from core.delivering import Duration
from core.messages import simple_message
from core.people import Person
from core.sequences import ActStep, Lane, SequenceDocument, WaitStep
from server.mail import tasks as mail_tasks
from server.mail.actions import send_again
from server.mail.deliver import deliver
from server.mail.editing import save_message, turn_on_changes
from server.mail.models import Send
from server.people import locks
from server.people.actions import make_tag
from server.people.models import Field, Subscriber
from server.routing.tasks import find_lost
from server.sequences import actions as sequences
from server.sequences import going_on, moving
from server.sequences.going_on import advance_again, advance_due_runs, advance_runs
from server.sequences.models import Run
from server.sequences.moving_time import move_time
from server.snags.models import Snag
from server.sources.actions import pause
from server.workspaces import clock
from tests.world import RealMail, make_world


class Poisoned(TestCase):
    """A run that fails stops no other, and is a snag after some tries."""

    def setUp(self) -> None:
        self.world = make_world()
        self.bad = self.world.arrive("bad@example.com")
        self.good = self.world.arrive("good@example.com")
        Run.everywhere.update(due_at=clock.now(self.world.workspace) - timedelta(seconds=1))

    def fail_for_bad(self) -> None:
        real = moving.advance

        def advance(state: Any, document: Any, person: Person, *rest: Any) -> Any:
            if person.address == self.bad.address:
                raise ZeroDivisionError
            return real(state, document, person, *rest)

        with mock.patch.object(moving, "advance", advance):
            advance_due_runs(None)

    def test_the_others_go_on(self) -> None:
        with capture_logs():
            self.fail_for_bad()
        self.assertIsNotNone(Run.everywhere.get(subscriber=self.good).ended_at)
        bad = Run.everywhere.get(subscriber=self.bad)
        self.assertEqual((bad.ended_at, bad.tries), (None, 1))
        with capture_logs():
            self.fail_for_bad()
        bad.refresh_from_db()
        self.assertEqual(bad.tries, 1, "it is tried later, not at once")

    def test_after_some_tries_it_is_a_snag_and_goes_on_when_told(self) -> None:
        with capture_logs():
            for _ in range(9):
                Run.everywhere.update(retry_at=None)
                self.fail_for_bad()
        bad = Run.everywhere.get(subscriber=self.bad)
        self.assertEqual(bad.tries, 5)
        snag = Snag.objects.of(self.world.workspace).get()
        self.assertEqual(bad.snag_id, snag.pk)
        self.assertEqual(advance_again(self.world.workspace, snag), 1)
        advance_due_runs(None)
        bad.refresh_from_db()
        self.assertIsNotNone(bad.ended_at)
        self.assertFalse(Snag.objects.of(self.world.workspace).filter(closed_at=None).exists())


class Together(TestCase):
    """Runs that are due go on in a set."""

    def setUp(self) -> None:
        self.world = make_world()

    def go_on(self, people: range) -> int:
        """These people go on at once; how many statements that takes."""
        for number in people:
            self.world.arrive(f"p{number}@example.com")
        Run.everywhere.filter(ended_at=None).update(
            due_at=clock.now(self.world.workspace) - timedelta(seconds=1)
        )
        with CaptureQueriesContext(connection) as queries:
            going_on._advance_some(self.world.workspace, set())
        self.assertFalse(Run.everywhere.filter(ended_at=None).exists())
        return len(queries)

    def test_as_many_where_steps_change_people(self) -> None:
        first = str(Field.objects.of(self.world.workspace).get(key="first_name").pk)
        news = str(self.world.news.pk)
        wait = WaitStep(id="w", duration=Duration(amount=1, unit="days"))
        actions = (
            ChangeScore(by=1),
            PutField(field=first, value="Ines"),
            ChangeSubscription(direction="unsubscribe", list=news),
        )
        for number, action in enumerate(actions):
            lane = Lane(id="a", steps=(wait, ActStep(id=f"a{number}", action=action)))
            document = SequenceDocument(list=news, lanes=(lane,))
            with self.subTest(type(action).__name__):
                sequences.save_sequence_draft(self.world.sequence, document, None, None)
                sequences.turn_on(self.world.sequence, None)
                begin = 1000 * (number + 1)
                self.go_on(range(begin, begin + 2))
                few = self.go_on(range(begin + 10, begin + 13))
                self.assertEqual(self.go_on(range(begin + 100, begin + 130)), few)

    def test_as_many_statements_for_many_as_for_few(self) -> None:
        self.go_on(range(100, 102))
        few = self.go_on(range(3))
        self.assertEqual(self.go_on(range(10, 40)), few)
        self.assertLess(few, 30)


class InOtherHands(TransactionTestCase):
    def test_who_is_in_other_hands_waits_and_the_others_go_on(self) -> None:
        self.world = make_world()
        busy, free = (self.world.arrive(f"{name}@example.com") for name in ("busy", "free"))
        Run.everywhere.update(due_at=clock.now(self.world.workspace) - timedelta(seconds=1))
        other = connection.copy()
        try:
            with other.cursor() as cursor:
                cursor.execute("BEGIN")
                number = locks._number(self.world.workspace.pk, busy.address_key)
                cursor.execute("SELECT pg_advisory_xact_lock(%s)", [number])
            advance_due_runs(None)
        finally:
            other.close()
        self.assertIsNotNone(Run.everywhere.get(subscriber=free).ended_at)
        self.assertIsNone(Run.everywhere.get(subscriber=busy).ended_at)
        advance_due_runs(None)
        self.assertIsNotNone(Run.everywhere.get(subscriber=busy).ended_at, "it stayed due")

    def test_what_another_worker_has_in_hand_is_passed_over_without_waiting(self) -> None:
        """It holds the address and the row, as `advance_runs` does until its batch is written."""
        self.world = make_world()
        busy, free = (self.world.arrive(f"{name}@example.com") for name in ("busy", "free"))
        Run.everywhere.update(due_at=clock.now(self.world.workspace) - timedelta(seconds=1))
        other = connection.copy()
        try:
            with other.cursor() as cursor:
                cursor.execute("BEGIN")
                number = locks._number(self.world.workspace.pk, busy.address_key)
                cursor.execute("SELECT pg_advisory_xact_lock(%s)", [number])
                cursor.execute(
                    "SELECT id FROM sequences_run WHERE subscriber_id = %s FOR UPDATE", [busy.pk]
                )
            with connection.cursor() as cursor:
                cursor.execute("SET lock_timeout = '3s'")
            # Both ways: a batch is looked for, and one is handed over by its ids.
            advance_due_runs(None)
            self.assertEqual(advance_runs([Run.everywhere.get(subscriber=busy).pk]), set())
        finally:
            with connection.cursor() as cursor:
                cursor.execute("SET lock_timeout = 0")
            other.close()
        self.assertIsNotNone(Run.everywhere.get(subscriber=free).ended_at)
        self.assertIsNone(Run.everywhere.get(subscriber=busy).ended_at)

    def test_two_that_took_the_same_batch_leave_nobody_to_neither(self) -> None:
        """Whoever has a person's lock finds their run free, also while the other holds the rest of the batch."""
        self.world = make_world()
        theirs, _ = (self.world.arrive(f"{name}@example.com") for name in ("theirs", "mine"))
        Run.everywhere.update(due_at=clock.now(self.world.workspace) - timedelta(seconds=1))
        other = connection.copy()
        seen: list[object] = []

        def as_the_other_sees(runs: Sequence[Run]) -> None:
            with other.cursor() as cursor:
                cursor.execute("SELECT subscriber_id FROM sequences_run FOR UPDATE SKIP LOCKED")
                seen.extend(one for (one,) in cursor.fetchall())

        try:
            with other.cursor() as cursor:
                cursor.execute("BEGIN")
                number = locks._number(self.world.workspace.pk, theirs.address_key)
                cursor.execute("SELECT pg_advisory_xact_lock(%s)", [number])
            with mock.patch.object(going_on, "move_runs", as_the_other_sees):
                advance_runs(list(Run.everywhere.values_list("pk", flat=True)))
        finally:
            other.close()
        self.assertEqual(seen, [theirs.pk])


class Held(RealMail, TestCase):
    """An email that is held holds its run: nobody gets the second before the first."""

    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        text = simple_message("Hello", body="<p>{{ first_name }}</p>")
        save_message(self.world.guide, text, None, None)
        turn_on_changes(self.world.guide, None)

    def go_on_until(self, **by: float) -> None:
        move_time(self.world.workspace, clock.now(self.world.workspace) + timedelta(**by))

    def live(self) -> SequenceDocument:
        revision = self.world.sequence.revisions.get(state="live")
        return SequenceDocument.model_validate(revision.document)

    def deliver_all(self) -> None:
        for send in self.world.sends(state="queued"):
            deliver(str(send.pk))

    def held(self) -> Run:
        person = self.world.arrive("ines@example.com")
        self.deliver_all()
        self.assertEqual([one.state for one in self.world.sends()], ["held"])
        self.go_on_until(days=3)
        return Run.everywhere.get(subscriber=person)

    def test_the_run_waits_and_its_wait_counts_from_when_it_went_out(self) -> None:
        run = self.held()
        self.assertIsNone(run.ended_at)
        self.assertEqual(len(self.world.sends()), 1)
        Subscriber.everywhere.update(values={"first_name": "Ines"})
        snag = Snag.objects.of(self.world.workspace).get(closed_at=None)
        self.assertEqual(send_again(self.world.workspace, snag), 1)
        self.deliver_all()
        self.assertEqual([one.state for one in self.world.sends()], ["sent"])
        self.go_on_until(hours=23)
        self.assertEqual(len(self.world.sends()), 1, "a day after the first one, not at once")
        self.go_on_until(hours=2)
        self.assertEqual(len(self.world.sends()), 2)
        run.refresh_from_db()
        self.assertEqual(run.ended, "finished")

    def test_a_step_may_say_to_go_on(self) -> None:
        document = self.live()
        (lane,) = document.lanes
        first = lane.steps[0].model_copy(update={"if_held": "go_on"})
        lanes = (lane.model_copy(update={"steps": (first, *lane.steps[1:])}),)
        changed = document.model_copy(update={"lanes": lanes})
        sequences.save_sequence_draft(self.world.sequence, changed, None, None)
        sequences.turn_on(self.world.sequence, None)
        run = self.held()
        self.assertEqual(run.ended, "finished")
        self.assertEqual(len(self.world.sends()), 2)

    def test_what_the_step_says_of_it(self) -> None:
        self.held()
        (send,) = self.world.sends()
        self.assertEqual((send.sequence, send.step), (self.world.sequence.pk, "s1"))


class Lost(TestCase):
    """A row whose job is gone gets another one; a row that has one, none."""

    def setUp(self) -> None:
        self.world = make_world()
        ProcrastinateJob.objects.all()._raw_delete("default")

    def jobs(self, name: str) -> list[dict[str, str]]:
        found = ProcrastinateJob.objects.filter(task_name=name)
        return list(found.values_list("args", flat=True))

    def later(self) -> object:
        now = timezone.now() + timedelta(minutes=11)
        return mock.patch("django.utils.timezone.now", return_value=now)

    def test_a_submission(self) -> None:
        lost = self.world.submit("lost@example.com")
        ProcrastinateJob.objects.all()._raw_delete("default")
        kept = self.world.submit("kept@example.com")
        find_lost(0)
        self.assertEqual(len(self.jobs("routing.route_one")), 1, "not before it has waited")
        with self.later():  # type: ignore[attr-defined]
            find_lost(0)
            find_lost(0)
        found = [one["submission_id"] for one in self.jobs("routing.route_one")]
        self.assertEqual(sorted(found), sorted([str(lost.pk), str(kept.pk)]))

    def test_a_send(self) -> None:
        self.world.arrive("ines@example.com")
        ProcrastinateJob.objects.all()._raw_delete("default")
        mail_tasks.find_due(0)
        mail_tasks.find_due(0)
        self.assertEqual(
            self.jobs("mail.deliver_due"), [{"workspace_id": str(self.world.workspace.pk)}]
        )

    def test_a_send_that_waits_for_another_try(self) -> None:
        self.world.arrive("ines@example.com")
        ProcrastinateJob.objects.all()._raw_delete("default")
        Send.everywhere.update(not_before=timezone.now() + timedelta(minutes=5))
        mail_tasks.find_due(0)
        self.assertEqual(self.jobs("mail.deliver_due"), [])
        with self.later():  # type: ignore[attr-defined]
            mail_tasks.find_due(0)
        self.assertEqual(len(self.jobs("mail.deliver_due")), 1)

    def test_a_send_that_waits_for_a_day_is_a_snag(self) -> None:
        self.world.arrive("ines@example.com")
        Send.everywhere.update(queued_at=timezone.now() - timedelta(hours=25))
        mail_tasks.find_late(0)
        self.assertEqual(Snag.objects.of(self.world.workspace).count(), 1)


class Paused(TestCase):
    def test_what_is_paused_stays_so_when_changes_are_turned_on(self) -> None:
        world = make_world()
        pause(world.source)
        sequences.pause(world.sequence)
        world.change_route(visitor_sees=VisitorSees(heading="Another"))
        document = SequenceDocument.model_validate(
            world.sequence.revisions.get(state="live").document
        )
        sequences.save_sequence_draft(world.sequence, document, None, None)
        sequences.turn_on(world.sequence, None)
        world.source.refresh_from_db()
        world.sequence.refresh_from_db()
        self.assertEqual((world.source.state, world.sequence.state), ("paused", "paused"))


class LiveAndDraft(RealMail, TestCase):
    def test_what_is_written_is_not_what_is_sent_until_it_is_turned_on(self) -> None:
        world = make_world()
        text = simple_message("Changed", body="<p>Changed</p>")
        save_message(world.guide, text, None, None)
        self.assertNotEqual(self.subject(world, "a@example.com"), "Changed")
        turn_on_changes(world.guide, None)
        self.assertEqual(self.subject(world, "b@example.com"), "Changed")

    def subject(self, world: object, address: str) -> str:
        world.arrive(address)  # type: ignore[attr-defined]
        for send in world.sends(state="queued"):  # type: ignore[attr-defined]
            deliver(str(send.pk))
        (mail,) = self.mailbox.list(address)
        return str(mail.message["Subject"])


class TagsOfOnePass(TestCase):
    """What one pass removes and puts on again, in either order, is as the last line says."""

    def setUp(self) -> None:
        self.world = make_world()
        self.tags = {name: str(make_tag(self.world.workspace, name).pk) for name in ("old", "new")}

    def pass_of(self, *actions: AddTags | RemoveTags) -> set[str]:
        rules = tuple(Rule(id=f"t{at}", action=one) for at, one in enumerate(actions))
        self.world.change_route(then=rules)
        return self.world.tags_of(self.world.arrive("ines@example.com", first_name=str(actions)))

    def test_removed_then_added(self) -> None:
        old = (self.tags["old"],)
        self.assertEqual(self.pass_of(AddTags(tags=old)), {"old"})
        self.assertEqual(self.pass_of(RemoveTags(tags=old), AddTags(tags=old)), {"old"})

    def test_added_then_removed(self) -> None:
        new = (self.tags["new"],)
        self.assertEqual(self.pass_of(AddTags(tags=new), RemoveTags(tags=new)), set())
        self.assertEqual(self.pass_of(AddTags(tags=new)), {"new"})
        self.assertEqual(self.pass_of(RemoveTags(tags=new)), set())
