"""Doors, splits, goals, leaving, lanes that join: how a run finds its way, and its rehearsal."""

from collections import Counter
from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from unittest import TestCase
from zoneinfo import ZoneInfo

from hypothesis import example, given, settings
from hypothesis import strategies as st

from core.conditions import Circumstances, FieldTest, Group, HappenedTest, TagTest
from core.deciding import (
    AddTag,
    AddTags,
    ChangeScore,
    ChangeSubscription,
    RecordEvent,
    StopSequence,
)
from core.delivering import Duration, SendingTimes
from core.documents import Finding
from core.people import FieldFacts, Happening, Person
from core.sequences import (
    END,
    STARTS,
    Acted,
    ActStep,
    Altered,
    Assumption,
    ByHandDoor,
    ChanceBranch,
    ChanceStep,
    Circle,
    ClickDoor,
    Coming,
    Entry,
    EventDoor,
    FieldDoor,
    Goal,
    Journey,
    Lane,
    Leaving,
    ListDoor,
    Rehearsal,
    RouteDoor,
    RunState,
    SendMessage,
    SendStep,
    SequenceDocument,
    Signal,
    SplitBranch,
    SplitStep,
    StopStep,
    Surroundings,
    TagDoor,
    UnderWay,
    WaitConditionStep,
    WaitDateStep,
    WaitStep,
    WaitTimeStep,
    Way,
    advance,
    ahead_of,
    altered,
    begin,
    check_sequence,
    entrance,
    expected_by_day,
    rehearse,
    share_of,
)
from core.tests.observatory import CATALOGUE as SMALL

CATALOGUE = replace(
    SMALL,
    fields={
        **SMALL.fields,
        "f-visit": FieldFacts(id="f-visit", key="visit", label="Visit date", type="date"),
    },
    tags={**SMALL.tags, "t-customer": "customer"},
)
START = datetime(2026, 11, 24, 19, 30, tzinfo=UTC)
INES = Person(
    address="i@b.example", memberships={"l-news": "subscribed"}, time_zone="Europe/London"
)
BOUGHT = Group(of=(HappenedTest(what="event", about="bought"),))
CUSTOMER = Group(of=(TagTest(tag="t-customer"),))
JOURNEY = Journey(
    sequence_id="s-first",
    name="First telescope",
    run_id="00000000-0000-0000-0000-000000000001",
    subscriber_id="p1",
    catalogue=CATALOGUE,
    entered_at=START,
)


def days(amount: int) -> Duration:
    return Duration(amount=amount, unit="days")


def wait(step: str, amount: int) -> WaitStep:
    return WaitStep(id=step, duration=days(amount))


def send(step: str) -> SendStep:
    return SendStep(id=step, message="m-fits")


def document(*lanes: Lane, **more: Any) -> SequenceDocument:
    return SequenceDocument(list="l-news", again="once_only", lanes=lanes, **more)


def lane(lane_id: str, *steps: Any, then: Way = END) -> Lane:
    return Lane(id=lane_id, name=lane_id.upper(), steps=steps, then=then)


def walked(
    sequence: SequenceDocument,
    person: Person = INES,
    assumptions: tuple[Assumption, ...] = (),
    lane_id: str | None = None,
    journey: Journey = JOURNEY,
) -> Rehearsal:
    return rehearse(sequence, lane_id, person, START, journey, assumptions)


def emails(rehearsal: Rehearsal) -> list[tuple[str, float]]:
    """The emails of a rehearsal: step, and how many days after the entry."""
    return [
        (one.step, (one.at - START) / timedelta(days=1))
        for one in rehearsal.entries
        if one.kind == "sends"
    ]


def last(rehearsal: Rehearsal) -> Entry:
    return rehearsal.entries[-1]


def all_findings(sequence: SequenceDocument) -> tuple[Finding, ...]:
    around = Surroundings(CATALOGUE, {}, "a@b.example", "1 Dome Road", own_id="s-first")
    return check_sequence(sequence, around)


def codes(sequence: SequenceDocument) -> list[tuple[str, str]]:
    return [(one.code, one.place) for one in all_findings(sequence)]


class Joining(TestCase):
    SERIES = document(
        lane("a", send("a1"), then=Way(to="lane", lane="d")),
        lane("b", send("b1"), wait("bw", 1), then=Way(to="lane", lane="d", step="d2")),
        lane("c", send("c1"), then=Way(to="lane", lane="d")),
        lane("d", wait("d1", 5), send("d2"), wait("d3", 7), send("d4")),
    )

    def test_three_doors_joined_into_one_long_series(self) -> None:
        # Common practice.
        for entry, expected in (
            ("a", [("a1", 0), ("d2", 5), ("d4", 12)]),
            ("b", [("b1", 0), ("d2", 1), ("d4", 8)]),
            ("c", [("c1", 0), ("d2", 5), ("d4", 12)]),
        ):
            self.assertEqual(emails(walked(self.SERIES, lane_id=entry)), expected)
        self.assertEqual(codes(self.SERIES), [])

    def test_a_lane_or_step_that_is_gone_is_found_and_ends_the_run(self) -> None:
        broken = document(lane("a", send("a1"), then=Way(to="lane", lane="z")))
        self.assertEqual(codes(broken), [("lane_gone", "end-a")])
        self.assertEqual(last(walked(broken)).kind, "ends")
        split = SplitStep(
            id="s", of=(SplitBranch(id="y", when=CUSTOMER),), otherwise=Way(to="lane", lane="z")
        )
        gone = document(lane("a", send("a1"), split))
        self.assertEqual(codes(gone), [("lane_gone", "s")])
        self.assertEqual(last(walked(gone)).says, "step_gone")


