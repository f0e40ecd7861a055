"""The one decision for an email, its one life, and the one way to move a run: what each prevents."""

import re
import smtplib
import threading
from collections import Counter
from datetime import UTC, datetime, time, timedelta
from pathlib import Path
from typing import Any
from unittest import mock

from django.db import IntegrityError, connection, connections, transaction
from django.test import TestCase, TransactionTestCase
from django.utils import timezone
from structlog.testing import capture_logs

from core.conditions import Group, TagTest
from core.deciding import AddTags, RecordEvent, Rule, SendNow, StartSequence, Subscribe
from core.delivering import TRANSITIONS, EmailState, SendingTimes
from core.documents import Because
from core.sequences import (
    EventDoor,
    Lane,
    Leaving,
    ListDoor,
    SequenceDocument,
    WaitStep,
)
from server.consent.actions import leave
from server.mail import deliver as delivering
from server.mail.actions import queue_send, send_again
from server.mail.backend import NotReached, Refused
from server.mail.deliver import deliver_everything
from server.mail.models import Send, SendingHold
from server.mail.outcomes import note_late
from server.people.actions import make_list
from server.people.effects import apply_effects
from server.people.ledger import Ledger
from server.people.models import Membership, Subscriber
from server.profiles.merges import merge_people
from server.sequences import actions as sequences
from server.sequences import signals
from server.sequences.models import Run, Signal
from server.sequences.moving_time import move_time
from server.sequences.signals import show_signals
from server.sequences.tasks import advance_all_due
from server.snags.models import Snag
from server.sources.actions import save_route_draft
from server.workspaces import clock
from server.workspaces.actions import set_up
from server.workspaces.errors import Refused as RefusedHere
from server.workspaces.models import Workspace
from tests.server.test_files import FileCase
from tests.server.test_whole_sequences import Whole, days
from tests.world import WHY, make_world

OFFICE = SendingTimes(weekdays=(1, 2, 3, 4, 5), begins=time(9), ends=time(17))
ROOT = Path(__file__).resolve().parents[2]


def asks(*steps: Any, list_id: str, **more: Any) -> SequenceDocument:
    """A sequence that the event “asked” opens."""
    more.setdefault("again", "once_only")
    door = EventDoor(id="e", name="asked")
    return SequenceDocument(list=list_id, doors=(door,), lanes=(Lane(id="a", steps=steps),), **more)


class Timed(Whole):
    def change(self, **settings: Any) -> None:
        Workspace.objects.filter(pk=self.workspace.pk).update(**settings)
        self.fresh()

    def moments(self, **wanted: Any) -> list[datetime]:
        rows = Send.everywhere.filter(sequence=self.own.pk, state="sent", **wanted)
        return list(rows.order_by("sent_at").values_list("sent_at", flat=True))


