"""Handing emails over to the mail server: each at most once, and none with a hole.

Emails are judged, written and composed in sets. Then, one after the other: the email is marked
*handing over*, the mail server is spoken to, and the time of sending is noted. A worker that dies
between the two leaves one email that may have gone out; it is not repeated by itself, but becomes a
snag that a member decides. Those that the server took are noted on the trails together.
"""

import smtplib
import time
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from uuid import UUID

import structlog
from django.core.mail import EmailMultiAlternatives
from django.db import InterfaceError, OperationalError

from core.delivering import Now
from core.documents import Problem
from core.people import domain_of
from server.people.facts import fields_of
from server.people.suppression import keys_of
from server.workspaces import clock
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_next

from .backend import NotReached, Refused, hand_over
from .claims import due_emails, these_emails
from .compose import to_send
from .holds import holds_of
from .jobs import DELIVER
from .judging import Going, may_go, take_back
from .life import begin, note_taken
from .models import Send
from .outcomes import Held, hold, note_not_addressable, note_not_taken, note_sent, note_unknown
from .ready import ReadyEmail, emails_for

log = structlog.get_logger("yalla.mail")

SET = 100
"""Emails that are written at once, at the most; fewer where the mail server is slow."""
_FIRST = 25
FRESH = 3.0
"""Seconds after which nothing is sent any more by what was known then: who left by now, gets none."""
TURN = 10.0
"""Seconds of one job, so that a large workspace does not keep others waiting."""


@dataclass(frozen=True)
class _Composed:
    """An email that only has to be handed over."""

    send: Send
    ready: ReadyEmail
    mail: EmailMultiAlternatives


def deliver_due(workspace_id: UUID | str) -> None:
    """Hand over what is due, for one turn of a job; another job goes on where that was not enough."""
    ends = time.monotonic() + TURN
    for is_full in _sets(workspace_id):
        if is_full:
            defer_next(DELIVER, workspace_id)
        if time.monotonic() > ends:
            return


def deliver_everything(workspace_id: UUID | str) -> None:
    """Hand over everything that is due."""
    for _ in _sets(workspace_id):
        pass


def _sets(workspace_id: UUID | str) -> Iterator[bool]:
    """Hand over sets of what is due until nothing more comes of it; whether each was as large as it
    could be. A set is as large as the mail server takes while what was judged is fresh."""
    before: list[UUID] = []
    size = _FIRST
    while True:
        workspace = Workspace.objects.filter(pk=workspace_id).first()
        if workspace is None:
            return
        with due_emails(workspace, size) as ids:
            # What another worker judges, or nothing became of, would come again and again.
            if not ids or ids == before:
                return
            left = _deliver_safely(workspace, ids)
        if left is None:
            return
        yield len(ids) == size
        before, size = ids, max(1, len(ids) - left) if left else min(2 * size, SET)


def deliver(*ids: UUID | str) -> None:
    """Hand these emails over, those that may go."""
    with these_emails(ids) as free:
        first = Send.everywhere.filter(pk__in=free).select_related("workspace").first()
        if first is not None:
            _deliver(first.workspace, free)


def resolve_abandoned(ids: Sequence[UUID | str]) -> None:
    """Emails left in *handing over*: where their worker is gone, note what is known of them."""
    with these_emails(ids) as free:
        left = Send.everywhere.filter(pk__in=free, state=Send.State.HANDING_OVER)
        for workspace in set(left.values_list("workspace", flat=True)):
            taken = left.filter(workspace=workspace, sent_at__isnull=False)
            note_sent(list(taken.values_list("pk", flat=True)))
        for pk in list(left.filter(sent_at=None).values_list("pk", flat=True)):
            note_unknown(pk, "the worker stopped while the mail server had it")


def _deliver_safely(workspace: Workspace, ids: Sequence[UUID]) -> int | None:
    """As `_deliver`; where something goes wrong with one email, it is held and the others go out."""
    try:
        return _deliver(workspace, ids)
    except (OperationalError, InterfaceError):
        # The database is away.
        raise
    except Exception as error:
        if len(ids) > 1:
            each = [_deliver_safely(workspace, [pk]) for pk in ids]
            return None if None in each else 0
        log.exception("an email cannot be delivered", send=str(ids[0]))
        hold([_not_composed(ids[0], error)])
        return 0


