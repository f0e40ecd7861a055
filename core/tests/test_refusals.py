"""Refusals of mail servers, by RFC 5321 4.2.3 and the examples and tables of RFC 3463 3.2 to 3.8; the words of
common mail servers are from memory."""

from unittest import TestCase

from core.delivering import judge_refusal


class Refusals(TestCase):
    def test_those_of_the_mailbox_are_answers_to_rcpt_alone(self) -> None:
        for reply in (
            "550 5.1.1 no such user here",
            "550 Requested action not taken: mailbox unavailable",
            "550 No such user here",
            "550 Unknown user",
            "550 <ines@example.com>: Recipient address rejected: User unknown in virtual mailbox table",
            "551 5.1.6 mailbox has moved",
            "551 User not local; please try <forward-path>",
            "553 mailbox name not allowed",
            "550-5.1.10 the domain takes no mail",
            "550 5.2.1 mailbox disabled",
        ):
            self.assertEqual(judge_refusal("rcpt", reply).fault, "mailbox", reply)
            for stage in ("mail", "data"):
                self.assertEqual(judge_refusal(stage, reply).fault, "sending", (stage, reply))

    def test_those_of_the_sender_a_relay_policy_or_content_touch_no_address(self) -> None:
        for stage, reply in (
            ("mail", "550 Sender address rejected: not owned by user"),
            ("mail", "553 5.1.8 not you"),
            ("mail", "530 5.7.0 Authentication required"),
            ("rcpt", "550 Sender address rejected: user unknown"),
            ("rcpt", "550 relay not permitted"),
            ("rcpt", "554 5.7.1 <ines@example.com>: Relay access denied"),
            ("rcpt", "550 5.7.1 message refused by policy"),
            ("rcpt", "550 5.7.606 Access denied, banned sending IP"),
            ("rcpt", "550 Service unavailable; client host blocked using a list"),
            ("rcpt", "550 5.2.2 mailbox full"),
            ("rcpt", "550 5.3.4 message too big"),
            ("rcpt", "550 administrative prohibition"),
            ("rcpt", "552 5.6.0 odd"),
            ("data", "554 5.6.0 message content"),
            ("data", "554 5.7.1 no"),
            ("data", "550 spam detected"),
            ("connect", "554 no SMTP service here"),
        ):
            self.assertEqual(judge_refusal(stage, reply).fault, "sending", reply)  # type: ignore[arg-type]

    def test_those_that_pass(self) -> None:
        for stage, reply, soft in (
            ("rcpt", "450 4.2.1 mailbox busy", True),
            ("rcpt", "452 4.2.2 mailbox full", True),
            ("rcpt", "450 mailbox unavailable", True),
            ("rcpt", "451 4.7.1 try again later", False),
            ("mail", "421 4.3.2 busy", False),
            ("mail", "450 4.1.8 sender address: domain not found", False),
            ("data", "451 4.3.0 local error", False),
            ("rcpt", "the mail server cannot be reached: refused", False),
            ("rcpt", "", False),
        ):
            found = judge_refusal(stage, reply)  # type: ignore[arg-type]
            self.assertEqual((found.fault, found.soft_mailbox), ("passing", soft), reply)
