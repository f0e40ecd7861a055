"""Sequences in full, on real rows and a moved clock: doors, second entry, goals, leaving, sending times,
live changes; and that the rehearsal tells what then happens."""

from datetime import UTC, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.test import TestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as GeneratedTestCase

from core.conditions import Group, HappenedTest, ScoreTest, TagTest
from core.deciding import (
    AddTags,
    ChangeScore,
    ChangeSubscription,
    MakeTask,
    Notify,
    RecordEvent,
    StartSequence,
    StopSequence,
)
from core.delivering import Duration, SendingTimes
from core.documents import Because
from core.messages import simple_message
from core.sequences import (
    ActStep,
    Assumption,
    ByHandDoor,
    ChanceBranch,
    ChanceStep,
    ConditionDoor,
    DateDoor,
    EventDoor,
    FieldDoor,
    Goal,
    Lane,
    Leaving,
    ListDoor,
    RouteDoor,
    ScheduleDoor,
    SendStep,
    SequenceDocument,
    SplitBranch,
    SplitStep,
    TagDoor,
    WaitConditionStep,
    WaitDateStep,
    WaitStep,
    WaitTimeStep,
    Way,
)
from server.doors.by_hand import admit, let_all_in, let_one_in, take_one_out
from server.doors.looking import look
from server.mail.editing import save_message, turn_on_changes
from server.mail.models import Send
from server.people.actions import make_field, make_tag
from server.people.effects import apply_effects
from server.people.ledger import Ledger
from server.people.models import Fact, MailingList, Subscriber, Task
from server.sequences import actions as sequences
from server.sequences.figures import goal_figures, goals_by, real_runs, step_figures
from server.sequences.models import Run, Signal, Visit
from server.sequences.moving_time import move_time
from server.sequences.rehearsing import rehearse_for
from server.sequences.signals import show_signals
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed, set_up
from server.workspaces.errors import Refused
from server.workspaces.models import Workspace
from tests.world import RealMail, make_world

LONDON = ZoneInfo("Europe/London")


def days(amount: int) -> Duration:
    return Duration(amount=amount, unit="days")


def minute(moment: datetime) -> datetime:
    """To the minute: the clock of a test goes on while it works."""
    return moment.replace(second=0, microsecond=0)


class Whole(TestCase):
    """A world with a second sequence, which each test builds as it needs."""

    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        self.news = str(self.world.news.pk)
        self.fits, self.guide = str(self.world.fits.pk), str(self.world.guide.pk)
        self.tags = {one: str(make_tag(self.workspace, one).pk) for one in ("photo", "customer")}
        self.own = sequences.make_sequence(self.workspace, "Photos", self.world.member)
        self.at(datetime(2027, 3, 2, 10, tzinfo=UTC))

    def at(self, moment: datetime) -> None:
        """It is this late in the workspace."""
        clock.set_time(self.workspace, moment)

    def fresh(self) -> Workspace:
        self.workspace = Workspace.objects.get(pk=self.workspace.pk)
        return self.workspace

    def turn_on(self, *steps: Any, lanes: tuple[Lane, ...] = (), **more: Any) -> SequenceDocument:
        more.setdefault("again", "once_only")
        document = SequenceDocument(
            list=self.news, lanes=(Lane(id="a", steps=steps), *lanes), **more
        )
        sequences.save_sequence_draft(self.own, document, None, self.world.member)
        sequences.turn_on(self.own, self.world.member)
        self.fresh()
        return document

    def send(self, step: str, **more: Any) -> SendStep:
        return SendStep(id=step, message=self.fits, **more)

    def person(self, name: str, **answers: str) -> Subscriber:
        return self.world.arrive(f"{name}@example.com", first_name=name, **answers)

    def happens(self, person: Subscriber, action: Any, *, own: bool = False) -> None:
        """A rule's action happens to somebody, and the doors and runs see it; `own`: by an act of theirs."""
        from core.deciding import AppliedRule, RuleContext, SubmissionFacts
        from core.reading import Form
        from server.sequences.facts import catalogue_of
        from server.sequences.people import persons_by_id

        facts = SubmissionFacts(source_id="", source_name="", answers=())
        known = persons_by_id(self.workspace, [person.pk], history=False)[person.pk]
        now = clock.now(self.workspace)
        context = RuleContext(facts, Form(), Form(), known, catalogue_of(self.fresh()), now)
        because = Because(kind="person" if own else "member", sentence="by hand", own=own or None)
        context.because = lambda *_: because  # type: ignore[method-assign]
        action.carry_out(context, AppliedRule(line="x", number=1, why=""))
        ledger = Ledger()
        row = Subscriber.everywhere.prefetch_related("memberships").get(pk=person.pk)
        row.workspace = self.workspace
        apply_effects(ledger, row, context.effects, {}, now)
        ledger.write()
        show_signals(self.workspace)

    def runs(self, **wanted: Any) -> list[Run]:
        return list(Run.everywhere.filter(sequence=self.own, **wanted).order_by("number", "pk"))

    def sent(self, person: Subscriber | None = None) -> list[tuple[str, datetime]]:
        rows = Send.everywhere.filter(sequence=self.own.pk).exclude(state="withdrawn")
        if person is not None:
            rows = rows.filter(subscriber=person)
        return list(rows.order_by("queued_at", "pk").values_list("step", "queued_at"))