class Splits(TestCase):
    def split(self, otherwise: Way = END) -> SequenceDocument:
        branches = (
            SplitBranch(id="y", name="bought", when=BOUGHT, way=END),
            SplitBranch(id="c", name="customer", when=CUSTOMER, way=Way(to="lane", lane="b")),
        )
        split = SplitStep(id="s", of=branches, otherwise=otherwise)
        return document(
            lane("a", send("a1"), wait("w", 1), split, send("a2")), lane("b", send("b1"))
        )

    def test_the_first_that_holds_and_otherwise(self) -> None:
        on = self.split(otherwise=Way())
        both = replace(INES, tags=frozenset({"t-customer"}))
        bought = (Assumption(kind="event", about="bought", after=Duration(amount=5, unit="hours")),)
        self.assertEqual(emails(walked(on)), [("a1", 0), ("a2", 1)])
        self.assertEqual(emails(walked(on, both)), [("a1", 0), ("b1", 1)])
        self.assertEqual(emails(walked(on, both, bought)), [("a1", 0)])

    def test_which_way_is_said(self) -> None:
        result = walked(self.split())
        self.assertIn(("goes", "otherwise"), [(one.kind, one.says) for one in result.entries])

    def test_a_split_sees_what_a_step_before_it_did(self) -> None:
        tag = ActStep(id="t", action=AddTags(tags=("t-customer",)))
        split = SplitStep(
            id="s", of=(SplitBranch(id="y", when=CUSTOMER, way=END),), otherwise=Way()
        )
        self.assertEqual(emails(walked(document(lane("a", tag, split, send("a1"))))), [])

    def test_by_chance_the_weights_and_the_same_person_the_same_way(self) -> None:
        step = ChanceStep(
            id="ab",
            of=(
                ChanceBranch(id="x", weight=2),
                ChanceBranch(id="y", weight=1),
                ChanceBranch(id="z", weight=0),
            ),
        )
        people = [f"person-{number}" for number in range(100_000)]
        fell = [step.falls(share_of("s-first", "ab", one)) for one in people]
        counts = Counter(fell)
        self.assertEqual(set(counts), {"x", "y"})
        expected = {"x": 200_000 / 3, "y": 100_000 / 3}
        square = sum((counts[one] - expected[one]) ** 2 / expected[one] for one in expected)
        # Chi-square with one degree of freedom: 10.83 is passed by chance once in a thousand.
        self.assertLess(square, 10.83)
        self.assertEqual(fell, [step.falls(share_of("s-first", "ab", one)) for one in people])
        # Another step deals anew: as many of x fall to x again as of all.
        again = Counter(
            one
            for one, before in zip(
                (step.falls(share_of("s-first", "cd", one)) for one in people), fell, strict=True
            )
            if before == "x"
        )
        self.assertAlmostEqual(again["x"] / counts["x"], 2 / 3, delta=0.01)


