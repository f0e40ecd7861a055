"""Asking services what happened there, every some minutes."""

from datetime import timedelta

from django.db import transaction

from core.documents import first_unclean
from core.services import ServiceDescription, at, found, text_at
from server.services.calls import Line
from server.services.connecting import trouble_with
from server.services.facts import known
from server.services.models import Service
from server.workspaces import clock

from .hearing import store_events

MOST_PARTS = 200
"""Parts of an answer that one look reads; the next look goes on from there."""


def poll(service_id: str) -> int:
    """Read what is new since the last look; how many events were new.

    The cursor moves in the transaction that stores what was read: nothing comes twice, and nothing is
    missed where this dies.
    """
    new = 0
    for _ in range(MOST_PARTS):
        service = Service.everywhere.select_related("workspace").filter(pk=service_id).first()
        described = ServiceDescription.model_validate(service.description) if service else None
        if service is None or described is None or described.polling is None:
            return new
        polling, hearing = described.polling, described.hearing
        with Line(service) as line:
            answer = line.ask(polling.read, known(cursor=service.cursor))
        now = clock.now(service.workspace)
        service.poll_at = now + timedelta(minutes=service.poll_minutes)
        if wrong := trouble_with(answer, described):
            service.trouble = wrong[:300]
            fields = ["poll_at", "trouble"]
            if answer.status == 401 and service.state == Service.State.WORKING:
                service.state = Service.State.NEEDS_LOOK
                fields.append("state")
            service.save(update_fields=fields)
            return new
        events = [
            one
            for one in found(polling.items, answer.json, list)
            if isinstance(one, dict) and first_unclean(one) is None
        ]
        moved = text_at(polling.next, answer.json) or service.cursor
        more = bool(polling.more and at(polling.more, answer.json)) and moved != service.cursor
        with transaction.atomic():
            if events and hearing:
                read = [
                    (text_at(hearing.id, one), text_at(hearing.type, one), one) for one in events
                ]
                new += sum(store_events(service, read))
            service.cursor, service.heard_at, service.trouble = moved, now, ""
            service.save(update_fields=["cursor", "poll_at", "heard_at", "trouble"])
        if not more:
            break
    return new
