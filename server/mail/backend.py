"""Speaking SMTP: connections that are kept, pipelining (RFC 2920), addresses beyond ASCII (RFC 6531).

What matters is when a conversation ends early. Before the text of an email was sent, nothing has
gone out, and it can be tried again; once it was sent and no answer came, nobody knows.
"""

import contextlib
import smtplib
import threading
import time

from django.conf import settings
from django.core.mail import EmailMultiAlternatives, get_connection
from django.core.mail.backends.base import BaseEmailBackend
from django.core.mail.backends.smtp import EmailBackend as DjangoBackend

from core.delivering import Stage

from .headers import addr_spec, needs_utf8

_MOST = 200
"""Emails over one connection; many servers end it after some hundreds."""
_IDLE = 15.0
"""Seconds after which a kept connection is asked whether it still stands."""
_TOO_OLD = 240.0


class NotReached(Exception):
    """The mail server could not be spoken to, so nothing has gone out."""


class Refused(Exception):
    """The mail server answered that it does not take this email: at which stage, and in its words."""

    def __init__(self, stage: Stage, reply: str) -> None:
        super().__init__(f"{stage}: {reply}")
        self.stage: Stage = stage
        self.reply = reply


class EmailBackend(DjangoBackend):
    """Hands messages over with the envelope exactly as it is."""

    def _send(self, email_message: object) -> bool:
        """One message; raises what smtplib raises.

        `SMTPNotSupportedError`: an address needs SMTPUTF8, and the server does not offer it.
        `NotReached`: the connection ended before the text was sent. Nothing has gone out then.
        """
        assert isinstance(email_message, EmailMultiAlternatives)
        recipients = email_message.recipients()
        if not recipients:
            return False
        sender, *to = (addr_spec(one) for one in (email_message.from_email, *recipients))
        server = self.connection
        assert isinstance(server, smtplib.SMTP)
        options: list[str] = []
        try:
            server.ehlo_or_helo_if_needed()
        except smtplib.SMTPResponseException:
            raise
        except OSError as error:
            raise NotReached(f"the mail server went away: {error}") from error
        if needs_utf8(sender, *to):
            if not server.has_extn("smtputf8"):
                raise smtplib.SMTPNotSupportedError(
                    "the mail server does not take addresses beyond ASCII (SMTPUTF8)"
                )
            options = ["SMTPUTF8", "BODY=8BITMIME"]
            # smtplib writes commands in ASCII unless it is told.
            server.command_encoding = "utf-8"
        content = email_message.message().as_bytes()
        if server.has_extn("size"):
            options.append(f"SIZE={len(content)}")
        try:
            _envelope(server, sender, to, options)
        except (smtplib.SMTPResponseException, smtplib.SMTPRecipientsRefused):
            # An answer; smtplib's errors are all OSError.
            raise
        except OSError as error:
            raise NotReached(f"the mail server went away: {error}") from error
        finally:
            server.command_encoding = "ascii"
        _text(server, content)
        return True


def _envelope(server: smtplib.SMTP, sender: str, to: list[str], options: list[str]) -> None:
    """MAIL, RCPT and DATA; all at once where the server takes that."""
    commands = [f"MAIL FROM:<{sender}>{''.join(f' {one}' for one in options)}"]
    commands += [f"RCPT TO:<{one}>" for one in to]
    commands.append("DATA")
    if any(sign in one for one in commands for sign in "\r\n"):
        # Nobody smuggles in another command (smtplib looks only where it sends one by itself).
        server.rset()
        raise smtplib.SMTPSenderRefused(501, b"5.1.7 an address has a line break", sender)
    replies: list[tuple[int, bytes]] = []
    if server.has_extn("pipelining"):
        server.send("".join(f"{one}\r\n" for one in commands))
        for _ in commands:
            replies.append(server.getreply())
    else:
        for one in commands:
            server.putcmd(one)
            replies.append(server.getreply())
            if replies[-1][0] >= 400:
                break
    mail, *rest = replies
    refused = {
        address: reply
        for address, reply in zip(to, rest, strict=False)
        if reply[0] not in (250, 251)
    }
    data = replies[-1] if len(replies) == len(commands) else None
    if mail[0] == 250 and not refused and data and data[0] == 354:
        return
    if data and data[0] == 354:
        # The server waits for a text though it refused what came before (RFC 2920 3.1): an empty
        # one ends it, and goes to nobody.
        server.send(b".\r\n")
        server.getreply()
    if mail[0] == 421 or any(reply[0] == 421 for reply in refused.values()):
        server.close()
    else:
        server.rset()
    if mail[0] != 250:
        raise smtplib.SMTPSenderRefused(mail[0], mail[1], sender)
    if refused:
        raise smtplib.SMTPRecipientsRefused(refused)
    assert data is not None
    raise smtplib.SMTPDataError(*data)


