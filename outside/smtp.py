"""The mail server. Some addresses answer as mail servers do on a bad day."""

import asyncio
from typing import Any

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from .mailbox import Mailbox

REFUSALS = {
    "no-such-person": "550 5.1.1 No such person here",
    "full": "452 4.2.2 The mailbox is full",
}
"""Replies to a recipient, by the local part of the address."""
DYING = "dies-after-data"
"""A local part for which the connection is lost once the data have arrived."""


class Handler:
    """Keeps what arrives."""

    def __init__(self, mailbox: Mailbox) -> None:
        self.mailbox = mailbox

    async def handle_RCPT(
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        refusal = REFUSALS.get(address.rpartition("@")[0].casefold())
        if refusal:
            return refusal
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:
        content = envelope.original_content or b""
        recipients = [str(one) for one in envelope.rcpt_tos]
        await asyncio.to_thread(self.mailbox.keep, str(envelope.mail_from), recipients, content)
        if any(one.rpartition("@")[0] == DYING for one in recipients):
            transport: Any = server.transport
            transport.abort()
        return "250 OK"


def mail_server(mailbox: Mailbox, port: int) -> Controller:
    """The server, not started yet."""
    return Controller(
        Handler(mailbox), hostname="127.0.0.1", port=port, server_hostname="mail.example"
    )
