"""The mail server. Some addresses answer as mail servers do on a bad day."""

import asyncio
import contextlib
import time
from collections.abc import Callable
from typing import Any

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from .mailbox import Mailbox
from .returning import answer_by_itself, bounce

REFUSALS = {
    "no-such-person": "550 5.1.1 No such person here",
    "full": "452 4.2.2 The mailbox is full",
}
"""Replies to a recipient, by the local part of the address."""
Answers = Callable[[str, str, bytes], None]
LATER: dict[str, Answers] = {"bounces-later": bounce, "away": answer_by_itself}
"""What is sent back a moment after an email was taken, by the local part of the address."""
DYING = "dies-after-data"
"""A local part for which the connection is lost once the data have arrived."""

SLOW = "slow"
"""A local part for which the server takes its time to answer."""
SLOW_SECONDS = 4.0


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
        self._answer(str(envelope.mail_from or ""), recipients, content)
        if any(one.rpartition("@")[0] == SLOW for one in recipients):
            await asyncio.sleep(SLOW_SECONDS)
        if any(one.rpartition("@")[0] == DYING for one in recipients):
            transport: Any = server.transport
            transport.abort()
        return "250 OK"

    def _answer(self, sender: str, recipients: list[str], content: bytes) -> None:
        """Some mailboxes send something back, a moment later."""
        for address in recipients:
            answers = LATER.get(address.rpartition("@")[0].casefold())
            if answers and sender:
                loop = asyncio.get_running_loop()
                loop.call_later(
                    1.0, loop.run_in_executor, None, _tried, answers, sender, address, content
                )


def _tried(answers: Answers, sender: str, address: str, content: bytes) -> None:
    # The server that takes it may be away for a moment, as any; mail servers try again.
    for pause in (1, 2, 4, 8, 0):
        with contextlib.suppress(OSError):
            return answers(sender, address, content)
        time.sleep(pause)


def mail_server(mailbox: Mailbox, port: int) -> Controller:
    """The server, not started yet."""
    return Controller(
        Handler(mailbox), hostname="127.0.0.1", port=port, server_hostname="mail.example"
    )
