"""What follows, for services, from what becomes of people: who confirms may be handed over, and who
leaves a list here leaves over there."""

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from core.documents import Because
from core.services import Chosen, Does, Handover, ServiceDescription
from server.people.models import Fact, Subscriber
from server.people.trail import on_facts
from server.workspaces import clock
from server.workspaces.among import among

from .models import Handoff, Service
from .outbox import Handoffs, defer_for

_LEFT = ("unsubscribed", "bounced", "complained")


@on_facts
def follow(facts: Sequence[Any]) -> None:
    """Called with new facts, in their transaction."""
    moved = [one for one in facts if one.kind == Fact.Kind.MEMBERSHIP]
    if not moved:
        return
    confirmed = {one.subscriber_id for one in moved if one.what.get("after") == "subscribed"}
    if confirmed:
        _go_on(confirmed)
    left = [one for one in moved if one.what.get("after") in _LEFT]
    if left:
        _pass_on(left)


def _go_on(people: set[UUID]) -> None:
    """What waits for these people to confirm is looked at again."""
    rows = Handoff.everywhere.filter(
        among("subscriber", people), state=Handoff.State.CONSENT
    ).select_related("workspace")
    waiting = list(rows.values_list("pk", "service"))
    if waiting:
        Handoff.everywhere.filter(among("pk", [pk for pk, _ in waiting])).update(
            state=Handoff.State.WAITING
        )
        defer_for(service for _, service in waiting)


def _pass_on(facts: list[Any]) -> None:
    """Whoever was handed over is unsubscribed over there, where the connection says so."""
    lists = {str(one.what.get("list_id") or one.what.get("id") or "") for one in facts}
    workspace = facts[0].workspace_id
    services = [
        one
        for one in Service.everywhere.filter(workspace=workspace, passes_leaving=True)
        if str(one.list_id) in lists
    ]
    if not services:
        return
    people = {one.subscriber_id for one in facts}
    handed = set(
        Handoff.everywhere.filter(
            among("subscriber", people),
            service__in=services,
            state__in=(Handoff.State.DONE, Handoff.State.SENDING),
        ).values_list("service", "subscriber")
    )
    rows = Subscriber.everywhere.filter(among("pk", people)).select_related("workspace")
    subscribers = {one.pk: one for one in rows}
    handoffs = Handoffs()
    for service in services:
        for one in facts:
            about = str(one.what.get("list_id") or one.what.get("id") or "")
            if (service.pk, one.subscriber_id) in handed and about == str(service.list_id):
                hand_leaving(
                    handoffs, service, subscribers[one.subscriber_id], "unsubscribe", str(one.id)
                )
    handoffs.write()


def hand_leaving(
    handoffs: Handoffs, service: Service, subscriber: Subscriber, does: Does, named: str
) -> None:
    """Unsubscribe somebody over there, or erase them, where the service can."""
    described = ServiceDescription.model_validate(service.description)
    operation = described.doing(does)
    if operation is None:
        return
    # Of every list over there that people were handed to.
    chosen = {
        need.name: Chosen(things=tuple(one["id"] for one in service.things.get(need.kind, [])))
        for need in operation.needs
    }
    words = "left the list here" if does == "unsubscribe" else "was erased here"
    handoffs.add_row(
        subscriber,
        service.pk,
        Handover(service=str(service.pk), operation=operation.key, chosen=chosen),
        f"{does}/{named}",
        clock.now(subscriber.workspace),
        Because(kind="person", sentence=words),
        operation=operation.label,
        address=subscriber.address,
    )
