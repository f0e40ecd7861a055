"""Why rows are as they are: what many have in common stands once, what is each one's own beside it."""

import hashlib
import json
from collections.abc import Iterable
from functools import lru_cache, partial
from operator import attrgetter
from threading import Lock
from typing import Any
from uuid import UUID

from django.db import connection, models, transaction

from core.documents import Because

from .scoping import WorkspaceRow
from .shapes import Json

OWN = {
    "submission_id": "by_submission",
    "run_id": "by_run",
    "send_id": "by_send",
    "replay_id": "by_replay",
}
"""The ids of a because that are each row's own, and their columns."""


class Cause(WorkspaceRow):
    """What a because says of a source, a revision and its line, of a step or of a member.

    Its id is made from its content, so that storing it again changes nothing. It names nobody but
    members: the sentence, which may, stands in each row.
    """

    content = models.JSONField()


class Caused(models.Model):
    """A row with a because."""

    # Without a constraint, which would cost a look at the cause for each row of the trail. Causes
    # are never removed, and `keep_causes` stores them in the transaction that refers to them.
    cause = models.ForeignKey(
        Cause, on_delete=models.DO_NOTHING, db_constraint=False, db_index=False, related_name="+"
    )
    sentence = models.TextField(blank=True)
    by_submission = models.UUIDField(null=True)
    by_run = models.UUIDField(null=True)
    by_send = models.UUIDField(null=True)
    by_replay = models.UUIDField(null=True)

    class Meta:
        abstract = True

    @property
    def because(self) -> Json:
        """The because as JSON has it. Select `cause` along where many are read."""
        own = {name: getattr(self, column) for name, column in OWN.items()}
        ids = {name: str(one) if one else None for name, one in own.items()}
        return {**_EMPTY, **self.cause.content, **ids, "sentence": self.sentence}

    @because.setter
    def because(self, because: Because) -> None:
        workspace_id: UUID = self.workspace_id  # type: ignore[attr-defined]
        for name, value in caused_by(workspace_id, because).items():
            setattr(self, name, value)

    def save(self, *args: Any, **options: Any) -> None:
        """Store the row, and its cause where that is new."""
        keep_causes([self])
        super().save(*args, **options)


CAUSE = ("cause", "sentence", *OWN.values())
"""The fields of a because."""
_EMPTY = Because(kind="person", sentence="").as_json()
_SHARED = tuple(name for name in _EMPTY if name not in OWN and name != "sentence")
_shared = attrgetter(*_SHARED)


def caused_by(workspace_id: UUID, because: Because) -> Json:
    """The fields of a row that say why it is so; the cause is perhaps not stored yet."""
    return {
        "cause": _cause(workspace_id, _shared(because)),
        "sentence": because.sentence,
        "by_submission": _id(because.submission_id),
        "by_run": _id(because.run_id),
        "by_send": _id(because.send_id),
        "by_replay": _id(because.replay_id),
    }


@lru_cache(maxsize=4096)
def _cause(workspace_id: UUID, shared: tuple[object, ...]) -> Cause:
    content = {name: one for name, one in zip(_SHARED, shared, strict=True) if one is not None}
    named = json.dumps([str(workspace_id), content], sort_keys=True)
    pk = UUID(bytes=hashlib.sha256(named.encode()).digest()[:16])
    return Cause(pk=pk, workspace_id=workspace_id, content=content)


def keep_causes(rows: Iterable["Caused"]) -> None:
    """Store the causes of rows that are about to be stored, those that are new; in one order, so
    that two transactions never wait for each other in a circle."""
    causes = {one.cause_id: one.cause for one in rows if _has_cause(one)}
    fresh = sorted(pk for pk in causes if pk not in _STORED)
    if fresh:
        Cause.everywhere.bulk_create([causes[pk] for pk in fresh], ignore_conflicts=True)
        transaction.on_commit(partial(_remember, fresh))


_STORED: dict[UUID, None] = {}
"""Causes that this process has stored for good, the newest last: they are never removed, and nothing has
the id of a workspace that is gone."""
_REMEMBERED = 50_000
_LOCK = Lock()


def _remember(causes: Iterable[UUID]) -> None:
    if connection.in_atomic_block:
        # A test runs what follows a commit, and takes all of it back.
        return
    with _LOCK:
        _STORED.update(dict.fromkeys(causes))
        while len(_STORED) > _REMEMBERED:
            del _STORED[next(iter(_STORED))]


def _has_cause(row: Caused) -> bool:
    """Whether the cause is at hand: of a row that was read it is stored anyway."""
    return not isinstance(row, Caused) or Caused.cause.is_cached(row)  # type: ignore[attr-defined]


@lru_cache(maxsize=1024)
def _id(text: str | None) -> UUID | None:
    return UUID(text) if text else None
