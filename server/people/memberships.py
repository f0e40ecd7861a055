"""Moving people on and off lists, with the evidence of it and its entry in the trail."""

from collections.abc import Callable
from datetime import datetime
from uuid import UUID

from django.db import transaction
from django.db.models import QuerySet

from core.deciding import Subscribe
from core.documents import Because
from core.people import MembershipState
from core.people import membership as consent
from server.workspaces import clock
from server.workspaces.copying import plain
from server.workspaces.shapes import Json

from .at_hand import memberships_of
from .ledger import Ledger
from .locks import locked_person
from .models import Evidence, Fact, MailingList, Membership, Subscriber
from .suppression import suppress
from .trail import fact_about


def membership_in(ledger: Ledger, subscriber: Subscriber, effect: Subscribe) -> Membership:
    """The one row of the person on the list: stored, in the ledger already, or new."""
    entered = ledger.membership(subscriber, effect.list)
    if entered is not None:
        return entered
    if not subscriber._state.adding:
        for row in memberships_of(subscriber):
            if str(row.list_id) == effect.list:
                return row
    row = plain(Membership)(
        workspace_id=subscriber.workspace_id,
        subscriber_id=subscriber.pk,
        list_id=UUID(effect.list),
        changed_at=None,
        cause=None,
    )
    ledger.new_membership(row)
    return row


def move_membership(
    ledger: Ledger,
    row: Membership,
    list_name: str,
    to: str,
    because: Because,
    at: datetime,
    wording: str,
    context: Json,
    *,
    confirmed: bool = False,
    received: datetime | None = None,
) -> None:
    """Change a membership, with its evidence and its entry in the trail; `confirmed`: by the
    person themself, from their inbox; `received`: when what it follows from was received."""
    before = row.state or "none"
    ledger.change_membership(row)
    row.state, row.changed_at, row.because = to, at, because
    if to in ("unsubscribed", "complained"):
        left = received or at
        row.left_at = max(left, row.left_at or left)
    ledger.evidence.append(
        plain(Evidence)(
            workspace_id=row.workspace_id,
            membership_id=row.pk,
            at=at,
            before=before,
            after=to,
            wording=wording,
            page=str(context.get("page", ""))[:2000],
            ip=context.get("ip"),
            because=because.as_json(),
            chain=row.pk,
            number=0,
            hash="",
        )
    )
    what = {"list": list_name, "id": str(row.list_id), "before": before, "after": to}
    about = str(row.list_id) if confirmed else ""
    kind, person = Fact.Kind.MEMBERSHIP, row.subscriber_id
    ledger.facts.append(fact_about(row.workspace_id, person, kind, what, because, at, about))


def unsubscribe(
    subscriber: Subscriber,
    lists: QuerySet[MailingList] | None,
    because: Because,
    page: str,
    ip: str = "",
) -> list[str]:
    """Take the person off `lists` (None: all of theirs, and none they may yet be put on by what
    they sent before); the ids of the lists they left. The caller has locked the person.

    `ip`: where the request came from, kept as evidence where the workspace keeps addresses.
    """
    context = _seen_at(subscriber, page, ip)
    at = clock.now(subscriber.workspace)
    with transaction.atomic():
        rows = Membership.everywhere.filter(subscriber=subscriber)
        if lists is not None:
            rows = rows.filter(list__in=lists)
        else:
            Subscriber.everywhere.filter(pk=subscriber.pk).update(left_all_at=at)
        left = []
        ledger = Ledger()
        for row in rows.select_related("list", "subscriber"):
            to = consent.unsubscribe(row.state).to
            if to != row.state:
                move_membership(ledger, row, row.list.name, to, because, at, "", context)
                left.append(str(row.list_id))
        ledger.write()
        return left


def bounce_all(subscriber: Subscriber, because: Because) -> list[str]:
    """Emails to the address come back: it bounces on every list; the ids of those lists. The caller
    has locked the person, and has the transaction."""
    return _move_all(subscriber, because, consent.bounced)


def complain_all(subscriber: Subscriber, because: Because) -> list[str]:
    """They reported an email as spam: they complained on every list, and their address is suppressed;
    the ids of those lists. The caller has locked the person, and has the transaction."""
    suppress(subscriber.workspace, [subscriber.address], "reported an email as spam", None)
    return _move_all(subscriber, because, consent.complained)


def _move_all(
    subscriber: Subscriber,
    because: Because,
    move: Callable[[MembershipState], consent.Transition],
) -> list[str]:
    at = clock.now(subscriber.workspace)
    rows = Membership.everywhere.filter(subscriber=subscriber)
    ledger = Ledger()
    moved = []
    for row in rows.select_related("list", "subscriber"):
        to = move(row.state).to  # type: ignore[arg-type]
        if to != row.state:
            move_membership(ledger, row, row.list.name, to, because, at, "", {})
            moved.append(str(row.list_id))
    ledger.write()
    return moved


def opt_in(
    row: Membership, to: str, because: Because, wording: str, page: str, ip: str = ""
) -> None:
    """Move a locked membership because the person themself asked for it."""
    context = _seen_at(row.subscriber, page, ip)
    ledger = Ledger()
    at = clock.now(row.subscriber.workspace)
    move_membership(ledger, row, row.list.name, to, because, at, wording, context)
    ledger.write()


def confirm(
    membership: Membership, asked_at: datetime, wording: str, page: str, ip: str = ""
) -> tuple[bool, str]:
    """The person confirms a subscription, shown this wording; whether it changed, and why not where it
    did not."""
    now = clock.now(membership.workspace)
    with transaction.atomic():
        locked_person(person_of_membership(membership.pk))
        row = Membership.everywhere.select_related("list", "subscriber", "workspace").get(
            pk=membership.pk
        )
        left = consent.Left(this_list=row.left_at, every_list=row.subscriber.left_all_at)
        move = consent.confirm(row.state, asked_at, now, left)  # type: ignore[arg-type]
        if move.refused:
            return False, move.refused
        because = Because(
            kind="person", sentence="they confirmed it by the link in the email", own=True
        )
        ledger = Ledger()
        context = _seen_at(row.subscriber, page, ip)
        name = row.list.name
        move_membership(ledger, row, name, move.to, because, now, wording, context, confirmed=True)
        ledger.write()
        return True, ""


def person_of_membership(pk: UUID) -> Callable[[], UUID | None]:
    """Who has a membership, asked anew each time: a merge may give it to somebody else."""
    rows = Membership.everywhere.filter(pk=pk)
    return lambda: rows.values_list("subscriber_id", flat=True).first()


def _seen_at(subscriber: Subscriber, page: str, ip: str) -> Json:
    """Where a person did something themself, as far as the workspace keeps it."""
    return {"page": page, "ip": ip if ip and subscriber.workspace.keeps_ip else None}
