"""A mail server of our own for what comes back: SMTP (RFC 5321) or LMTP (RFC 2033), on loopback unless
a setting says otherwise.

It takes mail for addresses that this server made, and for nothing else, and hands nothing on by itself:
it is no relay. An email is stored before it is answered for.
"""

import asyncio
from typing import Any

import structlog
from aiosmtpd.controller import Controller
from aiosmtpd.lmtp import LMTP
from aiosmtpd.smtp import SMTP, Envelope, Session
from django.db import close_old_connections, connection

from core.messages import LARGEST_RETURNED

from .receiving import is_ours, receive

log = structlog.get_logger("yalla.inbound")
_SECONDS = 60.0
"""Without a command, after which a client is let go."""
_MOST_RECIPIENTS = 20


class Handler:
    """Takes what comes to addresses of ours."""

    async def handle_RCPT(
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        """Only an address that was made here is one."""
        if not is_ours(address):
            return "550 5.1.1 No such address here"
        if len(envelope.rcpt_tos) >= _MOST_RECIPIENTS:
            return "452 4.5.3 Too many recipients"
        envelope.rcpt_tos.append(address)
        return "250 2.1.5 OK"

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:
        """Store it, and answer for it."""
        content = envelope.original_content or b""
        recipients = [str(one) for one in envelope.rcpt_tos]
        try:
            await asyncio.to_thread(_receive, content, recipients)
        except Exception:
            log.exception("an email that came back was not taken")
            return "451 4.3.0 Try again later"
        return "250 2.0.0 OK"


def _receive(content: bytes, recipients: list[str]) -> None:
    close_old_connections()
    try:
        receive(content, recipients)
    finally:
        connection.close()


class Listener(Controller):
    """The server, not started yet."""

    def __init__(self, host: str, port: int, *, lmtp: bool = False) -> None:
        self._lmtp = lmtp
        super().__init__(Handler(), hostname=host, port=port)

    def factory(self) -> Any:
        """One conversation."""
        kind = LMTP if self._lmtp else SMTP
        return kind(
            self.handler,
            data_size_limit=LARGEST_RETURNED,
            enable_SMTPUTF8=True,
            timeout=_SECONDS,
            hostname="yalla.inbound",
            ident="Yalla",
        )
