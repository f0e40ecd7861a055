"""What mail servers and mail programs send back: bounces (RFC 3464), complaints (RFC 5965), and answers
by themselves (RFC 3834). Reports are written out here, part by part."""

import smtplib
from datetime import UTC, datetime
from email import message_from_bytes, policy
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid

from . import settings
from .mailbox import Received

_REPORT = """\
From: Mail Delivery <MAILER-DAEMON@mail.example>
To: {to}
Subject: {subject}
Date: {date}
Message-ID: {identity}
MIME-Version: 1.0
Content-Type: multipart/report; report-type={kind}; boundary="outside-report"

--outside-report
Content-Type: text/plain; charset=us-ascii

{words}

--outside-report
Content-Type: message/{kind}

{report}

--outside-report
Content-Type: text/rfc822-headers

Message-ID: {about}

--outside-report--
"""


def bounce(sender: str, address: str, content: bytes) -> None:
    """Say that an email could not be delivered after all."""
    original = message_from_bytes(content, policy=policy.default)
    report = (
        "Reporting-MTA: dns; mail.example\n\n"
        f"Final-Recipient: rfc822; {address}\nAction: failed\nStatus: 5.1.1\n"
        "Diagnostic-Code: smtp; 550 5.1.1 The mailbox is no longer there"
    )
    words = "Your message could not be delivered. The mailbox is no longer there."
    _report("delivery-status", sender, "Undelivered Mail", words, report, original["Message-ID"])


def complain(one: Received) -> None:
    """Report an email as spam, as a mail provider does."""
    report = (
        "Feedback-Type: abuse\nUser-Agent: Outside/1\nVersion: 1\n"
        f"Original-Mail-From: <{one.sender}>\nOriginal-Rcpt-To: <{one.recipients[0]}>"
    )
    words = "A person reported this message as spam."
    about = one.message["Message-ID"]
    _report("feedback-report", one.sender, "Complaint about a message", words, report, about)


def answer_by_itself(sender: str, address: str, content: bytes) -> None:
    """Say that somebody is away."""
    original = message_from_bytes(content, policy=policy.default)
    message = _message(address, sender, "Away until Monday", "I read my mail again on Monday.")
    message["In-Reply-To"] = str(original["Message-ID"])
    message["Auto-Submitted"] = "auto-replied"
    _send("", sender, message.as_bytes())


def reply(one: Received, words: str) -> None:
    """Write back to the return address, as a mail program does that looks at no Reply-To."""
    person = one.recipients[0]
    message = _message(person, one.sender, f"Re: {one.message.get('Subject', '')}", words)
    message["In-Reply-To"] = str(one.message["Message-ID"])
    _send(person, one.sender, message.as_bytes())


def unsubscribe_by_mail(one: Received, address: str) -> None:
    """Write to the address of List-Unsubscribe, as mail programs do that know no other way."""
    person = one.recipients[0]
    _send(person, address, _message(person, address, "unsubscribe", "unsubscribe").as_bytes())


def _message(sender: str, to: str, subject: str, words: str) -> EmailMessage:
    message = EmailMessage()
    message["From"], message["To"], message["Subject"] = sender, to, subject
    message["Date"], message["Message-ID"] = format_datetime(datetime.now(UTC)), make_msgid()
    message.set_content(words)
    return message


def _report(kind: str, to: str, subject: str, words: str, report: str, about: str) -> None:
    text = _REPORT.format(
        to=to,
        subject=subject,
        date=format_datetime(datetime.now(UTC)),
        identity=make_msgid(),
        kind=kind,
        words=words,
        report=report,
        about=about,
    )
    # A report has no sender that could get one itself (RFC 3464 2).
    _send("", to, text.replace("\n", "\r\n").encode())


def _send(sender: str, to: str, content: bytes) -> None:
    """Hand it to the server of the domain that it is for."""
    with smtplib.SMTP("127.0.0.1", settings.INBOUND_PORT, timeout=10) as server:
        server.sendmail(sender, [to], content)
