"""How many emails go out within an hour: limits that all workers keep together."""

from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.db import connection
from uuid_utils.compat import uuid7

from core.messages import allowed_within_hour
from core.people import domain_of
from server.workspaces import clock
from server.workspaces.models import Workspace

from .models import Pace, Send

_TAKE = """
INSERT INTO mail_pace (id, workspace_id, domain, hour, count)
SELECT id, %(workspace)s, domain, %(hour)s, 1
FROM unnest(%(ids)s::uuid[], %(domains)s::text[]) AS one (id, domain) ORDER BY domain
ON CONFLICT (workspace_id, domain, hour) DO UPDATE SET count = mail_pace.count + 1
RETURNING domain, count
"""


def room_for(send: Send) -> timedelta | None:
    """Take a place for one email in the limits of this hour; how long it waits where there is none.

    What a person asked for just now takes its place, and never waits. The caller has the
    transaction; where the email waits, it gives its places back.
    """
    workspace = send.workspace
    if not (workspace.hourly_emails or workspace.hourly_per_domain or workspace.warms_up_from):
        return None
    now = clock.now(workspace)
    hour = now.replace(minute=0, second=0, microsecond=0)
    domain = domain_of(send.subscriber.address)
    limits = _limits(workspace, now)
    with connection.cursor() as cursor:
        cursor.execute(
            _TAKE,
            {
                "workspace": workspace.pk,
                "hour": hour,
                "ids": [uuid7(), uuid7()],
                "domains": ["", domain],
            },
        )
        counts = dict(cursor.fetchall())
    full = [one for one in ("", domain) if limits[one == ""] and counts[one] > limits[one == ""]]
    if not full or send.asked_for:
        return None
    for one in ("", domain):
        row = Pace.objects.of(workspace).filter(domain=one, hour=hour)
        row.update(count=counts[one] - 1)
    wait = hour + timedelta(hours=1) - now
    send.not_before = now + wait
    where = f"for {domain}" if full[0] else "of this sender"
    send.reply = f"waits: the limit of this hour {where} is reached"
    send.save(update_fields=["not_before", "reply"])
    return wait


def _limits(workspace: Workspace, now: datetime) -> dict[bool, int | None]:
    """The limit of all (True), and of one receiving domain (False), for this hour."""
    today: date = now.astimezone(ZoneInfo(workspace.time_zone)).date()
    first = workspace.warms_up_from
    return {
        True: allowed_within_hour(workspace.hourly_emails, first, today, each_domain=False),
        False: allowed_within_hour(workspace.hourly_per_domain, first, today, each_domain=True),
    }