def _text(server: smtplib.SMTP, content: bytes) -> None:
    lines = content.replace(b"\r\n", b"\n").replace(b"\n", b"\r\n")
    quoted = lines.replace(b"\r\n.", b"\r\n..")
    if quoted.startswith(b"."):
        quoted = b"." + quoted
    if not quoted.endswith(b"\r\n"):
        quoted += b"\r\n"
    server.send(quoted + b".\r\n")
    code, words = server.getreply()
    if code != 250:
        if code == 421:
            server.close()
        else:
            server.rset()
        raise smtplib.SMTPDataError(code, words)


class _Kept(threading.local):
    """The connection of one thread of a worker."""

    backend: BaseEmailBackend | None = None
    to: tuple[object, ...] = ()
    count = 0
    since = 0.0
    used = 0.0


_kept = _Kept()


def hand_over(mail: EmailMultiAlternatives) -> None:
    """Hand one message to the mail server, over the connection of the one before where it stands.

    `NotReached`: nothing has gone out. `Refused`: the server said so. What smtplib raises besides: see
    `EmailBackend`.
    """
    again = _kept.backend is not None
    try:
        try:
            _hand_over(mail)
        except NotReached:
            # A kept connection may have ended meanwhile; a fresh one tells whether the server is there.
            if not again:
                raise
            _hand_over(mail)
    except smtplib.SMTPNotSupportedError:
        raise
    except smtplib.SMTPRecipientsRefused as error:
        code, words = next(iter(error.recipients.values()))
        raise Refused("rcpt", _reply(code, words)) from error
    except smtplib.SMTPSenderRefused as error:
        raise Refused("mail", _reply(error.smtp_code, error.smtp_error)) from error
    except smtplib.SMTPDataError as error:
        raise Refused("data", _reply(error.smtp_code, error.smtp_error)) from error
    except smtplib.SMTPResponseException as error:
        raise Refused("connect", _reply(error.smtp_code, error.smtp_error)) from error


def _reply(code: int, words: bytes | str) -> str:
    text = words.decode(errors="replace") if isinstance(words, bytes) else words
    return f"{code} {text}"


def _hand_over(mail: EmailMultiAlternatives) -> None:
    backend = _open()
    try:
        backend.send_messages([mail])
    except (smtplib.SMTPRecipientsRefused, smtplib.SMTPNotSupportedError):
        raise
    except smtplib.SMTPResponseException as error:
        if error.smtp_code == 421:
            forget_connection()
        raise
    except BaseException:
        forget_connection()
        raise
    finally:
        _kept.used = time.monotonic()
        _kept.count += 1
        if not isinstance(backend, DjangoBackend):
            forget_connection()


def _open() -> BaseEmailBackend:
    to = (settings.EMAIL_BACKEND, settings.EMAIL_HOST, settings.EMAIL_PORT)
    if _kept.backend is not None and not _still_stands(to):
        forget_connection()
    if _kept.backend is None:
        backend = get_connection()
        try:
            backend.open()
        except smtplib.SMTPResponseException as error:
            if error.smtp_code >= 500:
                # It is there, and does not let us in.
                raise
            raise NotReached(f"the mail server is busy: {error.smtp_code}") from error
        except OSError as error:
            raise NotReached(f"the mail server cannot be reached: {error}") from error
        _kept.backend, _kept.to, _kept.count = backend, to, 0
        _kept.since = _kept.used = time.monotonic()
    return _kept.backend


def _still_stands(to: tuple[object, ...]) -> bool:
    now = time.monotonic()
    if to != _kept.to or _kept.count >= _MOST or now - _kept.since > _TOO_OLD:
        return False
    server = getattr(_kept.backend, "connection", None)
    if server is None:
        return False
    if now - _kept.used < _IDLE:
        return True
    try:
        return bool(server.noop()[0] == 250)
    except OSError:
        return False


def forget_connection() -> None:
    """Close the connection of this thread, if there is one."""
    backend, _kept.backend = _kept.backend, None
    if backend is not None:
        with contextlib.suppress(Exception):
            backend.close()