class Waits(TestCase):
    def test_until_a_weekday_and_time_where_the_person_is(self) -> None:
        step = WaitTimeStep(id="w", weekdays=(2,), at=time(10))
        kathmandu = replace(INES, time_zone="Asia/Kathmandu")
        # 24 November 2026 is a Tuesday, 19:30 in London and past midnight in Kathmandu.
        for person, expected in (
            (INES, datetime(2026, 12, 1, 10, tzinfo=ZoneInfo("Europe/London"))),
            (kathmandu, datetime(2026, 12, 1, 10, tzinfo=ZoneInfo("Asia/Kathmandu"))),
        ):
            found = walked(document(lane("a", step, send("a1"))), person)
            self.assertEqual([one.at for one in found.entries if one.kind == "sends"], [expected])

    def test_until_a_date_and_otherwise(self) -> None:
        step = WaitDateStep(
            id="w", field="f-visit", days=-3, at=time(9), otherwise=Way(to="lane", lane="b")
        )
        doc = document(lane("a", step, send("a1")), lane("b", send("b1")))
        soon = replace(INES, values={"visit": "2026-12-10"})
        past = replace(INES, values={"visit": "2026-11-25"})
        found = walked(doc, soon)
        at = [one.at for one in found.entries if one.kind == "sends"]
        self.assertEqual(at, [datetime(2026, 12, 7, 9, tzinfo=UTC)])
        for person in (past, INES):
            self.assertEqual(emails(walked(doc, person)), [("b1", 0)])

    def test_a_date_that_moves_takes_the_wait_along(self) -> None:
        step = WaitDateStep(id="w", field="f-visit", days=-3, at=time(9))
        doc = document(lane("a", step, send("a1")))
        soon = replace(INES, values={"visit": "2026-12-10"})
        for becomes, expected in (("2026-12-20", (12, 17)), ("2026-12-05", (12, 2))):
            booked = Assumption(kind="field", about="visit", value=becomes, after=days(2))
            found = walked(doc, soon, (booked,))
            at = [one.at for one in found.entries if one.kind == "sends"]
            self.assertEqual(at, [datetime(2026, *expected, 9, tzinfo=UTC)])

    def test_until_a_condition_holds_at_the_most_so_long(self) -> None:
        step = WaitConditionStep(
            id="w", when=BOUGHT, at_most=days(7), held=Way(), otherwise=Way(to="lane", lane="b")
        )
        doc = document(lane("a", step, send("a1")), lane("b", send("b1")))
        for after_days, expected in ((3, [("a1", 3)]), (7, [("a1", 7)]), (8, [("b1", 7)])):
            bought = Assumption(kind="event", about="bought", after=days(after_days))
            self.assertEqual(emails(walked(doc, assumptions=(bought,))), expected)

    def test_looks_that_are_late_do_not_end_the_wait_early(self) -> None:
        step = WaitConditionStep(id="w", when=BOUGHT, at_most=days(2))
        doc = document(lane("a", step, send("a1")))
        sent: list[datetime] = []
        run, now = begin(doc, doc.lanes[0], INES, START, JOURNEY), START
        while now <= START + timedelta(days=2) and not sent:
            result = advance(run, doc, INES, now, JOURNEY)
            run = result.run
            sent = [one.at for one in result.effects if isinstance(one, SendMessage)]
            # Each look comes five minutes late, but for the one at the end.
            now = min((run.due_at or now) + timedelta(minutes=5), START + timedelta(days=2))
        self.assertEqual(sent, [START + timedelta(days=2)])

    def test_a_condition_that_holds_already_is_not_waited_for(self) -> None:
        step = WaitConditionStep(id="w", when=CUSTOMER, at_most=days(7))
        customer = replace(INES, tags=frozenset({"t-customer"}))
        self.assertEqual(
            emails(walked(document(lane("a", step, send("a1"))), customer)), [("a1", 0)]
        )


class Goals(TestCase):
    def selling(self, **goal: Any) -> SequenceDocument:
        return document(
            lane(
                "a",
                SendStep(id="a1", message="m-guide", at_once=True),
                wait("w", 2),
                send("a2"),
                wait("x", 2),
                send("a3"),
            ),
            lane("b", send("b1")),
            goals=(Goal(id="g", name="bought a telescope", **goal),),
        )

    def test_bought_is_out_at_once(self) -> None:
        # Common practice: the promised thing at once, the offer later, whoever bought is out.
        bought = Assumption(kind="event", about="bought", after=days(3))
        found = walked(self.selling(event="bought"), assumptions=(bought,))
        self.assertEqual(emails(found), [("a1", 0), ("a2", 2)])
        self.assertEqual(
            [(one.kind, one.says) for one in found.entries][-2:],
            [("goal", "bought a telescope"), ("ends", "goal")],
        )
        self.assertEqual(last(found).at - START, timedelta(days=3))

    def test_to_a_named_step(self) -> None:
        bought = Assumption(kind="event", about="bought", after=days(1))
        found = walked(
            self.selling(event="bought", then=Way(to="lane", lane="b")), assumptions=(bought,)
        )
        self.assertEqual(emails(found), [("a1", 0), ("b1", 1)])

    def test_what_happened_before_the_entry_does_not_count(self) -> None:
        before = Happening(what="event", about="bought", at=START - timedelta(days=1))
        found = walked(self.selling(event="bought"), replace(INES, happened=(before,)))
        self.assertEqual(len(emails(found)), 3)
        customer = replace(INES, tags=frozenset({"t-customer"}))
        self.assertEqual(len(emails(walked(self.selling(when=CUSTOMER), customer))), 3)

    def test_within_so_many_days(self) -> None:
        for day, count in ((1, 1), (3, 3)):
            bought = Assumption(kind="event", about="bought", after=days(day))
            found = walked(self.selling(event="bought", within_days=2), assumptions=(bought,))
            self.assertEqual(len(emails(found)), count)

    def test_an_event_of_its_own_reaches_it_too(self) -> None:
        doc = document(
            lane("a", ActStep(id="e", action=RecordEvent(name="bought")), send("a1")),
            goals=(Goal(id="g", event="bought"),),
        )
        self.assertEqual(last(walked(doc)).says, "goal")
        self.assertEqual(emails(walked(doc)), [])


