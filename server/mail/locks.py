"""A send and whose it is, locked in the one order: the person's address first, then the row."""

from django.db.models import QuerySet

from server.people.locks import Moving, lock_keys

from .models import Send

_TRIES = 6


def locked_send(send_id: str, *related: str) -> Send | None:
    """The send, its person locked first; None where they were erased meanwhile.

    Two people may be merged in between; then it is tried again with the other one.
    """
    rows: QuerySet[Send] = Send.everywhere.filter(pk=send_id)
    for _ in range(_TRIES):
        whose = rows.values_list("workspace", "subscriber__address_key").first()
        if whose is None:
            return None
        lock_keys(whose[0], [whose[1]])
        found = (
            rows.select_for_update(of=("self",))
            .select_related("workspace", "message", "subscriber__workspace", *related)
            .first()
        )
        if found is None or found.subscriber.address_key == whose[1]:
            return found
    raise Moving
