"""Queueing sends, handing them over by hand, and deciding about those that a snag stopped."""

import contextlib
from collections.abc import Sequence
from datetime import datetime
from typing import Any

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
from .jobs import DELIVER
from .models import Send
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
    asked_for: bool,
    answers: list[Any],
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
        asked_for=asked_for,
        answers=answers,
    )
    with contextlib.suppress(IntegrityError), transaction.atomic():
        outbox.write()


def deliver_queued(workspace: Workspace) -> None:
    """Hand over now what is queued, without waiting for the worker; for the movable clock."""
    deliver_everything(workspace.pk)
    judge_now(workspace)


def next_held_back(workspace: Workspace, until: datetime) -> datetime | None:
    """When the next email is due that waits because its person asked for fewer."""
    waiting = Send.objects.of(workspace).filter(
        state=Send.State.QUEUED, not_before__gt=clock.now(workspace), not_before__lte=until
    )
    found: datetime | None = waiting.aggregate(next=Min("not_before"))["next"]
    return found


@changes("sent {result} again that a snag had stopped")
def send_again(workspace: Workspace, snag: Snag) -> int:
    """Queue again what the snag stopped, each at most once more; how many."""
    with transaction.atomic():
        stopped = list(
            Send.objects.of(workspace).select_for_update().filter(snag=snag).exclude(state="sent")
        )
        queue_again(workspace, stopped)
        close(snag)
        return len(stopped)


def queue_again(workspace: Workspace, stopped: Sequence[Send]) -> None:
    """Queue sends again that something stopped, in the caller's transaction; the caller has locked them."""
    for send in stopped:
        send.state, send.snag, send.attempts = Send.State.QUEUED, None, 0
        send.not_before = None
        send.save(update_fields=["state", "snag", "attempts", "not_before"])
    DELIVER.defer(workspace_id=str(workspace.pk))


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
        mark_sent(unknown, clock.now(workspace))
        close(snag)
        return len(unknown)
