"""The one decision for an email, and its life."""

from datetime import UTC, datetime, time, timedelta
from itertools import product
from typing import get_args
from unittest import TestCase
from zoneinfo import ZoneInfo

from core.delivering import (
    TRANSITIONS,
    Duration,
    Email,
    EmailState,
    Held,
    Mover,
    NotBefore,
    Now,
    Recipient,
    Sending,
    SendingTimes,
    Verdict,
    Withdrawn,
    decide_email,
    never_fits,
    sources_of,
)
from core.people import MembershipState

OFFICE = SendingTimes(weekdays=(1, 2, 3, 4, 5), begins=time(9), ends=time(17))
NOON = datetime(2027, 3, 2, 12, tzinfo=UTC)
"""A Tuesday."""
LIST = "l-news"
SUBSCRIBER = Recipient(membership="subscribed")


def verdict(
    now: datetime = NOON,
    *,
    promised: bool = False,
    times: SendingTimes = OFFICE,
    to: Recipient = SUBSCRIBER,
    **more: object,
) -> Verdict:
    email = {key: more.pop(key) for key in ("any_hour", "retry_at", "probes") if key in more}
    belongs = more.pop("list", LIST)
    return decide_email(
        Email(promised=promised, list=belongs, **email),  # type: ignore[arg-type]
        to,
        Sending(times=times, **more),  # type: ignore[arg-type]
        now,
    )


class Deciding(TestCase):
    def test_who_may_get_it_in_every_state(self) -> None:
        """Marketing goes to subscribers alone; what was asked for just now goes to everybody."""
        count = 0
        for state, promised, suppressed, belongs in product(
            get_args(MembershipState), (True, False), (True, False), (LIST, None)
        ):
            to = Recipient(membership=state, suppressed=suppressed)
            found = verdict(promised=promised, to=to, list=belongs)
            may = promised or (belongs is not None and state == "subscribed" and not suppressed)
            self.assertIsInstance(found, Now if may else Withdrawn, (state, promised, suppressed))
            count += 1
        self.assertEqual(count, 48)

    def test_a_full_hour_moves_it_and_then_the_hours_count_again(self) -> None:
        """An hour that is full at 16:50 leads to the next morning, never to 17:00."""
        late = NOON.replace(hour=16, minute=50)
        found = verdict(late, full_until=NOON.replace(hour=17), full_why="the limit of this hour")
        assert isinstance(found, NotBefore)
        self.assertEqual(found.at, datetime(2027, 3, 3, 9, tzinfo=UTC))
        self.assertEqual([one.by for one in found.moves], ["limit", "hours"])
        self.assertEqual(found.because, "the limit of this hour, sending hours")

    def test_a_retry_comes_within_the_hours_too(self) -> None:
        found = verdict(NOON.replace(hour=16, minute=59), retry_at=NOON.replace(hour=17, minute=4))
        assert isinstance(found, NotBefore)
        self.assertEqual(found.at, datetime(2027, 3, 3, 9, tzinfo=UTC))
        # What was asked for is tried again at once.
        found = verdict(NOON.replace(hour=21), promised=True, retry_at=NOON.replace(hour=20))
        self.assertIsInstance(found, Now)
        found = verdict(NOON, promised=True, retry_at=NOON + timedelta(minutes=5))
        assert isinstance(found, NotBefore)
        self.assertEqual(found.at, NOON + timedelta(minutes=5))

    def test_the_longer_of_both_gaps_counts_from_when_the_last_one_left(self) -> None:
        last = NOON - timedelta(hours=20)
        for workspace, own, days in ((1, 0, 1), (0, 1, 1), (1, 3, 3), (3, 1, 3)):
            to = Recipient(membership="subscribed", gap_days=own, last_marketing_at=last)
            gap = Duration(amount=workspace, unit="days")
            found = verdict(to=to, gap=gap, times=SendingTimes())
            assert isinstance(found, NotBefore)
            self.assertEqual(found.at, last + timedelta(days=days))

    def test_any_hour_still_minds_gaps_and_limits(self) -> None:
        night = NOON.replace(hour=2)
        self.assertIsInstance(verdict(night, any_hour=True), Now)
        self.assertIsInstance(verdict(night), NotBefore)
        full = night + timedelta(hours=1)
        found = verdict(night, any_hour=True, full_until=full, full_why="full")
        assert isinstance(found, NotBefore)
        self.assertEqual(found.at, full)

    def test_on_hold_nothing_goes_but_the_one_that_tries(self) -> None:
        found = verdict(on_hold="the sender is refused")
        assert isinstance(found, Held)
        self.assertEqual(found.code, "on_hold")
        self.assertIsInstance(verdict(on_hold="the sender is refused", probes=True), Now)
        # Whoever may not get it gets no try either.
        gone = Recipient(membership="unsubscribed")
        self.assertIsInstance(verdict(on_hold="x", probes=True, to=gone), Withdrawn)

    def test_where_nothing_fits_it_is_held(self) -> None:
        found = verdict(times=SendingTimes(weekdays=()))
        assert isinstance(found, Held)
        self.assertEqual(found.code, "no_time")

    def test_settings_that_never_fit_are_known_beforehand(self) -> None:
        today = NOON.date()
        quiet = tuple(today + timedelta(days=20 + one) for one in range(70))
        sixty = Duration(amount=60, unit="days")
        for times, gap, fits in (
            (SendingTimes(), None, True),
            (OFFICE, Duration(amount=30, unit="days"), True),
            (SendingTimes(), sixty, True),
            (OFFICE, sixty, False),
            (SendingTimes(quiet_dates=quiet), None, False),
            (SendingTimes(quiet_dates=quiet[:50]), None, True),
            (SendingTimes(weekdays=()), None, False),
        ):
            self.assertEqual(never_fits(times, gap, today) is None, fits, (times, gap))

    def test_in_their_own_zone(self) -> None:
        to = Recipient(membership="subscribed", zone="Asia/Kathmandu")
        found = verdict(to=to)
        assert isinstance(found, NotBefore)
        self.assertEqual(
            found.at, datetime(2027, 3, 3, 9, tzinfo=ZoneInfo("Asia/Kathmandu")).astimezone(UTC)
        )


class Life(TestCase):
    def test_every_state_is_reached_and_none_leads_to_itself(self) -> None:
        states = set(get_args(EmailState))
        self.assertEqual({after for _, after in TRANSITIONS}, states)
        self.assertTrue(all(before != after for before, after in TRANSITIONS))

    def test_what_went_out_never_goes_again(self) -> None:
        self.assertEqual([one for one in TRANSITIONS if one[0] == "sent"], [])

    def test_a_member_sends_again_only_what_is_in_nobodys_hands(self) -> None:
        self.assertEqual(set(sources_of("queued", "member")), {"held", "refused", "unknown"})

    def test_whoever_moves_one_is_named(self) -> None:
        self.assertEqual(
            {who for many in TRANSITIONS.values() for who in many}, set(get_args(Mover))
        )