class Doors(Whole):
    def test_a_tag_an_event_a_list_and_a_field_each_open_theirs(self) -> None:
        visit = make_field(self.workspace, "Camera", "text")
        doors = (
            TagDoor(id="t", tag=self.tags["photo"]),
            EventDoor(id="e", name="booked", lane="b"),
            FieldDoor(id="f", field=str(visit.pk), lane="c"),
            ListDoor(id="l", list=self.news, lane="d", open=False),
        )
        lanes = tuple(Lane(id=one, steps=(self.send(f"{one}1"),)) for one in "bcd")
        self.turn_on(self.send("a1"), lanes=lanes, doors=doors)
        from core.deciding import PutField

        for name, action, lane, door in (
            ("tagged", AddTags(tags=(self.tags["photo"],)), "a", "t"),
            ("booked", RecordEvent(name="booked"), "b", "e"),
            ("filled", PutField(field=str(visit.pk), value="Obscura"), "c", "f"),
        ):
            person = self.person(name)
            self.assertEqual(self.runs(subscriber=person), [])
            self.happens(person, action)
            (run,) = self.runs(subscriber=person)
            self.assertEqual((run.lane, run.door), (lane, door))
            self.assertEqual(self.sent(person)[0][0], f"{lane}1")
            self.assertEqual(Fact.everywhere.filter(subscriber=person, kind="entered").count(), 2)
        self.assertFalse(Signal.everywhere.exists())

    def test_a_narrowed_door_lets_in_whom_it_is_for(self) -> None:
        only = Group(of=(TagTest(tag=self.tags["customer"]),))
        self.turn_on(self.send("a1"), doors=(EventDoor(id="e", name="booked", only=only),))
        stranger, customer = self.person("stranger"), self.person("customer")
        self.happens(customer, AddTags(tags=(self.tags["customer"],)))
        for one in (stranger, customer):
            self.happens(one, RecordEvent(name="booked"))
        self.assertEqual([run.subscriber_id for run in self.runs()], [customer.pk])

    def test_a_route_comes_in_by_its_door_narrowed_closed_or_again(self) -> None:
        source_rule = {"sequence": str(self.own.pk), "lane": "a"}
        only = Group(of=(TagTest(tag=self.tags["customer"]),))
        from core.deciding import Rule

        self.turn_on(self.send("a1", at_once=True), doors=(RouteDoor(id="r", only=only),))
        self.world.change_route(then=(Rule(id="t", action=StartSequence(**source_rule)),))
        first = self.person("first")
        self.assertEqual(self.runs(), [])
        self.turn_on(self.send("a1", at_once=True), doors=(RouteDoor(id="r", open=False),))
        self.world.arrive("first@example.com", look="moon")
        self.assertEqual(self.runs(), [])
        self.turn_on(self.send("a1", at_once=True), doors=(RouteDoor(id="r", again="start_over"),))
        self.world.arrive("first@example.com", look="planets")
        self.world.arrive("first@example.com", look="moon", utm_source="x")
        self.assertEqual([run.number for run in self.runs()], [1, 2])
        self.assertEqual(len(self.sent(first)), 2)

    def test_a_condition_that_becomes_true(self) -> None:
        when = Group(of=(ScoreTest(op="at_least", value=5),))
        early, late, never = (self.person(one) for one in ("early", "late", "never"))
        self.happens(early, ChangeScore(by=9))
        self.turn_on(self.send("a1"), doors=(ConditionDoor(id="c", when=when, again="start_over"),))
        look(self.workspace)
        self.assertEqual(self.runs(), [], "whoever it held for before does not become")
        self.happens(late, ChangeScore(by=5))
        self.happens(never, ChangeScore(by=4))
        look(self.workspace)
        look(self.workspace)
        self.assertEqual([run.subscriber_id for run in self.runs()], [late.pk])
        for by in (-8, 8):
            self.happens(early, ChangeScore(by=by))
            look(self.workspace)
        self.assertEqual({run.subscriber_id for run in self.runs()}, {late.pk, early.pk})

    def test_a_date_once_and_every_year_where_the_person_is(self) -> None:
        birthday = make_field(self.workspace, "Birthday", "date")
        people = {
            name: self.person(name) for name in ("london", "kathmandu", "leap", "undated", "none")
        }
        for name, zone, stored in (
            ("london", "Europe/London", "1990-03-05"),
            ("kathmandu", "Asia/Kathmandu", "1988-03-05"),
            ("leap", "Europe/London", "1992-02-29"),
            ("undated", "Europe/London", "--03-05"),
        ):
            row = Subscriber.everywhere.get(pk=people[name].pk)
            row.time_zone, row.values = zone, {**row.values, "birthday": stored}
            row.save()
        door = DateDoor(
            id="d", field=str(birthday.pk), at=time(8, 30), yearly=True, again="run_alongside"
        )
        self.turn_on(self.send("a1"), doors=(door,))
        look(self.workspace)
        move_time(self.workspace, datetime(2029, 1, 1, tzinfo=UTC))
        entered = {
            name: [minute(run.entered_at) for run in self.runs(subscriber=one)]
            for name, one in people.items()
        }
        self.assertEqual(
            entered["london"],
            [datetime(year, 3, 5, 8, 30, tzinfo=LONDON) for year in (2027, 2028)],
        )
        self.assertEqual(entered["undated"], entered["london"])
        kathmandu = ZoneInfo("Asia/Kathmandu")
        self.assertEqual(
            entered["kathmandu"],
            [datetime(year, 3, 5, 8, 30, tzinfo=kathmandu) for year in (2027, 2028)],
        )
        self.assertEqual(entered["leap"], [datetime(2028, 2, 29, 8, 30, tzinfo=UTC)])
        self.assertEqual(entered["none"], [])

    def test_a_schedule_for_whom_a_condition_fits(self) -> None:
        only = Group(of=(TagTest(tag=self.tags["customer"]),))
        door = ScheduleDoor(id="s", weekdays=(1,), at=time(8, 30), only=only, again="start_over")
        self.turn_on(self.send("a1"), doors=(door,))
        customer, stranger = self.person("customer"), self.person("stranger")
        self.happens(customer, AddTags(tags=(self.tags["customer"],)))
        look(self.workspace)
        move_time(self.workspace, datetime(2027, 3, 20, tzinfo=UTC))
        self.assertEqual(self.runs(subscriber=stranger), [])
        self.assertEqual(
            [minute(run.entered_at) for run in self.runs(subscriber=customer)],
            [datetime(2027, 3, day, 8, 30, tzinfo=UTC) for day in (8, 15)],
        )

    def test_a_member_lets_one_in_and_everybody_with_the_count_first(self) -> None:
        self.turn_on(self.send("a1"), doors=(ByHandDoor(id="h"),))
        people = [self.person(f"p{number}") for number in range(7)]
        self.assertEqual(let_one_in(self.own, people[0], None, self.world.member), 1)
        self.assertEqual(let_one_in(self.own, people[0], None, self.world.member), 0)
        everybody = Group()
        row = let_all_in(self.own, everybody, None, 7, self.world.member)
        admit(str(row.pk))
        row.refresh_from_db()
        self.assertEqual((row.state, row.counted, row.entered, row.kept_out), ("done", 7, 6, 1))
        (because,) = {run.because["kind"] for run in self.runs()}
        self.assertEqual(because, "member")
        for number in range(20):
            self.person(f"late{number}")
        with self.assertRaises(Refused):
            let_all_in(self.own, everybody, None, 7, self.world.member)

    def test_two_sequences_that_start_each_other_do_not_go_round_for_ever(self) -> None:
        tag = AddTags(tags=(self.tags["photo"],))
        from core.deciding import RemoveTags

        untag = RemoveTags(tags=(self.tags["photo"],))
        door = TagDoor(id="t", tag=self.tags["photo"], again="run_alongside")
        self.turn_on(ActStep(id="u", action=untag), ActStep(id="t2", action=tag), doors=(door,))
        person = self.person("round")
        self.happens(person, tag)
        for _ in range(40):
            if not show_signals(self.workspace):
                break
        self.assertEqual(len(self.runs()), 20)
        self.assertTrue(
            Snag.objects.of(self.workspace).filter(cause__startswith="circle/").exists()
        )


