"""The keyed hashes of addresses whose people asked to be erased."""

import hmac
from collections.abc import Iterable
from hashlib import sha256

from django.conf import settings

from core.values.email import address_key
from server.workspaces import clock
from server.workspaces.among import among_texts
from server.workspaces.models import Workspace

from .models import Erased, Suppression


def erased_key(workspace: Workspace, address: str) -> str:
    """The hash by which an erased address is known; it says nothing without the server's key."""
    words = f"{workspace.pk}/{address_key(address)}".encode()
    return hmac.new(settings.SECRET_KEY.encode(), b"yalla.erased/" + words, sha256).hexdigest()


def remember_erased(workspace: Workspace, address: str) -> None:
    """Keep the hash of an address. An entry on the suppression list becomes part of it."""
    entries = Suppression.objects.of(workspace).filter(key=address_key(address))
    suppressed = bool(entries.delete()[0])
    row, is_new = Erased.objects.of(workspace).get_or_create(
        key=erased_key(workspace, address),
        defaults={
            "workspace": workspace,
            "at": clock.now(workspace),
            "suppressed": suppressed,
        },
    )
    if not is_new and suppressed:
        row.suppressed = True
        row.save(update_fields=["suppressed"])


def erased_among(workspace: Workspace, addresses: Iterable[str]) -> set[str]:
    """Those of the addresses whose people asked to be erased."""
    keys = {erased_key(workspace, one): one for one in addresses}
    found = (
        Erased.objects.of(workspace).filter(among_texts("key", keys)).values_list("key", flat=True)
    )
    return {keys[key] for key in found}


def suppressed_by_erasure(workspace: Workspace, addresses: Iterable[str]) -> set[str]:
    """Those that were on the suppression list when their people were erased."""
    rows = Erased.objects.of(workspace).filter(suppressed=True)
    if not rows.exists():
        # As nearly always: no hash has to be made of anybody's address.
        return set()
    keys = {erased_key(workspace, one): one for one in addresses}
    found = rows.filter(among_texts("key", keys)).values_list("key", flat=True)
    return {keys[key] for key in found}