class Leaves(TestCase):
    def test_whoever_is_excluded_still_gets_what_was_promised(self) -> None:
        doc = document(
            lane("a", SendStep(id="a1", message="m-guide", at_once=True), wait("w", 1), send("a2")),
            leaving=Leaving(when=CUSTOMER),
        )
        customer = replace(INES, tags=frozenset({"t-customer"}))
        found = walked(doc, customer)
        self.assertEqual((emails(found), last(found).says), ([("a1", 0)], "excluded"))
        later = Assumption(kind="tag", about="t-customer", after=Duration(amount=3, unit="hours"))
        found = walked(doc, assumptions=(later,))
        self.assertEqual(
            (last(found).says, last(found).at - START), ("excluded", timedelta(hours=3))
        )

    def test_the_doors_condition_where_it_is_set_so(self) -> None:
        for stays, reason in ((True, "finished"), (False, "no_longer_fits")):
            door = TagDoor(id="d", tag="t-moon", only=CUSTOMER, stays=stays)
            doc = document(lane("a", wait("w", 1), send("a1")), doors=(door,))
            gone = Assumption(
                kind="no_tag", about="t-customer", after=Duration(amount=1, unit="hours")
            )
            customer = replace(INES, tags=frozenset({"t-customer"}))
            found = walked(doc, customer, (gone,), journey=replace(JOURNEY, door="d"))
            self.assertEqual(last(found).says, reason)

    def test_a_step_can_stop_its_own_sequence_or_end_here(self) -> None:
        stop = ActStep(id="x", action=StopSequence(sequence="s-first"))
        person = replace(INES, under_way=frozenset({"s-first"}))
        found = walked(document(lane("a", stop, send("a1"))), person)
        self.assertEqual((emails(found), last(found).says), ([], "stopped"))
        found = walked(document(lane("a", StopStep(id="x"), send("a1"))))
        self.assertEqual((emails(found), last(found).says), ([], "finished"))


class Asked(TestCase):
    PROMISED = SendStep(id="a1", message="m-guide", at_once=True)

    def test_what_is_promised_is_marketing_to_whoever_did_not_ask(self) -> None:
        doc = document(lane("a", self.PROMISED), times=Moved.OFFICE)
        gone = replace(INES, memberships={"l-news": "unsubscribed"})
        for act, person, expected in (
            ("submission/1", INES, [("a1", 0)]),
            ("submission/1", gone, [("a1", 0)]),
            ("", gone, []),
            ("", replace(INES, suppressed=True), []),
        ):
            found = walked(doc, person, journey=replace(JOURNEY, act=act))
            self.assertEqual(emails(found), expected, (act, person))
        # Tuesday 19:30: to somebody who did not ask it goes on Wednesday at 9.
        found = walked(doc, journey=replace(JOURNEY, act=""))
        self.assertEqual(emails(found), [("a1", 13.5 / 24)])

    def test_which_doors_somebody_asks_by(self) -> None:
        asks = {one.kind for one in Entrances.DOORS if one.asked}
        self.assertEqual(asks, {"route", "event", "list"})
        self.assertTrue(ClickDoor(id="c", message="m-guide").asked)
        doors = (TagDoor(id="t", tag="t-moon"), EventDoor(id="e", name="asked"))
        doc = document(lane("a", self.PROMISED), doors=doors)
        self.assertEqual(codes(doc), [("not_asked", "t")])

    def test_only_what_every_way_from_the_door_reaches_first_answers_the_act(self) -> None:
        """Joined, round a circle, after a wait, after a split, or for the second time, it is marketing."""
        promised = self.PROMISED
        again = SendStep(id="a2", message="m-guide", at_once=True)
        split = SplitStep(
            id="s", of=(SplitBranch(id="y", when=CUSTOMER, way=END),), otherwise=Way()
        )
        to_b = Way(to="lane", lane="b")
        cases = {
            "straight behind the door": (document(lane("a", promised)), ["a1"]),
            "after a tag": (
                document(lane("a", ActStep(id="t", action=ChangeScore(by=1)), promised)),
                ["a1"],
            ),
            "the second one": (document(lane("a", promised, again)), ["a1"]),
            "after a wait": (document(lane("a", wait("w", 1), promised)), []),
            "after a split": (document(lane("a", split, promised)), []),
            "joined": (document(lane("a", then=to_b), lane("b", promised)), []),
            "round a circle": (
                document(lane("a", promised, wait("w", 7), then=Way(to="lane", lane="a"))),
                ["a1"],
            ),
        }
        stranger = replace(INES, memberships={})
        journey = replace(JOURNEY, act="submission/1")
        for name, (doc, expected) in cases.items():
            found = walked(doc, stranger, journey=journey)
            self.assertEqual([step for step, _ in emails(found)], expected, name)
            stopped = {code for code, _ in codes(doc)} & {"at_once_later"}
            late = name in ("the second one", "after a wait", "after a split", "joined")
            self.assertEqual(bool(stopped), late, name)

    def test_a_step_that_subscribes_is_stopped(self) -> None:
        action = ChangeSubscription(list="l-news", direction="subscribe", every_list=False)
        doc = document(lane("a", ActStep(id="s", action=action)))
        self.assertEqual(codes(doc), [("subscribes_unasked", "s")])


