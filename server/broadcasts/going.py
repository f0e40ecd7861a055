"""A broadcast as time passes: it begins, its trial is judged, it is over."""

from datetime import datetime, timedelta
from uuid import UUID

from django.db import transaction
from django.db.models import Max, QuerySet

from core.broadcasts import BroadcastState
from server.mail.models import Send
from server.sequences.looks import LOOKS, Look
from server.workspaces import clock
from server.workspaces.models import Workspace

from .judging import trial_of
from .life import move
from .models import Broadcast, going_document
from .preparing import prepare
from .recipients import Counted, recipients_of

State = Broadcast.State
UNDER_WAY = (State.WAITING, State.TRYING, State.GOING)
_ON_THEIR_WAY = (Send.State.QUEUED, Send.State.HANDING_OVER)


def go_on(broadcast_id: UUID | str) -> None:
    """Do with a broadcast what is due by now, in one transaction for each thing."""
    while _next_thing(broadcast_id):
        pass


def _next_thing(broadcast_id: UUID | str) -> bool:
    with transaction.atomic():
        row = (
            Broadcast.everywhere.select_for_update(of=("self",))
            .select_related("workspace")
            .filter(pk=broadcast_id)
            .first()
        )
        if row is None:
            return False
        now = clock.now(row.workspace)
        match row.state:
            case State.WAITING if row.begins_at and row.begins_at <= now:
                _begin(row, now)
            case State.TRYING if row.decides_at is None:
                return _wait_for_trial(row)
            case State.TRYING if row.decides_at <= now:
                _decide_by_figures(row, now)
            case State.GOING if not _of(row).filter(state__in=_ON_THEIR_WAY).exists():
                move(row, "finish", ended_at=now)
            case _:
                return False
        return True


def _begin(row: Broadcast, now: datetime) -> None:
    document = going_document(row)
    recipients = recipients_of(row, document, now, now)
    first = document.versions[0].id
    counted = prepare(row, recipients, first, trial=document.is_tried)
    to: BroadcastState = "trying" if document.is_tried else "going"
    move(row, "begin", to=to, began_at=now, counted=_kept(counted))


def _wait_for_trial(row: Broadcast) -> bool:
    """Once every email of the trial is out, it is known when it is judged."""
    document = going_document(row)
    if document.trial.by == "member" or _of(row).filter(state__in=_ON_THEIR_WAY).exists():
        return False
    last = _of(row).aggregate(last=Max("sent_at"))["last"] or clock.now(row.workspace)
    row.decides_at = last + timedelta(hours=document.trial.hours)
    row.save(update_fields=["decides_at"])
    return True


def _decide_by_figures(row: Broadcast, now: datetime) -> None:
    decide(row, trial_of(row, going_document(row)).version, now)


def decide(row: Broadcast, version: str, now: datetime) -> None:
    """Send a version to the rest. The row is locked, in the caller's transaction; nobody gets two."""
    document = going_document(row)
    judged = trial_of(row, document).dict()
    move(row, "decide", chosen=version, judged=judged)
    recipients = recipients_of(row, document, now, now)
    prepare(row, recipients, version, trial=False)


def _of(row: Broadcast) -> QuerySet[Send]:
    rows: QuerySet[Send] = Send.objects.of(row.workspace).filter(broadcast=row.pk)
    return rows


def _kept(counted: Counted) -> dict[str, object]:
    return {
        "gets": counted.gets,
        "left_out": [
            {"why": why, "about": about, "people": people}
            for (why, about), people in counted.left_out.most_common()
        ],
    }


def look(workspace: Workspace) -> None:
    """Go on with every broadcast of a workspace that is under way."""
    rows = Broadcast.objects.of(workspace).filter(state__in=UNDER_WAY)
    for pk in rows.values_list("pk", flat=True):
        go_on(pk)


def next_due(workspace: Workspace, until: datetime) -> datetime | None:
    """When something is due next."""
    now = clock.now(workspace)
    rows = Broadcast.objects.of(workspace).filter(state__in=UNDER_WAY)
    moments = [
        row.begins_at if row.state == State.WAITING else row.decides_at
        for row in rows
        if row.state in (State.WAITING, State.TRYING)
    ]
    return min((at for at in moments if at and now < at <= until), default=None)


LOOKS.append(Look(look, next_due))
