"""Refusals of mail servers, by RFC 5321 4.2.3 and the examples and tables of RFC 3463 3.2 to 3.8."""

from unittest import TestCase

from core.messages import refuses_address


class Refusals(TestCase):
    def test_those_of_the_address(self) -> None:
        for reply in (
            "550 5.1.1 no such user here",
            "550 Requested action not taken: mailbox unavailable",
            "551 5.1.6 mailbox has moved",
            "553 mailbox name not allowed",
            "550-5.1.10 the domain takes no mail",
            "550 5.2.1 mailbox disabled",
        ):
            self.assertTrue(refuses_address(reply), reply)

    def test_those_of_something_else(self) -> None:
        for reply in (
            "450 4.2.1 mailbox busy",
            "451 4.7.1 try again later",
            "452 4.2.2 mailbox full",
            "550 5.7.1 message refused by policy",
            "554 5.6.0 message content",
            "550 5.2.2 mailbox full",
            "554 no SMTP service here",
            "550 5.1.8 bad sender's system address",
            "the mail server cannot be reached: refused",
            "",
        ):
            self.assertFalse(refuses_address(reply), reply)