class SecondEntry(Whole):
    def enter_twice(self, again: str) -> Subscriber:
        self.turn_on(
            self.send("a1", at_once=True),
            WaitStep(id="w", duration=days(2)),
            self.send("a2"),
            doors=(EventDoor(id="e", name="asked"),),
            again=again,
        )
        person = self.person(again)
        self.happens(person, RecordEvent(name="asked"))
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=1))
        self.happens(person, RecordEvent(name="asked"))
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=5))
        return person

    def test_once_only_start_over_and_alongside(self) -> None:
        expected = {
            "once_only": (["finished"], ["a1", "a2"]),
            "start_over": (["started_over", "finished"], ["a1", "a1", "a2"]),
            "run_alongside": (["finished", "finished"], ["a1", "a1", "a2", "a2"]),
        }
        for again, (ends, emails) in expected.items():
            with self.subTest(again):
                person = self.enter_twice(again)
                self.assertEqual([run.ended for run in self.runs(subscriber=person)], ends)
                self.assertEqual([step for step, _ in self.sent(person)], emails)
                Send.everywhere.all().delete()
                self.runs()[0].sequence.runs.all().delete()

    def test_starting_over_withdraws_what_is_queued(self) -> None:
        self.turn_on(
            self.send("a1"),
            WaitStep(id="w", duration=days(2)),
            doors=(EventDoor(id="e", name="asked"),),
            again="start_over",
        )
        person = self.person("twice")
        for _ in range(2):
            self.happens(person, RecordEvent(name="asked"))
        states = Send.everywhere.filter(sequence=self.own.pk).values_list("state", flat=True)
        self.assertEqual(sorted(states), ["queued", "withdrawn"])


