"""Queueing the emails of a broadcast: a few statements for each thousand, in one transaction."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import islice
from uuid import UUID

import orjson
from django.db import connection
from psycopg import sql
from uuid_utils.compat import uuid7

from core.broadcasts import BroadcastDocument, Goes, Version, falls_to, spaced
from core.documents import Because
from server.mail.jobs import DELIVER
from server.mail.models import Send
from server.workspaces.causes import caused_by, keep_causes
from server.workspaces.copying import plain
from server.workspaces.queues import defer_next

from .models import Broadcast
from .recipients import Counted, Recipients

_AT_ONCE = 5_000
_VARIES = {
    "id": "uuid",
    "subscriber_id": "uuid",
    "origin": "text",
    "version": "text",
    "message_id": "uuid",
    "not_before": "timestamptz",
}


@dataclass(frozen=True)
class _Email:
    person: UUID
    version: str
    at: datetime
    domain: str


def prepare(row: Broadcast, recipients: Recipients, chosen: str | None, *, trial: bool) -> Counted:
    """Queue the emails of everybody who gets it, in the caller's transaction, each once: those of the
    trial, or the version `chosen` to all the others. Who was counted, with those of the trial."""
    document = recipients.document
    counted = Counted()

    def emails() -> Iterator[_Email]:
        limited = document.when.per_domain is not None
        for person in recipients.everybody(domains=limited):
            counted.add(person.place, 1)
            if not isinstance(person.place, Goes):
                continue
            version = falls_to(document, str(row.pk), str(person.pk)) if trial else chosen
            if version is not None:
                yield _Email(person.pk, version, person.place.at, person.domain)

    queued = emails()
    if document.when.per_hour or document.when.per_domain:
        queued = iter(_spread(list(queued), document))
    insert = _Insert(row, document, recipients.now)
    while some := list(islice(queued, _AT_ONCE)):
        insert.store(some)
    defer_next(DELIVER, row.workspace_id)
    return counted


def _spread(emails: list[_Email], document: BroadcastDocument) -> list[_Email]:
    """The emails at times that keep the broadcast's own limits."""
    emails.sort(key=lambda one: one.at)
    if document.when.per_domain:
        by_domain: dict[str, list[_Email]] = {}
        for one in emails:
            by_domain.setdefault(one.domain, []).append(one)
        emails = [
            moved
            for some in by_domain.values()
            for moved in _at(some, spaced([one.at for one in some], document.when.per_domain))
        ]
        emails.sort(key=lambda one: one.at)
    return _at(emails, spaced([one.at for one in emails], document.when.per_hour))


def _at(emails: Sequence[_Email], moments: Sequence[datetime]) -> list[_Email]:
    return [
        _Email(one.person, one.version, at, one.domain)
        for one, at in zip(emails, moments, strict=True)
    ]


class _Insert:
    """Rows of one broadcast: what all have in common is said once."""

    def __init__(self, row: Broadcast, document: BroadcastDocument, now: datetime) -> None:
        because = Because(
            kind="broadcast",
            sentence=f"broadcast {row.name}",
            broadcast_id=str(row.pk),
            broadcast_name=row.name,
        )
        self._row, self._versions = row, {one.id: one for one in document.versions}
        common = plain(Send)(
            id=None,
            workspace_id=row.workspace_id,
            subscriber_id=None,
            message_id=None,
            origin="",
            list_id=document.to.list,
            broadcast=row.pk,
            queued_at=now,
            **caused_by(row.workspace_id, because),
        )
        keep_causes([common])
        columns: list[sql.Composable] = []
        values: list[sql.Composable] = []
        for one in Send._meta.concrete_fields:
            columns.append(sql.Identifier(str(one.column)))
            if one.attname in _VARIES:
                values.append(sql.SQL("one.{}").format(sql.Identifier(one.attname)))
            else:
                value = getattr(common, one.attname)
                plain_value = (
                    orjson.dumps(value).decode() if isinstance(value, list | dict) else value
                )
                values.append(sql.Literal(plain_value))
        arrays = sql.SQL(", ").join(
            sql.SQL("%s::{}[]").format(sql.SQL(kind)) for kind in _VARIES.values()
        )
        # Whoever was erased meanwhile is passed over, and nobody is while this goes on.
        self._statement = sql.SQL(
            "INSERT INTO mail_send ({}) SELECT {} FROM unnest({}) AS one ({}) "
            "JOIN people_subscriber AS person ON person.id = one.subscriber_id FOR KEY SHARE OF person"
        ).format(
            sql.SQL(", ").join(columns),
            sql.SQL(", ").join(values),
            arrays,
            sql.SQL(", ").join(map(sql.Identifier, _VARIES)),
        )

    def store(self, emails: Sequence[_Email]) -> None:
        """Store these."""
        versions = [self._version(one) for one in emails]
        values: tuple[Sequence[object], ...] = (
            [uuid7() for _ in emails],
            [one.person for one in emails],
            [f"broadcast/{self._row.pk}/{one.person}" for one in emails],
            [one.version for one in emails],
            [UUID(one.message or "") for one in versions],
            [one.at for one in emails],
        )
        with connection.cursor() as cursor:
            cursor.execute(self._statement, [list(one) for one in values])

    def _version(self, email: _Email) -> Version:
        return self._versions[email.version]
