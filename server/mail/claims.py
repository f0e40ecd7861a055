"""Which emails are due, and who has them in hand.

A session lock of PostgreSQL marks each email that a worker has in hand. It goes with the database
connection, so it is free as soon as the worker is gone.
"""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from uuid import UUID

from django.db import connection

from server.workspaces import clock
from server.workspaces.models import Workspace

from .models import Send

_EMAIL, _PERSON = 1, 2
"""The kinds of locks: the second number of the hash."""

# Some of the first may be in the hands of other workers.
_DUE = """
WITH due AS MATERIALIZED (
    SELECT id FROM mail_send
    WHERE workspace_id = %s AND state = %s AND (not_before IS NULL OR not_before <= %s)
        AND (broadcast IS NULL OR broadcast NOT IN (SELECT one.broadcast FROM mail_broadcastpause AS one))
    ORDER BY asked_for DESC, (broadcast IS NOT NULL), queued_at LIMIT %s
)
SELECT id FROM due WHERE pg_try_advisory_lock(hashtextextended(id::text, 1)) LIMIT %s
"""
_TRY = """
SELECT key FROM unnest(%s::text[]) AS key WHERE pg_try_advisory_lock(hashtextextended(key, %s))
"""
_FREE = "SELECT pg_advisory_unlock(hashtextextended(key, %s)) FROM unnest(%s::text[]) AS key"
_WIDER = 16


@contextmanager
def due_emails(workspace: Workspace, most: int) -> Iterator[list[UUID]]:
    """So many emails that are due and in nobody's hands: what somebody asked for first, broadcasts last, and of
    each the oldest. Nothing of a broadcast that is paused."""
    with connection.cursor() as cursor:
        now = clock.now(workspace)
        cursor.execute(_DUE, [workspace.pk, Send.State.QUEUED, now, most * _WIDER, most])
        found = [pk for (pk,) in cursor.fetchall()]
    try:
        yield found
    finally:
        _free(found, _EMAIL)


@contextmanager
def these_emails(ids: Sequence[UUID | str]) -> Iterator[list[UUID]]:
    """Those of the emails that are in nobody's hands."""
    with _held(ids, _EMAIL) as found:
        yield found


@contextmanager
def these_people(ids: Sequence[UUID]) -> Iterator[list[UUID]]:
    """Those of the people of whom no other worker has an email in hand that minds how often they get one."""
    with _held(ids, _PERSON) as found:
        yield found


@contextmanager
def _held(ids: Sequence[UUID | str], kind: int) -> Iterator[list[UUID]]:
    if not ids:
        yield []
        return
    with connection.cursor() as cursor:
        cursor.execute(_TRY, [sorted({str(pk) for pk in ids}), kind])
        found = [UUID(key) for (key,) in cursor.fetchall()]
    try:
        yield found
    finally:
        _free(found, kind)


def _free(ids: Sequence[UUID], kind: int) -> None:
    if ids:
        with connection.cursor() as cursor:
            cursor.execute(_FREE, [kind, [str(pk) for pk in ids]])
