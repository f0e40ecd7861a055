"""Runs that go on when they are due: a set of them at a time, and each for itself where one fails."""

from collections.abc import Sequence as Sequence_
from datetime import datetime
from uuid import UUID
from zoneinfo import ZoneInfo

import structlog
from django.db import transaction
from django.db.models import Exists, Max, OuterRef, Q, QuerySet
from django.db.models.expressions import Combinable

from core.sequences import (
    SequenceDocument,
    WaitStep,
    due_after_late_email,
)
from server.mail.actions import send_these_again
from server.mail.models import Send
from server.people.at_hand import prefetch_relations
from server.people.locks import lock_keys, retried, try_keys
from server.people.models import Subscriber
from server.snags.actions import close
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Workspace

from .entering import follow
from .facts import document_of_revision
from .jobs import ADVANCE_DUE
from .journeys import base_journey, changes_lists, journey_of, looks_back, with_their_rows
from .models import Run, Sequence, SequenceRevision, Visit
from .moving import note_failure, take_on
from .people import persons_of_rows
from .progress import Progress

log = structlog.get_logger("yalla.sequences")

_AT_ONCE = 1000


def advance_runs(ids: Sequence_[UUID]) -> set[UUID]:
    """Take on those of the runs that are due, in few statements, however many they are, and whose people no
    other worker has in hand; those that went on. Where one of them fails, each goes on for itself."""
    try:
        return _advance(ids, wait=False)
    except Exception:
        for one in ids:
            _advance_or_note(one)
        return set()


def _advance_or_note(run_id: UUID) -> None:
    """Take one run on. One that fails is tried again later, and then a snag: it stops no other."""
    try:
        _advance([run_id], wait=True)
    except Exception as error:
        log.exception("run failed", run=str(run_id))
        _failed(run_id, type(error).__name__)


@retried
def _failed(run_id: UUID, why: str) -> None:
    with transaction.atomic():
        run = (
            Run.everywhere.select_for_update(of=("self",))
            .select_related("workspace", "sequence")
            .filter(pk=run_id, ended_at=None)
            .first()
        )
        if run is None:
            return
        note_failure(run, why, clock.now(run.workspace))
        run.save(update_fields=["tries", "retry_at", "snag"])


@retried
def _advance(ids: Sequence_[UUID], *, wait: bool) -> set[UUID]:
    with transaction.atomic():
        runs = _locked(ids, wait=wait)
        move_runs(runs)
        return {
            run.pk
            for run in runs
            if run.ended or (run.due_at and run.due_at > clock.now(run.workspace))
        }


def move_runs(runs: Sequence_[Run]) -> None:
    """Take locked runs as far as they can go now, due or not; the caller holds the transaction and
    the locks of the people. Those that a held email stops stay where they are."""
    live = {
        one.sequence_id: one
        for one in SequenceRevision.everywhere.filter(
            sequence__in={run.sequence_id for run in runs},
            state=SequenceRevision.State.LIVE,
        )
    }
    held = Send.everywhere.filter(among("holds", [run.pk for run in runs]))
    stopped = set(held.filter(state=Send.State.HELD).values_list("holds", flat=True))
    going = [run for run in runs if run.sequence_id in live]
    documents = {key: document_of_revision(str(one.pk)) for key, one in live.items()}
    waits = _waits_anew(going, documents)
    for workspace in {run.workspace_id: run.workspace for run in going}.values():
        own = [r for r in going if r.workspace_id == workspace.pk and r.pk not in waits]
        # Of two emails to one person that may not both go now, that of the higher priority goes.
        own.sort(
            key=lambda run: (-documents[run.sequence_id].priority, run.due_at or run.entered_at)
        )
        _move_in(workspace, own, live, documents, stopped)


