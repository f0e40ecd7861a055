"""How many emails go out within an hour: limits that all workers keep together."""

from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.db import connection, transaction
from django.db.models import Q
from uuid_utils.compat import uuid7

from core.delivering import allowed_within_hour
from core.people import domain_of
from server.workspaces import clock
from server.workspaces.models import Workspace

from .models import Send

_ADD = """
INSERT INTO mail_pace (id, workspace_id, domain, hour, count)
SELECT id, %(workspace)s, domain, %(hour)s, greatest(more, 0)
FROM unnest(%(ids)s::uuid[], %(domains)s::text[], %(more)s::int[]) AS one (id, domain, more)
ORDER BY domain
ON CONFLICT (workspace_id, domain, hour) DO UPDATE
SET count = greatest(mail_pace.count + (%(sign)s * excluded.count), 0)
RETURNING domain, count
"""


class Places:
    """The places that emails take in the limits of this hour: of the sender, and of each receiving
    domain. What a person asked for just now takes its place, and never waits."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._limited = bool(
            workspace.hourly_emails or workspace.hourly_per_domain or workspace.warms_up_from
        )
        self._now = clock.now(workspace)
        self._hour = self._now.replace(minute=0, second=0, microsecond=0)
        self.is_full = False
        """Whether the limit of all emails was reached."""

    def take(self, sends: Sequence[Send]) -> tuple[list[Send], list[tuple[Send, str]]]:
        """Take a place for each email: those that have one, and those that find none, each with the limit
        that is reached."""
        if not self._limited or not sends:
            return list(sends), []
        everybody, domain = _limits(self._workspace, self._now)
        with transaction.atomic():
            wanted = _counted(sends)
            after = self._add(wanted)
            limits = {one: domain if one else everybody for one in wanted}
            # How many places there still are for these.
            left = {
                one: limit - (after[one] - wanted[one])
                for one, limit in limits.items()
                if limit is not None
            }
            going: list[Send] = []
            waiting: list[tuple[Send, str]] = []
            for send in sorted(sends, key=lambda one: not one.asked_for):
                of = [one for one in ("", domain_of(send.subscriber.address)) if one in left]
                full = next((one for one in of if left[one] <= 0), None)
                if full is not None and not send.asked_for:
                    self.is_full = self.is_full or full == ""
                    waiting.append((send, _why(full)))
                    continue
                for one in of:
                    left[one] -= 1
                going.append(send)
            self.give_back([one for one, _ in waiting])
        return going, waiting

    @property
    def next_hour(self) -> datetime:
        """When there is room again."""
        return self._hour + timedelta(hours=1)

    def still_count(self) -> bool:
        """Whether this is still the hour in which the places were taken."""
        return not self._limited or clock.now(self._workspace) < self.next_hour

    def put_off_the_rest(self) -> None:
        """Nothing else that is due is looked at before the next hour, in one statement, but for what was
        asked for; when each goes is decided then."""
        due = Q(not_before=None) | Q(not_before__lte=self._now)
        rows = Send.objects.of(self._workspace).filter(due, state="queued", asked_for=False)
        rows.update(not_before=self.next_hour, reply=f"waits: {_why('')}")

    def give_back(self, sends: Sequence[Send]) -> None:
        """These did not go out after all."""
        if self._limited and sends:
            self._add(_counted(sends), sign=-1)

    def _add(self, counts: Counter[str], sign: int = 1) -> dict[str, int]:
        with connection.cursor() as cursor:
            cursor.execute(
                _ADD,
                {
                    "workspace": self._workspace.pk,
                    "hour": self._hour,
                    "ids": [uuid7() for _ in counts],
                    "domains": list(counts),
                    "more": list(counts.values()),
                    "sign": sign,
                },
            )
            return dict(cursor.fetchall())


def _why(domain: str) -> str:
    where = f"for {domain}" if domain else "of this sender"
    return f"the limit of this hour {where} is reached"


def _counted(sends: Iterable[Send]) -> Counter[str]:
    counts: Counter[str] = Counter()
    for send in sends:
        counts.update(("", domain_of(send.subscriber.address)))
    return counts


def _limits(workspace: Workspace, now: datetime) -> tuple[int | None, int | None]:
    """The limit of all emails, and of those to one receiving domain, for this hour."""
    today: date = now.astimezone(ZoneInfo(workspace.time_zone)).date()
    first = workspace.warms_up_from
    return (
        allowed_within_hour(workspace.hourly_emails, first, today, each_domain=False),
        allowed_within_hour(workspace.hourly_per_domain, first, today, each_domain=True),
    )
