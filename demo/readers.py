"""What people do with the letters they got: some open them, some follow a link, a program looks into
some of them, a few come back."""

import random
from datetime import datetime, timedelta
from email.message import EmailMessage

from core.messages import ButtonBlock, FileBlock, MessageDocument, every_block
from server.inbound.receiving import receive
from server.mail.counting import judge_touches
from server.mail.models import Send, Touch
from server.mail.return_path import return_path_of
from server.workspaces import clock
from server.workspaces.models import Workspace

KEEN = "Four of us, one plate, three in the morning"
"""A subject that makes more of them curious."""
_AT_ONCE = 450
_READER = "Mozilla/5.0 (X11; Linux x86_64)"


def read_some(workspace: Workspace) -> None:
    """Read the letters of the last hours, each once: about four of ten are opened, one of eight leads on."""
    now = clock.now(workspace)
    fresh = Send.objects.of(workspace).filter(
        state="sent", sent_at__lte=now - timedelta(minutes=30), touches=None, opened_at=None
    )
    for send in fresh.filter(sent_at__gt=now - timedelta(days=3)).select_related(
        "revision", "subscriber", "message"
    )[:_AT_ONCE]:
        # The same each time it is looked at.
        own = random.Random(f"{send.subscriber.address} {send.message.name}")
        said = own.random() * (0.55 if send.subject == KEEN else 1)
        touches = []
        assert send.sent_at is not None
        if said < 0.42:
            at = send.sent_at + timedelta(minutes=own.randrange(3, 28))
            touches.append(_touch(send, Touch.Kind.OPEN, "", at))
            links = _links(send)
            if said < 0.13 and links:
                later = at + timedelta(seconds=own.randrange(20, 200))
                touches.append(_touch(send, Touch.Kind.CLICK, own.choice(links), later))
        elif said < 0.5:
            at = send.sent_at + timedelta(seconds=1)
            touches.append(_touch(send, Touch.Kind.OPEN, "", at))
        Touch.everywhere.bulk_create(touches)
        if touches:
            judge_touches(str(send.pk))


def _touch(send: Send, kind: Touch.Kind, link: str, at: datetime) -> Touch:
    return Touch(
        workspace_id=send.workspace_id, send=send, kind=kind, link=link, at=at, agent=_READER
    )


def _links(send: Send) -> list[str]:
    if send.revision is None:
        return []
    document = MessageDocument.model_validate(send.revision.document)
    found = []
    for one in every_block(document):
        if isinstance(one, ButtonBlock):
            found.append(one.link)
        elif isinstance(one, FileBlock):
            found.append("{{ file_link }}")
    return found


_REPLIES = (
    "Is the guide printed anywhere? My father would like one.",
    "Thank you, this came at the right moment. We were out with the children last night.",
    "Which of the three would you take on a bicycle?",
)


def some_reply(workspace: Workspace) -> None:
    """A few write back, and somebody's mailbox says that they are away."""
    sent = Send.objects.of(workspace).filter(state="sent", came_back="").exclude(opened_at=None)
    rows = list(sent.select_related("subscriber", "message").order_by("-sent_at")[5:40:8])
    for send, words in zip(rows, (*_REPLIES, ""), strict=False):
        receive(_letter(send, words), [return_path_of(send)])


def _letter(send: Send, words: str) -> bytes:
    """An answer to a letter; without words the one that a mailbox gives by itself (RFC 3834)."""
    message = EmailMessage()
    message["From"], message["Subject"] = send.subscriber.address, f"Re: {send.subject}"
    message["Message-ID"] = f"<{send.pk}.reply@mail.example>"
    message["In-Reply-To"] = f"<{send.pk}@larkmoor.example>"
    if not words:
        message["Auto-Submitted"] = "auto-replied"
    message.set_content(words or "I am away until Monday.")
    return message.as_bytes()


def some_come_back(workspace: Workspace) -> None:
    """Two addresses are no good any more, one mailbox is full, and one person reports a letter."""
    sent = Send.objects.of(workspace).filter(state="sent", list__isnull=False, clicked_at=None)
    rows = list(sent.select_related("subscriber", "message").order_by("-sent_at")[:40:9])
    for number, send in enumerate(rows):
        if number < 3:
            status = "4.2.2 The mailbox is full" if number == 2 else "5.1.1 No such mailbox"
            content = _report(send, status)
        else:
            content = _complaint(send)
        receive(content, [return_path_of(send)])
        if number == 3:
            return


def _report(send: Send, words: str) -> bytes:
    status = words.partition(" ")[0]
    return (
        f"From: MAILER-DAEMON@mail.example\r\nMessage-ID: <{send.pk}.back@mail.example>\r\n"
        "Subject: Undelivered Mail Returned to Sender\r\nMIME-Version: 1.0\r\n"
        'Content-Type: multipart/report; report-type=delivery-status; boundary="b"\r\n\r\n'
        "--b\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; mail.example\r\n\r\n"
        f"Final-Recipient: rfc822; {send.subscriber.address}\r\nAction: failed\r\n"
        f"Status: {status}\r\nDiagnostic-Code: smtp; {550 if status[0] == '5' else 452} {words}\r\n\r\n"
        "--b--\r\n"
    ).encode()


def _complaint(send: Send) -> bytes:
    return (
        f"From: reports@mail.example\r\nMessage-ID: <{send.pk}.spam@mail.example>\r\n"
        "Subject: Complaint\r\nMIME-Version: 1.0\r\n"
        'Content-Type: multipart/report; report-type=feedback-report; boundary="b"\r\n\r\n'
        "--b\r\nContent-Type: message/feedback-report\r\n\r\nFeedback-Type: abuse\r\nVersion: 1\r\n"
        f"Original-Rcpt-To: <{send.subscriber.address}>\r\n\r\n--b--\r\n"
    ).encode()
