"""Consent: its transitions, and that nobody is brought back without an act of their own."""

from datetime import UTC, datetime, timedelta
from typing import get_args
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.people import (
    LINK_LASTS,
    Left,
    MembershipState,
    confirm,
    may_be_sent_marketing,
    subscribe,
    unsubscribe,
)

NOW = datetime(2026, 11, 24, 9, 0, tzinfo=UTC)
STATES = get_args(MembershipState)
# What rules, files, sheets, webhooks, replays and members can do; none of it is the person's act.
NOT_THEIRS = st.sampled_from(["subscribe", "subscribe first", "unsubscribe"])


def after(state: MembershipState, deed: str) -> MembershipState:
    """The state after something that is not the person's own act."""
    if deed == "unsubscribe":
        return unsubscribe(state).to
    return subscribe(state, own_opt_in=False, confirm_first=deed == "subscribe first").to


class Transitions(TestCase):
    def test_single_and_double_opt_in(self) -> None:
        self.assertEqual(subscribe("none", own_opt_in=True).to, "subscribed")
        self.assertEqual(subscribe("none", own_opt_in=True, confirm_first=True).to, "pending")
        self.assertEqual(subscribe("subscribed", False, confirm_first=True).to, "subscribed")

    def test_nothing_but_a_confirmation_ends_pending(self) -> None:
        for own in (True, False):
            for first in (True, False):
                self.assertEqual(subscribe("pending", own, confirm_first=first).to, "pending")

    def test_an_opt_in_that_is_older_than_their_leaving_counts_for_nothing(self) -> None:
        """Every state, whether they left this list or all, and before, at or after that moment."""
        counted = 0
        for state in STATES:
            for left in (Left(this_list=NOW), Left(every_list=NOW)):
                for days in (-1, 0, 1):
                    asked = NOW + timedelta(days=days)
                    to = subscribe(state, True, asked_at=asked, left=left).to
                    without = subscribe(state, True).to
                    self.assertEqual(to, without if days > 0 else state)
                    counted += 1
        self.assertEqual(counted, len(STATES) * 6)

    def test_who_left_every_list_is_put_on_none_by_a_file(self) -> None:
        left = Left(every_list=NOW)
        asked = NOW + timedelta(days=1)
        self.assertTrue(subscribe("none", False, asked_at=asked, left=left).refused)
        self.assertEqual(subscribe("none", True, asked_at=asked, left=left).to, "subscribed")

    def test_a_link_from_before_they_left_confirms_nothing(self) -> None:
        left = Left(this_list=NOW + timedelta(hours=1))
        later = NOW + timedelta(hours=2)
        self.assertTrue(confirm("pending", NOW, later, left).refused)
        self.assertEqual(confirm("pending", later, later, left).to, "subscribed")

    def test_who_left_comes_back_by_an_opt_in_of_their_own(self) -> None:
        for state in ("unsubscribed", "bounced"):
            self.assertTrue(subscribe(state, own_opt_in=False).refused)
            self.assertEqual(subscribe(state, own_opt_in=True).to, "subscribed")
            self.assertEqual(subscribe(state, True, confirm_first=True).to, "pending")

    def test_who_complained_only_by_a_confirmation(self) -> None:
        self.assertTrue(subscribe("complained", own_opt_in=True).refused)
        self.assertTrue(subscribe("complained", own_opt_in=False, confirm_first=True).refused)
        self.assertEqual(subscribe("complained", True, confirm_first=True).to, "pending")

    def test_a_link_confirms_once_and_within_its_time(self) -> None:
        self.assertEqual(confirm("pending", NOW, NOW + LINK_LASTS).to, "subscribed")
        late = confirm("pending", NOW, NOW + LINK_LASTS + timedelta(seconds=1))
        self.assertEqual((late.to, bool(late.refused)), ("pending", True))
        self.assertTrue(confirm("pending", NOW, NOW - timedelta(seconds=1)).refused)
        for state in ("none", "subscribed", "unsubscribed", "bounced", "complained"):
            self.assertEqual(confirm(state, NOW, NOW).to, state)

    def test_leaving_is_always_allowed(self) -> None:
        for state in STATES:
            self.assertFalse(may_be_sent_marketing(unsubscribe(state).to))
        self.assertEqual(unsubscribe("complained").to, "complained")

    @given(st.sampled_from(["unsubscribed", "complained", "bounced"]), st.lists(NOT_THEIRS))
    def test_nothing_but_their_own_act_leads_back(
        self, state: MembershipState, deeds: list[str]
    ) -> None:
        for deed in deeds:
            state = after(state, deed)
            self.assertNotIn(state, ("subscribed", "pending"))
            # A link that is still in an old email confirms nothing either.
            self.assertEqual(confirm(state, NOW, NOW).to, state)

    @given(st.lists(NOT_THEIRS))
    def test_a_list_that_asks_first_subscribes_nobody_who_did_not_confirm(
        self, deeds: list[str]
    ) -> None:
        state: MembershipState = "none"
        for deed in deeds:
            state = after(state, deed if deed == "unsubscribe" else "subscribe first")
            self.assertNotEqual(state, "subscribed")