class Times(Timed):
    def test_an_hour_that_is_full_leads_to_the_next_opening(self) -> None:
        people = [self.person(f"h{n}") for n in range(3)]
        deliver_everything(self.workspace.pk)
        self.change(hourly_emails=1, sending_times=OFFICE.model_dump(mode="json"))
        self.turn_on(self.send("a1"), doors=(EventDoor(id="e", name="asked"),))
        self.at(datetime(2027, 3, 5, 16, 50, tzinfo=UTC))
        for one in people:
            self.happens(one, RecordEvent(name="asked"))
        move_time(self.fresh(), datetime(2027, 3, 8, 12, tzinfo=UTC))
        hours = [(at.isoweekday(), at.hour) for at in self.moments()]
        self.assertEqual(hours, [(5, 16), (1, 9), (1, 10)])

    def test_a_retry_waits_for_the_opening(self) -> None:
        self.change(sending_times=OFFICE.model_dump(mode="json"))
        one = self.person("late")
        deliver_everything(self.workspace.pk)
        self.turn_on(self.send("a1"), doors=(EventDoor(id="e", name="asked"),))
        self.at(datetime(2027, 3, 2, 16, 58, tzinfo=UTC))
        with mock.patch.object(delivering, "hand_over", side_effect=NotReached("no route")):
            self.happens(one, RecordEvent(name="asked"))
            move_time(self.fresh(), datetime(2027, 3, 3, 6, tzinfo=UTC))
        waiting = Send.everywhere.get(sequence=self.own.pk)
        # It says so, too: the retry is due at night, and goes in the morning.
        self.assertEqual(waiting.not_before, datetime(2027, 3, 3, 9, tzinfo=UTC))
        move_time(self.fresh(), datetime(2027, 3, 3, 12, tzinfo=UTC))
        self.assertEqual([at.hour for at in self.moments()], [9])

    def test_a_backlog_that_is_lifted_keeps_the_gap(self) -> None:
        people = [self.person(f"g{n}") for n in range(6)]
        deliver_everything(self.workspace.pk)
        Send.everywhere.all().delete()
        self.change(hourly_emails=1, email_gap_days=1)
        wait = WaitStep(id="w", duration=days(1))
        self.turn_on(
            self.send("a1"), wait, self.send("a2"), doors=(EventDoor(id="e", name="asked"),)
        )
        with mock.patch.object(delivering, "hand_over", side_effect=NotReached("no route")):
            for one in people:
                self.happens(one, RecordEvent(name="asked"))
            move_time(self.fresh(), clock.now(self.workspace) + timedelta(days=2))
        self.change(hourly_emails=None)
        move_time(self.fresh(), clock.now(self.workspace) + timedelta(days=4))
        for one in people:
            first, second = self.moments(subscriber=one)
            self.assertGreaterEqual(second - first, timedelta(days=1))

    def test_the_gap_counts_from_when_the_last_one_left(self) -> None:
        """Queued on Tuesday and away until Wednesday evening: the next one comes on Thursday evening."""
        self.change(email_gap_days=1)
        one = self.person("cid")
        Send.everywhere.all().delete()
        # An email of the sequence that they entered by the form would take its turn between the two.
        Run.everywhere.all().delete()
        wait = WaitStep(id="w", duration=days(1))
        self.turn_on(
            self.send("a1"), wait, self.send("a2"), doors=(EventDoor(id="e", name="asked"),)
        )
        with mock.patch.object(delivering, "hand_over", side_effect=NotReached("no route")):
            self.happens(one, RecordEvent(name="asked"))
            move_time(self.fresh(), clock.now(self.workspace) + timedelta(hours=20))
        move_time(self.fresh(), clock.now(self.workspace) + timedelta(days=3))
        first, second = self.moments()
        self.assertGreaterEqual(second - first, timedelta(days=1))

    def test_settings_that_never_fit_are_refused_where_they_are_made(self) -> None:
        quiet = tuple((datetime(2027, 5, 1) + timedelta(days=n)).date() for n in range(70))
        for times, gap in ((SendingTimes(quiet_dates=quiet), 0), (OFFICE, 60)):
            with self.assertRaises(RefusedHere) as refused:
                set_up(
                    self.workspace,
                    name="Larkmoor",
                    time_zone="Europe/London",
                    sender_name="Larkmoor",
                    sender_address="hello@larkmoor.example",
                    postal_address="1 Dome Road",
                    keeps_ip=True,
                    email_gap_days=gap,
                    sending_times=times,
                )
            self.assertEqual([one.code for one in refused.exception.problems], ["never_sends"])
        document = asks(self.send("a1"), list_id=self.news, times=SendingTimes(quiet_dates=quiet))
        found = [one.code for one in sequences.check(self.workspace, document) if one.stops]
        self.assertEqual(found, ["never_sends"])


class Life(TestCase):
    def test_the_database_allows_the_transitions_of_the_core_and_no_other(self) -> None:
        world = make_world()
        world.arrive("ines@example.com")
        send = Send.everywhere.get()
        states = EmailState.__args__  # type: ignore[attr-defined]
        allowed = set()
        for before in states:
            for after in states:
                if before == after:
                    continue
                with connection.cursor() as cursor:
                    cursor.execute("SET LOCAL session_replication_role = replica")
                    cursor.execute("UPDATE mail_send SET state = %s", [before])
                    cursor.execute("SET LOCAL session_replication_role = origin")
                try:
                    with transaction.atomic():
                        Send.everywhere.filter(pk=send.pk).update(state=after)
                    allowed.add((before, after))
                except IntegrityError as error:
                    self.assertIn(f"that is {before} cannot become {after}", str(error))
        self.assertEqual(allowed, set(TRANSITIONS))

    def test_nothing_else_writes_a_state(self) -> None:
        """`server/mail/life.py` is the one place."""
        writes = re.compile(
            r"\bsend\.state\s*=[^=]|state=(?:Send\.)?State\.\w+\s*,\s*reply|mail_send[^;]*SET state"
        )
        looked_at = 0
        for path in (ROOT / "server").rglob("*.py"):
            if "migrations" in path.parts or path.name == "life.py":
                continue
            looked_at += 1
            found = [line for line in path.read_text().splitlines() if writes.search(line)]
            self.assertEqual(found, [], path)
        self.assertGreater(looked_at, 200)


