"""Handing a send over to the mail server: at most once, and never with a hole.

The email is composed first. Then the send is marked *handing over*, the mail server is spoken
to, and it is marked *sent*. A worker that dies between the two leaves a send that may have gone out; it is not repeated
by itself, but becomes a snag that a member decides. A session lock of PostgreSQL tells a
send that is being handed over from one whose worker is gone.
"""

import smtplib
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import structlog
from django.core.mail import EmailMultiAlternatives
from django.db import connection, transaction
from django.db.models import Max, Q

from core.documents import Because, Problem
from core.messages import refuses_address
from core.people import domain_of, may_be_sent_marketing
from core.sequences import after_gap
from server.people.actions import bounce_all, fact
from server.people.facts import fields_of, memberships_of
from server.people.locks import retried
from server.people.models import Fact
from server.people.suppression import suppressed_among
from server.people.trail import store_facts
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock

from .backend import NotReached, hand_over
from .compose import to_send
from .locks import locked_send
from .models import Send
from .pace import room_for
from .ready import ReadyEmail, email_for

log = structlog.get_logger("yalla.mail")
State = Send.State
_RETRIES = [timedelta(minutes=minutes) for minutes in (1, 5, 15, 60, 180, 360, 720)]


def deliver(send_id: str) -> timedelta | None:
    """Hand one send over; how long to wait before the next try, or None when it is final."""
    with _handing_over(send_id) as free:
        if not free:
            return None
        claimed = _claim(send_id)
        if claimed is None or isinstance(claimed, timedelta):
            return claimed
        mail = claimed
        try:
            hand_over(mail)
        except smtplib.SMTPNotSupportedError:
            _cannot_be_addressed(send_id)
            return None
        except smtplib.SMTPResponseException as error:
            reply = f"{error.smtp_code} {_readable(error.smtp_error)}"
            return _not_taken(send_id, reply, for_good=error.smtp_code >= 500)
        except smtplib.SMTPRecipientsRefused as error:
            code, words = next(iter(error.recipients.values()))
            return _not_taken(send_id, f"{code} {_readable(words)}", for_good=code >= 500)
        except NotReached as error:
            return _not_taken(send_id, str(error), for_good=False)
        except (smtplib.SMTPException, OSError) as error:
            _may_have_gone_out(send_id, str(error))
            return None
        sent(send_id)
        return None


def resolve_abandoned(send_id: str) -> None:
    """A send left in *handing over*: if its worker is gone, say that it may have gone out."""
    with _handing_over(send_id) as free:
        if free:
            _may_have_gone_out(send_id, "the worker stopped while the mail server had it")


@contextmanager
def _handing_over(send_id: str) -> Iterator[bool]:
    """Hold the session lock of a send; False where another worker holds it.

    The lock goes with the database connection, so it is free as soon as a worker is gone.
    """
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_try_advisory_lock(hashtextextended(%s, 1))", [send_id])
        free = cursor.fetchone()[0]
    try:
        yield free
    finally:
        if free:
            with connection.cursor() as cursor:
                cursor.execute("SELECT pg_advisory_unlock(hashtextextended(%s, 1))", [send_id])


