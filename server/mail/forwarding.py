"""Passing a reply on to the people who answer: byte for byte, with who passed it on (RFC 5322 3.6.6)."""

from email.utils import format_datetime, make_msgid

from django.conf import settings
from django.core.mail import EmailMultiAlternatives

from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.models import Workspace

from .backend import NotReached, hand_over
from .compose import Finished

_MARK = b"resent-message-id: "


def forward(workspace: Workspace, content: bytes) -> None:
    """Pass an email on to where replies of the workspace go, unless it went round already."""
    to = workspace.reply_to or workspace.sender_address
    own = f"@{settings.RETURN_DOMAIN}"
    head = content.split(b"\r\n\r\n", 1)[0].lower()
    if not to or to.lower().endswith(own) or _MARK in head:
        return
    lines = (
        f"Resent-From: <{workspace.sender_address}>\r\n"
        f"Resent-To: <{to}>\r\n"
        f"Resent-Date: {format_datetime(clock.now(workspace))}\r\n"
        f"Resent-Message-ID: {make_msgid(domain=settings.RETURN_DOMAIN or 'localhost')}\r\n"
    )
    mail = EmailMultiAlternatives("", "", workspace.sender_address, [to])
    mail.message = lambda **_: Finished(lines.encode() + content)  # type: ignore[method-assign, assignment, return-value]
    try:
        hand_over(mail)
    except (NotReached, OSError) as error:
        report(
            workspace,
            Snag.About.SEND,
            "forward",
            f"A reply could not be passed on to {to}: {error}."[:500],
            "Look at the mail server. The reply is noted with its person, and its text is gone.",
        )
