"""An email as it goes out: RFC 5322, with HTML and plain-text parts."""

from dataclasses import dataclass
from datetime import datetime
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid

import css_inline
import html2text
import mrml
import nh3
from django.core.mail import EmailMultiAlternatives
from django.template.loader import render_to_string

from .headers import WIRE, WIRE_UTF8, addr_spec, mailbox, needs_utf8

_ALLOWED = {
    "a", "b", "blockquote", "br", "code", "em", "h1", "h2", "h3", "hr", "i", "img", "li",
    "ol", "p", "s", "strong", "u", "ul",
}  # fmt: skip


@dataclass(frozen=True)
class Attached:
    """A file that goes with an email."""

    name: str
    content_type: str
    content: bytes


@dataclass(frozen=True)
class Letter:
    """What an email is made of. `leave` is the address for unsubscribing, `own` that of the
    person's own page."""

    identity: str
    sender_name: str
    sender_address: str
    postal_address: str
    to: str
    subject: str
    preheader: str
    body: str
    leave: str
    list_name: str
    date: datetime
    own: str = ""
    asks: bool = False
    """Whether it asks to confirm: whoever gets it has not signed up for anything yet."""
    files: tuple[Attached, ...] = ()


def clean_body(body: str) -> str:
    """The body with nothing in it but what a text needs: no scripts, no styles."""
    return nh3.clean(
        body,
        tags=_ALLOWED,
        attributes={"a": {"href"}, "img": {"src", "alt", "width", "height"}},
        url_schemes={"http", "https", "mailto", "tel"},
        link_rel=None,
    )


def html_part(letter: Letter) -> str:
    """The whole HTML document, its styles inlined for mail programs."""
    frame = mrml.to_html(render_to_string("mail/frame.mjml", {"letter": letter})).content
    return css_inline.inline(frame.replace("<!--body-->", letter.body), keep_style_tags=True)


def text_part(letter: Letter) -> str:
    """The same in plain text, links written out."""
    writer = html2text.HTML2Text(bodywidth=0)
    writer.ignore_emphasis = True
    writer.ignore_images = True
    writer.inline_links = True
    writer.protect_links = False
    writer.unicode_snob = True
    text = writer.handle(letter.body).strip()
    return render_to_string("mail/frame.txt", {"letter": letter, "text": text}).strip() + "\n"


class _Finished:
    """A message whose bytes are fixed, as Django's SMTP backend asks for them."""

    def __init__(self, message: EmailMessage) -> None:
        self._message = message

    def as_bytes(self, **_: object) -> bytes:
        return self._message.as_bytes()


class _Email(EmailMultiAlternatives):
    """Hands a finished message to Django's mail backend as it stands."""

    def __init__(self, message: EmailMessage, sender: str, to: str) -> None:
        text, html = message.get_body(("plain",)), message.get_body(("html",))
        super().__init__(
            subject=str(message["Subject"]),
            body=str(text.get_content()) if text is not None else "",
            from_email=sender,
            to=[to],
        )
        if html is not None:
            self.attach_alternative(str(html.get_content()), "text/html")
        self._finished = _Finished(message)

    def message(self, **_: object) -> _Finished:  # type: ignore[override]
        return self._finished


def compose(letter: Letter) -> EmailMessage:
    """The message, with the headers of RFC 5322 and one-click unsubscribing by RFC 8058."""
    message = _headed(
        letter.sender_name, letter.sender_address, letter.to, letter.subject, letter.date
    )
    domain = letter.sender_address.rpartition("@")[2]
    message["Message-ID"] = f"<{letter.identity}@{domain}>"
    message["List-Unsubscribe"] = f"<{letter.leave}>"
    message["List-Unsubscribe-Post"] = "List-Unsubscribe=One-Click"
    message.set_content(text_part(letter), cte="quoted-printable")
    message.add_alternative(html_part(letter), subtype="html", cte="quoted-printable")
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


def to_send(letter: Letter) -> EmailMultiAlternatives:
    """The message, for Django's mail backend."""
    return _Email(compose(letter), letter.sender_address, letter.to)


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
