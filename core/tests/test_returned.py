"""What comes back: the examples of RFC 3464 and RFC 5965, shapes from memory, and the records of a
sending domain.

The reports are raw bytes; nothing of the package that reads them wrote them.
"""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.messages import (
    DnsLine,
    Returned,
    SendingFacts,
    looked_at,
    read_returned,
    records_needed,
    signs_well,
)


def lines(text: str) -> bytes:
    return text.strip("\n").replace("\n", "\r\n").encode()


# RFC 3464, appendix E.1: a simple delivery status notification, shortened.
SIMPLE = lines("""
Date: Thu, 7 Jul 1994 17:16:05 -0400
From: Mail Delivery Subsystem <MAILER-DAEMON@CS.UTK.EDU>
Message-Id: <199407072116.RAA14128@CS.UTK.EDU>
Subject: Returned mail: Cannot send message for 5 days
To: <owner-info-mime@cs.utk.edu>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status;
      boundary="RAA14128.773615765/CS.UTK.EDU"

--RAA14128.773615765/CS.UTK.EDU

The original message was received at Sat, 2 Jul 1994 17:10:28 -0400
from root@localhost

   ----- The following addresses had delivery problems -----
<louisl@larry.slip.umd.edu>  (unrecoverable error)

<louisl@larry.slip.umd.edu>... Deferred: Connection timed out
      with larry.slip.umd.edu.
Message could not be delivered for 5 days
Message will be deleted from queue

--RAA14128.773615765/CS.UTK.EDU
content-type: message/delivery-status

Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;louisl@larry.slip.umd.edu
Final-Recipient: rfc822;louisl@larry.slip.umd.edu
Action: failed
Status: 4.0.0
Diagnostic-Code: smtp; 426 connection timed out
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400

--RAA14128.773615765/CS.UTK.EDU
content-type: message/rfc822

Message-ID: <0193a7c2-b1de-7000-8000-000000000001@larkmoor.example>
Subject: Your guide

[original message goes here]

--RAA14128.773615765/CS.UTK.EDU--
""")

# RFC 3464, appendix E.2: several recipients, of whom one got it.
MULTIPLE = lines("""
Date: Fri, 8 Jul 1994 09:21:47 -0400
From: Mail Delivery Subsystem <MAILER-DAEMON@CS.UTK.EDU>
Subject: Returned mail: User unknown
To: <mathews@CS.UTK.EDU>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status; boundary="b"

--b
Content-type: text/plain

the original message was received

--b
Content-type: message/delivery-status

Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;arathib@vnet.IBM.COM
Final-Recipient: rfc822;arathib@vnet.IBM.COM
Action: failed
Status: 5.0.0 (permanent failure)
Diagnostic-Code: smtp; 550 'arathib@vnet.IBM.COM' is not a registered gateway user
Remote-MTA: dns; vnet.ibm.com

Original-Recipient: rfc822;johnh@hpnjld.njd.hp.com
Final-Recipient: rfc822;johnh@hpnjld.njd.hp.com
Action: delayed
Status: 4.0.0 (hpnjld.njd.jp.com: host name lookup failure)

Original-Recipient: rfc822;wsnell@sdcc13.ucsd.edu
Final-Recipient: rfc822;wsnell@sdcc13.ucsd.edu
Action: failed
Status: 5.0.0
Diagnostic-Code: smtp; 550 user unknown
Remote-MTA: dns; sdcc13.ucsd.edu

--b--
""")

# RFC 5965, appendix B.2: a feedback report, with the host's names as they stand there.
FEEDBACK = lines("""
From: <abusedesk@example.com>
Date: Thu, 8 Mar 2005 17:40:36 EDT
Subject: FW: Earn money
To: <abuse@example.net>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=feedback-report;
     boundary="part1_13d.2e68ed54_boundary"

--part1_13d.2e68ed54_boundary
Content-Type: text/plain; charset="US-ASCII"
Content-Transfer-Encoding: 7bit

This is an email abuse report for an email message received from IP
192.0.2.1 on Thu, 8 Mar 2005 14:00:00 EDT.

--part1_13d.2e68ed54_boundary
Content-Type: message/feedback-report

Feedback-Type: abuse
User-Agent: SomeGenerator/1.0
Version: 1
Original-Mail-From: <somespammer@example.net>
Original-Rcpt-To: <user@example.com>
Arrival-Date: Thu, 8 Mar 2005 14:00:00 EDT
Reporting-MTA: dns; mail.example.com
Source-IP: 192.0.2.1

--part1_13d.2e68ed54_boundary
Content-Type: message/rfc822
Content-Disposition: inline

From: <somespammer@example.net>
Received: from mailserver.example.net
     by example.com with ESMTP id M63d4137594e46; Thu, 08 Mar 2005 14:00:00 -0400
To: <Undisclosed Recipients>
Subject: Earn money
MIME-Version: 1.0
Content-type: text/plain
Message-ID: <8787KJKJ3K4J3K4J3K4J3.mail@example.net>
Date: Thu, 02 Sep 2004 12:31:03 -0500

Spam Spam Spam
--part1_13d.2e68ed54_boundary--
""")


