"""The one lock order of everything that changes a person.

1. The lock of their address (an advisory lock of PostgreSQL, held to the end of the
   transaction). Of several people, all of them at once, in the order of their numbers.
2. Rows: submissions, then subscribers in the order of their keys, then what hangs on them.

Whoever has a row already never waits for an address. So no two of them wait for each other:
routing, imports, replays, merges, erasing, unsubscribing, confirming, bounces, runs and sends.
"""

import hashlib
import random
import time
from collections.abc import Callable, Iterable, Sequence
from functools import wraps
from typing import ParamSpec, TypeVar
from uuid import UUID

from django.db import OperationalError, connection, transaction
from psycopg.errors import DeadlockDetected, SerializationFailure

from core.values import address_key
from server.workspaces.among import among_texts
from server.workspaces.arrays import array
from server.workspaces.models import Workspace

from .at_hand import prefetch_relations
from .models import Subscriber

_TRIES = 6
Parameters = ParamSpec("Parameters")
Result = TypeVar("Result")


class Moving(Exception):
    """Somebody is merged or renamed again and again, so that they cannot be locked."""


def person_key(address: str, is_test: bool = False) -> str:
    """What tells one person from another. Somebody made by a test is apart from everybody."""
    return f"test:{address_key(address)}" if is_test else address_key(address)


def lock_keys(workspace_id: UUID, keys: Iterable[str]) -> None:
    """Wait for the locks of these keys; held to the end of the caller's transaction."""
    numbers = sorted({_number(workspace_id, key) for key in keys})
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT pg_advisory_xact_lock(n) FROM unnest(%s::bigint[]) AS n", [array(numbers)]
        )


def try_keys(workspace_id: UUID, keys: Iterable[str]) -> set[str]:
    """Those of the keys whose locks are free, now held to the end of the transaction."""
    by_number = {_number(workspace_id, key): key for key in keys}
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT n FROM unnest(%s::bigint[]) AS n WHERE pg_try_advisory_xact_lock(n)",
            [array(sorted(by_number))],
        )
        return {by_number[number] for (number,) in cursor.fetchall()}


def locked_people(
    workspace: Workspace, addresses: Sequence[tuple[str, bool]]
) -> dict[str, Subscriber]:
    """The subscribers who have these addresses (each with whether it is a test's), by their key.

    Locked, even where nobody has an address yet: submissions of one address are decided one
    after the other.
    """
    keys = {person_key(address, is_test) for address, is_test in addresses}
    lock_keys(workspace.pk, keys)
    return people_by_key(workspace, keys)


def people_by_key(
    workspace: Workspace, keys: Iterable[str], *, alone: bool = False
) -> dict[str, Subscriber]:
    """The subscribers of these keys, with their tags and memberships unless `alone`; the caller has the
    locks."""
    rows = Subscriber.objects.of(workspace).filter(among_texts("address_key", keys))
    # In the order of their keys: changes of a whole field lock rows alone, in the same order.
    rows = rows.order_by("pk").select_for_update(no_key=True)
    found = {}
    for row in rows:
        row.workspace = workspace
        found[row.address_key] = row
    if not alone:
        prefetch_relations(found.values())
    return found


def locked_person(find: Callable[[], UUID | None]) -> Subscriber | None:
    """Lock the person whom `find` names, in the caller's transaction; None where there is nobody.

    A merge may give a send or a membership to somebody else while this waits; so `find` is
    asked again under the lock.
    """
    if not lock_person(find):
        return None
    found: Subscriber = Subscriber.everywhere.select_related("workspace").get(pk=find())
    return found


def lock_person(find: Callable[[], UUID | None]) -> bool:
    """The same without their row; whether there is anybody."""
    for _ in range(_TRIES):
        pk = find()
        key = _key_of(pk)
        if key is None:
            return False
        savepoint = transaction.savepoint()
        lock_keys(key[0], [key[1]])
        now = find()
        if now == pk and _key_of(now) == key:
            transaction.savepoint_commit(savepoint)
            return True
        # Gives the lock of the wrong address back.
        transaction.savepoint_rollback(savepoint)
    raise Moving


def retried(action: Callable[Parameters, Result]) -> Callable[Parameters, Result]:
    """Run an action in a transaction of its own, again where PostgreSQL ended it for the sake of
    another one. Inside a transaction it just runs."""

    @wraps(action)
    def run(*args: Parameters.args, **kwargs: Parameters.kwargs) -> Result:
        if connection.in_atomic_block:
            return action(*args, **kwargs)
        for turn in range(1, _TRIES + 1):
            try:
                with transaction.atomic():
                    return action(*args, **kwargs)
            except OperationalError as error:
                ended = isinstance(error.__cause__, DeadlockDetected | SerializationFailure)
                if not ended or turn == _TRIES:
                    raise
                time.sleep(random.uniform(0, 0.02 * 2**turn))
        raise AssertionError

    return run


def _key_of(pk: UUID | None) -> tuple[UUID, str] | None:
    """The workspace and the key of somebody; None where they are gone."""
    rows = Subscriber.everywhere.filter(pk=pk).values_list("workspace_id", "address_key")
    found: tuple[UUID, str] | None = rows.first() if pk else None
    return found


def _number(workspace_id: UUID, key: str) -> int:
    digest = hashlib.sha256(f"{workspace_id}/{key}".encode()).digest()
    return int.from_bytes(digest[:8], "big", signed=True)
