"""How a run goes on, and what pre-flight of a sequence finds."""

from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.delivering import Duration
from core.messages import check_document, simple_message
from core.people import MembershipState, Person
from core.sequences import (
    Advanced,
    EmailSender,
    Journey,
    Lane,
    RunState,
    SendMessage,
    SendStep,
    SequenceDocument,
    Surroundings,
    WaitStep,
    check_sequence,
    step_that_remains,
)
from core.sequences import advance as advanced
from core.tests.observatory import CATALOGUE

START = datetime(2026, 11, 24, 19, 30, tzinfo=UTC)
DAY = Duration(amount=1, unit="days")


def sequence(*steps: Any) -> SequenceDocument:
    return SequenceDocument(list="l-news", again="once_only", lanes=(Lane(id="a", steps=steps),))


def advance(run: RunState, document: SequenceDocument, person: Person, now: datetime) -> Advanced:
    return advanced(run, document, person, now, Journey(catalogue=CATALOGUE))


GUIDE = sequence(
    SendStep(id="s1", message="m-guide", at_once=True),
    WaitStep(id="w1", duration=DAY),
    SendStep(id="s2", message="m-fits"),
)
INES = Person(
    address="i@b.example", memberships={"l-news": "subscribed"}, time_zone="Europe/London"
)


def sent(result: Advanced) -> list[tuple[str, datetime]]:
    return [(one.step, one.at) for one in result.effects if isinstance(one, SendMessage)]