def report(status: str, diagnostic: str = "", action: str = "failed") -> bytes:
    return lines(f"""
From: MAILER-DAEMON@mx.example
Subject: Undelivered
MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status; boundary="b"

--b
Content-Type: text/plain

It did not arrive.

--b
Content-Type: message/delivery-status

Reporting-MTA: dns; mx.example

Final-Recipient: rfc822; ines@example.com
Action: {action}
Status: {status}
Diagnostic-Code: smtp; {diagnostic}

--b--
""")


class Bounces(TestCase):
    def test_the_example_of_one_recipient(self) -> None:
        found = read_returned(SIMPLE)
        self.assertEqual((found.kind, found.status, found.at_fault), ("soft", "4.0.0", False))
        self.assertEqual(found.reason, "426 connection timed out")
        self.assertEqual(found.failed, {"louisl@larry.slip.umd.edu"})
        self.assertEqual(found.ids, ("0193a7c2-b1de-7000-8000-000000000001@larkmoor.example",))

    def test_the_example_of_several(self) -> None:
        found = read_returned(MULTIPLE)
        self.assertEqual((found.kind, found.status), ("hard", "5.0.0"))
        self.assertIn("arathib@vnet.ibm.com", found.failed)
        self.assertIn("wsnell@sdcc13.ucsd.edu", found.failed)

    def test_what_a_code_says_of_the_address(self) -> None:
        # RFC 3463 3.2 (mailbox does not exist, bad system, moved), 3.3 (disabled, full), 3.8 (policy).
        for status, words, kind, at_fault in (
            ("5.1.1", "550 5.1.1 No such person here", "hard", True),
            ("5.1.2", "550 5.1.2 Host unknown", "hard", True),
            ("5.1.6", "550 5.1.6 Moved", "hard", True),
            ("5.1.10", "556 5.1.10 Recipient takes no mail", "hard", True),
            ("5.2.1", "550 5.2.1 Mailbox disabled", "hard", True),
            ("5.2.2", "552 5.2.2 Mailbox full", "hard", False),
            ("5.7.1", "550 5.7.1 Rejected by policy", "hard", False),
            ("5.0.0", "550 5.1.1 User unknown", "hard", True),
            ("4.2.2", "452 4.2.2 Mailbox full", "soft", False),
            ("4.4.1", "421 4.4.1 No answer", "soft", False),
        ):
            found = read_returned(report(status, words))
            self.assertEqual((found.kind, found.at_fault), (kind, at_fault), words)
            self.assertEqual(found.failed, {"ines@example.com"})
        self.assertEqual(read_returned(report("5.4.7", "timed out", "delayed")).kind, "soft")

    def test_a_report_of_delivery_is_no_bounce(self) -> None:
        for action in ("delivered", "relayed", "expanded"):
            self.assertEqual(read_returned(report("2.0.0", "250 ok", action)).kind, "automatic")

    def test_bounces_that_are_no_reports(self) -> None:
        # From memory, of the kinds that flufl.bounce knows.
        postfix = lines("""
From: MAILER-DAEMON@mx.example (Mail Delivery System)
Subject: Undelivered Mail Returned to Sender
Content-Type: multipart/mixed; boundary="b"

--b
Content-Description: Notification
Content-Type: text/plain

    The Postfix program

<ines@example.com>: unknown user: "ines"

--b--
""")
        qmail = lines("""
From: MAILER-DAEMON@mx.example
Subject: failure notice

Hi. This is the qmail-send program at mx.example.
I'm afraid I wasn't able to deliver your message to the following addresses.
This is a permanent error; I've given up. Sorry it didn't work out.

<ines@example.com>:
Sorry, no mailbox here by that name. (#5.1.1)

--- Below this line is a copy of the message.

Return-Path: <a@b.example>
""")
        for raw in (postfix, qmail):
            found = read_returned(raw)
            self.assertEqual((found.kind, found.at_fault), ("hard", True), raw)
            self.assertEqual(found.failed, {"ines@example.com"})