class Circles(TestCase):
    def test_without_time_it_is_found_and_never_runs_for_ever(self) -> None:
        doc = document(lane("a", send("a1"), then=Way(to="lane", lane="a")))
        self.assertIn(("circle", "a1"), codes(doc))
        tags = document(
            lane("a", ActStep(id="t", action=ChangeScore(by=1)), then=Way(to="lane", lane="a"))
        )
        with self.assertRaises(Circle):
            advance(RunState(lane="a"), tags, INES, START, JOURNEY)

    def test_with_time_each_round_is_another_visit(self) -> None:
        doc = document(lane("a", send("a1"), wait("w", 7), then=Way(to="lane", lane="a")))
        self.assertEqual(codes(doc), [("endless", "end-a")])
        found = walked(doc)
        self.assertTrue(found.cut)
        self.assertTrue(found.endless)
        self.assertEqual(emails(found)[:3], [("a1", 0), ("a1", 7), ("a1", 14)])
        run, laps = RunState(lane="a"), []
        for week in range(3):
            result = advance(run, doc, INES, START + timedelta(days=7 * week), JOURNEY)
            run = result.run
            laps += [one.lap for one in result.effects if isinstance(one, SendMessage)]
        self.assertEqual(laps, [1, 2, 3])

    def test_lanes_that_lead_round_for_ever_are_stopped_unless_something_ends_it(self) -> None:
        to_a, to_b = Way(to="lane", lane="a"), Way(to="lane", lane="b")
        first = lane("a", send("a1"), wait("w", 7), then=to_b)
        back = lane("b", send("b1"), wait("v", 7), then=to_a)
        last = lane("c", send("c1"))
        out = SplitStep(
            id="s",
            of=(SplitBranch(id="s1", when=CUSTOMER, way=END),),
            otherwise=Way(),
        )
        paid = Goal(id="g", name="Paid", event="paid")
        cases = {
            "two lanes": (document(first, back), True),
            "nobody is asked to leave": (document(first, back, last), True),
            "a split that leads out": (
                document(first, lane("b", out, wait("v", 7), then=to_a)),
                False,
            ),
            "a lane that ends": (document(first, lane("b", send("b1"), wait("v", 7))), False),
            "a goal that ends it": (document(first, back, goals=(paid,)), False),
            "a goal that leads to a lane that ends": (
                document(
                    first,
                    back,
                    last,
                    goals=(paid.model_copy(update={"then": Way(to="lane", lane="c")}),),
                ),
                False,
            ),
            "a goal that leads round too": (
                document(first, back, goals=(paid.model_copy(update={"then": to_b}),)),
                True,
            ),
            "a condition for leaving": (
                document(first, back, leaving=Leaving(when=CUSTOMER)),
                False,
            ),
        }
        for name, (doc, endless) in cases.items():
            found = [one for one in all_findings(doc) if one.code == "endless"]
            self.assertEqual([one.stops for one in found], [True] * endless, name)
            self.assertEqual(walked(doc).endless, endless, name)
        [finding] = [one for one in all_findings(document(first, back)) if one.code == "endless"]
        self.assertIn("“A” and “B” never end", finding.sentence)

    def test_lanes_that_join_are_no_circle(self) -> None:
        self.assertEqual(codes(Joining.SERIES), [])

    def test_a_step_that_nobody_can_come_to(self) -> None:
        doc = document(lane("a", send("a1"), StopStep(id="x"), send("a2")))
        self.assertIn(("out_of_reach", "a2"), codes(doc))


class Acting(TestCase):
    def test_the_effects_of_a_rule_with_the_cause_of_a_step(self) -> None:
        doc = document(lane("a", ActStep(id="t", action=AddTags(tags=("t-guide",)))))
        result = advance(RunState(lane="a"), doc, INES, START, JOURNEY)
        acted = next(one for one in result.effects if isinstance(one, Acted))
        (effect,) = acted.effects
        assert isinstance(effect, AddTag)
        self.assertEqual((effect.tag, acted.sentence), ("t-guide", "+ guide"))
        self.assertEqual((effect.because.kind, effect.because.step_id), ("step", "t"))
        self.assertEqual(effect.because.sequence_name, "First telescope")
        self.assertIn("t-guide", result.person.tags)

    def test_nothing_counts_as_submitted(self) -> None:
        came = Group(of=(HappenedTest(what="submitted"),))
        tag = ActStep(id="t", action=ChangeScore(by=1))
        split = SplitStep(id="s", of=(SplitBranch(id="y", when=came, way=END),), otherwise=Way())
        self.assertEqual(len(emails(walked(document(lane("a", tag, split, send("a1")))))), 1)


