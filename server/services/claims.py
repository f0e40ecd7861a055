"""Which handoffs are due, who has them in hand, and how many may go now.

The handoffs of one person to one service go in their order. A session lock of PostgreSQL says that a
worker lives; it goes with the worker's database connection.
"""

import secrets
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import datetime, timedelta
from uuid import UUID

from django.db import connection, transaction
from django.db.models import Exists, OuterRef

from core.services import ServiceDescription
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.models import Workspace

from .models import Handoff, Service

SET = 128
"""Handoffs that a worker takes in hand at once."""
ENOUGH_FAILURES = 5
"""In a row, whoever they are about, after which the service is left alone for a while."""
_BURST = timedelta(seconds=15)
"""So much of the rate may go at once."""
_CLAIM = """
WITH due AS (
    SELECT one.id FROM services_handoff AS one
    WHERE one.service_id = %(service)s AND one.state = %(waiting)s AND one.due_at <= %(now)s
      AND NOT EXISTS (
        SELECT 1 FROM services_handoff AS earlier
        WHERE earlier.subscriber_id = one.subscriber_id
          -- As texts, so that PostgreSQL looks at this person's, never at all of the service.
          AND earlier.service_id::text = one.service_id::text
          AND earlier.id < one.id AND earlier.state IN (%(waiting)s, %(sending)s))
    ORDER BY one.due_at, one.id LIMIT %(most)s
    FOR UPDATE OF one SKIP LOCKED
)
UPDATE services_handoff AS row
SET state = %(sending)s, began_at = %(now)s, worker = %(worker)s
FROM due WHERE row.id = due.id RETURNING row.id
"""
_STATES = {"waiting": Handoff.State.WAITING, "sending": Handoff.State.SENDING}


@contextmanager
def at_work() -> Iterator[int]:
    """The number by which this worker is known to live, for as long as it works."""
    number = secrets.randbits(62)
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_lock(%s)", [number])
    try:
        yield number
    finally:
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_advisory_unlock(%s)", [number])


def claim(
    service_id: UUID | str, worker: int, wanted: int = SET
) -> tuple[Service, list[UUID]] | None:
    """Take in hand what is due and may go now, `wanted` at the most; None where the service is gone."""
    with transaction.atomic():
        row = Service.everywhere.select_for_update(of=("self",), no_key=True).select_related(
            "workspace"
        )
        service = row.filter(pk=service_id).first()
        if service is None:
            return None
        now = clock.now(service.workspace)
        most = min(_allowed(service, now), wanted)
        if most < 1:
            return service, []
        with connection.cursor() as cursor:
            named = {"service": service.pk, "now": now, "most": most, "worker": worker}
            cursor.execute(_CLAIM, named | _STATES)
            found = [pk for (pk,) in cursor.fetchall()]
        _take(service, len(found), now)
        return service, found


def _allowed(service: Service, now: datetime) -> int:
    """How many may go now: by its state, the circuit and the rate."""
    if service.state != Service.State.WORKING:
        return 0
    if service.open_until is not None:
        # Once that is over, one goes first, to see.
        return 0 if service.open_until > now else 1
    rate = ServiceDescription.model_validate(service.description).per_minute
    if rate is None:
        return SET
    return min(SET, int(_tokens(service, rate, now)))


def _tokens(service: Service, rate: int, now: datetime) -> float:
    most = max(1.0, rate * (_BURST / timedelta(minutes=1)))
    if service.tokens_at is None:
        return most
    passed = max((now - service.tokens_at) / timedelta(minutes=1), 0.0)
    return min(most, service.tokens + passed * rate)


def _take(service: Service, taken: int, now: datetime) -> None:
    fields = []
    if service.open_until is not None and taken:
        # Whoever else comes meanwhile waits for what becomes of this one.
        service.open_until = now + timedelta(seconds=60)
        fields.append("open_until")
    rate = ServiceDescription.model_validate(service.description).per_minute
    if rate is not None:
        service.tokens = _tokens(service, rate, now) - taken
        service.tokens_at = now
        fields += ["tokens", "tokens_at"]
    if fields:
        service.save(update_fields=fields)


def give_back_abandoned() -> int:
    """What a worker had in hand that is gone waits again, to be looked at first; how many."""
    rows = Handoff.everywhere.filter(state=Handoff.State.SENDING)
    workers = list(rows.values_list("worker", flat=True).distinct())
    given = 0
    for number in workers:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SELECT pg_try_advisory_xact_lock(%s)", [number])
            if not cursor.fetchone()[0]:
                continue
            given += rows.filter(worker=number).update(
                state=Handoff.State.WAITING, looks_first=True, worker=None
            )
    return given


def give_back(ids: Sequence[UUID], *, may_be_through: bool = False) -> None:
    """Handoffs of which nothing was noted wait again; `may_be_through`: the service may have done what was
    asked, so it is looked at first."""
    if not ids:
        return
    more = {"looks_first": True} if may_be_through else {}
    Handoff.everywhere.filter(among("pk", ids), state=Handoff.State.SENDING).update(
        state=Handoff.State.WAITING, worker=None, **more
    )


def due_services(workspace: Workspace | None = None) -> list[UUID]:
    """The services for which something is due and may go."""
    due = Handoff.everywhere.filter(
        service=OuterRef("pk"), state=Handoff.State.WAITING, due_at__lte=clock.workspace_now()
    )
    services = Service.everywhere.filter(Exists(due), state=Service.State.WORKING)
    if workspace is not None:
        services = services.filter(workspace=workspace)
    return list(services.values_list("pk", flat=True))