class Others(TestCase):
    def test_the_example_of_a_complaint(self) -> None:
        found = read_returned(FEEDBACK)
        self.assertEqual((found.kind, found.reason), ("complaint", "reported as abuse"))
        self.assertEqual(found.failed, {"user@example.com"})
        self.assertEqual(found.ids, ("8787KJKJ3K4J3K4J3K4J3.mail@example.net",))
        # Not spam is the opposite of one (RFC 6430).
        self.assertEqual(
            read_returned(FEEDBACK.replace(b"abuse\r\n", b"not-spam\r\n")).kind, "unknown"
        )

    def test_automatic_answers(self) -> None:
        for header in (
            "Auto-Submitted: auto-replied",
            "Precedence: auto_reply",
            "X-Autoreply: yes",
        ):
            raw = lines(
                f"From: ines@example.com\nSubject: Away\nIn-Reply-To: <x@y>\n{header}\n\nI am away."
            )
            self.assertEqual(read_returned(raw).kind, "automatic", header)
        # RFC 3834 5: "no" is a person's.
        raw = lines("From: a@b.example\nSubject: Re: x\nAuto-Submitted: no\n\nHello")
        self.assertEqual(read_returned(raw).kind, "reply")

    def test_replies_name_what_they_answer(self) -> None:
        raw = lines(
            "From: Ines <ines@example.com>\nSubject: Re: Your guide\nIn-Reply-To: <a1@larkmoor.example>\n"
            "References: <a0@larkmoor.example> <a1@larkmoor.example>\n\nThank you!"
        )
        found = read_returned(raw)
        self.assertEqual((found.kind, found.sender), ("reply", "ines@example.com"))
        self.assertEqual(found.ids, ("a1@larkmoor.example", "a0@larkmoor.example"))
        self.assertEqual(
            read_returned(lines("From: x@y.example\nSubject: Hello\n\nHi")).kind, "unknown"
        )

    @given(st.binary(max_size=600))
    def test_whatever_arrives_is_read(self, content: bytes) -> None:
        self.assertIsInstance(read_returned(content), Returned)

    @given(st.integers(min_value=0, max_value=len(SIMPLE)), st.binary(max_size=20))
    def test_a_report_that_is_broken_anywhere_is_read(self, at: int, noise: bytes) -> None:
        self.assertIsInstance(read_returned(SIMPLE[:at] + noise + SIMPLE[at:]), Returned)
        self.assertIsInstance(read_returned(SIMPLE[:at]), Returned)


FACTS = SendingFacts(
    domain="larkmoor.example",
    selector="y1",
    rsa_public="AAAA",
    ed_public="BBBB",
    relay="mail.larkmoor.example",
)
DKIM, ED, SPF, DMARC = [(one.name, one.type) for one in records_needed(FACTS)]


class SendingDomains(TestCase):
    def line(self, key: tuple[str, str], *found: str) -> DnsLine:
        lines = looked_at(FACTS, {key: list(found)})
        return next(one for one in lines if (one.name, one.type) == key)

    def test_where_each_record_stands(self) -> None:
        self.assertEqual(
            [DKIM[0], ED[0], SPF[0], DMARC[0]],
            ["y1._domainkey.larkmoor.example", "y1-ed._domainkey.larkmoor.example",
             "larkmoor.example", "_dmarc.larkmoor.example"],
        )  # fmt: skip

    def test_keys(self) -> None:
        # RFC 6376 3.6.1: tags, white space within the key is nothing, an empty key is revoked.
        for record, state in (
            ("v=DKIM1; k=rsa; p=AAAA", "good"),
            ("v=DKIM1;p=AA AA", "good"),
            ("v=DKIM1; k=rsa; p=AAA", "wrong"),
            ("v=DKIM1; p=", "wrong"),
            ("hello", "missing"),
        ):
            self.assertEqual(self.line(DKIM, record).state, state, record)
        self.assertEqual(self.line(DKIM).state, "missing")
        self.assertEqual(self.line(DKIM, "v=DKIM1; p=AAAA", "v=DKIM1; p=CCCC").state, "wrong")

    def test_spf(self) -> None:
        # RFC 7208 4.5 (one record alone), 5 (mechanisms).
        for records, state in (
            (("v=spf1 a:mail.larkmoor.example ~all",), "good"),
            (
                ("v=spf1 include:other.example a:mail.larkmoor.example -all", "something else"),
                "good",
            ),
            (("v=spf1 include:other.example ~all",), "unknown"),
            (("v=spf1 -all",), "wrong"),
            (("v=spf1 a:mail.larkmoor.example +all",), "wrong"),
            (("v=spf1 a:mail.larkmoor.example all",), "wrong"),
            (("v=spf1 -all", "v=spf1 ~all"), "wrong"),
            (("v=spf10 x",), "missing"),
            ((), "missing"),
        ):
            self.assertEqual(self.line(SPF, *records).state, state, records)

    def test_dmarc(self) -> None:
        for records, state in (
            (("v=DMARC1; p=none",), "good"),
            (("v=DMARC1; p=reject; rua=mailto:x@y.example",), "good"),
            (("v=DMARC1; rua=mailto:x@y.example",), "wrong"),
            (("v=DMARC1; p=none", "v=DMARC1; p=none"), "wrong"),
            ((), "missing"),
        ):
            self.assertEqual(self.line(DMARC, *records).state, state, records)

    def test_signing_waits_for_the_key(self) -> None:
        self.assertFalse(signs_well(records_needed(FACTS)))
        self.assertFalse(signs_well(looked_at(FACTS, {DKIM: None})))
        self.assertTrue(signs_well(looked_at(FACTS, {DKIM: ["v=DKIM1; p=AAAA"]})))

    def test_a_relay_by_its_number(self) -> None:
        for relay, mechanism in (
            ("192.0.2.1", "ip4:192.0.2.1"),
            ("2001:db8::1", "ip6:2001:db8::1"),
        ):
            facts = FACTS.model_copy(update={"relay": relay})
            self.assertIn(mechanism, records_needed(facts)[2].value)