def _move_in(
    workspace: Workspace,
    runs: Sequence_[Run],
    live: dict[UUID, SequenceRevision],
    documents: dict[UUID, SequenceDocument],
    stopped: set[UUID],
) -> None:
    back = any(looks_back(one) for one in documents.values())
    rows = _one_row_each(runs)
    persons = persons_of_rows(workspace, rows, history=back)
    if any(changes_lists(one) for one in documents.values()):
        prefetch_relations(rows, tags=False)
    base, now = base_journey(workspace), clock.now(workspace)
    progress = Progress()
    for run in runs:
        persons[run.subscriber_id] = take_on(
            progress,
            run,
            live[run.sequence_id],
            documents[run.sequence_id],
            persons[run.subscriber_id],
            journey_of(run, base),
            now,
            stopped=run.pk in stopped,
        )
    follow(workspace, progress.write(), now)


def _one_row_each(runs: Sequence_[Run]) -> list[Subscriber]:
    """Let all runs of a person have the same row of theirs, since a step may change it; these rows."""
    rows: dict[UUID, Subscriber] = {}
    for run in runs:
        row = rows.setdefault(run.subscriber_id, run.subscriber)
        if row is not run.subscriber:
            run.subscriber = row
    return list(rows.values())


def _locked(ids: Sequence_[UUID], *, wait: bool) -> list[Run]:
    """Those of the runs that are due, their people locked first; with `wait` all of them."""
    due = due_runs(Run.everywhere.filter(among("pk", ids)), clock.workspace_now())
    of_workspace: dict[UUID, dict[str, list[UUID]]] = {}
    for pk, workspace, key in due.values_list("pk", "workspace_id", "subscriber__address_key"):
        of_workspace.setdefault(workspace, {}).setdefault(key, []).append(pk)
    mine: dict[UUID, set[str]] = {}
    free: list[UUID] = []
    for workspace, theirs in sorted(of_workspace.items()):
        if wait:
            lock_keys(workspace, theirs)
        mine[workspace] = set(theirs) if wait else try_keys(workspace, theirs)
        free += [pk for key in mine[workspace] for pk in theirs[key]]
    # Only the rows of one's own people, or each of two workers would leave to the other what it has not got.
    # Whoever holds one of these just looks for what is due (`_advance_some`): that is over at once.
    locking = due.filter(among("pk", free)).select_for_update(of=("self",))
    found = with_their_rows(locking.order_by("pk"))
    # A merge may have given a run to somebody else meanwhile: they are looked at next time.
    return [run for run in found if run.subscriber.address_key in mine[run.workspace_id]]


def _waits_anew(going: Sequence_[Run], documents: dict[UUID, SequenceDocument]) -> set[UUID]:
    """The runs whose wait begins again, since the email before it was held and has gone out only
    now, and is not over."""
    waiting: dict[UUID, WaitStep] = {}
    for run in going:
        step = documents[run.sequence_id].step(run.step or "")
        if isinstance(step, WaitStep):
            waiting[run.pk] = step
    if not waiting:
        return set()
    sends = Send.everywhere.filter(among("holds", waiting), was_held=True).values_list("holds")
    last = dict(sends.annotate(last=Max("sent_at")).order_by())
    if not any(last.values()):
        return set()
    visits = Visit.everywhere.filter(among("run", waiting)).values_list("run", "step", "came_at")
    came = {(run, step): at for run, step, at in visits}
    found: set[UUID] = set()
    for run in going:
        since, sent = came.get((run.pk, run.step or "")), last.get(run.pk)
        if run.pk not in waiting or since is None or sent is None:
            continue
        zone = ZoneInfo(run.subscriber.time_zone or run.workspace.time_zone)
        due = due_after_late_email(waiting[run.pk], since, sent, zone)
        if due is None or due <= (run.due_at or due):
            continue
        run.due_at = due
        run.save(update_fields=["due_at"])
        if due > clock.now(run.workspace):
            found.add(run.pk)
    return found


@changes("let {result} people go on whom a snag had stopped")
def advance_again(workspace: Workspace, snag: Snag) -> int:
    """Try again with the runs that the snag stopped; how many."""
    with transaction.atomic():
        stopped = Run.objects.of(workspace).filter(snag=snag, ended_at=None)
        count = stopped.update(snag=None, tries=0, retry_at=None)
        close(snag)
        ADVANCE_DUE.defer(workspace_id=str(workspace.pk))
        return count