class SentAgain(TransactionTestCase):
    def test_pressed_while_a_turn_goes_out_doubles_nothing(self) -> None:
        from procrastinate.contrib.django.models import ProcrastinateJob

        ProcrastinateJob.objects.all()._raw_delete("default")
        world = make_world()
        for number in range(6):
            person = world.arrive(f"p{number}@example.com")
            Send.everywhere.filter(origin__startswith="run/").delete()
            with transaction.atomic():
                queue_send(
                    person,
                    str(world.guide.pk),
                    str(world.news.pk),
                    f"x/{number}",
                    WHY,
                    timezone.now() - timedelta(days=2),
                    act="",
                    answers=[],
                )
        for pk in Send.everywhere.values_list("pk", flat=True):
            note_late(pk)
        snag = Snag.everywhere.get(cause__startswith="late/")
        went: Counter[str] = Counter()
        pressed: list[int] = []

        def member() -> None:
            try:
                workspace = Workspace.objects.get(pk=world.workspace.pk)
                pressed.append(send_again(workspace, Snag.everywhere.get(pk=snag.pk)))
            finally:
                connections.close_all()

        def take(mail: Any) -> None:
            went[mail.to[0]] += 1
            if sum(went.values()) == 5:
                thread = threading.Thread(target=member)
                thread.start()
                thread.join()

        with mock.patch.object(delivering, "hand_over", side_effect=take):
            deliver_everything(world.workspace.pk)
            deliver_everything(world.workspace.pk)
        self.assertEqual(pressed, [0])
        self.assertEqual(set(went.values()), {1})
        self.assertEqual(len(went), 6)
        self.assertEqual(set(Send.everywhere.values_list("state", flat=True)), {"sent"})


class Isolated(Timed):
    """A run that cannot go on stops itself, whichever way it is set going."""

    UNFIT = SendingTimes(
        weekdays=(1,),
        quiet_yearly=tuple(f"{m:02}-{d:02}" for m in range(1, 13) for d in range(1, 9)),
    )

    def never(self, document: SequenceDocument) -> None:
        """Make a sequence live whose emails fit no time, as one that was turned on before."""
        with mock.patch.object(sequences, "check", return_value=()):
            sequences.save_sequence_draft(self.own, document, None, self.world.member)
            sequences.turn_on(self.own, self.world.member)
        self.fresh()

    def fits_nowhere(self, **more: Any) -> SequenceDocument:
        quiet = tuple((datetime(2027, 3, 1) + timedelta(days=n)).date() for n in range(90))
        return asks(
            self.send("a1"), list_id=self.news, times=SendingTimes(quiet_dates=quiet), **more
        )

    def test_an_event_stops_no_other_workspace(self) -> None:
        self.never(self.fits_nowhere())
        other = make_world("Other", "else@larkmoor.example")
        theirs = other.arrive("theirs@example.com")
        Run.everywhere.filter(subscriber=theirs).update(
            due_at=clock.now(other.workspace) - timedelta(seconds=1)
        )
        mine = self.person("mine")
        with capture_logs():
            self.happens(mine, RecordEvent(name="asked"))
            for _ in range(3):
                advance_all_due(0)
        self.assertFalse(Signal.everywhere.exists())
        self.assertIsNotNone(Run.everywhere.get(subscriber=theirs).ended_at)
        (run,) = self.runs()
        self.assertEqual((run.ended_at, run.tries, run.step), (None, 1, None))
        for _ in range(4):
            Run.everywhere.filter(pk=run.pk).update(retry_at=None)
            advance_all_due(0)
        (run,) = self.runs()
        self.assertIsNotNone(run.snag)
        self.assertIn("no time within 60 days", run.snag.sentence)  # type: ignore[union-attr]
        # Put right, it goes on.
        self.turn_on(self.send("a1"), doors=(EventDoor(id="e", name="asked"),))
        Run.everywhere.filter(pk=run.pk).update(snag=None, tries=0, retry_at=None)
        advance_all_due(0)
        self.assertEqual([step for step, _ in self.sent(mine)], ["a1"])

    def test_a_form_is_routed_whatever_its_sequence_does(self) -> None:
        self.never(self.fits_nowhere())
        start = StartSequence(sequence=str(self.own.pk), lane="a")
        self.world.change_route(then=(Rule(id="t", action=start),))
        person = self.person("routed")
        self.assertEqual(person.memberships.get().state, "subscribed")
        (run,) = self.runs(subscriber=person)
        self.assertEqual(run.tries, 1)

    def test_a_run_that_something_touches(self) -> None:
        tagged = Group(of=(TagTest(tag=self.tags["customer"]),))
        self.turn_on(
            WaitStep(id="w", duration=days(5)),
            self.send("a1"),
            doors=(EventDoor(id="e", name="asked"),),
            leaving=Leaving(when=tagged),
        )
        people = [self.person(f"t{n}") for n in range(3)]
        for one in people:
            self.happens(one, RecordEvent(name="asked"))
        from server.sequences import moving

        real = moving.advance

        def fail_for_first(state: Any, document: Any, person: Any, *rest: Any) -> Any:
            if person.address == people[0].address:
                raise ZeroDivisionError
            return real(state, document, person, *rest)

        with mock.patch.object(moving, "advance", fail_for_first), capture_logs():
            for one in people:
                self.happens(one, AddTags(tags=(self.tags["customer"],)))
        ended = {run.subscriber_id: run.ended for run in self.runs()}
        self.assertEqual([ended[one.pk] for one in people], ["", "excluded", "excluded"])

    def test_a_signal_that_fails_is_tried_alone_and_then_let_go(self) -> None:
        self.turn_on(self.send("a1"), doors=(EventDoor(id="e", name="asked"),))
        good, bad = self.person("good"), self.person("bad")
        real = signals.by_door

        def fail_for_bad(
            workspace: Any, sequence: Any, door: Any, person: Any, *rest: Any, **more: Any
        ) -> Any:
            if person.pk == bad.pk:
                raise ZeroDivisionError
            return real(workspace, sequence, door, person, *rest, **more)

        with mock.patch.object(signals, "by_door", fail_for_bad), capture_logs():
            for one in (bad, good):
                self.happens(one, RecordEvent(name="asked"))
            self.assertEqual([run.subscriber_id for run in self.runs()], [good.pk])
            for _ in range(4):
                Signal.everywhere.update(retry_at=None)
                show_signals(self.fresh())
        self.assertFalse(Signal.everywhere.exists())
        self.assertTrue(Snag.everywhere.filter(cause__startswith="signal/event").exists())


