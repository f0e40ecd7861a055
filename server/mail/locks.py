"""Sends and whose they are, locked in the one order: the people's addresses first, then the rows."""

from collections.abc import Sequence
from uuid import UUID

from server.people.locks import Moving, lock_keys
from server.workspaces.among import among

from .models import Send

_TRIES = 6


def locked_send(send_id: UUID | str) -> Send | None:
    """The send, its person locked first; None where they were erased meanwhile."""
    return next(iter(locked_sends([send_id])), None)


def locked_sends(ids: Sequence[UUID | str]) -> list[Send]:
    """Sends of one workspace with their people locked first; without those who were erased meanwhile.

    Two people may be merged in between; then it is tried again with the other one.
    """
    rows = Send.everywhere.filter(among("pk", ids))
    for _ in range(_TRIES):
        whose = list(rows.values_list("workspace", "subscriber__address_key"))
        if not whose:
            return []
        keys = {key for _, key in whose}
        lock_keys(whose[0][0], keys)
        found = list(
            rows.select_for_update(of=("self",))
            .select_related("workspace", "message", "subscriber__workspace", "cause")
            .order_by("pk")
        )
        if all(one.subscriber.address_key in keys for one in found):
            return found
    raise Moving