@changes("let somebody go on whom a snag had stopped")
def one_goes_on_again(run: Run) -> None:
    """Try again with one run that a snag stopped, or with the email that it waits for. A snag closes with
    the last that it stopped."""
    with transaction.atomic():
        run = Run.objects.of(run.workspace).select_for_update(of=("self",)).get(pk=run.pk)
        held = list(held_for(run.pk).select_for_update(of=("self",)).order_by("pk"))
        snags = {one for one in (run.snag, *(send.snag for send in held)) if one is not None}
        if run.ended_at is not None or (run.snag is None and not held):
            raise refuse("not_stopped", "run", "Nothing stops this person here any more.")
        run.snag, run.tries, run.retry_at = None, 0, None
        run.save(update_fields=["snag", "tries", "retry_at"])
        if held:
            send_these_again(run.workspace, held)
        for snag in snags:
            if not (
                Run.objects.of(run.workspace).filter(snag=snag, ended_at=None).exists()
                or Send.objects.of(run.workspace).filter(snag=snag).exists()
            ):
                close(snag)
        ADVANCE_DUE.defer(workspace_id=str(run.workspace_id))


def _with_due_runs(workspace_id: str | None) -> list[Workspace]:
    """The workspaces in which somebody is due; of all, or of one."""
    due = Run.everywhere.filter(workspace=OuterRef("pk"), ended_at=None)
    rows = Workspace.objects.filter(Exists(due.filter(due_at__lte=clock.outer_now())))
    return list(rows.filter(pk=workspace_id) if workspace_id else rows)


def due_runs(
    runs: QuerySet[Run], now: datetime | Combinable, paused: Sequence_[UUID] | None = None
) -> QuerySet[Run]:
    """Those of the runs that may go on now. `paused`: the sequences that are, where they were looked up:
    then nothing is joined, and the runs come by their index."""
    runs = runs.filter(Q(retry_at=None) | Q(retry_at__lte=now))
    runs = runs.filter(ended_at=None, due_at__lte=now, snag=None)
    # Whoever waits for an email that is held gets nothing that comes after it.
    runs = runs.exclude(Exists(held_for(OuterRef("pk"))))
    if paused is not None:
        return runs.exclude(sequence__in=paused)
    resting = Sequence.everywhere.filter(pk=OuterRef("sequence"), state=Sequence.State.PAUSED)
    return runs.exclude(Exists(resting))


def advance_due_runs(workspace_id: str | None) -> None:
    """Take on everything that is due now, in one workspace or in all, batch by batch.

    People are locked before their runs, and nobody is waited for: two workers never do the same, and those
    whose people are in other hands stay due. No workspace waits for all of another.
    """
    busy: set[UUID] = set()
    waiting = _with_due_runs(workspace_id)
    # One that is paused meanwhile is seen once its runs are locked.
    resting = Sequence.everywhere.filter(workspace__in=waiting, state=Sequence.State.PAUSED)
    paused = list(resting.values_list("pk", flat=True))
    while waiting:
        waiting = [one for one in waiting if _advance_some(one, busy, paused)]


def _advance_some(workspace: Workspace, busy: set[UUID], paused: Sequence_[UUID] = ()) -> bool:
    """Take on one batch of a workspace; whether there was any. What stays is noted in `busy`."""
    # In one workspace they are found by their index, in the order in which they are due.
    runs = due_runs(Run.objects.of(workspace), clock.now(workspace), paused).exclude(pk__in=busy)
    # What another worker has in hand is passed over at once: its rows are locked while it works.
    free = runs.order_by("due_at").select_for_update(of=("self",), skip_locked=True, no_key=True)
    with transaction.atomic(savepoint=False):
        ids = list(free.values_list("pk", flat=True)[:_AT_ONCE])
    busy.update(set(ids) - advance_runs(ids))
    return bool(ids)


def held_for(run: UUID | OuterRef) -> QuerySet[Send]:
    """The emails that are held and that a run waits for."""
    return Send.everywhere.filter(holds=run, state=Send.State.HELD)