class Leaves(Whole):
    def test_a_goal_ends_it_at_once_and_withdraws_what_is_queued(self) -> None:
        self.turn_on(
            self.send("a1"),
            WaitStep(id="w", duration=days(9)),
            self.send("a2"),
            doors=(EventDoor(id="e", name="asked"),),
            goals=(Goal(id="g", name="bought", event="bought"),),
        )
        person = self.person("buyer")
        self.happens(person, RecordEvent(name="asked"))
        self.happens(person, RecordEvent(name="bought"))
        (run,) = self.runs()
        self.assertEqual((run.ended, run.goal, run.goal_at), ("goal", "g", run.ended_at))
        self.assertEqual(self.sent(person), [])
        self.assertEqual(Fact.everywhere.filter(subscriber=person, kind="goal").count(), 1)
        figures = goal_figures(real_runs(self.own))
        self.assertEqual((figures.entered, figures.reached), (1, 1))
        self.assertAlmostEqual(figures.median_days or 0, 0, places=3)
        (by_door,) = goals_by(real_runs(self.own), "door")
        self.assertEqual((by_door.group, by_door.reached), ("e", 1))

    def test_a_goal_counts_after_the_end_within_its_days(self) -> None:
        self.turn_on(
            self.send("a1"),
            doors=(EventDoor(id="e", name="asked"),),
            goals=(Goal(id="g", event="bought", within_days=10),),
        )
        soon, late = self.person("soon"), self.person("late")
        for one in (soon, late):
            self.happens(one, RecordEvent(name="asked"))
        self.assertEqual({run.ended for run in self.runs()}, {"finished"})
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=8))
        self.happens(soon, RecordEvent(name="bought"))
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=3))
        self.happens(late, RecordEvent(name="bought"))
        reached = {run.subscriber_id: (run.ended, run.goal) for run in self.runs()}
        self.assertEqual(reached, {soon.pk: ("finished", "g"), late.pk: ("finished", "")})
        figures = goal_figures(real_runs(self.own))
        self.assertEqual((figures.entered, figures.reached), (2, 1))
        self.assertAlmostEqual(figures.median_days or 0, 8, places=1)

    def test_who_comes_twice_is_one_person_of_the_rates(self) -> None:
        self.turn_on(
            self.send("a1"),
            again="run_alongside",
            doors=(EventDoor(id="e", name="asked"),),
            goals=(Goal(id="g", event="bought", within_days=10),),
        )
        twice, once = self.person("twice"), self.person("once")
        for one in (twice, twice, once):
            self.happens(one, RecordEvent(name="asked"))
        self.assertEqual(len(self.runs()), 3)
        self.happens(twice, RecordEvent(name="bought"))
        self.assertEqual(len([run for run in self.runs() if run.goal]), 2)
        figures = goal_figures(real_runs(self.own))
        self.assertEqual((figures.entered, figures.reached), (2, 1))
        (by_door,) = goals_by(real_runs(self.own), "door")
        self.assertEqual((by_door.entered, by_door.reached), (2, 1))

    def test_what_waits_for_sending_hours_is_counted_with_its_moment(self) -> None:
        soon = clock.now(self.workspace) + timedelta(days=2)
        day = SendingTimes(weekdays=(soon.isoweekday(),))
        self.turn_on(self.send("a1"), doors=(EventDoor(id="e", name="asked"),), times=day)
        for name in ("one", "two"):
            self.happens(self.person(name), RecordEvent(name="asked"))
        (figures,) = [one for one in step_figures(self.own) if one.step == "a1"]
        self.assertEqual((figures.sent, figures.until), (0, 2))
        assert figures.next_at is not None
        self.assertEqual(figures.next_at.astimezone(soon.tzinfo).date(), soon.date())

    def test_a_goal_breaks_a_run_out_of_a_held_email(self) -> None:
        text = simple_message("Fits", body="<p>{{ last_name }}</p>")
        save_message(self.world.fits, text, None, None)
        turn_on_changes(self.world.fits, None)
        self.turn_on(
            self.send("a1"),
            WaitStep(id="w", duration=days(1)),
            self.send("a2"),
            doors=(EventDoor(id="e", name="asked"),),
            goals=(Goal(id="g", event="bought"),),
        )
        person = self.person("held")
        self.happens(person, RecordEvent(name="asked"))
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=3))
        self.assertEqual(Send.everywhere.get(sequence=self.own.pk).state, "held")
        self.assertIsNone(self.runs()[0].ended_at)
        self.happens(person, RecordEvent(name="bought"))
        self.assertEqual(self.runs()[0].ended, "goal")
        self.assertEqual(Send.everywhere.get(sequence=self.own.pk).state, "withdrawn")

    def test_whoever_comes_to_be_excluded_leaves_when_it_happens(self) -> None:
        when = Group(of=(TagTest(tag=self.tags["customer"]),))
        self.turn_on(
            WaitStep(id="w", duration=days(9)),
            self.send("a1"),
            doors=(EventDoor(id="e", name="asked"),),
            leaving=Leaving(when=when),
        )
        person = self.person("buyer")
        self.happens(person, RecordEvent(name="asked"))
        self.happens(person, AddTags(tags=(self.tags["customer"],)))
        self.assertEqual(self.runs()[0].ended, "excluded")

    def test_another_sequence_takes_over(self) -> None:
        person = self.person("both")
        self.turn_on(
            WaitStep(id="w", duration=days(9)),
            self.send("a1"),
            doors=(EventDoor(id="e", name="asked"),),
            leaving=Leaving(takes_over="these", these=(str(self.world.sequence.pk),)),
        )
        first = Run.everywhere.get(subscriber=person, sequence=self.world.sequence)
        self.assertIsNone(first.ended_at)
        self.happens(person, RecordEvent(name="asked"))
        first.refresh_from_db()
        self.assertEqual(first.ended, "taken_over")
        self.assertIsNone(self.runs()[0].ended_at)

    def test_a_member_takes_somebody_out(self) -> None:
        self.turn_on(WaitStep(id="w", duration=days(9)), self.send("a1"))
        person = self.person("out")
        let_one_in(self.own, person, None, self.world.member)
        (run,) = self.runs()
        self.assertEqual(take_one_out(run, self.world.member), 1)
        self.assertEqual(take_one_out(run, self.world.member), 0)
        self.assertEqual(self.runs()[0].ended, "member")

    def test_a_wait_for_a_condition_goes_on_when_it_happens(self) -> None:
        bought = Group(of=(HappenedTest(what="event", about="bought"),))
        self.turn_on(
            WaitConditionStep(id="w", when=bought, at_most=days(7), otherwise=Way(to="end")),
            self.send("a1"),
            doors=(EventDoor(id="e", name="asked"),),
        )
        buyer, other = self.person("buyer"), self.person("other")
        for one in (buyer, other):
            self.happens(one, RecordEvent(name="asked"))
        self.happens(buyer, RecordEvent(name="bought"))
        self.assertEqual([step for step, _ in self.sent(buyer)], ["a1"])
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=8))
        self.assertEqual(self.sent(other), [])
        self.assertEqual([run.ended for run in self.runs()], ["finished", "finished"])


