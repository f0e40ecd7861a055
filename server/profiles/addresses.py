"""Another address for a person: history and memberships follow; who has it already is merged."""

from datetime import datetime

from django.db import transaction

from core.documents import Because, Problem
from core.people import keys_of
from core.values import address_key, read_email
from server.people.addresses import forget_former, remember_address
from server.people.effects import index
from server.people.locks import locked_people, person_key
from server.people.models import Fact, FormerAddress, OwnRequest, Subscriber, Suppression
from server.people.trail import fact, store_facts
from server.workspaces import clock
from server.workspaces.errors import refuse
from server.workspaces.history import changes

from .merges import merge_people


def known_address(text: str) -> str:
    """The address in its normal form, or an error that says what is wrong with it."""
    read = read_email(text)
    if isinstance(read, Problem):
        raise refuse(read.code, "address", read.sentence, read.fix)
    if not read:
        raise refuse("no_address", "address", "No address is given.", "Write the new address.")
    return read


@changes("changed the address of a person")
def change_address(subscriber: Subscriber, address: str, because: Because) -> Subscriber:
    """Give somebody another address; who they are now (another one, where two were merged).

    What kept emails from the old address keeps them from the new one.
    """
    workspace = subscriber.workspace
    new = known_address(address)
    with transaction.atomic():
        people = locked_people(workspace, [(subscriber.address, False), (new, False)])
        row = Subscriber.everywhere.select_for_update().get(pk=subscriber.pk)
        row.workspace = workspace
        before = row.address
        _carry_suppression(row, new)
        other = people.get(address_key(new))
        if other is not None and other.pk != row.pk:
            merge_people(other, row, frozenset(), because)
            return other
        if before == new:
            return row
        now = clock.now(workspace)
        remember_address(row, before, _had_since(row), now)
        forget_former(row, new)
        row.address, row.address_key = new, person_key(new, row.is_test)
        index(row)
        row.save(update_fields=["address", "address_key", "searched", "folded"])
        what = {"before": before, "after": new}
        store_facts([fact(row, Fact.Kind.ADDRESS, what, because, now)])
        return row


def _had_since(row: Subscriber) -> datetime:
    """Since when somebody has the address that they have now."""
    last = FormerAddress.objects.of(row.workspace).filter(subscriber=row).order_by("-until").first()
    return last.until if last else row.added_at


def _carry_suppression(row: Subscriber, new: str) -> None:
    old = Suppression.objects.of(row.workspace).filter(key=keys_of(row.address)[0]).first()
    if old is not None:
        Suppression.objects.of(row.workspace).get_or_create(
            key=address_key(new),
            defaults={
                "workspace": row.workspace,
                "kind": Suppression.Kind.ADDRESS,
                "reason": old.reason or "carried over from an earlier address",
                "member": old.member,
                "added_at": clock.now(row.workspace),
            },
        )


def carry_out_request(row: OwnRequest) -> Subscriber:
    """Do the change of address that was asked for, once."""
    with transaction.atomic():
        locked = OwnRequest.everywhere.select_for_update().get(pk=row.pk)
        row.subscriber.workspace = row.workspace
        if locked.done_at is not None:
            return row.subscriber
        locked.done_at = clock.now(row.workspace)
        locked.save(update_fields=["done_at"])
        because = Because.from_json(row.because)
        return change_address(row.subscriber, row.new_address, because)
