"""All addresses that a person has or had, each with its times: whoever leaves or is erased leaves, and is
erased, by every one of them."""

import re
from collections.abc import Iterable, Sequence
from datetime import datetime
from uuid import UUID

from core.values import address_key
from server.workspaces.among import among, among_texts
from server.workspaces.models import Workspace

from .models import FormerAddress, Mention, Subscriber

_ADDRESS = re.compile(
    r"[^\s@\"'<>(),;:{}\[\]\\]{1,64}@[^\s@\"'<>(),;:{}\[\]\\/]{1,253}\.[^\W\d_]{2,}"
)
_MOST_NAMED = 50


def remember_address(
    subscriber: Subscriber, address: str, since: datetime | None, until: datetime
) -> None:
    """Somebody had this address until now. Nothing is noted of tests."""
    if not subscriber.is_test:
        FormerAddress.everywhere.update_or_create(
            workspace=subscriber.workspace,
            subscriber=subscriber,
            key=address_key(address),
            defaults={"address": address, "since": since, "until": until},
        )


def forget_former(subscriber: Subscriber, address: str) -> None:
    """Somebody has not had this address after all: a merge was undone."""
    rows = FormerAddress.objects.of(subscriber.workspace)
    rows.filter(subscriber=subscriber, key=address_key(address)).delete()


def find_by_address(workspace: Workspace, address: str) -> Subscriber | None:
    """The subscriber with this address, whatever its case."""
    return Subscriber.objects.of(workspace).filter(address_key=address_key(address)).first()


def addresses_of(subscriber: Subscriber) -> tuple[str, ...]:
    """All addresses of a person, the one of now first, without those that somebody else has by now."""
    return addresses_of_many(subscriber.workspace, [subscriber])[subscriber.pk]


def addresses_of_many(
    workspace: Workspace, subscribers: Sequence[Subscriber]
) -> dict[UUID, tuple[str, ...]]:
    """The same of several people, in two statements."""
    rows = FormerAddress.objects.of(workspace).filter(
        among("subscriber", [one.pk for one in subscribers])
    )
    former: dict[UUID, list[tuple[str, str]]] = {}
    for person, key, address in rows.order_by("-until").values_list("subscriber", "key", "address"):
        former.setdefault(person, []).append((key, address))
    keys = {key for many in former.values() for key, _ in many}
    taken = dict(
        Subscriber.objects.of(workspace)
        .filter(among_texts("address_key", keys))
        .values_list("address_key", "pk")
        if keys
        else ()
    )
    return {
        one.pk: (
            one.address,
            *(
                address
                for key, address in former.get(one.pk, ())
                if key != one.address_key and taken.get(key, one.pk) == one.pk
            ),
        )
        for one in subscribers
    }


def current_addresses(workspace: Workspace, addresses: Iterable[str]) -> dict[str, str]:
    """Of addresses that nobody has by now, the present address of who had them last; the others stand for
    themselves."""
    given = list(addresses)
    keys = {address_key(one) for one in given}
    rows = FormerAddress.objects.of(workspace).filter(among_texts("key", keys))
    found = dict(rows.order_by("until").values_list("key", "subscriber__address"))
    if found:
        there = Subscriber.objects.of(workspace).filter(among_texts("address_key", set(found)))
        for key in there.values_list("address_key", flat=True):
            found.pop(key, None)
    return {one: found.get(address_key(one), one) for one in given}


def note_mentions(workspace: Workspace, mentions: Iterable[tuple[str, str, UUID]]) -> None:
    """Note which rows name addresses in what others said of somebody else: (address, kind, row)."""
    rows = {
        (address_key(address), kind, row): Mention(
            workspace=workspace, key=address_key(address), kind=kind, row=row
        )
        for address, kind, row in mentions
    }
    if rows:
        Mention.everywhere.bulk_create(rows.values(), ignore_conflicts=True)


def named_in(content: object, but: Iterable[str] = ()) -> set[str]:
    """The addresses that stand in a text, or anywhere in JSON, without some; a bounded number."""
    known = {address_key(one) for one in but if one}
    found: set[str] = set()
    stack = [content]
    while stack and len(found) < _MOST_NAMED:
        one = stack.pop()
        if isinstance(one, dict):
            stack += [*one.keys(), *one.values()]
        elif isinstance(one, list | tuple):
            stack += one
        elif isinstance(one, str) and "@" in one:
            found |= {text for text in _ADDRESS.findall(one) if address_key(text) not in known}
    return found
