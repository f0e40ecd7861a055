"""Queueing sends, handing them over by hand, and deciding about those that a snag stopped."""

import contextlib
from collections.abc import Sequence
from datetime import datetime

from django.db import IntegrityError, transaction
from django.db.models import Min

from core.documents import Because
from server.people.locks import locked_people
from server.people.models import Subscriber
from server.snags.actions import close
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.history import changes
from server.workspaces.models import Workspace

from .counting import judge_now
from .deliver import deliver_everything
from .holds import forget_hold, try_holds
from .jobs import DELIVER
from .life import queue_again
from .models import Send, SendingHold
from .outbox import Outbox
from .outcomes import mark_sent


def queue_send(
    subscriber: Subscriber,
    message_id: str,
    list_id: str | None,
    origin: str,
    because: Because,
    at: datetime,
    *,
    act: str,
    answers: list[list[str]],
) -> None:
    """Queue one send, once for each `origin`; the caller holds the transaction."""
    outbox = Outbox()
    outbox.add(
        subscriber,
        message_id,
        list_id,
        origin,
        because,
        at,
        act=act,
        answers=answers,
    )
    with contextlib.suppress(IntegrityError), transaction.atomic():
        outbox.write()


def deliver_queued(workspace: Workspace) -> None:
    """Hand over now what is queued, without waiting for the worker; for the movable clock."""
    try_holds(workspace)
    deliver_everything(workspace.pk)
    judge_now(workspace)


def next_held_back(workspace: Workspace, until: datetime) -> datetime | None:
    """When the next email is due that waits for a time, or is tried that sending on hold waits for."""
    now = clock.now(workspace)
    waiting = Send.objects.of(workspace).filter(
        state=Send.State.QUEUED, not_before__gt=now, not_before__lte=until
    )
    holds = SendingHold.objects.of(workspace).filter(try_at__gt=now, try_at__lte=until)
    found = (
        waiting.aggregate(next=Min("not_before"))["next"],
        holds.aggregate(next=Min("try_at"))["next"],
    )
    return min((at for at in found if at is not None), default=None)


@changes("sent {result} again that a snag had stopped")
def send_again(workspace: Workspace, snag: Snag) -> int:
    """Queue again what the snag stopped, each at most once more; how many. What is in a worker's hands,
    or went out meanwhile, is left alone."""
    with transaction.atomic():
        forget_hold(snag)
        stopped = Send.objects.of(workspace).select_for_update().filter(snag=snag).order_by("pk")
        count = len(send_these_again(workspace, list(stopped)))
        close(snag)
        return count


def send_these_again(workspace: Workspace, stopped: Sequence[Send]) -> list[Send]:
    """Queue sends again that something stopped, in the caller's transaction; the caller has locked them."""
    queued = queue_again(stopped, "member")
    if queued:
        DELIVER.defer(workspace_id=str(workspace.pk))
    return queued


@changes("said of {result} emails that they went out")
def it_went_out(workspace: Workspace, snag: Snag) -> int:
    """A member knows that the sends of the snag went out; how many."""
    with transaction.atomic():
        rows = Send.objects.of(workspace).filter(snag=snag, state=Send.State.UNKNOWN)
        people = Subscriber.objects.of(workspace).filter(pk__in=rows.values("subscriber"))
        locked_people(workspace, list(people.values_list("address", "is_test")))
        unknown = list(
            rows.select_for_update(of=("self",)).select_related(
                "workspace", "subscriber", "message"
            )
        )
        mark_sent(unknown, "member", clock.now(workspace))
        close(snag)
        return len(unknown)