class Promised(Timed):
    def test_a_list_that_somebody_else_put_them_on_promises_nothing(self) -> None:
        """An import with a stated consent, a member: at night, in the gap, over the limit, to who left."""
        self.change(email_gap_days=7, sending_times=OFFICE.model_dump(mode="json"))
        sky = make_list(self.fresh(), "Sky news")
        self.fresh()
        document = SequenceDocument(
            list=str(sky.pk),
            again="once_only",
            lanes=(Lane(id="a", steps=(self.send("a1", at_once=True),)),),
            doors=(ListDoor(id="l", list=str(sky.pk)),),
        )
        sequences.save_sequence_draft(self.own, document, None, self.world.member)
        sequences.turn_on(self.own, self.world.member)
        self.fresh()
        self.at(datetime(2027, 3, 3, 2, 30, tzinfo=UTC))
        for name, own, promised in (("imported", None, False), ("confirmed", True, True)):
            person = self.person(name)
            because = Because(kind="person" if own else "member", sentence="", own=own)
            ledger = Ledger()
            row = Subscriber.everywhere.get(pk=person.pk)
            row.workspace = self.workspace
            joins = Subscribe(
                list=str(sky.pk),
                name="Sky news",
                before="none",
                to="subscribed",
                wording="",
                because=because,
            )
            apply_effects(ledger, row, [joins], {}, clock.now(self.workspace))
            ledger.write()
            show_signals(self.workspace)
            sends = Send.everywhere.filter(sequence=self.own.pk, subscriber=person)
            self.assertEqual(
                [(one.asked_for, one.act) for one in sends],
                [(True, "confirmation")] if promised else [],
            )

    def test_each_send_keeps_the_act_that_it_answers(self) -> None:
        person = self.person("acts")
        submission = person.submissions.get()  # type: ignore[attr-defined]
        sends = {one.step: one.act for one in Send.everywhere.filter(subscriber=person)}
        self.assertEqual(sends["s1"], f"submission/{submission.pk}")
        move_time(self.fresh(), clock.now(self.workspace) + timedelta(days=2))
        self.assertEqual(Send.everywhere.get(subscriber=person, step="s2").act, "")


