"""The one place that writes the state of an email: `core.delivering.TRANSITIONS`, carried out.

A trigger of the database refuses any other transition.
"""

from collections.abc import Collection, Sequence
from datetime import datetime
from typing import Any, NamedTuple
from uuid import UUID

from django.db import connection
from django.db.models import QuerySet

from core.delivering import EmailState, Mover, sources_of
from core.people import MembershipState
from server.workspaces.copying import update_all

from .models import Send

# Marks one email as handed over, unless something has become of it or of its person meanwhile, and says
# what the decision right before SMTP depends on; in the same statement, that the one before it went out.
_BEGIN = """
WITH before AS (
    UPDATE mail_send SET sent_at = handed_at WHERE id = %(before)s AND state = %(handing_over)s
)
UPDATE mail_send AS send SET state = %(handing_over)s, attempts = attempts + 1, handed_at = %(date)s,
    subject = %(subject)s, revision_id = %(revision)s, links = %(links)s,
    counts_opens = %(counts_opens)s, domain = %(domain)s,
    allowed_by = CASE WHEN NOT asked_for THEN (
        SELECT membership.id FROM people_membership AS membership
        WHERE membership.subscriber_id = person.id AND membership.list_id = send.list_id) END,
    evidence = coalesce(CASE WHEN NOT asked_for THEN (
        SELECT one.hash FROM people_evidence AS one
        JOIN people_membership AS membership ON one.membership_id = membership.id
        WHERE membership.subscriber_id = person.id AND membership.list_id = send.list_id
            AND one.after = %(allows)s
        ORDER BY one.at DESC, one.number DESC LIMIT 1) END, '')
FROM people_subscriber AS person
WHERE send.id = %(send)s AND send.state = ANY(%(from)s) AND person.id = send.subscriber_id
    AND person.id = %(person)s AND person.address = %(address)s
    AND NOT EXISTS (SELECT FROM mail_broadcastpause AS pause WHERE pause.broadcast = send.broadcast)
RETURNING
    coalesce((SELECT membership.state FROM people_membership AS membership
              WHERE membership.subscriber_id = person.id AND membership.list_id = send.list_id), %(none)s),
    EXISTS (SELECT FROM people_suppression AS one
            WHERE one.workspace_id = send.workspace_id AND one.key = ANY(%(keys)s)),
    person.time_zone, person.gap_days
"""
_WENT_OUT = """
UPDATE mail_send SET sent_at = handed_at WHERE id = %(send)s AND state = %(handing_over)s
"""
_HANDING_OVER: EmailState = "handing_over"
_NO_MEMBERSHIP: MembershipState = "none"
_ALLOWS: MembershipState = "subscribed"


class Known(NamedTuple):
    """What the decision about an email depends on of its person."""

    membership: MembershipState
    suppressed: bool
    time_zone: str
    """Empty: it is not known."""
    gap_days: int


def move(
    sends: Sequence[Send], to: EmailState, by: Mover, fields: Collection[str] = ()
) -> list[Send]:
    """Move emails to a state, with `fields` of theirs, as far as each may still be moved there: one
    statement for all of them. Those that were moved, in their order."""
    for send in sends:
        send.state = to
    still = {"state": sources_of(to, by)}
    moved = update_all(sends, ["state", *fields], still=still)
    return [send for send in sends if send.pk in moved]


def move_rows(rows: QuerySet[Send], to: EmailState, by: Mover, **changes: object) -> int:
    """The same for whatever a query finds; how many were moved."""
    return rows.filter(state__in=sources_of(to, by)).update(state=to, **changes)


def begin(send: UUID, before: UUID | None, **values: Any) -> Known | None:
    """Mark an email as handed over, and note that the one `before` it went out. What is known of its person
    by now; None: it waits no longer, its broadcast is paused, or its person has another address."""
    with connection.cursor() as cursor:
        before_it = list(sources_of(_HANDING_OVER, "worker"))
        named = {
            "send": send,
            "before": before,
            "from": before_it,
            "handing_over": _HANDING_OVER,
            "none": _NO_MEMBERSHIP,
            "allows": _ALLOWS,
        }
        cursor.execute(_BEGIN, named | values)
        row = cursor.fetchone()
        return None if row is None else Known(*row)


def note_taken(send: UUID) -> None:
    """The mail server took it; what follows is noted with the others of its set."""
    with connection.cursor() as cursor:
        cursor.execute(
            _WENT_OUT, {"send": send, "handing_over": _HANDING_OVER, "none": _NO_MEMBERSHIP}
        )


def withdraw(rows: QuerySet[Send], why: str) -> int:
    """Emails that are not to go any more, whoever waits for them: queued or held; how many."""
    return move_rows(rows, "withdrawn", "rules", reply=why[:500], snag=None)


def queue_again(sends: Sequence[Send], by: Mover, at: datetime | None = None) -> list[Send]:
    """Emails that wait once more, from the beginning; those that were moved. `at`: not before then."""
    for send in sends:
        send.snag, send.attempts, send.not_before, send.retry_at = None, 0, at, None
        send.probes, send.reply = False, ""
    fields = ("snag", "attempts", "not_before", "retry_at", "probes", "reply")
    return move(sends, "queued", by, fields)
