"""Emails composed and handed over, beside the same finished messages straight through smtplib on one
connection; and the rules of it alone."""

import smtplib
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any
from uuid import uuid4

from django.conf import settings
from django.utils import timezone

from core.documents import Because
from core.messages import (
    ButtonBlock,
    Column,
    ColumnsBlock,
    Frame,
    HeadingBlock,
    HouseStyle,
    MessageDocument,
    TextBlock,
    Written,
    fill,
    lay_out,
    write,
)
from outside.mailbox import Mailbox
from server.mail.editing import make_message, save_message
from server.mail.models import Send
from server.mail.outbox import Outbox
from server.people.models import MailingList, Membership, Subscriber
from server.workspaces.actions import set_up
from server.workspaces.causes import caused_by
from server.workspaces.copying import plain, store_all
from server.workspaces.models import Workspace

from .crowd import some_people
from .workers import done_per_second

COUNT = 2_000
LETTER = MessageDocument(
    subject="Look through ours, {{ first_name | default: 'you' }}",
    preheader="The dome opens at dusk",
    blocks=(
        HeadingBlock(id="h", text="Look through ours on Friday", level=1),
        TextBlock(
            id="t",
            html="<p>Hello {{ first_name | default: 'there' }},</p><p>on Friday the dome is open. Try "
            'three telescopes in <a href="https://a.example/?n={{ first_name }}">one evening</a>.</p>',
        ),
        ColumnsBlock(
            id="c",
            columns=(
                Column(id="c1", blocks=(TextBlock(id="x", html="<p>Town roofs</p>"),)),
                Column(id="c2", blocks=(TextBlock(id="y", html="<p>Moors</p>"),)),
            ),
        ),
        ButtonBlock(id="b", label="Say that you come", link="https://a.example/come"),
    ),
)


def compose() -> dict[str, Any]:
    """Written for a person and filled in, per second, by the core alone; the limit is the same letter by
    str.format, which cleans and escapes nothing."""
    frame = Frame("Larkmoor", "1 Dome Road", why="You signed up for Open-night news.")
    template = lay_out(LETTER, frozenset(), HouseStyle(), frame, {})
    context = {"leave_link": "https://a.example/u/1", "own_page": "https://a.example/p/1"}

    def one(number: int) -> str:
        written = write(template.sources, {**context, "first_name": f"Ines {number}"})
        assert isinstance(written, Written)
        return fill(template, written.parts).html

    pieces = one(0).replace("{", "{{").replace("}", "}}").replace("Ines 0", "{0}")
    rate = _per_second(one)
    floor = _per_second(lambda number: pieces.format(f"Ines {number}"))
    return {
        "value": round(rate, 1),
        "unit": "1/s",
        "limit": round(floor, 1),
        "ratio": round(rate / floor, 4),
    }


def _per_second(act: Callable[[int], object]) -> float:
    began, count = time.perf_counter(), 0
    while time.perf_counter() - began < 3:
        act(count)
        count += 1
    return count / (time.perf_counter() - began)


def send(fresh: Callable[[], Any]) -> dict[str, Any]:
    """Emails per second by one worker, and by two; the limit is smtplib with the finished messages."""
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


def _mailbox() -> Mailbox:
    return Mailbox(Path(settings.DATA_DIR) / "outside" / "mail")


def rate_of_sending(
    fresh: Callable[[], Any], workers: int, queue: Callable[[Workspace], None]
) -> float:
    """Emails per second by so many workers, of those that `queue` queues for the people who are there."""
    fresh()
    workspace = Workspace.objects.get()
    set_up(
        workspace,
        name="Bench",
        time_zone="Europe/London",
        sender_name="Bench",
        sender_address="bench@larkmoor.example",
        postal_address="1 Dome Road",
        keeps_ip=False,
    )
    workspace.counts_clicks = workspace.counts_opens = True
    workspace.save(update_fields=["counts_clicks", "counts_opens"])
    _mailbox().empty()
    people_on_list(workspace)
    queue(workspace)
    return done_per_second(Send.everywhere.filter(state="sent"), COUNT, workers)


def people_on_list(workspace: Workspace) -> None:
    """So many people, all on the one list."""
    mailing = MailingList.objects.of(workspace).first()
    assert mailing is not None
    now = timezone.now()
    because = Because(kind="member", sentence="a bench")
    store_all(
        [
            plain(Membership)(
                workspace_id=workspace.pk,
                subscriber_id=one.pk,
                list_id=mailing.pk,
                state="subscribed",
                changed_at=now,
                **caused_by(workspace.pk, because),
            )
            for one in some_people(workspace, COUNT)
        ]
    )


def _queue(workspace: Workspace) -> None:
    message = make_message(workspace, "Open night")
    save_message(message, LETTER, None, None)
    mailing = MailingList.objects.of(workspace).first()
    assert mailing is not None
    now = timezone.now()
    because = Because(kind="member", sentence="a bench")
    people = list(Subscriber.objects.of(workspace).order_by("pk"))
    outbox = Outbox()
    for one in people:
        outbox.add(
            one,
            str(message.pk),
            str(mailing.pk),
            f"bench/{uuid4()}",
            because,
            now,
            act="",
            answers=[],
        )
    outbox.write()


def straight() -> float:
    """The messages that arrived, handed over once more by smtplib alone."""
    letters = _mailbox().list()
    assert len(letters) == COUNT, len(letters)
    with smtplib.SMTP(settings.EMAIL_HOST, settings.EMAIL_PORT) as server:
        began = time.perf_counter()
        for one in letters:
            server.sendmail(one.sender, list(one.recipients), one.content)
        return len(letters) / (time.perf_counter() - began)
