"""What follows, for services, from what becomes of people: who confirms may be handed over, and who
leaves a list here, or is put on the suppression list, leaves over there."""

from collections.abc import Sequence
from datetime import timedelta
from uuid import UUID

from django.db.models import Func, TextField, Value

from core.documents import Because
from core.services import Chosen, Does, Handover, ServiceDescription
from server.people.addresses import addresses_of
from server.people.models import Fact, Subscriber, Suppression
from server.people.suppression import on_suppressed
from server.people.trail import on_facts
from server.workspaces import clock
from server.workspaces.among import among, among_texts
from server.workspaces.models import Workspace

from .models import MAY_BE_THERE, Handoff, Service
from .outbox import Handoffs, defer_for

_DOMAIN = Func(
    "address_key",
    Value("@"),
    Value(-1),
    function="split_part",
    output_field=TextField(),
)
_LEFT = ("unsubscribed", "bounced", "complained")


@on_facts
def follow(facts: Sequence[Fact]) -> None:
    """Called with new facts, in their transaction."""
    moved = [one for one in facts if one.kind == Fact.Kind.MEMBERSHIP]
    if not moved:
        return
    confirmed = {one.subscriber_id for one in moved if one.what.get("after") == "subscribed"}
    if confirmed:
        _confirmed(confirmed)
    left = [one for one in moved if one.what.get("after") in _LEFT]
    if left:
        _pass_on(left)


def _confirmed(people: set[UUID]) -> None:
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


def _pass_on(facts: list[Fact]) -> None:
    """Whoever was, or may have been, handed over by the list that they left is unsubscribed over there,
    where the connection says so."""
    workspace = facts[0].workspace_id
    found = Service.everywhere.filter(workspace=workspace, passes_leaving=True)
    services = {one.pk: one for one in found}
    if not services:
        return
    people = {one.subscriber_id for one in facts}
    rows = Handoff.everywhere.filter(
        MAY_BE_THERE, among("subscriber", people), service__in=services
    ).values_list("service", "subscriber", "plan__content__list")
    # A rule may go by another list than the connection does.
    handed = {
        (service, person, str(named or services[service].list_id))
        for service, person, named in rows
    }
    if not handed:
        return
    left = Subscriber.everywhere.filter(among("pk", people)).select_related("workspace")
    subscribers = {one.pk: one for one in left}
    handoffs = Handoffs()
    for service in services.values():
        for one in facts:
            if (service.pk, one.subscriber_id, str(one.what.get("id"))) in handed:
                hand_leaving(
                    handoffs, service, subscribers[one.subscriber_id], "unsubscribe", str(one.id)
                )
    handoffs.write()


@on_suppressed
def pass_on_suppressed(workspace: Workspace, entries: Sequence[Suppression]) -> None:
    """Whoever was, or may have been, handed over and may get no marketing any more is unsubscribed over
    there, where the connection says so. Called with new entries, in their transaction."""
    found = Service.objects.of(workspace).filter(passes_leaving=True)
    services = {one.pk: one for one in found}
    if not services or not entries:
        return
    by_kind: dict[str, list[str]] = {kind: [] for kind in Suppression.Kind}
    for one in entries:
        by_kind[one.kind].append(one.key)
    people = Subscriber.objects.of(workspace)
    named = people.filter(among_texts("address_key", by_kind[Suppression.Kind.ADDRESS]))
    if domains := by_kind[Suppression.Kind.DOMAIN]:
        # All addresses are read for this, so only where there are domains.
        named |= people.alias(domain=_DOMAIN).filter(among_texts("domain", domains))
    rows = Handoff.everywhere.filter(MAY_BE_THERE, subscriber__in=named, service__in=services)
    handed = {
        (service, person)
        for service, person, list_id in rows.values_list(
            "service", "subscriber", "plan__content__list"
        )
        if list_id or services[service].list_id
    }
    subscribers = Subscriber.everywhere.select_related("workspace").in_bulk(
        {person for _, person in handed}
    )
    now = clock.now(workspace).timestamp()
    handoffs = Handoffs()
    for service, person in sorted(handed):
        hand_leaving(
            handoffs,
            services[service],
            subscribers[person],
            "unsubscribe",
            f"suppressed/{person}/{now}",
        )
    handoffs.write()


def hand_leaving(
    handoffs: Handoffs,
    service: Service,
    subscriber: Subscriber,
    does: Does,
    named: str,
    address: str = "",
    after: timedelta = timedelta(),
) -> None:
    """Unsubscribe somebody over there, or erase them, where the service can. `address`: by which they are
    known there, where it is another one; `after`: what has to pass before."""
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
    # They may be known there by an address that they had before.
    known_by = (address,) if address else addresses_of(subscriber)
    for number, one in enumerate(known_by):
        handoffs.add_row(
            subscriber,
            service.pk,
            Handover(service=str(service.pk), operation=operation.key, chosen=chosen),
            f"{does}/{named}" + (f"/{number}" if number else ""),
            clock.now(subscriber.workspace) + after,
            Because(kind="person", sentence=words),
            operation=operation.label,
            address=one,
        )