class Advancing(TestCase):
    def test_the_promised_thing_at_once_the_next_a_day_later(self) -> None:
        first = advance(RunState(lane="a", act="submission/1"), GUIDE, INES, START)
        self.assertEqual(sent(first), [("s1", START)])
        self.assertEqual(first.run.due_at, START + timedelta(days=1))
        early = advance(first.run, GUIDE, INES, START + timedelta(hours=23))
        self.assertEqual((early.run, early.effects), (first.run, ()))
        last = advance(first.run, GUIDE, INES, START + timedelta(days=1))
        self.assertEqual(sent(last), [("s2", START + timedelta(days=1))])
        self.assertEqual(last.run.ended, "finished")

    def test_who_has_ended_stays_so(self) -> None:
        over = RunState(lane="a", ended="finished")
        self.assertEqual(advance(over, GUIDE, INES, START).effects, ())

    def test_a_slow_worker_does_not_shift_the_series(self) -> None:
        run = advance(RunState(lane="a", act="submission/1"), GUIDE, INES, START).run
        late = advance(run, GUIDE, INES, START + timedelta(days=1, minutes=4))
        self.assertEqual(sent(late), [("s2", START + timedelta(days=1))])

    def test_after_a_long_stop_the_next_wait_counts_from_now(self) -> None:
        longer = sequence(
            *GUIDE.lanes[0].steps,
            WaitStep(id="w2", duration=DAY),
            SendStep(id="s3", message="m-fits"),
        )
        run = advance(RunState(lane="a", act="submission/1"), longer, INES, START).run
        resumed = advance(run, longer, INES, START + timedelta(days=10))
        self.assertEqual([step for step, _ in sent(resumed)], ["s2"])
        self.assertEqual(resumed.run.due_at, START + timedelta(days=11))

    def test_unsubscribing_ends_it_before_the_next_step(self) -> None:
        run = advance(RunState(lane="a", act="submission/1"), GUIDE, INES, START).run
        left = Person(address="i@b.example", memberships={"l-news": "unsubscribed"})
        result = advance(run, GUIDE, left, START + timedelta(days=1))
        self.assertEqual(sent(result), [])
        self.assertEqual(result.run.ended, "unsubscribed")

    def test_what_was_asked_for_goes_without_a_list_and_nothing_after_it(self) -> None:
        stranger = Person(address="i@b.example")
        first = advance(RunState(lane="a", act="submission/1"), GUIDE, stranger, START)
        self.assertEqual([step for step, _ in sent(first)], ["s1"])
        later = advance(first.run, GUIDE, stranger, START + timedelta(days=1))
        self.assertEqual((sent(later), later.run.ended), ([], "not_on_list"))

    def test_who_confirms_while_they_wait_gets_what_follows(self) -> None:
        asked = Person(address="i@b.example", memberships={"l-news": "pending"})
        run = advance(RunState(lane="a", act="submission/1"), GUIDE, asked, START).run
        self.assertIsNone(run.ended)
        confirmed = advance(run, GUIDE, INES, START + timedelta(days=1))
        self.assertEqual([step for step, _ in sent(confirmed)], ["s2"])

    @given(
        st.lists(st.integers(0, 5), min_size=1, max_size=6),
        st.lists(st.integers(0, 200), min_size=1, max_size=30),
    )
    def test_however_often_it_is_called_each_step_sends_once_and_in_order(
        self, waits: list[int], calls: list[int]
    ) -> None:
        steps: list[Any] = []
        for number, days in enumerate(waits):
            steps.append(WaitStep(id=f"w{number}", duration=Duration(amount=days, unit="days")))
            steps.append(SendStep(id=f"s{number}", message="m-guide"))
        document = sequence(*steps)
        run, seen = RunState(lane="a", act="submission/1"), []
        for hours in sorted(calls):
            result = advance(run, document, INES, START + timedelta(hours=hours))
            run = result.run
            seen += [step for step, _ in sent(result)]
        self.assertEqual(seen, [f"s{number}" for number in range(len(seen))])

    def test_a_day_later_in_the_persons_own_zone_across_the_change_of_clocks(self) -> None:
        # Summer time ends on 25 October 2026 in London (IANA time zone database), so that
        # a day, which keeps the time of the clock (RFC 5545 3.3.6), lasts 25 hours.
        start = datetime(2026, 10, 24, 12, 0, tzinfo=UTC)
        for zone, hours in (("Europe/London", 25), ("Asia/Kathmandu", 24), ("UTC", 24)):
            one = Person(
                address="i@b.example", memberships={"l-news": "subscribed"}, time_zone=zone
            )
            run = advance(RunState(lane="a", act="submission/1"), GUIDE, one, start).run
            self.assertEqual(run.due_at, start + timedelta(hours=hours), zone)

    def test_every_state_of_a_membership(self) -> None:
        expected: tuple[tuple[MembershipState, str, int], ...] = (
            ("subscribed", "finished", 2),
            ("none", "not_on_list", 1),
            ("pending", "not_on_list", 1),
            ("unsubscribed", "unsubscribed", 1),
            ("bounced", "unsubscribed", 1),
            ("complained", "unsubscribed", 1),
        )
        for state, reason, count in expected:
            one = Person(address="i@b.example", memberships={"l-news": state})
            now, run = START, RunState(lane="a", act="submission/1")
            seen: list[tuple[str, datetime]] = []
            for _ in range(3):
                result = advance(run, GUIDE, one, now)
                run, seen = result.run, [*seen, *sent(result)]
                now += timedelta(days=1)
            self.assertEqual((run.ended, len(seen)), (reason, count), state)

    def test_pausing_before_a_wait_is_over_changes_nothing(self) -> None:
        run = advance(RunState(lane="a", act="submission/1"), GUIDE, INES, START).run
        for hours in range(0, 24, 6):
            result = advance(run, GUIDE, INES, START + timedelta(hours=hours))
            self.assertEqual((result.run, result.effects), (run, ()))

    def test_a_lane_that_is_gone_ends_the_run_and_says_so(self) -> None:
        result = advance(RunState(lane="z"), GUIDE, INES, START)
        self.assertEqual(result.run.ended, "step_gone")
        self.assertEqual(sent(result), [])

    def test_a_step_without_its_message_sends_nothing_and_goes_on(self) -> None:
        document = sequence(SendStep(id="s1"), SendStep(id="s2", message="m-fits"))
        result = advance(RunState(lane="a", act="submission/1"), document, INES, START)
        self.assertEqual([step for step, _ in sent(result)], ["s2"])

    def test_each_step_is_come_to_and_gone_on_from_in_order(self) -> None:
        result = advance(RunState(lane="a", act="submission/1"), GUIDE, INES, START)
        self.assertEqual(
            [(one.kind, getattr(one, "step", "")) for one in result.effects],
            [
                ("came_to", "s1"),
                ("send_message", "s1"),
                ("went_on", "s1"),
                ("came_to", "w1"),
            ],
        )