class Acts(Whole):
    def test_every_action_of_a_step_with_its_cause(self) -> None:
        self.turn_on(
            ActStep(id="t", action=AddTags(tags=(self.tags["photo"],))),
            ActStep(id="s", action=ChangeScore(by=7)),
            ActStep(id="e", action=RecordEvent(name="came far")),
            ActStep(id="k", action=MakeTask(title="Call", days=2)),
            ActStep(id="n", action=Notify(members=(str(self.world.member.pk),))),
            ActStep(id="x", action=StopSequence(sequence=str(self.world.sequence.pk))),
            SplitStep(
                id="p",
                of=(
                    SplitBranch(
                        id="y",
                        when=Group(of=(ScoreTest(value=7),)),
                        way=Way(to="lane", lane="b"),
                    ),
                ),
                otherwise=Way(to="end"),
            ),
            lanes=(Lane(id="b", steps=(self.send("b1"),)),),
        )
        person = self.person("acts")
        let_one_in(self.own, person, None, self.world.member)
        self.assertEqual(self.world.tags_of(person), {"guide", "photo"})
        person.refresh_from_db()
        self.assertEqual(person.score, 7)
        self.assertEqual(Task.everywhere.get(subscriber=person).title, "Call")
        self.assertEqual([step for step, _ in self.sent(person)], ["b1"])
        first = Run.everywhere.get(subscriber=person, sequence=self.world.sequence)
        self.assertEqual(first.ended, "stopped")
        fact = Fact.everywhere.get(subscriber=person, kind="event")
        self.assertEqual((fact.because["step_id"], fact.because["sequence_name"]), ("e", "Photos"))
        self.assertEqual(Visit.everywhere.get(step="p").way, "y")
        (split,) = [one for one in step_figures(self.own) if one.step == "p"]
        self.assertEqual(split.ways, {"y": 1})

    def test_who_left_gets_nothing_promised_from_a_member_and_all_of_it_by_asking(self) -> None:
        from server.people.memberships import unsubscribe

        self.turn_on(
            self.send("a1", at_once=True),
            doors=(EventDoor(id="e", name="asked"),),
            again="start_over",
        )
        person = self.person("left")
        person.workspace = self.workspace
        unsubscribe(person, None, Because(kind="person", sentence="left"), "")
        let_one_in(self.own, person, None, self.world.member)
        self.assertEqual((self.sent(person), self.runs()[0].ended), ([], "unsubscribed"))
        self.happens(person, RecordEvent(name="asked"))
        self.assertEqual(self.sent(person), [], "an event that a member or a program reports")
        self.happens(person, RecordEvent(name="asked"), own=True)
        self.assertEqual([step for step, _ in self.sent(person)], ["a1"])

    def test_a_replay_delivers_nothing_promised_to_who_has_left_since(self) -> None:
        from uuid import uuid4

        from core.deciding import EnterSequence
        from server.people.memberships import unsubscribe
        from server.sequences.entering import enter_all
        from server.sequences.step_effects import Entering

        self.turn_on(self.send("a1", at_once=True))
        stays, left = self.person("stays"), self.person("gone")
        left.workspace = self.workspace
        unsubscribe(left, None, Because(kind="person", sentence="left"), "")
        because = Because(kind="route", sentence="", replay_id=str(uuid4()))
        effect = EnterSequence(
            sequence=str(self.own.pk), name="Photos", act="submission/1", because=because
        )
        for one in (stays, left):
            one.workspace = self.workspace
            enter_all(self.workspace, [Entering(one, effect, [])], clock.now(self.workspace))
        emails = {one.pk: [step for step, _ in self.sent(one)] for one in (stays, left)}
        self.assertEqual(emails, {stays.pk: ["a1"], left.pk: []})

    def test_a_step_brings_nobody_back_to_a_list(self) -> None:
        from server.people.memberships import unsubscribe

        MailingList.everywhere.filter(pk=self.news).update(confirms=True)
        catalogue_changed(self.workspace)
        self.turn_on(
            ActStep(
                id="s",
                action=ChangeSubscription(list=self.news, direction="subscribe", every_list=False),
            )
        )
        person = self.person("left")
        person.workspace = self.workspace
        unsubscribe(person, None, Because(kind="person", sentence="left"), "")
        let_one_in(self.own, person, None, self.world.member)
        self.assertEqual(person.memberships.get().state, "unsubscribed")

    def test_what_a_step_cannot_do_is_a_snag(self) -> None:
        self.turn_on(ActStep(id="t", action=AddTags(tags=(self.tags["photo"],))))
        from server.people.models import Tag

        Tag.everywhere.filter(pk=self.tags["photo"]).delete()
        from server.workspaces.actions import catalogue_changed

        catalogue_changed(self.workspace)
        person = self.person("snag")
        let_one_in(self.own, person, None, self.world.member)
        snag = Snag.objects.of(self.workspace).get(about="sequence")
        self.assertEqual(snag.place["step"], "t")