class Entrances(TestCase):
    DOORS = (
        TagDoor(id="t", tag="t-moon"),
        ListDoor(id="l", list="l-news"),
        FieldDoor(id="f", field="f-look", value="planets"),
        FieldDoor(id="g", field="f-look"),
        EventDoor(id="e", name="bought"),
        ByHandDoor(id="h"),
        RouteDoor(id="r"),
    )

    def test_which_doors_a_signal_opens(self) -> None:
        cases = [
            (Signal(kind="tag", about="t-moon"), ["t"]),
            (Signal(kind="tag", about="t-guide"), []),
            (Signal(kind="membership", about="l-news", state="subscribed"), ["l"]),
            (Signal(kind="membership", about="l-news", state="pending"), []),
            (Signal(kind="field", about="interest", state="planets"), ["f", "g"]),
            (Signal(kind="field", about="interest", state="moon"), ["g"]),
            (Signal(kind="field", about="interest", state=""), []),
            (Signal(kind="event", about="bought"), ["e"]),
            (Signal(kind="event", about=""), []),
        ]
        for signal, expected in cases:
            found = [one.id for one in self.DOORS if one.opens_for(signal, CATALOGUE)]
            self.assertEqual(found, expected, signal)

    def test_who_comes_in(self) -> None:
        seen = Circumstances(now=START)
        for again in ("once_only", "start_over", "run_alongside"):
            for was_in in (False, True):
                for only in (None, CUSTOMER):
                    for is_open in (True, False):
                        door = TagDoor(id="d", tag="t-moon", only=only, open=is_open, again=again)
                        doc = document(lane("a"), doors=(door,))
                        found = entrance(doc, door, INES, seen, CATALOGUE, was_in=was_in)
                        expected = None
                        if not is_open:
                            expected = "closed"
                        elif only:
                            expected = "does_not_fit"
                        elif was_in and again == "once_only":
                            expected = "once_only"
                        self.assertEqual(found.refused, expected)
                        self.assertEqual(found.lane is not None, expected is None)

    def test_what_pre_flight_says_of_doors(self) -> None:
        doors = (
            TagDoor(id="t"),
            EventDoor(id="e", lane="z"),
            FieldDoor(id="f", field="gone"),
            TagDoor(id="c", tag="t-moon", only=Group()),
        )
        found = codes(document(lane("a", send("a1")), doors=doors))
        self.assertEqual(
            found,
            [
                ("line_unfinished", "t"),
                ("lane_gone", "e"),
                ("line_unfinished", "e"),
                ("line_unfinished", "f"),
                ("condition_empty", "c"),
            ],
        )

    def test_something_promised_needs_an_answer_for_who_asks_twice(self) -> None:
        promised = SendStep(id="s1", message="m-guide", at_once=True)
        open_ = SequenceDocument(list="l-news", lanes=(lane("a", promised),))
        self.assertEqual(codes(open_), [("second_entry", "again")])


class Moved(TestCase):
    OFFICE = SendingTimes(weekdays=(1, 2, 3, 4, 5), begins=time(9), ends=time(17))

    def test_the_promised_thing_at_once_and_the_rest_in_the_hours(self) -> None:
        doc = document(
            lane(
                "a",
                SendStep(id="a1", message="m-guide", at_once=True),
                wait("w", 4),
                send("a2"),
                wait("x", 1),
                send("a3"),
            ),
            times=self.OFFICE,
        )
        found = walked(doc)
        # Tuesday 19:30; four days later is Saturday, so Monday 9:00; a day after that Tuesday 9:00.
        at = [one.at for one in found.entries if one.kind == "sends"]
        self.assertEqual(
            at,
            [START, datetime(2026, 11, 30, 9, tzinfo=UTC), datetime(2026, 12, 1, 9, tzinfo=UTC)],
        )
        moves = [[move.by for move in one.moved] for one in found.entries if one.kind == "sends"]
        self.assertEqual(moves, [[], ["hours"], []])

    def test_the_gap_counts_what_goes_out_meanwhile(self) -> None:
        doc = document(lane("a", wait("w", 2), send("a1")))
        journey = replace(JOURNEY, gap=days(1))
        run = advance(RunState(lane="a"), doc, INES, START, journey).run
        busy = replace(INES, last_marketing_at=START + timedelta(days=1, hours=20))
        result = advance(run, doc, busy, START + timedelta(days=2), journey)
        self.assertEqual(result.run.due_at, START + timedelta(days=2, hours=20))
        self.assertEqual([one.by for one in result.run.moved], ["gap"])

    def test_who_asked_for_fewer_gets_fewer(self) -> None:
        doc = document(lane("a", send("a1"), wait("w", 2), send("a2")))
        found = walked(doc, replace(INES, gap_days=7))
        self.assertEqual(emails(found), [("a1", 0), ("a2", 7)])

    def test_a_pause_does_not_send_at_night(self) -> None:
        doc = document(lane("a", wait("w", 1), send("a1")), times=self.OFFICE)
        run = advance(RunState(lane="a"), doc, INES, START, JOURNEY).run
        resumed = START + timedelta(days=9, hours=4)
        result = advance(run, doc, INES, resumed, JOURNEY)
        self.assertEqual(result.run.due_at, datetime(2026, 12, 4, 9, tzinfo=UTC))


