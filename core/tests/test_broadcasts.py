"""Broadcasts: who gets one and when, how fast it goes, and what a trial says."""

import random
import unittest
from datetime import UTC, datetime, time, timedelta
from functools import partial
from itertools import pairwise, product
from typing import Any, get_args
from zoneinfo import ZoneInfo

from dateutil import tz
from scipy import stats

from core.broadcasts import (
    EDITABLE,
    OVER,
    PAUSED,
    TRANSITIONS,
    Act,
    Around,
    BroadcastDocument,
    BroadcastState,
    Goes,
    Known,
    LeftOut,
    Plan,
    To,
    Trial,
    Tried,
    Version,
    When,
    acts_in,
    broadcast_differences,
    by_hour,
    check_broadcast,
    difference,
    falls_to,
    first_moment,
    judge_trial,
    needed_each,
    place_of,
    spaced,
    to_in_words,
    trial_in_words,
    wanted_at,
    when_in_words,
    wilson,
    within_limits,
)
from core.conditions import Group, TagTest
from core.delivering import Duration, SendingTimes
from core.people import Catalogue

NOW = datetime(2026, 12, 1, 12, tzinfo=UTC)
ZONES = [
    "Pacific/Kiritimati",
    "Pacific/Auckland",
    "Pacific/Chatham",
    "Australia/Lord_Howe",
    "Australia/Sydney",
    "Asia/Tokyo",
    "Asia/Kathmandu",
    "Asia/Kolkata",
    "Asia/Tehran",
    "Asia/Dubai",
    "Europe/Moscow",
    "Africa/Cairo",
    "Europe/Helsinki",
    "Europe/Berlin",
    "Europe/Lisbon",
    "Europe/London",
    "Europe/Warsaw",
    "Africa/Casablanca",
    "Atlantic/Azores",
    "America/St_Johns",
    "America/Halifax",
    "America/Sao_Paulo",
    "America/New_York",
    "America/Chicago",
    "America/Phoenix",
    "America/Denver",
    "America/Los_Angeles",
    "America/Anchorage",
    "Pacific/Honolulu",
    "Etc/GMT+12",
]
ON = Known(membership="subscribed", zone="Europe/London")


AT_ONCE = When()


def _same(most: int, _: datetime) -> int:
    return most


def plan(when: When = AT_ONCE, **more: Any) -> Plan:
    given: dict[str, Any] = {"list": "news", "start": NOW, "zone": "Europe/London"}
    return Plan(when=when, **{**given, "times": SendingTimes(), **more})


class Life(unittest.TestCase):
    def test_every_state_is_reached_and_left_as_the_table_says(self) -> None:
        states, acts = get_args(BroadcastState), get_args(Act)
        self.assertEqual({act for _, act in TRANSITIONS}, set(acts))
        reached = {"draft"}
        while (
            more := {to for (at, _), ways in TRANSITIONS.items() for to in ways if at in reached}
            - reached
        ):
            reached |= more
        self.assertEqual(reached, set(states))
        for state in states:
            self.assertEqual(not acts_in(state), state in OVER, state)
        self.assertEqual(EDITABLE, ("draft",))
        for state in PAUSED:
            self.assertEqual(set(acts_in(state)), {"resume", "stop"})

    def test_what_began_never_comes_back_to_a_draft(self) -> None:
        begun = {"trying", "going", *PAUSED, *OVER}
        for (state, act), ways in TRANSITIONS.items():
            if state in begun:
                self.assertTrue(set(ways) <= begun, (state, act))


