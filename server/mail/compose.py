"""An email as it goes out: RFC 5322, with HTML and plain-text parts."""

from binascii import b2a_qp
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from email.message import EmailMessage, MIMEPart
from email.utils import format_datetime, make_msgid
from functools import cached_property

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

    @cached_property
    def part(self) -> bytes:
        """The file as a part of an email; the same in every email that it goes with."""
        kind, _, subkind = self.content_type.partition("/")
        part = MIMEPart(policy=WIRE)
        part.set_content(
            self.content,
            maintype=kind,
            subtype=subkind or "octet-stream",
            disposition="attachment",
            filename=self.name,
        )
        return part.as_bytes()


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

    def __init__(self, content: bytes, subject: str, text: str, sender: str, to: str) -> None:
        super().__init__(subject=subject, body=text, from_email=sender, to=[to])
        self._finished = Finished(content)

    def message(self, **_: object) -> Finished:  # type: ignore[override]
        return self._finished


def compose(letter: Letter) -> bytes:
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
    return _whole(message, letter.text, letter.html, [one.part for one in letter.files])


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


def _whole(head: EmailMessage, text: str, html: str, files: Sequence[bytes] = ()) -> bytes:
    """The message with its parts (RFC 2046 5.1). Python's email package would write them line by line,
    which takes four times as long."""
    fold = head.policy.fold_binary
    headers = b"".join(fold(name, value) for name, value in head.raw_items())
    # Encoded parts hold no “=_” (RFC 2045 6.7), so no line of theirs is a boundary.
    mark = f"=_{head['Message-ID'].partition('@')[0].strip('<')}"
    body = _multipart("alternative", mark, [_text("plain", text), _text("html", html)])
    if files:
        body = _multipart("mixed", f"{mark}_f", [body, *files])
    return b"%sMIME-Version: 1.0\r\n%s" % (headers, body)


def _text(kind: str, content: str) -> bytes:
    """A text as a part, quoted-printable (RFC 2045 6.7)."""
    lines = content.replace("\r\n", "\n").replace("\r", "\n").rstrip("\n") + "\n"
    encoded = b2a_qp(lines.encode(), istext=True).replace(b"\n", b"\r\n")
    head = (
        f'Content-Type: text/{kind}; charset="utf-8"\r\n'
        "Content-Transfer-Encoding: quoted-printable\r\n\r\n"
    )
    return head.encode() + encoded


def _multipart(kind: str, boundary: str, parts: Sequence[bytes]) -> bytes:
    """Several parts as one; each begins with its headers."""
    head = f'Content-Type: multipart/{kind};\r\n boundary="{boundary}"\r\n\r\n'
    between = f"\r\n--{boundary}\r\n".encode()
    body = between.join(parts)
    return b"%s--%s\r\n%s\r\n--%s--\r\n" % (
        head.encode(),
        boundary.encode(),
        body,
        boundary.encode(),
    )


def to_send(letter: Letter, signer: Signer | None = None) -> EmailMultiAlternatives:
    """The message, for Django's mail backend, signed where the domain signs."""
    content = compose(letter)
    sender = letter.envelope or letter.sender_address
    content = signer(content) if signer else content
    return _Email(content, letter.subject, letter.text, sender, letter.to)


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
    return _Email(_whole(message, text, html), subject, text, sender_address, to)