class Times(Whole):
    def test_the_workspaces_hours_and_gap_hold_for_every_sequence(self) -> None:
        set_up(
            self.workspace,
            name="Larkmoor",
            time_zone="Europe/London",
            sender_name="Larkmoor",
            sender_address="hello@larkmoor.example",
            postal_address="1 Dome Road",
            keeps_ip=True,
            email_gap_days=2,
            sending_times=SendingTimes(weekdays=(1, 2, 3, 4, 5), begins=time(9), ends=time(17)),
        )
        self.turn_on(
            WaitStep(id="w", duration=days(1)),
            self.send("a1"),
            doors=(EventDoor(id="e", name="x"),),
        )
        # The first sequence sends “Which one fits” a day later; this one wants to as well.
        person = self.person("busy")
        self.happens(person, RecordEvent(name="x"))
        move_time(self.workspace, datetime(2027, 3, 12, tzinfo=UTC))
        marketing = Send.everywhere.filter(subscriber=person, asked_for=False, state="sent")
        at = [
            minute(one) for one in marketing.order_by("sent_at").values_list("sent_at", flat=True)
        ]
        # Tuesday 2 March, 10:00; two days after Wednesday is Friday.
        self.assertEqual(
            at, [datetime(2027, 3, 3, 10, tzinfo=UTC), datetime(2027, 3, 5, 10, tzinfo=UTC)]
        )

    def test_the_higher_priority_goes_first(self) -> None:
        set_up(
            self.workspace,
            name="Larkmoor",
            time_zone="Europe/London",
            sender_name="Larkmoor",
            sender_address="hello@larkmoor.example",
            postal_address="1 Dome Road",
            keeps_ip=True,
            email_gap_days=3,
        )
        self.turn_on(
            WaitStep(id="w", duration=days(1)),
            self.send("a1"),
            doors=(EventDoor(id="e", name="x"),),
            priority=5,
        )
        person = self.person("busy")
        self.happens(person, RecordEvent(name="x"))
        due = clock.now(self.workspace) + timedelta(days=1)
        Run.everywhere.filter(subscriber=person).update(due_at=due)
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=2))
        marketing = Send.everywhere.filter(subscriber=person, asked_for=False)
        self.assertEqual([one.sequence for one in marketing], [self.own.pk])
        waiting = Run.everywhere.get(subscriber=person, sequence=self.world.sequence)
        self.assertEqual([one["by"] for one in waiting.moved], ["gap"])