def _deliver(workspace: Workspace, ids: Sequence[UUID]) -> int | None:
    """Hand over those that may go; how many were left since what was known of them was no longer fresh,
    or None where the mail server is not there."""
    began = time.monotonic()
    with may_go(workspace, ids) as going:
        emails = _composed(workspace, going.sends)
        left = {one.pk: one for one in going.sends}
        turn, stale = _Turn(going), 0
        try:
            for place, one in enumerate(emails):
                # One goes in any case, however long it takes to write it.
                late = time.monotonic() - began > FRESH or not going.places.still_count()
                if place and late:
                    stale = len(emails) - place
                    break
                if turn.speak(one):
                    del left[one.send.pk]
        except NotReached:
            return None
        finally:
            turn.end()
            going.places.give_back(list(left.values()))
        return stale


class _Turn:
    """Emails handed over one after the other."""

    def __init__(self, going: Going) -> None:
        self._deciding = going.deciding
        self._before: UUID | None = None
        self._taken: list[UUID] = []

    def speak(self, email: _Composed) -> bool:
        """Hand one email over, unless something became of it meanwhile; whether it was tried.
        `NotReached`: nothing goes out now."""
        pk = email.send.pk
        before, self._before = self._before, None
        if not self._begin(email, before):
            return False
        try:
            hand_over(email.mail)
        except smtplib.SMTPNotSupportedError:
            note_not_addressable(pk)
            return True
        except Refused as error:
            note_not_taken(pk, error.stage, error.reply)
            self._deciding.holds = holds_of(email.send.workspace)
            return True
        except NotReached as error:
            note_not_taken(pk, "connect", str(error))
            raise
        except (smtplib.SMTPException, OSError) as error:
            note_unknown(pk, str(error))
            return True
        self._before = pk
        self._taken.append(pk)
        return True

    def end(self) -> None:
        """Note what went out."""
        if self._before is not None:
            note_taken(self._before)
        if self._taken:
            note_sent(self._taken)

    def _begin(self, email: _Composed, before: UUID | None) -> bool:
        """Mark the email as handed over, where the decision still says so by what is known this moment."""
        send, ready = email.send, email.ready
        known = begin(
            send.pk,
            before,
            person=send.subscriber_id,
            address=send.subscriber.address,
            keys=list(keys_of(send.subscriber.address)),
            date=ready.date,
            subject=ready.letter.subject[:998],
            revision=ready.revision.pk,
            links=ready.links,
            counts_opens=ready.counts_opens,
            domain=domain_of(send.subscriber.address),
        )
        if known is None:
            return False
        verdict = self._deciding.verdict_by(send, known, clock.now(send.workspace))
        if isinstance(verdict, Now):
            return True
        take_back(send, verdict)
        return False


def _composed(workspace: Workspace, sends: Sequence[Send]) -> list[_Composed]:
    """The finished emails; those that cannot be made are held."""
    written = emails_for(workspace, sends)
    found, held = [], []
    for send in sends:
        email, name = written[send.pk], send.message.name
        if isinstance(email, Problem):
            held.append(Held(send.pk, "unreadable", f"“{name}”: {email.sentence}", email.fix))
        elif email.holes:
            held.append(
                Held(
                    send.pk,
                    "hole/" + "/".join(email.holes),
                    f"“{name}” needs {_labels(workspace, email.holes)}, which is empty.",
                    "Give it a fallback in the message, then send again.",
                )
            )
        elif not email.letter.sender_address:
            held.append(
                Held(
                    send.pk,
                    "no_sender",
                    "The workspace has no address to send from.",
                    "Set the sender in the settings, then send again.",
                )
            )
        else:
            mail = _finished(send, email)
            if isinstance(mail, Held):
                held.append(mail)
            else:
                found.append(_Composed(send, email, mail))
    hold(held)
    return found


def _finished(send: Send, email: ReadyEmail) -> EmailMultiAlternatives | Held:
    try:
        return to_send(email.letter, email.signer)
    except Exception as error:
        log.exception("compose failed", send=str(send.pk))
        return _not_composed(send.pk, error)


def _not_composed(send_id: UUID, error: Exception) -> Held:
    return Held(
        send_id,
        "not_composed",
        f"An email cannot be made ({type(error).__name__}).",
        "Check the message and its files; the server's log has the reason.",
    )


def _labels(workspace: Workspace, keys: tuple[str, ...]) -> str:
    """The fields that the keys stand for, as people read them."""
    labels = {one.key: one.label for one in fields_of(workspace).values()}
    return " and ".join(labels.get(key, key) for key in keys)
