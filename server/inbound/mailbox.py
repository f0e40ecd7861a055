"""Reading the mailbox where replies arrive, by IMAP; nothing in it is changed, not even marked as read."""

import imaplib
import re
import socket
import ssl

from django.conf import settings
from django.db import transaction

from core.documents import Problem
from core.messages import LARGEST_RETURNED
from server.mail.models import ReplyMailbox
from server.workspaces import clock
from server.workspaces.errors import refuse
from server.workspaces.history import OWNERS, changes
from server.workspaces.models import Workspace
from server.workspaces.reaching import public_place
from server.workspaces.sealing import opened, sealed

from .receiving import receive_for

_SECONDS = 20.0
_AT_ONCE = 200
"""Emails of one look; the next ones come with the next look."""


class MailboxProblem(Exception):
    """The mailbox cannot be read; the words say why."""


class _Pinned(imaplib.IMAP4_SSL):
    """Connects to the address that was looked at, whatever the name server says next."""

    def __init__(self, host: str, port: int, place: str) -> None:
        self._place = place
        super().__init__(
            host,
            port,
            ssl_context=ssl.create_default_context(cafile=_authorities()),
            timeout=_SECONDS,
        )

    def _create_socket(self, timeout: float | None) -> object:
        plain = socket.create_connection((self._place, self.port), timeout)
        return self.ssl_context.wrap_socket(plain, server_hostname=self.host)


def _authorities() -> str | None:
    return settings.IMAP_AUTHORITIES or None


@changes("set the mailbox of replies", roles=OWNERS)
def set_mailbox(
    workspace: Workspace, host: str, port: int, user: str, password: str, folder: str
) -> ReplyMailbox:
    """Read replies from a mailbox, once it could be read. An empty password keeps the one before."""
    before = ReplyMailbox.objects.of(workspace).first()
    same_host = before is not None and (before.host, before.user) == (host.strip(), user.strip())
    secret = sealed(password) if password else (before.password if before and same_host else "")
    if not host.strip() or not user.strip() or not secret:
        raise refuse("mailbox", "mailbox", "A mailbox needs a host, a user and a password.")
    row = ReplyMailbox(
        workspace=workspace,
        host=host.strip()[:253],
        port=port,
        user=user.strip()[:254],
        password=secret,
        folder=folder.strip()[:120] or "INBOX",
    )
    try:
        with _signed_in(row) as server:
            row.validity, row.last = _select(server, row.folder)
    except MailboxProblem as error:
        raise refuse("mailbox", "mailbox", str(error), "Correct it, and try again.") from None
    row.checked_at = clock.now(workspace)
    with transaction.atomic():
        ReplyMailbox.objects.of(workspace).delete()
        row.save(force_insert=True)
    return row


@changes("removed the mailbox of replies", roles=OWNERS)
def remove_mailbox(workspace: Workspace) -> None:
    """Read no mailbox any more, and forget its password."""
    ReplyMailbox.objects.of(workspace).delete()


@changes("read the mailbox of replies")
def look(row: ReplyMailbox) -> int:
    """Take what has arrived since the last look; how many. Each is noted once, also where the look
    ends in the middle: the place is kept after each."""
    count = 0
    try:
        with _signed_in(row) as server:
            validity, newest = _select(server, row.folder)
            if validity != row.validity:
                # The server has numbered its mailbox anew: what is there was seen before.
                row.validity, row.last = validity, newest
            for uid in _after(server, row.last):
                receive_for(row.workspace, _fetch(server, uid))
                row.last = uid
                row.save(update_fields=["last"])
                count += 1
        row.problem = ""
    except MailboxProblem as error:
        row.problem = str(error)[:300]
    row.checked_at = clock.now(row.workspace)
    row.save(update_fields=["validity", "last", "problem", "checked_at"])
    return count


class _signed_in:
    """A connection to the mailbox; what goes wrong in it is a `MailboxProblem`."""

    def __init__(self, row: ReplyMailbox) -> None:
        self.row = row
        self.server: imaplib.IMAP4_SSL | None = None

    def __enter__(self) -> imaplib.IMAP4_SSL:
        row = self.row
        place = public_place(row.host, row.port)
        if isinstance(place, Problem):
            raise MailboxProblem(place.sentence)
        try:
            self.server = _Pinned(row.host, row.port, place)
            self.server.login(row.user, opened(row.password))
        except imaplib.IMAP4.error as error:
            self.__exit__(None, None, None)
            raise MailboxProblem(
                f"{row.host} does not let {row.user} in: {_said(error)}."
            ) from None
        except OSError as error:
            raise MailboxProblem(f"{row.host} cannot be reached: {_said(error)}.") from None
        return self.server

    def __exit__(self, kind: object, error: BaseException | None, _: object) -> None:
        server, self.server = self.server, None
        if server is not None:
            try:
                server.logout()
            except (imaplib.IMAP4.error, OSError):
                server.shutdown()
        if isinstance(error, imaplib.IMAP4.error | OSError):
            raise MailboxProblem(f"{self.row.host}: {_said(error)}.") from None


def _said(error: BaseException) -> str:
    words = error.args[0] if error.args else type(error).__name__
    text = words.decode("utf-8", "replace") if isinstance(words, bytes) else str(error)
    return " ".join(text.split())[:150].rstrip(".")


def _select(server: imaplib.IMAP4_SSL, folder: str) -> tuple[str, int]:
    """Open a folder for reading alone: its UIDVALIDITY, and the UID of its newest email."""
    quoted = '"' + folder.replace("\\", "\\\\").replace('"', '\\"') + '"'
    state, _ = server.select(quoted, readonly=True)
    if state != "OK":
        raise MailboxProblem(f"There is no folder {folder}.")
    _, validity = server.response("UIDVALIDITY")
    _, following = server.response("UIDNEXT")
    number = bytes((following or [b"1"])[0] or b"1")
    return bytes((validity or [b""])[0] or b"").decode(), max(0, int(number) - 1)


def _after(server: imaplib.IMAP4_SSL, last: int) -> list[int]:
    state, answer = server.uid("SEARCH", f"UID {last + 1}:*")
    if state != "OK" or not answer or not answer[0]:
        return []
    # “n:*” also names the newest one where nothing newer is there (RFC 9051 6.4.4).
    return sorted(uid for uid in map(int, answer[0].split()) if uid > last)[:_AT_ONCE]


def _fetch(server: imaplib.IMAP4_SSL, uid: int) -> bytes:
    _, answer = server.uid("FETCH", str(uid), f"(BODY.PEEK[]<0.{LARGEST_RETURNED}>)")
    for part in answer or ():
        if isinstance(part, tuple) and re.search(rb"BODY\[\]", part[0]):
            return bytes(part[1])
    return b""
