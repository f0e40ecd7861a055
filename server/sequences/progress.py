"""What happens to runs, of many people, collected first and written in few statements."""

from datetime import datetime
from typing import Any
from uuid import UUID

from django.db import connection

from core.documents import Because
from core.sequences import Advanced, CameTo, Ended, SendMessage, SequenceDocument, WentOn
from server.mail.models import Send
from server.mail.outbox import Outbox
from server.people.actions import fact
from server.people.models import Fact
from server.workspaces.copying import plain, store_all, update_all

from .models import Run, Visit

_MOVED = ("lane", "step", "due_at", "revision", "ended", "ended_at", "tries", "retry_at")
_WENT_ON = """
UPDATE sequences_visit AS row SET went_on_at = fresh.at
FROM unnest(%s::uuid[], %s::text[], %s::timestamptz[]) AS fresh (run, step, at)
WHERE row.run_id = fresh.run AND row.step = fresh.step
"""
_VISIT = """
INSERT INTO sequences_visit (id, workspace_id, run_id, sequence_id, step, came_at, went_on_at)
SELECT * FROM unnest(%s::uuid[], %s::uuid[], %s::uuid[], %s::uuid[], %s::text[],
    %s::timestamptz[], %s::timestamptz[])
ON CONFLICT (run_id, step) DO NOTHING
"""


class Progress:
    """Rows of many runs; `write` stores them all, in the caller's transaction. The caller has locked
    the people."""

    def __init__(self) -> None:
        self.outbox = Outbox()
        self._new: list[Run] = []
        self._moved: dict[UUID, Run] = {}
        self._visits: list[Any] = []
        self._went_on: list[tuple[UUID, str, datetime]] = []
        self._facts: list[Any] = []
        self._replayed: list[tuple[Run, SendMessage, SequenceDocument]] = []

    def enter(self, run: Run, name: str, lane: str, because: Because) -> None:
        """A run that begins."""
        self._new.append(run)
        what = {"sequence": name, "id": str(run.sequence_id), "lane": lane}
        entered = fact(run.subscriber, Fact.Kind.ENTERED, what, because, run.entered_at)
        self._facts.append(entered)

    def move(self, run: Run, result: Advanced, document: SequenceDocument) -> None:
        """A run goes as far as `result` says."""
        visits: dict[str, Any] = {}
        for effect in result.effects:
            match effect:
                case CameTo(step=step, at=at):
                    visits[step] = plain(Visit)(
                        workspace_id=run.workspace_id,
                        run_id=run.pk,
                        sequence_id=run.sequence_id,
                        step=step,
                        came_at=at,
                    )
                case WentOn(step=step, at=at) if step in visits:
                    visits[step].went_on_at = at
                case WentOn(step=step, at=at):
                    self._went_on.append((run.pk, step, at))
                case SendMessage() if run.by_replay:
                    self._replayed.append((run, effect, document))
                case SendMessage():
                    self._send(run, effect, document)
                case Ended(reason=reason, at=at):
                    run.ended, run.ended_at = reason, at
                    self._left(run, reason, at, because_of(run, result.run.step))
        self._visits += visits.values()
        run.lane, run.step, run.due_at = result.run.lane, result.run.step, result.run.due_at
        run.tries, run.retry_at = 0, None
        self._changed(run)

    def end(self, run: Run, reason: str, at: datetime, because: Because | None = None) -> None:
        """A run ends where it stands."""
        run.ended, run.ended_at, run.due_at = reason, at, None
        self._left(run, reason, at, because or because_of(run, run.step))
        self._changed(run)

    def write(self) -> None:
        """Store everything."""
        self._send_unless_sent()
        store_all(self._new)
        update_all(list(self._moved.values()), _MOVED)
        self._store_visits()
        if self._went_on:
            with connection.cursor() as cursor:
                cursor.execute(_WENT_ON, [list(one) for one in zip(*self._went_on, strict=True)])
        store_all(self._facts)
        self.outbox.write()
        self.__init__()  # type: ignore[misc]

    def _store_visits(self) -> None:
        """A step that a run has come to before keeps the visit that it has."""
        if self._visits:
            names = ("id", "workspace_id", "run_id", "sequence_id", "step", "came_at", "went_on_at")
            columns = [[getattr(one, name) for one in self._visits] for name in names]
            with connection.cursor() as cursor:
                cursor.execute(_VISIT, columns)

    def _changed(self, run: Run) -> None:
        if not run._state.adding:
            self._moved[run.pk] = run

    def _left(self, run: Run, reason: str, at: datetime, because: Because) -> None:
        what = {"sequence": run.sequence.name, "id": str(run.sequence_id), "why": reason}
        self._facts.append(fact(run.subscriber, Fact.Kind.LEFT, what, because, at))

    def _send(self, run: Run, effect: SendMessage, document: SequenceDocument) -> None:
        self.outbox.add(
            run.subscriber,
            effect.message,
            document.list,
            f"run/{run.pk}/{effect.step}/1",
            because_of(run, effect.step),
            effect.at,
            asked_for=effect.at_once,
            answers=run.answers,
            holds=effect.holds,
        )

    def _send_unless_sent(self) -> None:
        """A replay started these runs: nobody is sent again what they have been sent before."""
        if not self._replayed:
            return
        theirs = Send.everywhere.filter(
            subscriber__in={run.subscriber_id for run, _, _ in self._replayed},
            message__in={effect.message for _, effect, _ in self._replayed},
        ).exclude(state=Send.State.WITHDRAWN)
        sent = {(one, str(message)) for one, message in theirs.values_list("subscriber", "message")}
        for run, effect, document in self._replayed:
            if (run.subscriber_id, effect.message) not in sent:
                self._send(run, effect, document)


def because_of(run: Run, step: str | None) -> Because:
    """The cause of what a run does at a step."""
    return Because(
        kind="step",
        sentence=f"sequence {run.sequence.name}",
        sequence_id=str(run.sequence_id),
        sequence_name=run.sequence.name,
        run_id=str(run.pk),
        step_id=step,
    )
