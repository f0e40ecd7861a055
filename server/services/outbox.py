"""Handoffs of many people, collected first and stored in few statements."""

import hashlib
import json
from collections.abc import Iterable
from datetime import datetime
from uuid import UUID

from core.deciding import Handoff as Effect
from core.documents import Because
from core.services import Handover
from server.people.models import Subscriber
from server.workspaces.among import among_texts
from server.workspaces.causes import caused_by
from server.workspaces.copying import store_all
from server.workspaces.queues import defer_next

from .jobs import HAND_OVER
from .models import Handoff, Plan


class Handoffs:
    """What is to be handed over, each once for its service and origin; `write` stores it with the job
    that hands it over, in the caller's transaction. The caller has locked the people."""

    def __init__(self) -> None:
        self._rows: dict[tuple[str, str], Handoff] = {}
        self._plans: dict[UUID, Plan] = {}

    def add(
        self,
        subscriber: Subscriber,
        effect: Effect,
        origin: str,
        at: datetime,
        answers: list[list[str]],
    ) -> None:
        """One handoff. `origin` is its idempotency key. A test's goes nowhere by itself."""
        if not subscriber.is_test:
            self.add_row(
                subscriber,
                effect.service,
                effect.handover,
                origin,
                at,
                effect.because,
                operation=effect.operation,
                line=effect.line,
                answers=answers,
            )

    def add_row(
        self,
        subscriber: Subscriber | None,
        service: str | UUID,
        handover: Handover,
        origin: str,
        at: datetime,
        because: Because,
        *,
        operation: str,
        line: str = "",
        answers: list[list[str]] | None = None,
        address: str = "",
        workspace: UUID | None = None,
        is_test: bool = False,
    ) -> Handoff:
        """The same, said in parts. `address`: of who is known over there by another one. `workspace`:
        of a row that is about nobody here."""
        workspace = subscriber.workspace_id if subscriber else workspace
        assert workspace is not None
        row = Handoff(
            workspace_id=workspace,
            service_id=service,
            subscriber=subscriber,
            plan=self.plan(workspace, handover),
            origin=origin[:120],
            operation=operation[:80],
            line=line,
            answers=answers or [],
            address=address,
            created_at=at,
            due_at=at,
            is_test=is_test,
            **caused_by(workspace, because),
        )
        return self._rows.setdefault((str(service), row.origin), row)

    def plan(self, workspace: UUID, handover: Handover) -> Plan:
        """The row of what is handed over, by its content."""
        content = handover.model_dump(mode="json")
        named = json.dumps([str(workspace), content], sort_keys=True)
        pk = UUID(bytes=hashlib.sha256(named.encode()).digest()[:16])
        return self._plans.setdefault(pk, Plan(pk=pk, workspace_id=workspace, content=content))

    def keep_plans(self, plans: Iterable[UUID]) -> None:
        """Store these plans, those that are new; in one order."""
        rows = [self._plans[pk] for pk in sorted(set(plans)) if pk in self._plans]
        Plan.everywhere.bulk_create(rows, ignore_conflicts=True)

    def write(self, *, defers: bool = True) -> None:
        """Store what was not stored before, with the job that hands it over."""
        if not self._rows:
            return
        workspace = next(iter(self._rows.values())).workspace_id
        there = Handoff.everywhere.filter(
            among_texts("origin", {origin for _, origin in self._rows}), workspace=workspace
        )
        stored = {(str(service), one) for service, one in there.values_list("service", "origin")}
        fresh = [row for key, row in self._rows.items() if key not in stored]
        self.keep_plans(row.plan_id for row in fresh)
        store_all(fresh)
        if defers:
            defer_for({row.service_id for row in fresh})
        self._rows, self._plans = {}, {}


def defer_for(services: Iterable[UUID | str]) -> None:
    """Have what is due of these services handed over, in the caller's transaction."""
    for pk in sorted({str(one) for one in services}):
        defer_next(HAND_OVER, pk)
