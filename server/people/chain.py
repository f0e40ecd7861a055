"""The chains of evidence: sealing new rows, and finding the first that was tampered with."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC
from ipaddress import ip_address
from itertools import groupby
from typing import Any, Literal
from uuid import UUID

from django.db import connection

from core.history import Broken, Entry, entry_hash, first_broken
from server.workspaces.among import among
from server.workspaces.models import Workspace

from .models import Evidence, Membership


def content_of(row: Any) -> dict[str, Any]:
    """What the hash of a row is made of."""
    return {
        "after": row.after,
        "at": row.at.astimezone(UTC).isoformat(),
        "because": row.because,
        "before": row.before,
        "chain": str(row.chain),
        "ip": str(ip_address(row.ip)) if row.ip else None,
        "number": row.number,
        "page": row.page,
        "previous": row.previous,
        "wording": row.wording,
    }


def sealed(rows: Sequence[Any]) -> Sequence[Any]:
    """New rows with their places and hashes, in the order given. The caller has locked the people."""
    last = _ends({row.chain for row in rows}) if rows else {}
    for row in rows:
        number, previous = last.get(row.chain, (0, ""))
        row.number, row.previous = number + 1, previous
        row.hash = entry_hash(content_of(row))
        last[row.chain] = (row.number, row.hash)
    return rows


def _ends(chains: set[UUID]) -> dict[UUID, tuple[int, str]]:
    rows = Evidence.everywhere.filter(among("chain", chains))
    rows = rows.order_by("chain", "-number").distinct("chain")
    ends = rows.values_list("chain", "number", "hash")
    return {chain: (number, digest) for chain, number, digest in ends}


@contextmanager
def evidence_open(to: Literal["erasing", "merging"]) -> Iterator[None]:
    """Let the database take rows of evidence away (erasing) or move them to another membership
    (merging); it refuses both otherwise. In the caller's transaction."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT set_config('yalla.evidence', %s, true)", [to])
        yield
        cursor.execute("SELECT set_config('yalla.evidence', '', true)")


def broken_chains(
    workspace: Workspace, memberships: Sequence[UUID] = ()
) -> Iterator[tuple[UUID, Broken]]:
    """The chains that do not hold, each with its first broken entry: of these memberships, or of
    the whole workspace. A membership whose state no chain of it ends with counts too."""
    rows = Evidence.objects.of(workspace).order_by("chain", "number")
    members = Membership.objects.of(workspace)
    if memberships:
        rows, members = rows.filter(membership__in=memberships), members.filter(pk__in=memberships)
    ends: dict[UUID, set[str]] = {}
    lengths: dict[UUID, int] = {}
    for chain, group in groupby(rows.iterator(chunk_size=2000), key=lambda row: row.chain):
        found = list(group)
        entries = (
            Entry(
                number=row.number,
                previous=row.previous,
                hash=row.hash,
                found=entry_hash(content_of(row)),
            )
            for row in found
        )
        broken = first_broken(entries)
        if broken is not None:
            yield chain, broken
        ends.setdefault(found[-1].membership_id, set()).add(found[-1].after)
        lengths[chain] = found[-1].number
    for pk, state in members.values_list("pk", "state").iterator(chunk_size=2000):
        if state not in ends.get(pk, ()):
            yield pk, Broken(number=lengths.get(pk, 0) + 1, why="missing")