class Places(unittest.TestCase):
    def test_each_reason_by_itself_and_the_first_of_two(self) -> None:
        reasons: list[tuple[dict[str, Any], str]] = [
            ({"got_it": True}, "got_it"),
            ({"suppressed": True}, "suppressed"),
            ({"membership": "unsubscribed"}, "left"),
            ({"membership": "bounced"}, "bounced"),
            ({"membership": "complained"}, "complained"),
            ({"membership": "pending"}, "unconfirmed"),
            ({"membership": "none"}, "not_on_list"),
            ({"lacks": "0"}, "not_meant"),
            ({"less": "less"}, "less"),
            ({"busy": True}, "busy"),
            ({"recent": True}, "recent"),
            ({"hole": "first_name"}, "hole"),
        ]
        base = {"membership": "subscribed", "zone": "Europe/London"}
        self.assertIsInstance(place_of(Known(**base), plan()), Goes)  # type: ignore[arg-type]
        for changed, why in reasons:
            found = place_of(Known(**{**base, **changed}), plan())
            assert isinstance(found, LeftOut), why
            self.assertEqual(found.why, why)
        order = [why for _, why in reasons]
        for (one, why), (other, second) in product(reasons, reasons):
            if "membership" in one and "membership" in other and why != second:
                continue
            found = place_of(Known(**{**base, **one, **other}), plan())
            assert isinstance(found, LeftOut)
            first = min((why, second), key=order.index)
            # Who left is said to have left, whether suppressed or not.
            if "suppressed" in (why, second) and {"membership"} & {*one, *other}:
                first = second if why == "suppressed" else why
            self.assertEqual(found.why, first, (one, other))

    def test_law_first_whatever_else_is_said(self) -> None:
        """Nobody but a subscriber who is not suppressed gets one: every state, counted."""
        seen = 0
        for state in ("none", "pending", "unsubscribed", "bounced", "complained", "subscribed"):
            for suppressed, kind in product((False, True), ("at_once", "at", "local")):
                when = When(kind=kind, at=datetime(2026, 12, 3, 18))
                found = place_of(Known(membership=state, suppressed=suppressed), plan(when))
                seen += 1
                self.assertEqual(isinstance(found, Goes), state == "subscribed" and not suppressed)
        self.assertEqual(seen, 36)

    def test_the_gap_and_the_hours_move_it_or_leave_them_out(self) -> None:
        last = NOW - timedelta(hours=3)
        known = Known(membership="subscribed", zone="Europe/London", last_marketing_at=last)
        gap = Duration(amount=2, unit="days")
        moved = place_of(known, plan(gap=gap))
        assert isinstance(moved, Goes)
        self.assertEqual((moved.at, moved.wanted), (last + timedelta(days=2), NOW))
        self.assertEqual([one.by for one in moved.moves], ["gap"])
        left = place_of(known, plan(When(outside="leave_out"), gap=gap))
        assert isinstance(left, LeftOut)
        self.assertEqual(left.why, "would_wait")
        self.assertIn("every 2 days", left.because)
        hours = SendingTimes(begins=time(18), ends=time(20))
        evening = place_of(ON, plan(times=hours))
        assert isinstance(evening, Goes)
        self.assertEqual(evening.at, datetime(2026, 12, 1, 18, tzinfo=UTC))
        own = place_of(
            Known(membership="subscribed", gap_days=7, last_marketing_at=last), plan(gap=gap)
        )
        assert isinstance(own, Goes)
        self.assertEqual(own.at, last + timedelta(days=7))

    def test_the_clock_of_each_person_in_thirty_zones_over_a_clock_change(self) -> None:
        """Against python-dateutil (without Dublin, whose winter time it counts as a second summer time), on days before, on and after the changes of 2026 and 2027."""
        self.assertEqual(len(ZONES), 30)
        days = [
            (2026, 10, 24),
            (2026, 10, 25),
            (2026, 10, 26),
            (2026, 11, 1),
            (2027, 3, 14),
            (2027, 3, 28),
            (2027, 4, 4),
        ]
        seen = changed = 0
        for (year, month, day), name in product(days, ZONES):
            for clock in (time(1, 30), time(2, 30), time(9), time(18)):
                at = datetime.combine(datetime(year, month, day), clock)
                when = When(kind="local", at=at, delay_minutes=0)
                start = first_moment(
                    when, at.replace(tzinfo=UTC) - timedelta(days=2), "Europe/London"
                )
                found = wanted_at(plan(when, start=start), name)
                theirs = tz.resolve_imaginary(at.replace(tzinfo=tz.gettz(name), fold=0))
                self.assertEqual(found, theirs.astimezone(UTC), (name, at))
                shown = found.astimezone(ZoneInfo(name)).replace(tzinfo=None)
                changed += shown != at
                self.assertGreaterEqual(found, start)
                seen += 1
        self.assertEqual(seen, 7 * 30 * 4)
        self.assertGreater(changed, 0, "no time that a clock jumps over was tried")

    def test_a_time_that_has_passed_where_somebody_is_comes_the_day_after(self) -> None:
        when = When(kind="local", at=datetime(2026, 12, 1, 18), delay_minutes=5)
        start = first_moment(when, datetime(2026, 12, 1, 12, tzinfo=UTC), "Europe/London")
        self.assertEqual(start, datetime(2026, 12, 1, 12, 5, tzinfo=UTC))
        tokyo = place_of(Known(membership="subscribed", zone="Asia/Tokyo"), plan(when, start=start))
        assert isinstance(tokyo, Goes)
        self.assertEqual(tokyo.at, datetime(2026, 12, 2, 9, tzinfo=UTC))
        self.assertTrue(tokyo.next_day)
        london = place_of(ON, plan(when, start=start))
        assert isinstance(london, Goes)
        self.assertEqual(
            (london.at, london.next_day), (datetime(2026, 12, 1, 18, tzinfo=UTC), False)
        )

    def test_without_a_zone_the_workspaces_or_left_out(self) -> None:
        when = When(kind="local", at=datetime(2026, 12, 3, 18))
        nowhere = Known(membership="subscribed")
        found = place_of(nowhere, plan(when))
        assert isinstance(found, Goes)
        self.assertEqual(found.at, datetime(2026, 12, 3, 18, tzinfo=UTC))
        when = when.model_copy(update={"without_zone": "leave_out"})
        self.assertEqual(place_of(nowhere, plan(when)), LeftOut(why="no_zone"))
        at = When(kind="at", at=datetime(2026, 12, 3, 18), without_zone="leave_out")
        self.assertIsInstance(place_of(nowhere, plan(at)), Goes)