def _claim(send_id: str) -> EmailMultiAlternatives | timedelta | None:
    """Compose the email and mark the send as being handed over; how long it waits, where it has
    to; None where it may not go."""
    with transaction.atomic():
        send = (
            Send.everywhere.select_for_update(of=("self",))
            .select_related("workspace", "subscriber", "message", "list")
            .filter(pk=send_id)
            .first()
        )
        if send is None or send.state != State.QUEUED:
            return None
        if send.list_id and not send.asked_for:
            state = memberships_of(send.subscriber).get(str(send.list_id), "none")
            if not may_be_sent_marketing(state):
                send.state = State.WITHDRAWN
                send.reply = f"{state} when it was due"
                send.save(update_fields=["state", "reply"])
                return None
        if not send.list_id and not send.asked_for and send.subscriber.left_all_at is not None:
            send.state = State.WITHDRAWN
            send.reply = "left every list"
            send.save(update_fields=["state", "reply"])
            return None
        # The list is in force over everything but what the person asked for just now.
        if not send.asked_for and suppressed_among(send.workspace, [send.subscriber.address]):
            send.state = State.WITHDRAWN
            send.reply = "on the suppression list when it was due"
            send.save(update_fields=["state", "reply"])
            return None
        wait = _wait_of(send)
        if wait is not None:
            return wait
        email = email_for(send)
        if isinstance(email, Problem):
            _hold(send, "unreadable", f"“{send.message.name}”: {email.sentence}", email.fix)
            return None
        if email.holes:
            _hold(
                send,
                "hole/" + "/".join(email.holes),
                f"“{send.message.name}” needs {_labels(send, email.holes)}, which is empty.",
                "Give it a fallback in the message, then send again.",
            )
            return None
        if not send.workspace.sender_address:
            _hold(
                send,
                "no_sender",
                "The workspace has no address to send from.",
                "Set the sender in the settings, then send again.",
            )
            return None
        wait = room_for(send)
        if wait is not None:
            return wait
        mail = _composed(send, email)
        if mail is None:
            return None
        send.state, send.handed_at = State.HANDING_OVER, email.date
        send.subject = email.letter.subject[:998]
        send.revision, send.links = email.revision, email.links
        send.counts_opens = email.counts_opens
        send.domain = domain_of(send.subscriber.address)
        send.attempts += 1
        send.save(
            update_fields=[
                "state",
                "subject",
                "attempts",
                "handed_at",
                "revision",
                "links",
                "counts_opens",
                "domain",
            ]
        )
        return mail


def _composed(send: Send, email: ReadyEmail) -> EmailMultiAlternatives | None:
    """The finished email; None, and the send is held, where it cannot be made."""
    try:
        mail = to_send(email.letter, email.signer)
        mail.message().as_bytes()
        return mail
    except Exception as error:
        log.exception("compose failed", send=str(send.pk))
        _hold(
            send,
            "not_composed",
            f"“{send.message.name}” cannot be made into an email ({type(error).__name__}).",
            "Check the message and its files; the server's log has the reason.",
        )
        return None


def _wait_of(send: Send) -> timedelta | None:
    """How long a marketing email waits because the person asked for fewer; None: not at all.

    A lock of their own makes the second of two emails at once see the first.
    """
    person = send.subscriber
    if send.asked_for or not person.gap_days:
        return None
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, 2))", [str(person.pk)])
    gone_out = (State.SENT, State.HANDING_OVER, State.UNKNOWN)
    before = Send.everywhere.filter(
        subscriber=person, asked_for=False, state__in=gone_out
    ).aggregate(sent=Max("sent_at"), handed=Max("handed_at", filter=Q(sent_at=None)))
    last = max((at for at in before.values() if at), default=None)
    now = clock.now(send.workspace)
    zone = ZoneInfo(person.time_zone or send.workspace.time_zone)
    earliest = after_gap(now, last, person.gap_days, zone)
    if earliest <= now:
        return None
    send.not_before = earliest
    days = "day" if person.gap_days == 1 else f"{person.gap_days} days"
    send.reply = f"waits: they asked for at most one email every {days}"
    send.save(update_fields=["not_before", "reply"])
    return earliest - now


def _cannot_be_addressed(send_id: str) -> None:
    """The address is beyond ASCII, and the mail server does not offer SMTPUTF8."""
    with transaction.atomic():
        send = locked_send(send_id)
        if send is not None:
            _hold(
                send,
                "smtputf8",
                f"The mail server does not take the address {send.subscriber.address}: it has "
                "letters beyond ASCII before the @ (SMTPUTF8, RFC 6531).",
                "Use a mail server that offers SMTPUTF8, or ask them for another address.",
            )


