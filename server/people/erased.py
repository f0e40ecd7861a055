"""The keyed hashes of addresses whose people asked to be erased.

The keys are the server's `ERASURE_KEYS`, the newest first: new hashes are made with the newest,
and every one of them is looked for, so that a key can be replaced without forgetting anybody.
"""

import hmac
from collections.abc import Iterable, Iterator
from datetime import datetime

from django.conf import settings

from core.values import address_key
from server.workspaces import clock
from server.workspaces.among import among_texts
from server.workspaces.models import Workspace

from .models import Erased, Suppression


def erased_keys(workspace: Workspace, address: str) -> list[str]:
    """The hashes by which an erased address may be known, that of the newest key first. They say
    nothing without the keys."""
    words = f"yalla.erased/{workspace.pk}/{address_key(address)}".encode()
    return [hmac.digest(key.encode(), words, "sha256").hex() for key in settings.ERASURE_KEYS]


def remember_erased(workspace: Workspace, address: str) -> None:
    """Keep the hash of an address. An entry on the suppression list becomes part of it."""
    entries = Suppression.objects.of(workspace).filter(key=address_key(address))
    keys = erased_keys(workspace, address)
    before = Erased.objects.of(workspace).filter(among_texts("key", keys))
    suppressed = bool(entries.delete()[0]) or before.filter(suppressed=True).exists()
    before.delete()
    Erased.everywhere.create(
        workspace=workspace, key=keys[0], at=clock.now(workspace), suppressed=suppressed
    )


def erased_at(workspace: Workspace, addresses: Iterable[str]) -> dict[str, datetime]:
    """When people with these addresses asked to be erased: the last time, of those who did."""
    found: dict[str, datetime] = {}
    if not Erased.objects.of(workspace).exists():
        # No hash has to be made of anybody's address.
        return found
    for address, at, _ in _erasures(workspace, addresses):
        found[address] = max(at, found.get(address, at))
    return found


def suppressed_by_erasure(workspace: Workspace, addresses: Iterable[str]) -> set[str]:
    """Those that were on the suppression list when their people were erased."""
    if not Erased.objects.of(workspace).filter(suppressed=True).exists():
        # As nearly always: no hash has to be made of anybody's address.
        return set()
    return {address for address, _, listed in _erasures(workspace, addresses) if listed}


def _erasures(
    workspace: Workspace, addresses: Iterable[str]
) -> Iterator[tuple[str, datetime, bool]]:
    keys = {key: one for one in addresses for key in erased_keys(workspace, one)}
    rows = Erased.objects.of(workspace).filter(among_texts("key", keys))
    for key, at, suppressed in rows.values_list("key", "at", "suppressed"):
        yield keys[key], at, suppressed
