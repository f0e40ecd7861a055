"""What follows from an email that comes back: whose it is, what it says, and what becomes of it.

Whose it is says the address that it came to, which is signed, or the Message-ID that it answers, which
nobody else can know. It is taken once, however often and by whichever way it comes.
"""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from uuid import UUID

from django.db import IntegrityError, transaction
from django.db.models import Q

from core.documents import Because
from core.messages import Returned as Said
from core.people import domain_of
from core.values import address_key
from server.consent.actions import leave
from server.mail.forwarding import forward
from server.mail.models import Returned, Send
from server.mail.outcomes import softly_for_days
from server.mail.return_path import LEAVE, read_return_address
from server.mail.sandbox import read_returned
from server.people.locks import locked_person, retried
from server.people.memberships import bounce_all, complain_all
from server.people.models import Fact, Subscriber
from server.people.trail import fact, store_facts
from server.sequences.entering import leave_sequences_of_lists
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.models import Workspace

Kind = Returned.Kind
MOST_RETURNED = 20
"""About one email: whoever has it can write to its return path for ever."""
MANY = 10
"""So many emails to one domain that came back within a day are one snag."""


@dataclass(frozen=True)
class Taken:
    """What became of an email that came back."""

    kind: str
    send: UUID | None = None


def is_ours(address: str) -> bool:
    """Whether an address of the return domain names an email of ours."""
    return read_return_address(address) is not None


def receive(content: bytes, recipients: Sequence[str]) -> list[Taken]:
    """Take an email that came to addresses of ours."""
    returned = read_returned(content)
    found = []
    for address in recipients:
        named = read_return_address(address)
        if named is None:
            continue
        kind, send_id = named
        if kind == LEAVE and returned.kind in ("reply", "unknown"):
            said_here = replace(returned, kind="unsubscribe")
        else:
            said_here = returned
        found.append(_take(send_id, said_here, content, came_to_us=True))
    return found


def receive_for(workspace: Workspace, content: bytes) -> Taken:
    """Take an email out of the mailbox of a workspace."""
    returned = read_returned(content)
    send_id = _by_message_id(workspace, returned)
    if send_id is None:
        return Taken("unknown")
    return _take(send_id, returned, content, came_to_us=False)


def _by_message_id(workspace: Workspace, returned: Said) -> UUID | None:
    """The email that another answers or encloses; of this workspace alone."""
    ids = []
    for one in returned.ids[:20]:
        try:
            ids.append(UUID(one.partition("@")[0]))
        except ValueError:
            continue
    rows = Send.objects.of(workspace).filter(pk__in=ids)
    found: UUID | None = rows.values_list("pk", flat=True).first()
    return found


@retried
def _take(send_id: UUID, returned: Said, content: bytes, *, came_to_us: bool) -> Taken:
    rows = Send.everywhere.filter(pk=send_id)
    with transaction.atomic():
        person = locked_person(lambda: rows.values_list("subscriber_id", flat=True).first())
        send = (
            rows.select_for_update(of=("self",))
            .select_related("workspace", "subscriber__workspace", "message", "list")
            .first()
        )
        if person is None or send is None:
            # Erased since: nothing of theirs is kept, and nothing goes to them.
            return Taken("unknown")
        if returned.kind in ("hard", "soft", "complaint") and not _is_about(send, returned):
            returned = replace(returned, kind="unknown")
        if send.returned.count() >= MOST_RETURNED:
            return Taken("again", send_id)
        try:
            with transaction.atomic():
                row = Returned.everywhere.create(
                    workspace=send.workspace,
                    kind=returned.kind,
                    send=send,
                    subscriber=person,
                    at=clock.now(send.workspace),
                    status=returned.status[:20],
                    reason=returned.reason[:500],
                    subject=returned.subject[:300],
                    key=_key(send_id, returned, content),
                )
        except IntegrityError:
            return Taken("again", send_id)
        _act(row, send, person, returned)
    if returned.kind == "reply" and came_to_us:
        forward(send.workspace, content)
    return Taken(returned.kind, send_id)


def _is_about(send: Send, returned: Said) -> bool:
    """Whether a bounce that names addresses names the one that the email went to."""
    return not returned.failed or address_key(send.subscriber.address) in {
        address_key(one) for one in returned.failed
    }


def _key(send_id: UUID, returned: Said, content: bytes) -> str:
    """The same for the same email, whichever way it came: by its Message-ID, where it has one."""
    own = returned.message_id.encode() or content
    return hashlib.sha256(send_id.bytes + returned.kind.encode() + own).hexdigest()


def _act(row: Returned, send: Send, person: Subscriber, returned: Said) -> None:
    at = row.at
    match returned.kind:
        case "hard" | "soft":
            if send.came_back != "hard":
                send.came_back, send.came_back_at = returned.kind, at
                send.reply = returned.reason[:500] or send.reply
                send.save(update_fields=["came_back", "came_back_at", "reply"])
            words = returned.reason or returned.status or "without a reason"
            _note(send, person, f"an email came back: {words}", row)
            if returned.at_fault or softly_for_days(send):
                because = Because(
                    kind="person", sentence=f"an email came back: {words}", send_id=str(send.pk)
                )
                _leave_runs(send.workspace, person, bounce_all(person, because))
            _say_many(send)
        case "complaint":
            send.came_back, send.came_back_at = "complaint", at
            send.save(update_fields=["came_back", "came_back_at"])
            because = Because(
                kind="person",
                sentence="they reported an email as spam to their mail provider",
                send_id=str(send.pk),
            )
            _note(send, person, because.sentence, row)
            _leave_runs(send.workspace, person, complain_all(person, because))
        case "unsubscribe":
            leave(send, everything=send.list_id is None, by="by an email that their program sent")
        case "reply":
            because = Because(
                kind="person", sentence="they replied to an email", send_id=str(send.pk)
            )
            what = {"event": "replied", "message": send.message.name, "id": str(send.message_id)}
            store_facts([fact(person, Fact.Kind.EVENT, what, because, at, "replied")])


def _note(send: Send, person: Subscriber, sentence: str, row: Returned) -> None:
    because = Because(kind="person", sentence=sentence[:300], send_id=str(send.pk))
    what = {
        "message": send.message.name,
        "id": str(send.message_id),
        "returned": row.kind,
        "status": row.status,
    }
    store_facts([fact(person, Fact.Kind.RETURNED, what, because, row.at, str(send.message_id))])


def _leave_runs(workspace: Workspace, person: Subscriber, lists: list[str]) -> None:
    leave_sequences_of_lists(workspace, [(person, one) for one in lists])


def _say_many(send: Send) -> None:
    """A whole domain that sends emails back is one snag, not a thousand."""
    workspace, domain = send.workspace, send.domain or domain_of(send.subscriber.address)
    since = clock.now(workspace) - timedelta(days=1)
    lately = Send.objects.of(workspace).filter(domain=domain, sent_at__gte=since)
    back = lately.filter(Q(came_back="hard") | Q(came_back="soft")).count()
    if back < MANY or back * 2 < lately.count():
        return
    report(
        workspace,
        Snag.About.SEND,
        f"domain/{domain}",
        f"Most emails to {domain} come back: {send.reply or 'no reason was given'}.",
        "Look at what its servers say, and at the records of your sending domain.",
        {"domain": domain},
    )
