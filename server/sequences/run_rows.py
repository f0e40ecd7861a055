"""Rows of runs and their visits, of many people, collected first and written in few statements."""

from collections.abc import Iterable
from datetime import datetime
from operator import attrgetter
from uuid import UUID

from django.db import connection

from core.sequences import CameTo, RunEffect, RunState, WentOn
from server.mail.life import withdraw
from server.mail.models import Send
from server.workspaces.among import among
from server.workspaces.arrays import array
from server.workspaces.copying import plain, store_all, update_all

from .models import Run, Visit

_MOVED = (
    "act",
    "door",
    "lane",
    "step",
    "came_at",
    "due_at",
    "moved",
    "lap",
    "goals",
    "goal",
    "goal_at",
    "revision",
    "ended",
    "ended_at",
    "tries",
    "retry_at",
    "snag",
)
_WENT_ON = """
UPDATE sequences_visit AS row SET went_on_at = fresh.at, way = fresh.way
FROM unnest(%s::uuid[], %s::text[], %s::int[], %s::timestamptz[], %s::text[])
    AS fresh (run, step, lap, at, way)
WHERE row.run_id = fresh.run AND row.step = fresh.step AND row.lap = fresh.lap
"""
_VISIT = """
INSERT INTO sequences_visit
    (id, workspace_id, run_id, sequence_id, step, lap, came_at, went_on_at, way)
SELECT fresh.id, run.workspace_id, run.id, run.sequence_id, step_, lap_, came, went, way_
FROM unnest(%s::uuid[], %s::uuid[], %s::text[], %s::int[], %s::timestamptz[], %s::timestamptz[],
    %s::text[]) AS fresh (id, run, step_, lap_, came, went, way_)
JOIN sequences_run AS run ON run.id = fresh.run
ON CONFLICT (run_id, step, lap) DO NOTHING
"""
_columns_of_visit = attrgetter("id", "run_id", "step", "lap", "came_at", "went_on_at", "way")


class RunRows:
    """Runs that are new or move, their visits, and the emails of theirs that are withdrawn."""

    def __init__(self) -> None:
        self._new: list[Run] = []
        self._moved: dict[UUID, Run] = {}
        self._visits: list[Visit] = []
        self._went_on: list[tuple[UUID, str, int, datetime, str]] = []
        self._withdrawn: dict[str, dict[UUID, UUID]] = {}
        """Runs whose emails are withdrawn and whose they are, by the reason."""

    def enter(self, run: Run) -> None:
        """A run that begins."""
        self._new.append(run)

    def change(self, run: Run) -> None:
        """A run whose row changes."""
        if not run._state.adding:
            self._moved[run.pk] = run

    def stand(self, run: Run, state: RunState) -> None:
        """A run stands where `state` says."""
        run.lane, run.step, run.came_at = state.lane, state.step, state.came_at
        run.due_at, run.lap, run.goals = state.due_at, state.lap, list(state.goals)
        run.act = state.act
        run.moved = [one.model_dump(mode="json") for one in state.moved]
        run.tries, run.retry_at = 0, None
        self.change(run)

    def visit(self, run: Run, effects: Iterable[RunEffect]) -> None:
        """The steps that a run comes to, and goes on from."""
        visits: dict[tuple[str, int], Visit] = {}
        for effect in effects:
            match effect:
                case CameTo(step=step, at=at, lap=lap):
                    visits[step, lap] = plain(Visit)(
                        workspace_id=run.workspace_id,
                        run_id=run.pk,
                        sequence_id=run.sequence_id,
                        step=step,
                        lap=lap,
                        came_at=at,
                    )
                case WentOn(step=step, lap=lap) if (step, lap) in visits:
                    visits[step, lap].went_on_at = effect.at
                    visits[step, lap].way = effect.way
                case WentOn():
                    gone = (run.pk, effect.step, effect.lap, effect.at, effect.way)
                    self._went_on.append(gone)
        self._visits += visits.values()

    def withdraw_emails(self, run: Run, why: str) -> None:
        """What waits to go of a run is withdrawn, but for what its person asked for."""
        self._withdrawn.setdefault(why, {})[run.pk] = run.subscriber_id

    def write_withdrawals(self) -> None:
        """Before anything new is queued."""
        for why, runs in self._withdrawn.items():
            # The people too: by them they are found, and not among all that was ever sent.
            theirs = among("subscriber", set(runs.values()))
            waiting = Send.everywhere.filter(theirs, among("by_run", runs), asked_for=False)
            withdraw(waiting, why)

    def write(self) -> None:
        """Store the runs, then their visits."""
        store_all(self._new)
        update_all(list(self._moved.values()), _MOVED)
        if self._visits:
            # A step that a run has come to before in this lap keeps the visit that it has.
            rows = [_columns_of_visit(one) for one in self._visits]
            with connection.cursor() as cursor:
                cursor.execute(_VISIT, [array(one) for one in zip(*rows, strict=True)])
        if self._went_on:
            with connection.cursor() as cursor:
                cursor.execute(_WENT_ON, [array(one) for one in zip(*self._went_on, strict=True)])