class Ends(Timed):
    def excluded(self) -> Subscriber:
        tagged = Group(of=(TagTest(tag=self.tags["customer"]),))
        self.turn_on(
            self.send("a1"),
            WaitStep(id="w", duration=days(5)),
            self.send("a2"),
            doors=(EventDoor(id="e", name="asked"),),
            leaving=Leaving(when=tagged),
        )
        person = self.person("bob")
        self.happens(person, RecordEvent(name="asked"))
        return person

    def state(self) -> str:
        return Send.everywhere.get(sequence=self.own.pk, step="a1").state

    def test_leaving_by_exclusion_withdraws_what_is_queued(self) -> None:
        person = self.excluded()
        self.assertEqual(self.state(), "queued")
        self.happens(person, AddTags(tags=(self.tags["customer"],)))
        self.assertEqual(self.state(), "withdrawn")

    def test_starting_over_withdraws_what_an_ended_run_left_queued(self) -> None:
        self.turn_on(self.send("a1"), doors=(EventDoor(id="e", name="asked"),), again="start_over")
        person = self.person("again")
        for _ in range(2):
            self.happens(person, RecordEvent(name="asked"))
        states = Send.everywhere.filter(sequence=self.own.pk).order_by("queued_at")
        self.assertEqual([one.state for one in states], ["withdrawn", "queued"])
        self.assertEqual([run.ended for run in self.runs()], ["finished", "finished"])

    def test_a_merge_that_replaces_a_run_withdraws_what_it_queued(self) -> None:
        self.turn_on(self.send("a1"), doors=(EventDoor(id="e", name="asked"),))
        kept, gone = self.person("kim"), self.person("gil")
        self.happens(kept, RecordEvent(name="asked"))
        self.turn_on(
            self.send("a1"),
            WaitStep(id="w", duration=days(5)),
            self.send("a2"),
            doors=(EventDoor(id="e", name="asked"),),
        )
        self.happens(gone, RecordEvent(name="asked"))
        for one in (kept, gone):
            one.refresh_from_db()
            one.workspace = self.workspace
        mine = Send.everywhere.get(sequence=self.own.pk, subscriber=kept)
        merge_people(kept, gone, frozenset(), WHY)
        mine.refresh_from_db()
        self.assertEqual(mine.state, "withdrawn")
        waiting = Send.everywhere.filter(sequence=self.own.pk, state="queued")
        self.assertEqual(waiting.count(), 1)


class WithoutAList(FileCase):
    def test_a_file_mails_nobody_without_a_list(self) -> None:
        left = self.world.arrive("left@example.com", first_name="Left")
        pending = self.world.arrive("pend@example.com", first_name="Pend")
        deliver_everything(self.workspace.pk)
        Membership.everywhere.filter(subscriber=pending).update(state="pending")
        leave(Send.everywhere.filter(subscriber=left)[0], everything=False, by="with one click")
        rule = Rule(id="t", action=SendNow(message=str(self.world.fits.pk)))
        document = self.document.model_copy(update={"consent": (), "then": (rule,)})
        save_route_draft(self.source, document, None, self.world.member)
        from server.routes.actions import check

        found = [one for one in check(self.source, document) if one.place == "t"]
        self.assertEqual([(one.code, one.stops) for one in found], [("line_unfinished", True)])
        # One that was turned on before.
        row = self.put(
            b"Email,Name\r\nleft@example.com,L\r\npend@example.com,P\r\nnew@example.com,N\r\n"
        )
        self.count(row)
        with mock.patch("server.routes.actions.check", return_value=()):
            self.run_it(row)
        deliver_everything(self.workspace.pk)
        sends = Send.everywhere.filter(message=self.world.fits, step="")
        found_states = {(one.state, one.reply) for one in sends}
        self.assertEqual(found_states, {("withdrawn", "it is marketing and belongs to no list")})
        self.assertEqual(sends.count(), 3)


