"""What mail servers and mail programs send back: bounces (RFC 3464), complaints (RFC 5965), and answers
by themselves (RFC 3834)."""

import smtplib
from datetime import UTC, datetime
from email import message_from_bytes, policy
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid

from . import settings
from .mailbox import Received


def bounce(sender: str, address: str, content: bytes) -> None:
    """Say that an email could not be delivered after all."""
    original = message_from_bytes(content, policy=policy.default)
    message = _report("delivery-status", sender, "Undelivered Mail Returned to Sender")
    message.attach(_text("Your message could not be delivered. The mailbox is no longer there."))
    status = (
        "Reporting-MTA: dns; mail.example\r\n\r\n"
        f"Final-Recipient: rfc822; {address}\r\nAction: failed\r\nStatus: 5.1.1\r\n"
        "Diagnostic-Code: smtp; 550 5.1.1 The mailbox is no longer there\r\n"
    )
    message.attach(_part("message/delivery-status", status))
    message.attach(_part("text/rfc822-headers", f"Message-ID: {original['Message-ID']}\r\n"))
    _send(sender, message)


def complain(one: Received) -> None:
    """Report an email as spam, as a mail provider does."""
    message = _report("feedback-report", one.sender, "Complaint about a message")
    message.attach(_text("A person reported this message as spam."))
    report = (
        "Feedback-Type: abuse\r\nUser-Agent: Outside/1\r\nVersion: 1\r\n"
        f"Original-Mail-From: <{one.sender}>\r\nOriginal-Rcpt-To: <{one.recipients[0]}>\r\n"
    )
    message.attach(_part("message/feedback-report", report))
    message.attach(_part("text/rfc822-headers", f"Message-ID: {one.message['Message-ID']}\r\n"))
    _send(one.sender, message)


def answer_by_itself(sender: str, address: str, content: bytes) -> None:
    """Say that somebody is away."""
    original = message_from_bytes(content, policy=policy.default)
    message = EmailMessage()
    message["From"], message["To"] = address, sender
    message["Subject"] = "Away until Monday"
    message["Date"], message["Message-ID"] = format_datetime(datetime.now(UTC)), make_msgid()
    message["In-Reply-To"] = str(original["Message-ID"])
    message["Auto-Submitted"] = "auto-replied"
    message.set_content("I read my mail again on Monday.")
    _send(sender, message)


def unsubscribe_by_mail(one: Received, address: str) -> None:
    """Write to the address of List-Unsubscribe, as mail programs do that know no other way."""
    message = EmailMessage()
    message["From"], message["To"], message["Subject"] = one.recipients[0], address, "unsubscribe"
    message["Date"], message["Message-ID"] = format_datetime(datetime.now(UTC)), make_msgid()
    message.set_content("unsubscribe")
    _send(address, message, one.recipients[0])


def _report(kind: str, to: str, subject: str) -> EmailMessage:
    message = EmailMessage()
    message["From"], message["To"], message["Subject"] = "MAILER-DAEMON@mail.example", to, subject
    message["Date"], message["Message-ID"] = format_datetime(datetime.now(UTC)), make_msgid()
    message["MIME-Version"] = "1.0"
    message["Content-Type"] = f'multipart/report; report-type={kind}; boundary="outside-report"'
    message.set_payload([])
    return message


def _text(words: str) -> EmailMessage:
    part = EmailMessage()
    part.set_content(words)
    return part


def _part(kind: str, content: str) -> EmailMessage:
    part = EmailMessage()
    part["Content-Type"] = kind
    part.set_payload(content)
    return part


def _send(to: str, message: EmailMessage, sender: str = "") -> None:
    """Hand it to the server of the domain that it is for; reports have no sender of their own."""
    with smtplib.SMTP("127.0.0.1", settings.INBOUND_PORT, timeout=10) as server:
        server.sendmail(sender, [to], message.as_bytes())
