"""Broadcasts: a hundred thousand prepared, counted and called off; and sent, beside the same finished messages."""

import time
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.db import connection

from core.broadcasts import BroadcastDocument, To, Version, When
from core.messages import simple_message
from server.broadcasts import actions
from server.broadcasts.going import go_on
from server.broadcasts.models import Broadcast
from server.broadcasts.planning import plan_of
from server.mail.editing import make_message, save_message
from server.mail.models import Send
from server.people.models import MailingList, Subscriber
from server.workspaces import clock
from server.workspaces.actions import set_up
from server.workspaces.models import Workspace

from .crowd import make_crowd
from .sending import COUNT, LETTER, rate_of_sending, straight

PEOPLE = 160_000
"""64 of 100 of the crowd are subscribed: 102,400."""
_TURNS = 3


def broadcast_prepare(fresh: Callable[[], Any]) -> dict[str, Any]:
    """Emails of a broadcast queued per second, from the question who gets it to the commit; the limit is
    one INSERT … SELECT of the same rows into the same table."""
    fresh()
    workspace = _workspace()
    names = make_crowd(workspace, PEOPLE)
    seconds, floor, stopping = [], [], []
    counting = 0.0
    for turn in range(_TURNS):
        row = _set_off(workspace, names.news, f"Turn {turn}")
        counting = _timed(lambda row=row: plan_of(row, _document(row)))  # type: ignore[misc]
        clock.set_time(workspace, clock.now(workspace) + timedelta(minutes=1))
        seconds.append(_timed(lambda row=row: go_on(row.pk)))  # type: ignore[misc]
        queued = Send.everywhere.filter(state="queued").count()
        floor.append(_by_hand())
        row.refresh_from_db()
        stopping.append(_timed(lambda row=row: actions.stop(row)))  # type: ignore[misc]
        assert Send.everywhere.filter(state="withdrawn").count() == queued
        with connection.cursor() as cursor:
            cursor.execute("TRUNCATE mail_send CASCADE")
    took, limit = min(seconds), min(floor)
    return {
        "value": round(queued / took),
        "unit": "1/s",
        "emails": queued,
        "seconds": round(took, 2),
        "limit": round(queued / limit),
        "ratio": round(limit / took, 3),
        "counted_in_seconds": round(counting, 2),
        "stopped_in_seconds": round(min(stopping), 2),
    }


def broadcast_send(fresh: Callable[[], Any]) -> dict[str, Any]:
    """Emails of a broadcast handed over per second by one worker, and by two; the limit is smtplib with the
    finished messages."""
    one = rate_of_sending(fresh, 1, _queue)
    floor = straight()
    two = rate_of_sending(fresh, 2, _queue)
    return {
        "value": round(one, 1),
        "unit": "1/s",
        "limit": round(floor, 1),
        "ratio": round(one / floor, 3),
        "two_workers": round(two / one, 2),
    }


def _queue(workspace: Workspace) -> None:
    """A broadcast that has begun, with its emails queued."""
    mailing = MailingList.objects.of(workspace).first()
    assert mailing is not None
    row = _set_off(workspace, mailing, "Open night", letter=True)
    go_on(row.pk)
    assert Send.everywhere.filter(state="queued").count() == COUNT, Subscriber.everywhere.count()


def _workspace() -> Workspace:
    return set_up(
        Workspace.objects.get(),
        name="Bench",
        time_zone="Europe/London",
        sender_name="Bench",
        sender_address="bench@larkmoor.example",
        postal_address="1 Dome Road",
        keeps_ip=False,
    )


def _set_off(
    workspace: Workspace, mailing: MailingList, name: str, *, letter: bool = False
) -> Broadcast:
    message = make_message(workspace, name)
    text = LETTER if letter else simple_message("Open night", body="<p>Hello {{ first_name }}</p>")
    save_message(message, text, None, None)
    document = BroadcastDocument(
        to=To(list=str(mailing.pk)),
        versions=(Version(id="a", message=str(message.pk)),),
        when=When(delay_minutes=0),
    )
    row = actions.make_broadcast(workspace, name, document, None)
    actions.set_off(row, None)
    return Broadcast.everywhere.select_related("workspace").get(pk=row.pk)


def _document(row: Broadcast) -> BroadcastDocument:
    return BroadcastDocument.model_validate(row.revisions.get().document)


def _by_hand() -> float:
    """The same rows once more, by one statement."""
    with connection.cursor() as cursor:
        cursor.execute("CREATE TEMP TABLE same AS SELECT * FROM mail_send")
        cursor.execute("TRUNCATE mail_send CASCADE")
        took = _timed(lambda: cursor.execute("INSERT INTO mail_send SELECT * FROM same"))
        cursor.execute("DROP TABLE same")
    return took


def _timed(act: Callable[[], object]) -> float:
    began = time.perf_counter()
    act()
    return time.perf_counter() - began