class RefusedSender(FileCase):
    def queue(self, *addresses: str) -> None:
        for address in addresses:
            self.world.arrive(address, first_name="S")
        Send.everywhere.all().delete()
        for number, person in enumerate(Subscriber.everywhere.order_by("pk")):
            person.workspace = self.workspace
            queue_send(
                person,
                str(self.world.guide.pk),
                str(self.world.news.pk),
                f"x/{number}",
                WHY,
                clock.now(self.workspace),
                act="",
                answers=[],
            )

    def states(self) -> Counter[str]:
        return Counter(Send.everywhere.values_list("state", flat=True))

    def test_it_bounces_nobody_holds_all_and_goes_on_when_the_cause_is_gone(self) -> None:
        self.queue(*(f"s{n}@example.com" for n in range(4)))
        refuse = Refused("mail", "550 Sender address rejected: not owned by user")
        with mock.patch.object(delivering, "hand_over", side_effect=refuse) as spoken:
            deliver_everything(self.workspace.pk)
            deliver_everything(self.workspace.pk)
        # One was tried; the others were not even spoken of.
        self.assertEqual(spoken.call_count, 1)
        self.assertEqual(self.states(), {"held": 4})
        self.assertEqual(set(Membership.everywhere.values_list("state", flat=True)), {"subscribed"})
        snag = Snag.everywhere.get(cause="hold/all")
        self.assertIn("does not take this sender", snag.sentence)
        with mock.patch.object(delivering, "hand_over", side_effect=refuse) as spoken:
            move_time(self.workspace, clock.now(self.workspace) + timedelta(minutes=30))
        self.assertEqual(self.states(), {"held": 4})
        # Tried now and then, one email of one domain at a time.
        self.assertIn(spoken.call_count, range(2, 6))
        with mock.patch.object(delivering, "hand_over") as spoken:
            move_time(self.workspace, clock.now(self.workspace) + timedelta(hours=2))
        self.assertEqual((spoken.call_count, self.states()), (4, Counter(sent=4)))
        self.assertFalse(SendingHold.everywhere.exists())
        snag.refresh_from_db()
        self.assertIsNotNone(snag.closed_at)

    def test_a_receiving_domain_holds_itself_alone_and_a_message_itself(self) -> None:
        self.queue("a@one.example", "b@one.example", "c@two.example")

        def policy(mail: Any) -> None:
            if "one.example" in mail.to[0]:
                raise Refused("rcpt", "550 5.7.1 policy")

        with mock.patch.object(delivering, "hand_over", side_effect=policy):
            deliver_everything(self.workspace.pk)
        self.assertEqual(self.states(), {"held": 2, "sent": 1})
        self.assertEqual(
            [one.scope for one in SendingHold.everywhere.all()], ["domain:one.example"]
        )

    def test_a_member_can_try_at_once(self) -> None:
        self.queue("a@one.example", "b@two.example")
        with mock.patch.object(
            delivering, "hand_over", side_effect=Refused("data", "554 5.6.0 odd")
        ):
            deliver_everything(self.workspace.pk)
        hold = SendingHold.everywhere.get()
        self.assertEqual(hold.scope, f"message:{self.world.guide.pk}")
        assert hold.snag is not None
        self.assertEqual(send_again(self.workspace, hold.snag), 2)
        with mock.patch.object(delivering, "hand_over"):
            deliver_everything(self.workspace.pk)
        self.assertEqual(self.states(), {"sent": 2})

    def test_many_domains_that_refuse_are_one_refusal_of_the_sender(self) -> None:
        self.queue(*(f"a@d{n}.example" for n in range(6)))
        refuse = Refused("rcpt", "554 5.7.1 Relay access denied")
        with mock.patch.object(delivering, "hand_over", side_effect=refuse) as spoken:
            deliver_everything(self.workspace.pk)
        self.assertEqual(spoken.call_count, 3)
        self.assertTrue(SendingHold.everywhere.filter(scope="all").exists())
        with mock.patch.object(delivering, "hand_over"):
            move_time(self.workspace, clock.now(self.workspace) + timedelta(hours=2))
        self.assertEqual(self.states(), {"sent": 6})
        self.assertFalse(Snag.everywhere.filter(cause__startswith="hold/", closed_at=None).exists())


class Servers(TestCase):
    def test_what_smtplib_raises_is_told_by_its_stage(self) -> None:
        from server.mail import backend

        mail: Any = object()
        for error, stage in (
            (smtplib.SMTPSenderRefused(550, b"no", "a@b.example"), "mail"),
            (smtplib.SMTPRecipientsRefused({"x@y.example": (550, b"no")}), "rcpt"),
            (smtplib.SMTPDataError(554, b"no"), "data"),
            (smtplib.SMTPAuthenticationError(535, b"no"), "connect"),
        ):
            with mock.patch.object(backend, "_hand_over", side_effect=error):
                with self.assertRaises(Refused) as refused:
                    backend.hand_over(mail)
                self.assertEqual(refused.exception.stage, stage)
