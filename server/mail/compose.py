"""An email as it goes out: RFC 5322, with HTML and plain-text parts."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid

from django.core.mail import EmailMultiAlternatives

from .headers import WIRE, WIRE_UTF8, addr_spec, mailbox, needs_utf8

Signer = Callable[[bytes], bytes]
"""Puts a signature before a message."""


@dataclass(frozen=True)
class Attached:
    """A file that goes with an email."""

    name: str
    content_type: str
    content: bytes


@dataclass(frozen=True)
class Letter:
    """What an email is made of. `leave` is the address for unsubscribing."""

    identity: str
    sender_name: str
    sender_address: str
    to: str
    subject: str
    html: str
    text: str
    leave: str
    date: datetime
    language: str = ""
    list_id: str = ""
    """Names the list (RFC 2919), such as `news.lists.example`."""
    list_name: str = ""
    reply_to: str = ""
    leave_mail: str = ""
    """A mail address for unsubscribing (RFC 2369)."""
    envelope: str = ""
    """Where what comes back goes: the sender of the envelope; empty: the sender's address."""
    automatic: bool = False
    """Whether a program sends it because of what somebody has just done (RFC 3834 5)."""
    files: tuple[Attached, ...] = ()


class Finished:
    """A message whose bytes are fixed, as Django's SMTP backend asks for them."""

    def __init__(self, content: bytes) -> None:
        self._content = content

    def as_bytes(self, **_: object) -> bytes:
        return self._content


class _Email(EmailMultiAlternatives):
    """Hands a finished message to Django's mail backend as it stands."""

    def __init__(
        self, message: EmailMessage, sender: str, to: str, signer: Signer | None = None
    ) -> None:
        text, html = message.get_body(("plain",)), message.get_body(("html",))
        super().__init__(
            subject=str(message["Subject"]),
            body=str(text.get_content()) if text is not None else "",
            from_email=sender,
            to=[to],
        )
        if html is not None:
            self.attach_alternative(str(html.get_content()), "text/html")
        content = message.as_bytes()
        self._finished = Finished(signer(content) if signer else content)

    def message(self, **_: object) -> Finished:  # type: ignore[override]
        return self._finished


def compose(letter: Letter) -> EmailMessage:
    """The message, with the headers of RFC 5322, those of lists (RFC 2369, RFC 2919), and one-click
    unsubscribing by RFC 8058."""
    message = _headed(
        letter.sender_name, letter.sender_address, letter.to, letter.subject, letter.date
    )
    domain = letter.sender_address.rpartition("@")[2]
    message["Message-ID"] = f"<{letter.identity}@{domain}>"
    if letter.reply_to:
        message["Reply-To"] = addr_spec(letter.reply_to)
    if letter.list_id:
        message["List-Id"] = mailbox(letter.list_name, letter.list_id, bare=True)
    by_mail = f", <mailto:{letter.leave_mail}?subject=unsubscribe>" if letter.leave_mail else ""
    message["List-Unsubscribe"] = f"<{letter.leave}>{by_mail}"
    message["List-Unsubscribe-Post"] = "List-Unsubscribe=One-Click"
    if letter.automatic:
        message["Auto-Submitted"] = "auto-generated"
    if letter.language:
        message["Content-Language"] = letter.language
    message.set_content(letter.text, cte="quoted-printable")
    message.add_alternative(letter.html, subtype="html", cte="quoted-printable")
    for one in letter.files:
        kind, _, subkind = one.content_type.partition("/")
        message.add_attachment(
            one.content, maintype=kind, subtype=subkind or "octet-stream", filename=one.name
        )
    return message


def _headed(
    sender_name: str, sender_address: str, to: str, subject: str, date: datetime
) -> EmailMessage:
    """An empty message with the headers that every one has."""
    utf8 = needs_utf8(sender_address, to)
    message = EmailMessage(policy=WIRE_UTF8 if utf8 else WIRE)
    message["From"] = mailbox(sender_name, sender_address)
    message["To"] = addr_spec(to)
    message["Subject"] = " ".join(subject.split())
    message["Date"] = format_datetime(date)
    return message


def to_send(letter: Letter, signer: Signer | None = None) -> EmailMultiAlternatives:
    """The message, for Django's mail backend, signed where the domain signs."""
    return _Email(compose(letter), letter.envelope or letter.sender_address, letter.to, signer)


def notice(
    sender_name: str,
    sender_address: str,
    to: str,
    subject: str,
    date: datetime,
    text: str,
    html: str,
) -> EmailMultiAlternatives:
    """An email that is no message of a list: to a member, or a link that a person asked for.

    It says that a program sent it (RFC 3834 5).
    """
    message = _headed(sender_name, sender_address, to, subject, date)
    message["Message-ID"] = make_msgid(domain=sender_address.rpartition("@")[2])
    message["Auto-Submitted"] = "auto-generated"
    message.set_content(text, cte="quoted-printable")
    message.add_alternative(html, subtype="html", cte="quoted-printable")
    return _Email(message, sender_address, to)
