"""Consent and its transitions."""

from unittest import TestCase

from core.membership import may_be_sent_marketing, subscribe, unsubscribe


class Transitions(TestCase):
    def test_subscribing(self) -> None:
        self.assertEqual(subscribe("none", own_opt_in=False).to, "subscribed")
        self.assertEqual(subscribe("subscribed", own_opt_in=False).refused, "")

    def test_nobody_is_brought_back_by_a_rule(self) -> None:
        for state in ("unsubscribed", "bounced", "complained"):
            self.assertEqual(subscribe(state, own_opt_in=False).to, state)
            self.assertTrue(subscribe(state, own_opt_in=False).refused)
        self.assertEqual(subscribe("unsubscribed", own_opt_in=True).to, "subscribed")
        self.assertEqual(subscribe("complained", own_opt_in=True).to, "complained")

    def test_leaving_is_always_possible_and_a_complaint_stays(self) -> None:
        self.assertEqual(unsubscribe("subscribed").to, "unsubscribed")
        self.assertEqual(unsubscribe("pending").to, "unsubscribed")
        self.assertEqual(unsubscribe("complained").to, "complained")

    def test_only_subscribers_get_marketing(self) -> None:
        for state in ("none", "pending", "unsubscribed", "bounced", "complained"):
            self.assertFalse(may_be_sent_marketing(state))
        self.assertTrue(may_be_sent_marketing("subscribed"))