sends = st.integers(0, 9).map(lambda n: ("send", n))
steps = st.one_of(
    sends,
    sends,
    st.integers(0, 9).map(lambda n: ("wait", n)),
    st.integers(1, 7).map(lambda n: ("weekday", n)),
    st.integers(0, 3).map(lambda n: ("split", n)),
    st.integers(0, 3).map(lambda n: ("chance", n)),
    st.integers(1, 9).map(lambda n: ("until", n)),
    st.just(("tag", 0)),
)


def made(number: int, kind: str, amount: int, lanes: list[str], own: str) -> Any:
    key = f"{own}{number}"
    later = [one for one in lanes if one > own]
    way = Way(to="lane", lane=later[amount % len(later)]) if later else END
    match kind:
        case "send":
            return SendStep(id=key, message="m-fits", any_hour=amount == 9)
        case "wait":
            return WaitStep(id=key, duration=Duration(amount=amount * 7, unit="hours"))
        case "weekday":
            return WaitTimeStep(id=key, weekdays=(amount,), at=time(10, 30))
        case "split":
            when = BOUGHT if amount % 2 else CUSTOMER
            return SplitStep(id=key, of=(SplitBranch(id="y", when=when, way=way),), otherwise=Way())
        case "chance":
            return ChanceStep(id=key, of=(ChanceBranch(id="x", way=way), ChanceBranch(id="y")))
        case "until":
            return WaitConditionStep(id=key, when=BOUGHT, at_most=days(amount), otherwise=way)
        case _:
            return ActStep(id=key, action=AddTags(tags=("t-customer",)))


@st.composite
def sequences(draw: st.DrawFn) -> SequenceDocument:
    lanes: list[str] = draw(st.sampled_from([["a"], ["a", "b"], ["a", "b", "c"]]))
    found = []
    for name in lanes:
        drawn = [*draw(st.lists(steps, min_size=2, max_size=7)), draw(sends)]
        later = [one for one in lanes if one > name]
        joins = bool(later) and draw(st.booleans())
        then = Way(to="lane", lane=later[0]) if joins else END
        found.append(
            lane(
                name,
                *(made(n, kind, amount, lanes, name) for n, (kind, amount) in enumerate(drawn)),
                then=then,
            )
        )
    goals = (Goal(id="g", event="bought", within_days=20),) if draw(st.booleans()) else ()
    times = draw(st.sampled_from([None, Moved.OFFICE, SendingTimes(quiet_yearly=("12-01",))]))
    return document(*found, goals=goals, times=times)


class RehearsalAndLife(TestCase):
    """A worker that looks every few minutes does what the rehearsal says, step by step."""

    SEEN: Counter[str] = Counter()

    @settings(max_examples=150, deadline=None)
    @example(
        document(
            lane("a", send("a1"), wait("w", 3), send("a2"), then=END),
            goals=(Goal(id="g", event="bought", within_days=20),),
        ),
        30,
        "Asia/Kathmandu",
        1,
        7,
    )
    @given(
        sequences(),
        st.none() | st.integers(0, 72) | st.integers(0, 400),
        st.sampled_from(["Europe/London", "Asia/Kathmandu", "America/New_York"]),
        st.integers(0, 3),
        st.integers(1, 13),
    )
    def test_they_agree(
        self, doc: SequenceDocument, bought: int | None, zone: str, gap: int, every: int
    ) -> None:
        person = replace(INES, time_zone=zone)
        journey = replace(JOURNEY, gap=days(gap))
        assumed: tuple[Assumption, ...] = ()
        buys_at = None
        if bought is not None:
            assumed = (
                Assumption(
                    kind="event", about="bought", after=Duration(amount=bought, unit="hours")
                ),
            )
            buys_at = START + timedelta(hours=bought)
        until = START + timedelta(days=60)
        told = rehearse(doc, "a", person, START, journey, assumed, until)
        expected = [
            (one.kind, one.step or one.says, one.at)
            for one in told.entries
            if one.kind in ("sends", "ends")
        ]
        got: list[tuple[str, str, datetime]] = []
        run, now = begin(doc, doc.lanes[0], person, START, journey), START
        while now <= until and run.ended is None:
            # What happens to somebody is looked at when it happens; what is due, by the next look.
            if buys_at is not None and now >= buys_at:
                event = Happening(what="event", about="bought", at=buys_at)
                person, now, buys_at = (
                    replace(person, happened=(*person.happened, event)),
                    buys_at,
                    None,
                )
            result = advance(run, doc, person, now, journey)
            run, person = result.run, result.person
            for effect in result.effects:
                if isinstance(effect, SendMessage):
                    got.append(("sends", effect.step, effect.at))
                elif effect.kind == "ended":
                    got.append(("ends", effect.reason, effect.at))
            now += timedelta(minutes=every)
            if run.due_at is not None and run.due_at > now:
                # Nothing can happen before then: the looks in between are left out.
                coming = min(run.due_at, buys_at) if buys_at is not None else run.due_at
                behind = (coming - START) // timedelta(minutes=every)
                now = max(now, START + timedelta(minutes=every) * (behind + 1))
        self.assertEqual(got, [one for one in expected if one[2] <= until][: len(got)])
        self.assertGreaterEqual(
            len(got), len([one for one in expected if one[2] <= until - timedelta(minutes=30)])
        )
        self.SEEN.update(kind for kind, _, _ in got)
        self.SEEN.update(reason for kind, reason, _ in got if kind == "ends")

    @classmethod
    def tearDownClass(cls) -> None:
        """The generator made what the test is about."""
        assert cls.SEEN["sends"] > 60, cls.SEEN
        assert cls.SEEN["finished"] > 10, cls.SEEN
        assert cls.SEEN["goal"] > 0, cls.SEEN


