"""The one way to take a run on, whichever way it is set going: as it begins, when it is due, when something
happened to its person. A run that cannot go on has its own tries and then a snag; it stops no other."""

from dataclasses import replace
from datetime import datetime, timedelta
from typing import cast

import structlog

from core.delivering import Move, NoTimeFits
from core.people import Person
from core.sequences import (
    Advanced,
    Circle,
    EndReason,
    Journey,
    ReachedGoal,
    RunState,
    SendMessage,
    SequenceDocument,
    advance,
    begin,
    step_that_remains,
)
from server.snags.actions import report
from server.snags.models import Snag

from .facts import document_of_revision
from .models import Run, SequenceRevision
from .progress import Progress

log = structlog.get_logger("yalla.sequences")

TRIES = 5
_AGAIN = timedelta(seconds=30)
"""After the first failure of a run; twice as long after each further one."""


def take_on(
    progress: Progress,
    run: Run,
    live: SequenceRevision,
    document: SequenceDocument,
    person: Person,
    journey: Journey,
    now: datetime,
    *,
    stopped: bool = False,
) -> Person:
    """Take a run as far as it can go now, and enter it into `progress`; its person as they are by then.

    `stopped`: an email that is held stops it, unless it reaches a goal or ends. What goes wrong is
    noted on the run itself.
    """
    try:
        state = _state(run, live, document, person, journey, now)
        result = advance(state, document, person, now, journey)
    except Exception as error:
        known = isinstance(error, NoTimeFits | Circle)
        if not known:
            log.exception("run failed", run=str(run.pk))
        note_failure(run, str(error) if known else type(error).__name__, now)
        progress.fail(run)
        return person
    if stopped and not _leaves_or_reaches_goal(result):
        return person
    run.revision = live
    if result.run.ended and not run.ended and not result.effects:
        progress.end(run, result.run.ended, now)
        return person
    progress.move(run, result, document)
    return result.person


def note_failure(run: Run, why: str, now: datetime) -> None:
    """A run could not go on: it is tried again later, and is a snag after some tries."""
    run.tries += 1
    run.retry_at = now + _AGAIN * 2 ** (run.tries - 1)
    # A problem of the document is one at the next try too; somebody should know of it now.
    if run.tries >= TRIES and run.snag_id is None:
        run.snag = report(
            run.workspace,
            Snag.About.SEQUENCE,
            f"run/{run.sequence_id}/{why}"[:120],
            f"{run.sequence.name}: somebody cannot go on: {why}.",
            "Try again; if that fails too, the server's log has the reason.",
            {"sequence": str(run.sequence_id), "person": str(run.subscriber_id)},
        )


def _leaves_or_reaches_goal(result: Advanced) -> bool:
    """Whether a run goes on although it waits for an email that is held: a goal is reached, or it ends
    for another reason than having come to its end."""
    if any(isinstance(one, ReachedGoal) for one in result.effects):
        return True
    sends = any(isinstance(one, SendMessage) for one in result.effects)
    return result.run.ended not in (None, "finished") and not sends


def _state(
    run: Run,
    live: SequenceRevision,
    document: SequenceDocument,
    person: Person,
    journey: Journey,
    now: datetime,
) -> RunState:
    lane = document.lane(run.lane)
    if run.step is None and not run.ended and lane is not None:
        return begin(document, lane, person, now, journey)
    return state_in_live(run, live, document)


def state_of_run(run: Run) -> RunState:
    """Where a run stands, for the core."""
    return RunState(
        lane=run.lane,
        step=run.step,
        came_at=run.came_at,
        due_at=run.due_at if run.step else None,
        moved=tuple(Move.model_validate(one) for one in run.moved) if run.moved else (),
        lap=run.lap,
        goals=tuple(run.goals),
        act=run.act,
        ended=cast(EndReason | None, run.ended or None),
    )


def state_in_live(run: Run, live: SequenceRevision, document: SequenceDocument) -> RunState:
    """Where a run stands, in the revision that is live."""
    state = state_of_run(run)
    if live.pk == run.revision_id or not run.step:
        return state
    before = document_of_revision(str(run.revision_id))
    remaining = step_that_remains(state.step or "", before, document)
    if remaining is None:
        return replace(state, ended="step_gone")
    lane, step = remaining
    if step == state.step:
        return replace(state, lane=lane)
    # Its own step is gone: it comes to the next one now.
    return replace(state, lane=lane, step=step, came_at=None, moved=())