class LiveChanges(TestCase):
    def test_a_step_that_was_moved_to_another_lane_takes_them_along(self) -> None:
        now = SequenceDocument(
            list="l-news",
            lanes=(
                Lane(id="a", steps=GUIDE.lanes[0].steps[:1]),
                Lane(id="b", steps=GUIDE.lanes[0].steps[1:]),
            ),
        )
        self.assertEqual(step_that_remains("w1", GUIDE, now), ("b", "w1"))

    def test_steps_put_before_do_not_draw_them_back(self) -> None:
        now = sequence(SendStep(id="new", message="m-fits"), *GUIDE.lanes[0].steps)
        self.assertEqual(step_that_remains("w1", GUIDE, now), ("a", "w1"))

    def test_a_step_that_no_revision_knows(self) -> None:
        self.assertIsNone(step_that_remains("nowhere", GUIDE, GUIDE))

    def test_a_step_that_stays_keeps_its_people(self) -> None:
        self.assertEqual(step_that_remains("w1", GUIDE, GUIDE), ("a", "w1"))

    def test_a_removed_step_passes_them_to_the_next_that_remains(self) -> None:
        now = sequence(GUIDE.lanes[0].steps[0], GUIDE.lanes[0].steps[2])
        self.assertEqual(step_that_remains("w1", GUIDE, now), ("a", "s2"))

    def test_nothing_remains(self) -> None:
        self.assertIsNone(step_that_remains("w1", GUIDE, sequence(GUIDE.lanes[0].steps[0])))


class PreFlight(TestCase):
    def codes(self, document: SequenceDocument, sender: str = "a@b.example") -> list[str]:
        around = Surroundings(CATALOGUE, {}, sender, "1 Dome Road")
        return [one.code for one in check_sequence(document, around)]

    def test_clear(self) -> None:
        self.assertEqual(self.codes(GUIDE), [])

    def test_what_is_missing(self) -> None:
        self.assertEqual(
            self.codes(SequenceDocument(), sender=""), ["no_sender", "no_list", "nothing_sent"]
        )
        gone = sequence(SendStep(id="s1", message="gone"), SendStep(id="s2"))
        self.assertEqual(self.codes(gone), ["message_gone", "line_unfinished", "two_at_once"])

    def test_a_sender_of_its_own(self) -> None:
        for address, expected in (("noor@larkmoor.example", []), ("noor@", ["sender"])):
            own = GUIDE.model_copy(update={"sender": EmailSender(address=address)})
            self.assertEqual(self.codes(own, sender=""), expected)

    def test_every_marketing_email_shows_a_postal_address(self) -> None:
        for address in ("", "  "):
            found = check_sequence(GUIDE, Surroundings(CATALOGUE, {}, "a@b.example", address))
            self.assertEqual([one.code for one in found], ["no_postal_address"])
            self.assertTrue(found[0].stops)

    def test_at_once_only_behind_the_door(self) -> None:
        steps = (*GUIDE.lanes[0].steps[:2], SendStep(id="s2", message="m-fits", at_once=True))
        self.assertEqual(self.codes(sequence(*steps)), ["at_once_later"])

    def test_a_wait_that_nothing_follows(self) -> None:
        self.assertEqual(self.codes(sequence(*GUIDE.lanes[0].steps[:2])), ["wait_at_end"])

    def test_what_is_wrong_with_a_message_is_said_at_its_step(self) -> None:
        text = simple_message("x")
        found = tuple(check_document("Your guide", text, CATALOGUE.fields, {}, has_file=False))
        result = check_sequence(
            GUIDE, Surroundings(CATALOGUE, {"m-guide": found}, "a@b.example", "1 Dome Road")
        )
        self.assertEqual([(one.code, one.place) for one in result], [("no_text", "s1")])
