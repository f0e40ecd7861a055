"""What became of an email: it went out, was not taken, may have gone out, or is held."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from uuid import UUID

from django.db import transaction

from core.delivering import Mover, NotBefore, Stage, judge_refusal
from core.documents import Because
from server.people.locks import retried
from server.people.memberships import bounce_all
from server.people.models import Fact
from server.people.trail import fact, store_facts
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock

from .deciding import decide_one
from .holds import hold_for, lift_holds, put_on_hold
from .life import move
from .locks import locked_send, locked_sends
from .models import Send, SendingHold

State = Send.State
RETRIES = [timedelta(minutes=minutes) for minutes in (1, 5, 15, 60, 180, 360, 720)]
"""How long an email waits after each time that the mail server put it off."""


@retried
def note_sent(ids: Sequence[UUID]) -> None:
    """These went out: noted under the locks of whose they are by now, since two people may have been
    merged while the mail server was spoken to."""
    with transaction.atomic():
        sends = locked_sends(ids)
        mark_sent(sends, "mail server")
        for send in sends:
            if send.probes:
                lift_holds(send)


def mark_sent(sends: Sequence[Send], by: Mover, at: datetime | None = None) -> None:
    """They have gone out, at `at` or when they were handed over: note it on the trails. The caller has
    locked the people."""
    for send in sends:
        send.snag = None
        send.sent_at = at or send.handed_at or clock.now(send.workspace)
    noted = []
    for send in move(sends, "sent", by, ["sent_at", "snag"]):
        because = replace(Because.from_json(send.because), send_id=str(send.pk), own=None)
        what = {"message": send.message.name, "id": str(send.message_id), "subject": send.subject}
        about = str(send.message_id)
        noted.append(
            fact(
                send.subscriber,
                Fact.Kind.SENT,
                what,
                because,
                send.sent_at or clock.now(send.workspace),
                about,
            )
        )
    store_facts(noted)


@retried
def note_not_taken(send_id: UUID, stage: Stage, reply: str) -> None:
    """The mail server did not take it, so it has not gone out: it waits for another try, or is refused, or
    waits with all that the refusal speaks of."""
    with transaction.atomic():
        send = locked_send(send_id)
        if send is None:
            return
        refusal = judge_refusal(stage, reply)
        send.reply, send.soft_mailbox = reply[:500], refusal.soft_mailbox
        if refusal.fault == "sending":
            _wait_for_hold(send, put_on_hold(send, stage, reply))
            return
        if refusal.fault == "passing" and send.attempts <= len(RETRIES):
            _wait_for_retry(send)
            return
        if not move([send], "refused", "mail server", ["reply", "soft_mailbox"]):
            return
        if refusal.fault == "mailbox" or softly_for_days(send):
            because = Because(
                kind="person", sentence=f"the mail server refused the address: {reply}"
            )
            bounce_all(send.subscriber, replace(because, send_id=str(send.pk)))
        send.snag = report(
            send.workspace,
            Snag.About.SEND,
            # A whole domain that refuses is one snag, not a thousand.
            f"refused/{send.domain}",
            f"The mail server did not take “{send.message.name}” for {send.subscriber.address}: {reply}.",
            "Check the person's address, or the mail server, then send again.",
            _place(send),
        )
        send.save(update_fields=["snag"])


def _wait_for_retry(send: Send) -> None:
    """It is tried again after a while, when an email to this person may go by then."""
    now = clock.now(send.workspace)
    send.retry_at = send.not_before = now + RETRIES[send.attempts - 1]
    verdict = decide_one(send.workspace, send, now)
    if isinstance(verdict, NotBefore):
        # What becomes of it otherwise is decided when it is due.
        send.not_before = verdict.at
    fields = ["reply", "soft_mailbox", "retry_at", "not_before"]
    move([send], "queued", "mail server", fields)


def _wait_for_hold(send: Send, row: SendingHold) -> None:
    """It waits, held, with all that the hold stops."""
    send.snag, send.was_held, send.probes = row.snag, True, False
    move([send], "held", "mail server", ["reply", "soft_mailbox", "snag", "was_held", "probes"])


def hold_on(send: Send) -> None:
    """An email that is due while sending is on hold: it waits on the snag of the hold."""
    row = hold_for(send)
    if row is None:
        # Lifted this moment: it is judged again.
        return
    send.snag, send.was_held, send.reply = row.snag, True, f"on hold: {row.reply}"[:500]
    move([send], "held", "worker", ["snag", "was_held", "reply"])


def softly_for_days(send: Send) -> bool:
    """Whether the last three emails to the address failed softly, over three days or more: at once, for the
    mailbox's sake, or by coming back."""
    settled = Send.everywhere.filter(
        subscriber=send.subscriber_id, state__in=(State.SENT, State.REFUSED)
    ).order_by("-queued_at", "-pk")
    last = list(settled.values_list("state", "soft_mailbox", "queued_at", "came_back")[:3])
    soft = all(
        (state == State.REFUSED and of_mailbox) or came_back in ("soft", "hard")
        for state, of_mailbox, _, came_back in last
    )
    return len(last) == 3 and soft and last[0][2] - last[-1][2] >= timedelta(days=3)