class Pacing(unittest.TestCase):
    def test_never_more_than_so_many_within_any_hour(self) -> None:
        chance = random.Random(30)
        for _ in range(60):
            moments = sorted(NOW + timedelta(seconds=chance.randrange(20_000)) for _ in range(300))
            most = chance.choice([1, 7, 60, 250])
            found = spaced(moments, most)
            self.assertTrue(all(at >= wanted for at, wanted in zip(found, moments, strict=True)))
            self.assertEqual(found, sorted(found))
            for number in range(len(found) - most):
                self.assertGreaterEqual(
                    found[number + most] - found[number],
                    timedelta(hours=1) - timedelta(milliseconds=1),
                )
            self.assertTrue(all(b - a >= timedelta(hours=1) / most for a, b in pairwise(found)))
        self.assertEqual(spaced(moments, None), moments)

    def test_hours_within_limits_lose_nobody(self) -> None:
        chance = random.Random(31)
        for _ in range(200):
            wanted = by_hour(
                (NOW + timedelta(minutes=chance.randrange(3000)), chance.randrange(1, 90))
                for _ in range(20)
            )
            most = chance.choice([5, 40, 1000])
            found = within_limits(wanted, partial(_same, most))
            self.assertEqual(sum(found.values()), sum(wanted.values()))
            self.assertLessEqual(max(found.values()), most)
            for hour in found:
                gone = sum(n for at, n in found.items() if at <= hour)
                self.assertLessEqual(gone, sum(n for at, n in wanted.items() if at <= hour))
        self.assertEqual(within_limits(wanted, lambda _: None), wanted)
        self.assertEqual(within_limits({}, lambda _: 1), {})


