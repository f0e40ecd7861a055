"""Which of the emails that are due may go now: who may get them, and how many an hour takes.

What may not go is withdrawn, or waits for a stated time. Whatever is written here is written only
where the email still waits: somebody may have left meanwhile.
"""

from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from datetime import datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db.models import Max, Q

from core.people import MembershipState, may_be_sent_marketing
from core.sequences import after_gap
from server.people.models import Membership, Subscriber
from server.people.suppression import suppressed_among
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.copying import update_all
from server.workspaces.models import Workspace

from .claims import these_people
from .models import Send
from .pace import Places

State = Send.State
_WAITING = {"state": str(State.QUEUED)}
_GONE_OUT = (State.SENT, State.HANDING_OVER, State.UNKNOWN)


@contextmanager
def may_go(workspace: Workspace, ids: Sequence[UUID]) -> Iterator[tuple[list[Send], Places]]:
    """Those of the emails that may go now, with the places that they took in this hour.

    The rest is withdrawn or waits; what another worker would have to judge too is left alone.
    """
    sends = list(
        Send.everywhere.filter(among("pk", ids), workspace=workspace, state=State.QUEUED)
        .select_related("subscriber", "message", "list")
        .order_by("-asked_for", "queued_at", "pk")
    )
    for send in sends:
        send.workspace = send.subscriber.workspace = workspace
    wanted = _wanted(workspace, sends)
    minding = {one.subscriber_id for one in wanted if _minds(one)}
    with these_people(sorted(minding)) as free:
        ours = _one_each([one for one in wanted if not _minds(one) or one.subscriber_id in free])
        spaced = _spaced(workspace, ours)
        places = Places(workspace)
        going, waiting = places.take(spaced)
        update_all(waiting, ["not_before", "reply"], still=_WAITING)
        if places.is_full:
            places.put_off_the_rest()
        yield going, places


def _wanted(workspace: Workspace, sends: Sequence[Send]) -> list[Send]:
    """Without those for people who left, or who are suppressed: these are withdrawn."""
    marketing = [one for one in sends if not one.asked_for]
    states = _memberships(marketing)
    # The list is in force over everything but what the person asked for just now.
    suppressed = suppressed_among(workspace, {one.subscriber.address for one in marketing})
    withdrawn = []
    for send in marketing:
        state = states.get((send.subscriber_id, send.list_id), "none")
        if send.list_id and not may_be_sent_marketing(state):
            send.reply = f"{state} when it was due"
        elif not send.list_id and send.subscriber.left_all_at is not None:
            send.reply = "left every list"
        elif send.subscriber.address in suppressed:
            send.reply = "on the suppression list when it was due"
        else:
            continue
        send.state = State.WITHDRAWN
        withdrawn.append(send)
    update_all(withdrawn, ["state", "reply"], still=_WAITING)
    return [one for one in sends if one.state == State.QUEUED]


def _memberships(sends: Iterable[Send]) -> dict[tuple[UUID, UUID | None], MembershipState]:
    people = {one.subscriber_id for one in sends}
    lists = {one.list_id for one in sends if one.list_id}
    if not lists:
        return {}
    rows = Membership.everywhere.filter(among("subscriber", people), among("list", lists))
    return {
        (person, of_list): state
        for person, of_list, state in rows.values_list("subscriber_id", "list_id", "state")
    }


def _minds(send: Send) -> bool:
    """Whether the person asked for fewer emails than come, and this is one that counts."""
    return bool(send.subscriber.gap_days) and not send.asked_for


def _one_each(sends: Sequence[Send]) -> list[Send]:
    """Of those who mind, one email: the next of theirs is judged once it went out."""
    found, seen = [], set()
    for send in sends:
        if not _minds(send):
            found.append(send)
        elif send.subscriber_id not in seen:
            seen.add(send.subscriber_id)
            found.append(send)
    return found


def _spaced(workspace: Workspace, sends: Sequence[Send]) -> list[Send]:
    """Without those that come sooner after the one before than their people want: these wait."""
    people: list[Subscriber] = [one.subscriber for one in sends if _minds(one)]
    last = _last_sent(workspace, {one.pk for one in people})
    now, going, waiting = clock.now(workspace), [], []
    for send in sends:
        person = send.subscriber
        if not _minds(send):
            going.append(send)
            continue
        zone = ZoneInfo(person.time_zone or workspace.time_zone)
        earliest = after_gap(now, last.get(person.pk), person.gap_days, zone)
        if earliest <= now:
            going.append(send)
            continue
        days = "day" if person.gap_days == 1 else f"{person.gap_days} days"
        send.not_before = earliest
        send.reply = f"waits: they asked for at most one email every {days}"
        waiting.append(send)
    update_all(waiting, ["not_before", "reply"], still=_WAITING)
    return going


def _last_sent(workspace: Workspace, people: Iterable[UUID]) -> dict[UUID, datetime]:
    """When each of these people was last sent marketing, or is being sent it."""
    ids = list(people)
    if not ids:
        return {}
    rows = (
        Send.objects.of(workspace)
        .filter(among("subscriber", ids), asked_for=False, state__in=_GONE_OUT)
        .values_list("subscriber")
        .annotate(sent=Max("sent_at"), handed=Max("handed_at", filter=Q(sent_at=None)))
        .order_by()
    )
    return {
        person: max(at for at in (sent, handed) if at)
        for person, sent, handed in rows
        if sent or handed
    }
