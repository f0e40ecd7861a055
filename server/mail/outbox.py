"""Emails to many people, collected first and queued in few statements."""

from datetime import datetime

from core.documents import Because
from server.people.models import Subscriber
from server.workspaces.among import among_texts
from server.workspaces.causes import caused_by
from server.workspaces.copying import plain, store_all
from server.workspaces.shapes import Json

from .jobs import DELIVER
from .models import Send


class Outbox:
    """Sends that are to be queued, each once for its origin; `write` stores them, and the job
    that hands them over, in the caller's transaction. The caller has locked the people."""

    def __init__(self) -> None:
        self._sends: Json = {}

    def add(
        self,
        subscriber: Subscriber,
        message_id: str,
        list_id: str | None,
        origin: str,
        because: Because,
        at: datetime,
        *,
        act: str,
        answers: list[list[str]],
        any_hour: bool = False,
        holds: bool = False,
    ) -> None:
        """One email. `origin` is its idempotency key: the run, step and visit that it is for, or
        the submission and rule. `act`: the act of the person's own that it answers (`Because.act`), empty
        for marketing; `any_hour`: sending hours do not count for it; `holds`: the run waits while the
        email is held."""
        if origin in self._sends:
            return
        self._sends[origin] = plain(Send)(
            workspace_id=subscriber.workspace_id,
            subscriber_id=subscriber.pk,
            message_id=message_id,
            list_id=list_id,
            origin=origin,
            asked_for=bool(act),
            act=act[:80],
            any_hour=any_hour,
            answers=answers,
            **caused_by(subscriber.workspace_id, because),
            sequence=because.sequence_id,
            step=because.step_id or "",
            holds=because.run_id if holds else None,
            queued_at=at,
        )

    def write(self) -> None:
        """Queue what was not queued before."""
        if not self._sends:
            return
        workspace = next(iter(self._sends.values())).workspace_id
        there = Send.everywhere.filter(among_texts("origin", self._sends), workspace=workspace)
        stored = set(there.values_list("origin", flat=True))
        fresh = [send for origin, send in self._sends.items() if origin not in stored]
        store_all(fresh)
        if fresh:
            DELIVER.defer(workspace_id=str(workspace))
        self._sends = {}