def note_not_addressable(send_id: UUID) -> None:
    """The address is beyond ASCII, and the mail server does not offer SMTPUTF8."""
    with transaction.atomic():
        send = locked_send(send_id)
        if send is not None:
            _hold_one(
                send,
                "smtputf8",
                f"The mail server does not take the address {send.subscriber.address}: it has "
                "letters beyond ASCII before the @ (SMTPUTF8, RFC 6531).",
                "Use a mail server that offers SMTPUTF8, or ask them for another address.",
            )


def note_unknown(send_id: UUID, what: str) -> None:
    """It may have gone out: it is not repeated by itself, a member decides."""
    with transaction.atomic():
        send = locked_send(send_id)
        if send is None:
            return
        send.reply = what[:500]
        if not move([send], "unknown", "mail server", ["reply"]):
            return
        send.snag = report(
            send.workspace,
            Snag.About.SEND,
            f"unknown/{send.message_id}",
            f"“{send.message.name}” may have gone out to {send.subscriber.address}: {what}.",
            "Ask the mail server for the Message-ID; then say that it went out, or send it again.",
            _place(send),
        )
        send.save(update_fields=["snag"])


def note_late(send_id: UUID) -> None:
    """It has waited for a day without a word from the mail server: somebody should know."""
    with transaction.atomic():
        send = locked_send(send_id)
        if send is None or send.state != State.QUEUED or send.snag_id is not None:
            return
        send.snag = report(
            send.workspace,
            Snag.About.SEND,
            f"late/{send.message_id}",
            f"“{send.message.name}” has waited for a day to go out to {send.subscriber.address}.",
            "Check the mail server and the worker; it goes out by itself once they answer.",
            _place(send),
        )
        send.save(update_fields=["snag"])


@dataclass(frozen=True)
class Held:
    """Why an email cannot go out as it is."""

    send: UUID
    cause: str
    sentence: str
    fix: str


def hold(held: Sequence[Held]) -> None:
    """They cannot go out as they are, but for those withdrawn meanwhile: one transaction for all of them,
    and one count on the snag of each cause."""
    if not held:
        return
    why = {one.send: one for one in held}
    with transaction.atomic():
        sends = [one for one in locked_sends(list(why)) if one.state == State.QUEUED]
        alike: dict[tuple[UUID, str], list[Send]] = {}
        for send in sends:
            alike.setdefault((send.message_id, why[send.pk].cause), []).append(send)
        # In one order, so that two workers never wait for each other in a circle.
        for (message, cause), many in sorted(alike.items(), key=str):
            last = many[-1]
            reason = why[last.pk]
            snag = report(
                last.workspace,
                Snag.About.SEND,
                f"{cause}/{message}",
                reason.sentence,
                reason.fix,
                _place(last),
                len(many),
            )
            for send in many:
                send.snag, send.was_held = snag, True
                send.reply = why[send.pk].sentence[:500]
        move(sends, "held", "worker", ["was_held", "reply", "snag"])


def _hold_one(send: Send, cause: str, sentence: str, fix: str) -> None:
    send.was_held, send.reply = True, sentence[:500]
    if move([send], "held", "mail server", ["was_held", "reply"]):
        send.snag = report(
            send.workspace,
            Snag.About.SEND,
            f"{cause}/{send.message_id}",
            sentence,
            fix,
            _place(send),
        )
        send.save(update_fields=["snag"])


def _place(send: Send) -> dict[str, str]:
    return {
        "message": str(send.message_id),
        "person": str(send.subscriber_id),
        "send": str(send.pk),
    }
