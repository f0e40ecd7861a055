"""Links and pictures of emails that are counted: their signed addresses, and what comes by them.

A link carries where it leads inside its signature, so that nobody can make it lead elsewhere.
"""

from base64 import urlsafe_b64decode, urlsafe_b64encode
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from django.conf import settings
from django.core import signing
from django.db import transaction

from core.documents import Because
from core.messages import (
    Counts,
    Filled,
    MessageDocument,
    Template,
    Touched,
    counted_links,
    counts_of,
    judge,
    with_counters,
    with_parameters,
)
from server.people.models import Fact
from server.people.trail import fact, store_facts
from server.workspaces import clock
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_once

from .confirm_links import ORIGIN as CONFIRMS
from .jobs import JUDGE
from .locks import locked_send
from .models import Send, Touch

_CLICK, _OPEN = "yalla.click", "yalla.open"
JUDGED_AFTER = timedelta(seconds=20)
"""What comes together has come by then: a scanner is known by all that it does."""
MOST_TOUCHES = 200
"""Of one email that are kept."""
AGAIN = timedelta(seconds=60)
"""The same link within it is one click: a double click, or a page loaded again."""


def house_counts(workspace: Workspace) -> Counts:
    """What is counted where a message says nothing else."""
    return Counts(opens=workspace.counts_opens, clicks=workspace.counts_clicks)


def counted_of(send: Send, document: MessageDocument) -> Counts:
    """As the person wants it, the message says, or the workspace; in this order. An email that asks to
    confirm is never counted: whoever gets it has not agreed to anything yet."""
    if send.subscriber.uncounted or send.origin.startswith(CONFIRMS):
        return Counts(opens=False, clicks=False)
    return counts_of(document, house_counts(send.workspace))


def with_counted_links(
    send: Send, document: MessageDocument, counts: Counts, template: Template, filled: Filled
) -> Filled:
    """The email with its links made countable, where they are counted, and their parameters."""

    def change(number: int, address: str) -> str:
        if address.startswith(settings.PUBLIC_ADDRESS):
            tagged = address
        else:
            tagged = with_parameters(address, ((one.name, one.value) for one in document.utm))
        return click_address(send.pk, tagged, template.links[number]) if counts.clicks else tagged

    html = counted_links(filled.html, change)
    pixel = open_address(send.pk) if counts.opens else ""
    trap = click_address(send.pk, "", "") if counts.clicks or counts.opens else ""
    return replace(filled, html=with_counters(html, pixel, trap))


def click_address(send: UUID, leads_to: str, written: str) -> str:
    """The address of a link that is counted; the one that leads nowhere is that of the hidden link."""
    parts = [_short(send), leads_to] if leads_to == written else [_short(send), leads_to, written]
    token = signing.Signer(salt=_CLICK).sign_object(parts, compress=True)
    return f"{settings.PUBLIC_ADDRESS}/l/{token}"


def open_address(send: UUID) -> str:
    """The address of the picture that tells that an email was opened."""
    return f"{settings.PUBLIC_ADDRESS}/o/{signing.Signer(salt=_OPEN).sign(_short(send))}.gif"


@dataclass(frozen=True)
class Followed:
    """What a counted link says."""

    send: UUID
    leads_to: str
    written: str


def read_click(token: str) -> Followed | None:
    """What a link says; None where it is not one of ours."""
    try:
        parts: Any = signing.Signer(salt=_CLICK).unsign_object(token)
        return Followed(
            _long(parts[0]), str(parts[1]), str(parts[-1] if len(parts) > 2 else parts[1])
        )
    except (signing.BadSignature, ValueError, TypeError, IndexError):
        return None


def read_open(token: str) -> UUID | None:
    """The send whose picture was loaded; None where it is not one of ours."""
    try:
        return _long(signing.Signer(salt=_OPEN).unsign(token))
    except (signing.BadSignature, ValueError):
        return None