class Trials(unittest.TestCase):
    def test_wilson_against_scipy(self) -> None:
        for of in (1, 2, 10, 97, 400, 12_345):
            for count in {0, 1, of // 3, of // 2, of - 1, of}:
                low, high = stats.binomtest(count, of).proportion_ci(0.95, "wilson")
                found = wilson(count, of)
                self.assertAlmostEqual(found.low, low, 12)
                self.assertAlmostEqual(found.high, high, 12)
        self.assertEqual((wilson(0, 0).low, wilson(0, 0).high), (0.0, 1.0))

    def test_newcombes_interval_against_the_paper(self) -> None:
        """Newcombe 1998, table II, method 10: its eight examples (from memory)."""
        examples = [
            ((56, 70), (48, 80), (0.0524, 0.3339)),
            ((9, 10), (3, 10), (0.1705, 0.8090)),
            ((6, 7), (2, 7), (0.0582, 0.8062)),
            ((5, 56), (0, 29), (-0.0381, 0.1926)),
            ((0, 10), (0, 20), (-0.1611, 0.2775)),
            ((0, 10), (0, 10), (-0.2775, 0.2775)),
            ((10, 10), (0, 20), (0.6791, 1.0)),
            ((10, 10), (0, 10), (0.6075, 1.0)),
        ]
        for (a, m), (b, n), (low, high) in examples:
            found = difference(
                Tried(version="a", sent=m, count=a), Tried(version="b", sent=n, count=b)
            )
            self.assertAlmostEqual(found.low, low, 4)
            self.assertAlmostEqual(found.high, high, 4)

    def test_the_sample_that_is_needed_shows_a_difference_in_about_80_of_100(self) -> None:
        """By trying: the two-sample test of shares, with generated trials."""
        chance = random.Random(5)
        for one, other in ((0.10, 0.15), (0.20, 0.26), (0.50, 0.60)):
            each = needed_each(one, other)
            assert each is not None
            shown = 0
            for _ in range(400):
                a = sum(chance.random() < one for _ in range(each))
                b = sum(chance.random() < other for _ in range(each))
                middle = (a + b) / (2 * each)
                reach = stats.norm.ppf(0.975) * (2 * middle * (1 - middle) / each) ** 0.5
                shown += abs(a - b) / each > reach
            self.assertAlmostEqual(shown / 400, 0.8, delta=0.07)
        self.assertIsNone(needed_each(0.2, 0.2))

    def test_the_better_one_where_it_is_clear_and_the_first_where_it_is_not(self) -> None:
        def tried(*counts: tuple[int, int]) -> list[Tried]:
            return [
                Tried(version="abcd"[n], sent=sent, count=count)
                for n, (sent, count) in enumerate(counts)
            ]

        clear = judge_trial(tried((400, 40), (400, 90)), "clicked")
        self.assertEqual((clear.version, clear.clear), ("b", True))
        early = judge_trial(tried((400, 40), (400, 50)), "clicked")
        self.assertEqual((early.version, early.clear), ("a", False))
        assert early.needed is not None
        self.assertGreater(early.needed, 400)
        three = judge_trial(tried((400, 40), (400, 90), (400, 95)), "clicked")
        self.assertEqual((three.version, three.clear), ("a", False))
        fewest = judge_trial(tried((1000, 60), (1000, 20)), "fewest_left")
        self.assertEqual((fewest.version, fewest.clear), ("b", True))
        nobody = judge_trial(tried((0, 0), (0, 0)), "clicked")
        self.assertEqual((nobody.version, nobody.clear, nobody.needed), ("a", False, None))

    def test_the_share_falls_evenly_and_each_the_same_each_time(self) -> None:
        document = BroadcastDocument(
            versions=tuple(Version(id=one, message="m") for one in "abc"), trial=Trial(share=30)
        )
        people = [f"person-{number}" for number in range(20_000)]
        falls = [falls_to(document, "one", person) for person in people]
        self.assertEqual(falls, [falls_to(document, "one", person) for person in people])
        for version in "abc":
            self.assertAlmostEqual(falls.count(version) / 20_000, 0.1, delta=0.01)
        self.assertNotEqual(falls, [falls_to(document, "two", person) for person in people])
        self.assertIsNone(falls_to(BroadcastDocument(), "one", "person"))


CATALOGUE = Catalogue(
    lists={"news": "Open-night news"},
    tags={"t": "moon"},
    messages={"m": "Three clear Fridays"},
    audiences={"x": "Recent customers"},
)


def around(**more: Any) -> Around:
    given: dict[str, Any] = {
        "catalogue": CATALOGUE,
        "message_findings": {},
        "sender": "hello@larkmoor.example",
        "postal_address": "1 Dome Road",
        "now": NOW,
        "zone": "Europe/London",
        "counts_clicks": {"m": True},
        "counts_opens": {"m": False},
        "subjects": {"m": "Three Fridays"},
    }
    return Around(**{**given, **more})


WHOLE = BroadcastDocument(to=To(list="news"), versions=(Version(id="a", message="m"),))


class Sheet(unittest.TestCase):
    def codes(self, document: BroadcastDocument, **more: Any) -> list[str]:
        return [one.code for one in check_broadcast(document, around(**more))]

    def test_pre_flight_finds_each_thing_once(self) -> None:
        self.assertEqual(self.codes(WHOLE), [])
        self.assertEqual(self.codes(BroadcastDocument()), ["no_list", "no_message"])
        self.assertEqual(
            self.codes(WHOLE, sender="", postal_address=" "), ["no_sender", "no_postal_address"]
        )
        two = WHOLE.model_copy(update={"versions": (*WHOLE.versions, Version(id="b", message="m"))})
        self.assertEqual(self.codes(two), ["same_version"])
        other = WHOLE.model_copy(
            update={
                "versions": (*WHOLE.versions, Version(id="b", message="m", subject="Clear nights"))
            }
        )
        self.assertEqual(self.codes(other), [])
        self.assertEqual(
            self.codes(other.model_copy(update={"trial": Trial(by="opened")})), ["not_counted"]
        )
        self.assertEqual(
            self.codes(other.model_copy(update={"trial": Trial(by="goal")})), ["no_goal"]
        )
        past = WHOLE.model_copy(update={"when": When(kind="at", at=datetime(2026, 11, 30, 9))})
        self.assertEqual(self.codes(past), ["past"])
        # Where clocks go last it has not passed yet.
        still = WHOLE.model_copy(update={"when": When(kind="local", at=datetime(2026, 12, 1, 9))})
        self.assertEqual(self.codes(still), [])
        self.assertEqual(
            self.codes(WHOLE.model_copy(update={"when": When(kind="at")})), ["no_time"]
        )
        gone = WHOLE.model_copy(update={"to": To(list="news", audiences=("gone",))})
        self.assertEqual(self.codes(gone), ["audience_gone"])

    def test_it_proposes_to_leave_the_new_ones_alone_and_does_not_stop(self) -> None:
        found = check_broadcast(WHOLE, around(ready_tag="t"))
        self.assertEqual([(one.code, one.stops) for one in found], [("not_ready", False)])
        asks = WHOLE.model_copy(update={"to": To(list="news", only=Group(of=(TagTest(tag="t"),)))})
        self.assertEqual(check_broadcast(asks, around(ready_tag="t")), ())

    def test_again_needs_another_subject_and_is_done_once(self) -> None:
        again = WHOLE.model_copy(update={"to": To(list="news", again_of="b1")})
        self.assertEqual(
            self.codes(again, earlier_subjects=frozenset({"Three Fridays"})), ["same_subject"]
        )
        self.assertEqual(self.codes(again, again_already=True), ["again_twice"])

    def test_sentences(self) -> None:
        to = To(
            list="news",
            only=Group(of=(TagTest(tag="t"),)),
            less_audiences=("x",),
            less_recent_days=1,
        )
        self.assertEqual(
            to_in_words(to, CATALOGUE),
            "Everybody on Open-night news who has the tag moon, except anyone in Recent customers or anyone "
            "emailed in the last day",
        )
        when = When(kind="local", at=datetime(2026, 12, 3, 18), per_hour=600, delay_minutes=10)
        self.assertEqual(
            when_in_words(when),
            "Thu 3 Dec 2026 at 18:00, each person's local time · at most 600 an hour · can be called back for 10 minutes",
        )
        two = WHOLE.model_copy(
            update={"versions": (*WHOLE.versions, Version(id="b", message="m", subject="B"))}
        )
        self.assertEqual(
            trial_in_words(two),
            "2 versions go to 20% of them first; after 4 hours the better one, by clicks, goes to the rest",
        )

    def test_differences_say_every_change(self) -> None:
        changed = BroadcastDocument(
            to=To(list="news", less_busy=False),
            versions=(Version(id="a", message="m", subject="New"), Version(id="b", message="m")),
            when=When(per_hour=5),
            page=False,
        )
        found = broadcast_differences(WHOLE, changed, CATALOGUE)
        self.assertEqual(len(found), 5, found)
        self.assertEqual(broadcast_differences(WHOLE, WHOLE, CATALOGUE), ())