class LiveChanges(Whole):
    def stand(self) -> list[Subscriber]:
        self.turn_on(
            WaitStep(id="w", duration=days(9)), self.send("a1"), WaitStep(id="v", duration=days(1)),
            self.send("a2"),
        )  # fmt: skip
        people = [self.person(f"p{number}") for number in range(2)]
        for one in people:
            let_one_in(self.own, one, None, self.world.member)
        return people

    def remove_the_wait(self, way: Way | None) -> None:
        document = SequenceDocument(
            list=self.news,
            again="once_only",
            lanes=(
                Lane(
                    id="a",
                    steps=(self.send("a1"), WaitStep(id="v", duration=days(1)), self.send("a2")),
                ),
            ),
        )
        sequences.save_sequence_draft(self.own, document, None, self.world.member)
        sequences.turn_on(self.own, self.world.member, removed={"w": way} if way else None)
        move_time(self.fresh(), clock.now(self.workspace) + timedelta(minutes=1))

    def test_by_themselves_they_come_to_the_next_that_remains(self) -> None:
        self.stand()
        self.remove_the_wait(None)
        self.assertEqual(self.sent(), [], "when they are due, not at once")
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=9))
        self.assertEqual({step for step, _ in self.sent()}, {"a1"})

    def test_to_a_named_step(self) -> None:
        self.stand()
        self.remove_the_wait(Way(to="lane", lane="a", step="v"))
        self.assertEqual(self.sent(), [])
        self.assertEqual({run.step for run in self.runs()}, {"v"})

    def test_or_out(self) -> None:
        self.stand()
        self.remove_the_wait(Way(to="end"))
        self.assertEqual({run.ended for run in self.runs()}, {"step_gone"})

    def test_resuming_says_how_many_are_due_and_spreads_them(self) -> None:
        self.stand()
        sequences.pause(self.own)
        now = clock.now(self.workspace) + timedelta(days=12)
        move_time(self.workspace, now)
        self.own.workspace = self.workspace
        self.assertEqual(sequences.due_while_paused(self.own), 2)
        sequences.resume(self.own, 10)
        first, second = sorted(run.due_at - now for run in self.runs() if run.due_at)
        self.assertLess(first, timedelta(minutes=1))
        self.assertEqual(second - first, timedelta(hours=5))


kinds = st.one_of(
    *[st.just("send")] * 3, st.integers(1, 60).map(lambda n: ("wait", n)), st.just("weekday"),
    st.just("split"), st.just("chance"), st.just("until"), st.just("tag"), st.just("date"),
)  # fmt: skip