@retried
def _not_taken(send_id: str, reply: str, *, for_good: bool) -> timedelta | None:
    """The mail server did not take it, so it has not gone out."""
    with transaction.atomic():
        send = locked_send(send_id)
        if send is None:
            return None
        send.reply = reply[:500]
        tries_left = send.attempts <= len(_RETRIES)
        if not for_good and tries_left:
            wait = _RETRIES[send.attempts - 1]
            send.state, send.not_before = State.QUEUED, clock.now(send.workspace) + wait
            send.save(update_fields=["state", "reply", "not_before"])
            return wait
        send.state = State.REFUSED
        send.save(update_fields=["state", "reply"])
        if (for_good and refuses_address(reply)) or softly_for_days(send):
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
            "Look at the address of the person, or at the mail server, then send again.",
            _place(send),
        )
        send.save(update_fields=["state", "reply", "snag"])
        return None


def softly_for_days(send: Send) -> bool:
    """Whether the last three emails to the address failed softly, over three days or more: at once, or
    by coming back."""
    settled = Send.everywhere.filter(
        subscriber=send.subscriber_id, state__in=(State.SENT, State.REFUSED)
    ).order_by("-queued_at", "-pk")
    last = list(settled.values_list("state", "reply", "queued_at", "came_back")[:3])
    soft = all(
        (state == State.REFUSED and reply.startswith("4")) or came_back in ("soft", "hard")
        for state, reply, _, came_back in last
    )
    return len(last) == 3 and soft and last[0][2] - last[-1][2] >= timedelta(days=3)


def _may_have_gone_out(send_id: str, what: str) -> None:
    with transaction.atomic():
        send = locked_send(send_id)
        if send is None or send.state != State.HANDING_OVER:
            return
        send.state = State.UNKNOWN
        send.reply = what[:500]
        send.snag = report(
            send.workspace,
            Snag.About.SEND,
            f"unknown/{send.message_id}",
            f"“{send.message.name}” may have gone out to {send.subscriber.address}: {what}.",
            "Ask the mail server for the Message-ID; then say that it went out, or send it again.",
            _place(send),
        )
        send.save(update_fields=["state", "reply", "snag"])


def say_late(send_id: str) -> None:
    """A send that waits for a day without a word from the mail server: somebody should know."""
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


@retried
def sent(send_id: str) -> None:
    """It has gone out: noted under the lock of whose it is by now, since two people may have
    been merged while the mail server was spoken to."""
    with transaction.atomic():
        send = locked_send(send_id)
        if send is not None and send.state == State.HANDING_OVER:
            mark_sent(send, send.handed_at or clock.now(send.workspace))


def mark_sent(send: Send, at: datetime) -> None:
    """It has gone out: note it on the person's trail. The caller has locked them."""
    send.state = State.SENT
    send.sent_at = at
    send.snag = None
    send.save(update_fields=["state", "sent_at", "snag"])
    because = replace(Because.from_json(send.because), send_id=str(send.pk))
    what = {"message": send.message.name, "id": str(send.message_id), "subject": send.subject}
    noted = fact(send.subscriber, Fact.Kind.SENT, what, because, at, str(send.message_id))
    store_facts([noted])


def _labels(send: Send, keys: tuple[str, ...]) -> str:
    """The fields that the keys stand for, as people read them."""
    labels = {one.key: one.label for one in fields_of(send.workspace).values()}
    return " and ".join(labels.get(key, key) for key in keys)


def _hold(send: Send, cause: str, sentence: str, fix: str) -> None:
    send.state = State.HELD
    send.reply = sentence[:500]
    send.snag = report(
        send.workspace, Snag.About.SEND, f"{cause}/{send.message_id}", sentence, fix, _place(send)
    )
    send.save(update_fields=["state", "reply", "snag"])


def _place(send: Send) -> dict[str, str]:
    return {
        "message": str(send.message_id),
        "person": str(send.subscriber_id),
        "send": str(send.pk),
    }


def _readable(words: bytes | str) -> str:
    return words.decode(errors="replace") if isinstance(words, bytes) else words
