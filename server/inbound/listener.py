"""A mail server of our own for what comes back: SMTP (RFC 5321) or LMTP (RFC 2033), on loopback unless
a setting says otherwise.

It takes mail for addresses that this server made, and for nothing else, and hands nothing on by itself:
it is no relay. An email is stored before it is answered for.
"""

import asyncio
from collections import Counter
from typing import ClassVar

import structlog
from aiosmtpd.controller import Controller
from aiosmtpd.lmtp import LMTP
from aiosmtpd.smtp import SMTP, Envelope, Session
from django.db import InterfaceError, OperationalError, close_old_connections, connection

from core.messages import LARGEST_RETURNED

from .receiving import is_ours, receive

log = structlog.get_logger("yalla.inbound")
_SECONDS = 60.0
"""Without a command, after which a client is let go."""
_MOST_RECIPIENTS = 20
MOST_AT_ONCE = 200
"""Conversations at the same time: more are told to come back later (RFC 5321 3.8)."""
MOST_EACH = 20
"""Of one network address: nobody fills all places."""


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
        try:
            receive(content, recipients)
        except (OperationalError, InterfaceError):
            # The pool may hand out connections that a restart of the database has ended: they are found out
            # and replaced, and it is taken once more. What fails then is answered for.
            connection.close()
            connection.pool.check()  # type: ignore[attr-defined]
            receive(content, recipients)
    finally:
        connection.close()


class _Bounded:
    """Lets so many talk at the same time; all of them in one loop, so a plain count will do."""

    _open: ClassVar[int] = 0
    _each: ClassVar[Counter[str]] = Counter()
    _counted = False
    _from = ""
    most_each: ClassVar[int] = MOST_EACH

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        """Begin, or say that it is too much just now."""
        peer = transport.get_extra_info("peername")
        self._from = str(peer[0]) if peer else ""
        busy = _Bounded._open >= MOST_AT_ONCE or _Bounded._each[self._from] >= self.most_each
        if busy:
            assert isinstance(transport, asyncio.WriteTransport)
            transport.write(b"421 4.3.2 Too many connections, try again later\r\n")
            transport.close()
            return
        _Bounded._open += 1
        _Bounded._each[self._from] += 1
        self._counted = True
        super().connection_made(transport)  # type: ignore[misc]

    def connection_lost(self, error: Exception | None) -> None:
        """Make room for the next one."""
        if self._counted:
            _Bounded._open -= 1
            _Bounded._each[self._from] -= 1
            self._counted = False
            super().connection_lost(error)  # type: ignore[misc]

    def data_received(self, data: bytes) -> None:
        """Nothing is heard of who was sent away."""
        if self._counted:
            super().data_received(data)  # type: ignore[misc]

    def eof_received(self) -> bool | None:
        """The other side says no more."""
        return super().eof_received() if self._counted else None  # type: ignore[misc, no-any-return]


class _BoundedSmtp(_Bounded, SMTP):
    pass


class _BoundedLmtp(_Bounded, LMTP):
    # A mail server of ours speaks for everybody.
    most_each: ClassVar[int] = MOST_AT_ONCE


class Listener(Controller):
    """The server, not started yet."""

    def __init__(self, host: str, port: int, *, lmtp: bool = False) -> None:
        self._lmtp = lmtp
        super().__init__(Handler(), hostname=host, port=port)

    def factory(self) -> object:
        """One conversation."""
        kind = _BoundedLmtp if self._lmtp else _BoundedSmtp
        return kind(
            self.handler,
            data_size_limit=LARGEST_RETURNED,
            enable_SMTPUTF8=True,
            timeout=_SECONDS,
            hostname="yalla.inbound",
            ident="Yalla",
        )