class RehearsalAndLife(RealMail, GeneratedTestCase):
    """For generated sequences and people, what the rehearsal tells is what then goes out."""

    MADE: dict[str, int] = {"sends": 0, "moved": 0, "goals": 0}

    @settings(
        max_examples=14, derandomize=True, deadline=None, suppress_health_check=list(HealthCheck)
    )
    @given(
        st.lists(st.lists(kinds, min_size=2, max_size=6), min_size=1, max_size=3),
        st.sampled_from(["Europe/London", "Asia/Kathmandu", "America/New_York"]),
        st.none() | st.integers(5, 300),
        st.sampled_from([0, 1, 3]),
        st.sampled_from([None, "office", "quiet"]),
    )
    def test_they_agree(
        self,
        drawn: list[list[Any]],
        zone: str,
        bought: int | None,
        gap: int,
        hours: str | None,
    ) -> None:
        test = Whole()
        test.setUp()
        workspace = test.workspace
        visit = make_field(workspace, "Visit", "date")
        document = self.document(test, drawn, str(visit.pk), hours)
        sequences.save_sequence_draft(test.own, document, None, test.world.member)
        sequences.turn_on(test.own, test.world.member)
        Workspace.objects.filter(pk=workspace.pk).update(email_gap_days=gap)
        sequences.pause(test.world.sequence)
        person = test.person("ines")
        row = Subscriber.everywhere.get(pk=person.pk)
        row.time_zone, row.values = zone, {**row.values, "visit": "2027-03-12"}
        row.save()
        test.own.workspace = test.fresh()
        start = clock.now(test.workspace)
        assumed = []
        if bought is not None:
            assumed = [
                Assumption(
                    kind="event", about="bought", after=Duration(amount=bought * 7, unit="minutes")
                )
            ]
        told, _ = rehearse_for(test.own, row, None, "", start, assumed)
        until = start + timedelta(days=40)
        expected = [
            (one.step, one.at) for one in told.entries if one.kind == "sends" and one.at <= until
        ]
        let_one_in(test.own, row, None, test.world.member)
        if bought is not None:
            move_time(test.workspace, start + timedelta(minutes=7 * bought))
            test.happens(row, RecordEvent(name="bought"))
        move_time(test.workspace, until)
        got = test.sent(row)
        self.assertEqual([step for step, _ in got], [step for step, _ in expected])
        # The clock of the test goes on while it works.
        for (step, at), (_, wanted) in zip(got, expected, strict=True):
            self.assertLess(abs(at - wanted), timedelta(minutes=2), step)
        run = test.runs()[0]
        ends = [one for one in told.entries if one.kind == "ends" and one.at <= until]
        self.assertEqual(run.ended, ends[0].says if ends else "")
        if ends and run.ended_at:
            self.assertLess(abs(run.ended_at - ends[0].at), timedelta(minutes=2))
        self.MADE["sends"] += len(got)
        self.MADE["moved"] += sum(bool(one.moved) for one in told.entries if one.kind == "sends")
        self.MADE["goals"] += run.ended == "goal"

    def document(
        self, test: Whole, drawn: list[list[Any]], visit: str, hours: str | None
    ) -> SequenceDocument:
        lanes = []
        names = "abc"[: len(drawn)]
        for name, steps in zip(names, drawn, strict=True):
            later = [one for one in names if one > name]
            way = Way(to="lane", lane=later[0]) if later else Way(to="end")
            kept = [*steps, "send"]
            made = [self.step(test, f"{name}{n}", one, way, visit) for n, one in enumerate(kept)]
            lanes.append(Lane(id=name, steps=tuple(made), then=way))
        times = {
            "office": SendingTimes(weekdays=(1, 2, 3, 4, 5), begins=time(9), ends=time(17)),
            "quiet": SendingTimes(quiet_yearly=("03-04", "03-05"), holidays_of="GB"),
        }
        return SequenceDocument(
            list=test.news,
            again="once_only",
            lanes=tuple(lanes),
            goals=(Goal(id="g", event="bought"),),
            times=times.get(hours or ""),
        )

    def step(self, test: Whole, key: str, drawn: Any, way: Way, visit: str) -> Any:
        bought = Group(of=(HappenedTest(what="event", about="bought"),))
        match drawn:
            case ("wait", hours):
                return WaitStep(id=key, duration=Duration(amount=hours, unit="hours"))
            case "weekday":
                return WaitTimeStep(id=key, weekdays=(2, 5), at=time(10, 30))
            case "split":
                when = Group(of=(TagTest(tag=test.tags["customer"]),))
                return SplitStep(
                    id=key, of=(SplitBranch(id="y", when=when, way=way),), otherwise=Way()
                )
            case "chance":
                return ChanceStep(
                    id=key, of=(ChanceBranch(id="x", way=way), ChanceBranch(id="y", way=Way()))
                )
            case "until":
                return WaitConditionStep(id=key, when=bought, at_most=days(2), otherwise=Way())
            case "tag":
                return ActStep(id=key, action=AddTags(tags=(test.tags["customer"],)))
            case "date":
                return WaitDateStep(id=key, field=visit, days=-2, at=time(9))
            case _:
                return test.send(key)

    @classmethod
    def tearDownClass(cls) -> None:
        super().tearDownClass()
        assert cls.MADE["sends"] > 10 and cls.MADE["moved"] > 2, cls.MADE