class Long(TestCase):
    def test_a_year_of_daily_steps_is_rehearsed_whole(self) -> None:
        parts: list[Any] = []
        for day in range(365):
            parts += [send(f"s{day}"), wait(f"w{day}", 1)]
        found = rehearse(document(lane("a", *parts)), "a", INES, START, JOURNEY)
        self.assertEqual(len(emails(found)), 365)
        self.assertFalse(found.cut)

    def test_a_field_condition_is_read_with_its_field(self) -> None:
        when = Group(of=(FieldTest(field="f-look", op="is", value="moon"),))
        split = SplitStep(id="s", of=(SplitBranch(id="m", when=when, way=END),), otherwise=Way())
        doc = document(lane("a", split, send("a1")))
        moon = replace(INES, values={"interest": "moon"})
        self.assertEqual((len(emails(walked(doc, moon))), len(emails(walked(doc)))), (0, 1))


class Ahead(TestCase):
    @settings(max_examples=60, deadline=None)
    @given(sequences(), st.sampled_from(["Europe/London", "Asia/Kathmandu"]), st.integers(0, 2))
    def test_of_one_run_it_is_the_rehearsal(
        self, doc: SequenceDocument, zone: str, gap: int
    ) -> None:
        person = replace(INES, time_zone=zone)
        journey = replace(JOURNEY, gap=days(gap))
        until = START + timedelta(days=30)
        told = rehearse(doc, "a", person, START, journey, (), until)
        expected = [(one.step, one.at) for one in told.entries if one.kind == "sends"]
        run = begin(doc, doc.lanes[0], person, START, journey)
        found = ahead_of(person, [UnderWay(run, doc, journey)], START, until)
        self.assertEqual([(one.step, one.at) for one in found], expected)

    def test_the_gap_counts_over_all_sequences_and_the_higher_priority_goes_first(self) -> None:
        journey = replace(JOURNEY, gap=days(2))
        low = document(lane("a", wait("w", 1), send("low")))
        high = document(lane("a", wait("w", 1), send("high")), priority=3)
        runs = [
            UnderWay(advance(RunState(lane="a"), doc, INES, START, journey).run, doc, journey)
            for doc in (low, high)
        ]
        found = ahead_of(INES, runs, START, START + timedelta(days=30))
        self.assertEqual(
            [(one.step, (one.at - START).days, len(one.moves)) for one in found],
            [("high", 1, 0), ("low", 3, 1)],
        )

    def test_what_another_document_alters(self) -> None:
        def coming(message: str, day: int) -> Coming:
            at = START + timedelta(days=day)
            return Coming(sequence="s", step="x", message=message, at=at, asked_for=False)

        same, sooner, later = coming("same", 1), coming("late", 2), coming("late", 3)
        ways = [
            ((same, sooner, coming("gone", 4)), (same, later)),
            ((same, sooner), (same, sooner, coming("new", 5))),
            ((coming("gone", 4),), ()),
        ]
        self.assertEqual(
            altered(ways),
            (
                Altered(message="gone", before=2, after=0),
                Altered(message="new", before=0, after=1),
                Altered(message="late", before=1, after=1, at_another_time=1),
            ),
        )
        self.assertEqual(altered([(way, way) for way, _ in ways]), ())

    def test_what_is_expected_is_the_mean_of_the_weekday(self) -> None:
        first = date(2026, 3, 4)  # A Wednesday.
        counts = {first - timedelta(days=n): n for n in range(1, 29)}
        counts[first] = 1_000  # Not over yet, so it says nothing.
        found = expected_by_day(counts, first, 31)
        self.assertEqual(len(found), 31)
        for day, count in found.items():
            same = [
                n for one, n in counts.items() if one < first and one.weekday() == day.weekday()
            ]
            self.assertEqual((len(same), count), (4, round(sum(same) / 4)), day)


class Starts(TestCase):
    def test_each_opens_with_what_is_missing_listed_and_can_be_rehearsed(self) -> None:
        self.assertEqual(len(STARTS), 6)
        for one in STARTS:
            with self.subTest(one.key):
                found = {code for code, _ in codes(one.document)}
                self.assertLessEqual(
                    found,
                    {"no_list", "line_unfinished", "condition_gone", "split_without_difference"},
                )
                self.assertIn("line_unfinished", found)
                self.assertEqual(last(walked(one.document)).kind, "ends")
                stored = SequenceDocument.model_validate_json(one.document.model_dump_json())
                self.assertEqual(stored, one.document)
