"""`core.decide_email` asked for rows: what it depends on is read for a set of emails in few statements."""

from collections.abc import Iterable, Sequence
from datetime import datetime
from uuid import UUID

from django.db.models import F, Max, Q, QuerySet
from django.db.models.functions import Coalesce, Greatest

from core.delivering import (
    Duration,
    Email,
    Recipient,
    Sending,
    SendingTimes,
    Verdict,
    decide_email,
)
from core.people import MembershipState
from server.people.models import Membership
from server.people.suppression import suppressed_among
from server.workspaces.among import among
from server.workspaces.models import Workspace

from .confirm_links import ORIGIN as CONFIRMS
from .holds import Holds, holds_of
from .life import Known
from .models import Send
from .readers import own_broadcasts, own_sending_of

_LEFT_US = (Send.State.SENT, Send.State.HANDING_OVER, Send.State.UNKNOWN)
_PLANNED = (*_LEFT_US, Send.State.QUEUED)


class Deciding:
    """What the decision depends on, for a set of emails whose people are locked where a gap counts."""

    def __init__(self, workspace: Workspace, sends: Sequence[Send]) -> None:
        self.holds: Holds = holds_of(workspace)
        self.gap = gap_of(workspace)
        self._workspace = workspace
        self._times = times_of(workspace)
        self._own = own_sending_of(workspace, {one.sequence for one in sends if one.sequence})
        self._broadcasts = own_broadcasts(
            workspace, {one.broadcast for one in sends if one.broadcast}
        )
        marketing = [one for one in sends if not one.asked_for]
        self._states = _memberships(marketing)
        addresses = {one.subscriber.address for one in marketing}
        self._suppressed = suppressed_among(workspace, addresses) if addresses else set()
        self._last: dict[UUID, datetime] = {}

    def keeps_gap(self, send: Send) -> bool:
        """Whether a gap between two emails counts for it: then its person is judged by one worker alone."""
        if send.asked_for or is_confirming(send):
            return False
        return self.gap is not None or bool(send.subscriber.gap_days)

    def read_last(self, people: Iterable[UUID]) -> None:
        """Read when these people were last sent marketing; they have to be locked by now."""
        self._last = last_marketing(self._workspace, people)

    def priority(self, send: Send) -> int:
        """Of two emails to one person that may not both go, that of the higher priority goes first."""
        own = self._own.get(send.sequence) if send.sequence else None
        return own.priority if own else 0

    def verdict(
        self, send: Send, now: datetime, full_until: datetime | None = None, full_why: str = ""
    ) -> Verdict:
        """Whether it goes at `now`; `full_until`: when the limit that it meets has room again."""
        person = send.subscriber
        state = self._states.get((person.pk, send.list_id), "none")
        suppressed = person.address in self._suppressed
        known = Known(state, suppressed, person.time_zone, person.gap_days)
        return self.verdict_by(send, known, now, full_until, full_why)

    def verdict_by(
        self,
        send: Send,
        known: Known,
        now: datetime,
        full_until: datetime | None = None,
        full_why: str = "",
    ) -> Verdict:
        """The same by what was read of the person this moment."""
        own = self._own.get(send.sequence) if send.sequence else None
        recipient = Recipient(
            membership=known.membership,
            suppressed=known.suppressed,
            zone=known.time_zone or self._workspace.time_zone,
            gap_days=known.gap_days,
            last_marketing_at=self._last.get(send.subscriber_id),
        )
        sending = Sending(
            times=own.times if own and own.times is not None else self._times,
            gap=self.gap,
            full_until=full_until,
            full_why=full_why,
            on_hold=self.holds.why(send),
        )
        return decide_email(self._email(send), recipient, sending, now)

    def _email(self, send: Send) -> Email:
        of = self._broadcasts.get(send.broadcast) if send.broadcast else None
        return email_of(send, waits=of is None or of.waits)


def email_of(send: Send, *, waits: bool = True) -> Email:
    """An email as the decision sees it."""
    return Email(
        promised=send.asked_for,
        list=str(send.list_id) if send.list_id else None,
        confirms=is_confirming(send),
        any_hour=send.any_hour,
        waits=waits,
        retry_at=send.retry_at,
        probes=send.probes,
    )


def is_confirming(send: Send) -> bool:
    """Whether it asks somebody to confirm a subscription."""
    return send.origin.startswith(CONFIRMS)


def times_of(workspace: Workspace) -> SendingTimes:
    """When marketing goes out, as the workspace says for all sequences."""
    return SendingTimes.model_validate(workspace.sending_times)


def gap_of(workspace: Workspace) -> Duration | None:
    """What lies between two marketing emails to one person."""
    days = workspace.email_gap_days
    return Duration(amount=days, unit="days") if days else None


def marketing(workspace: Workspace, *, planned: bool = False) -> QuerySet[Send]:
    """Marketing that has left; with `planned` also what waits to go."""
    rows: QuerySet[Send] = Send.objects.of(workspace).filter(
        asked_for=False, state__in=_PLANNED if planned else _LEFT_US
    )
    return rows.exclude(origin__startswith=CONFIRMS)


def last_marketing(
    workspace: Workspace, people: Iterable[UUID], *, planned: bool = False
) -> dict[UUID, datetime]:
    """When each of these people was last sent marketing; with `planned` also what waits to go, at the time
    for which it waits."""
    ids = list(people)
    if not ids:
        return {}
    sends = marketing(workspace, planned=planned).filter(among("subscriber", ids))
    waits = Q(state=Send.State.QUEUED)
    last = sends.values_list("subscriber").annotate(
        gone=Max(Coalesce("sent_at", "handed_at"), filter=~waits),
        waits=Max(Greatest(F("queued_at"), Coalesce("not_before", "queued_at")), filter=waits),
    )
    return {
        person: max(at for at in (gone, waits) if at)
        for person, gone, waits in last.order_by()
        if gone or waits
    }


def decide_one(workspace: Workspace, send: Send, now: datetime) -> Verdict:
    """The decision for one email, for what is shown of it."""
    deciding = Deciding(workspace, [send])
    if deciding.keeps_gap(send):
        deciding.read_last([send.subscriber_id])
    return deciding.verdict(send, now)


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