def _short(pk: UUID) -> str:
    return urlsafe_b64encode(pk.bytes).decode().rstrip("=")


def _long(short: str) -> UUID:
    return UUID(bytes=urlsafe_b64decode(f"{short}=="))


def note_touch(send_id: UUID, kind: Touch.Kind, link: str, agent: str, how: str) -> None:
    """Store that a link was followed or the picture loaded, to be judged soon."""
    send = (
        Send.everywhere.select_related("workspace", "subscriber")
        .only("id", "workspace", "subscriber__uncounted")
        .filter(pk=send_id)
        .first()
    )
    # Whoever asks not to be counted is not, also by emails that went out before.
    if send is None or send.subscriber.uncounted:
        return
    # Whoever has an email can load its picture for ever; so much is no reader.
    if send.touches.count() >= MOST_TOUCHES:
        return
    touch = Touch(
        workspace=send.workspace,
        send=send,
        kind=kind,
        link=link[:500],
        at=clock.now(send.workspace),
        agent=agent[:200],
        why=how[:40],
    )
    with transaction.atomic():
        touch.save(force_insert=True)
        defer_once(JUDGE, send_id, after=JUDGED_AFTER)


def judge_touches(send_id: str) -> None:
    """Tell people from programs in what came by one email, and note what people did."""
    with transaction.atomic():
        send = locked_send(send_id)
        if send is None:
            return
        touches = list(send.touches.order_by("at", "pk"))
        fresh = [one for one in touches if not one.by]
        if not fresh:
            return
        _judge(send, touches, {one.pk for one in fresh})


def _judge(send: Send, touches: list[Touch], fresh: set[UUID]) -> None:
    seen = [
        # What a request said of itself stands in `why` until it is judged.
        Touched(one.kind, one.at, one.link, one.agent, "" if one.by else one.why)  # type: ignore[arg-type]
        for one in touches
    ]
    changed, noted = [], []
    last: dict[tuple[str, str], datetime] = {}
    for one, judged in zip(touches, judge(seen, send.sent_at, send.links), strict=True):
        if one.pk not in fresh:
            if one.by == "person":
                last[one.kind, one.link] = one.at
            continue
        one.by, one.why = judged.by, judged.why
        changed.append(one)
        before = last.get((one.kind, one.link))
        if judged.by == "person" and (before is None or one.at - before > AGAIN):
            last[one.kind, one.link] = one.at
            # Each click is one; of opens only the first, since pictures load again and again.
            if one.kind == Touch.Kind.CLICK or send.opened_at is None:
                noted.append(one)
            if one.kind == Touch.Kind.OPEN:
                send.opened_at = send.opened_at or one.at
            else:
                send.clicked_at = send.clicked_at or one.at
    Touch.everywhere.bulk_update(changed, ["by", "why"])
    if noted:
        send.save(update_fields=["opened_at", "clicked_at"])
        store_facts([_fact_of(send, one) for one in noted])


def _fact_of(send: Send, touch: Touch) -> Fact:
    clicked = touch.kind == Touch.Kind.CLICK
    words = "clicked a link of an email" if clicked else "opened an email, as far as can be told"
    because = replace(
        Because.from_json(send.because),
        kind="person",
        sentence=words,
        send_id=str(send.pk),
        # A click is an act of their own; an open may be the program's.
        own=clicked or None,
    )
    what = {"message": send.message.name, "id": str(send.message_id), "subject": send.subject}
    if clicked:
        what["link"] = touch.link
    kind = Fact.Kind.CLICKED if clicked else Fact.Kind.OPENED
    return fact(send.subscriber, kind, what, because, touch.at, str(send.message_id))


def judge_now(workspace: Workspace) -> None:
    """Judge all that waits; for the movable clock."""
    waiting = Touch.objects.of(workspace).filter(by="")
    for pk in list(waiting.order_by().values_list("send", flat=True).distinct()):
        judge_touches(str(pk))
