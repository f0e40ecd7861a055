"""The chains of evidence: sealing new rows, and finding the first that was tampered with."""

import hmac
from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from ipaddress import ip_address
from itertools import groupby
from uuid import UUID

from django.conf import settings
from django.db import connection

from core.history import Broken, Entry, entry_hash, first_broken, found_hash
from server.workspaces.among import among
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

from .models import Evidence, EvidenceReleased, Membership


def content_of(row: Evidence) -> Json:
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


def sealed(rows: Sequence[Evidence]) -> Sequence[Evidence]:
    """New rows with their places and hashes, in the order given. The caller has locked the people."""
    last = _ends({row.chain for row in rows}) if rows else {}
    key = evidence_keys()[0]
    for row in rows:
        number, previous = last.get(row.chain, (0, ""))
        row.number, row.previous = number + 1, previous
        row.hash = entry_hash(content_of(row), key)
        last[row.chain] = (row.number, row.hash)
    return rows


def _ends(chains: set[UUID]) -> dict[UUID, tuple[int, str]]:
    rows = Evidence.everywhere.filter(among("chain", chains))
    rows = rows.order_by("chain", "-number").distinct("chain")
    ends = rows.values_list("chain", "number", "hash")
    return {chain: (number, digest) for chain, number, digest in ends}


def erase_evidence(memberships: Sequence[UUID]) -> None:
    """Take away the evidence of memberships whose person is erased, in the caller's transaction. That their
    chains were let go of is noted, signed: whoever takes rows away by another way leaves no such note."""
    if not memberships:
        return
    rows = Evidence.everywhere.filter(among("membership", memberships))
    chains = list(rows.order_by().values_list("workspace", "chain").distinct())
    now = datetime.now(UTC)
    EvidenceReleased.everywhere.bulk_create(
        EvidenceReleased(
            workspace_id=workspace,
            chain=chain,
            at=now,
            signature=entry_hash(_release(chain, now), evidence_keys()[0]),
        )
        for workspace, chain in chains
    )
    with connection.cursor() as cursor:
        cursor.execute("SELECT erase_evidence(%s::uuid[])", [list(memberships)])


def move_evidence(rows: Sequence[UUID | str], to: UUID | str) -> None:
    """Give rows of evidence to another membership, as they are: two people were merged, or parted."""
    if rows:
        with connection.cursor() as cursor:
            ids = [str(one) for one in rows]
            cursor.execute("SELECT move_evidence(%s::uuid[], %s::uuid)", [ids, str(to)])


def evidence_keys() -> list[bytes]:
    """The keys of the hashes, the newest first; the database knows none of them."""
    return [
        hmac.digest(one.encode(), b"yalla.evidence", "sha256") for one in settings.EVIDENCE_KEYS
    ]


def _release(chain: UUID, at: datetime) -> dict[str, str]:
    return {"released": str(chain), "at": at.astimezone(UTC).isoformat()}


def released_chains(workspace: Workspace) -> set[str]:
    """The chains that erasing let go of, as far as the notes are signed by us."""
    keys = evidence_keys()
    rows = EvidenceReleased.objects.of(workspace).values_list("chain", "at", "signature")
    return {
        str(chain)
        for chain, at, signature in rows.iterator(chunk_size=2000)
        if found_hash(_release(chain, at), signature, keys) == signature
    }


def broken_chains(
    workspace: Workspace, memberships: Sequence[UUID] = ()
) -> Iterator[tuple[UUID, Broken]]:
    """The chains that do not hold, each with its first broken entry: of these memberships, or of
    the whole workspace. A membership whose state no chain of it ends with counts too."""
    rows = Evidence.objects.of(workspace).order_by("chain", "number")
    members = Membership.objects.of(workspace)
    if memberships:
        rows, members = rows.filter(membership__in=memberships), members.filter(pk__in=memberships)
    keys = evidence_keys()
    ends: dict[UUID, set[str]] = {}
    lengths: dict[UUID, int] = {}
    for chain, group in groupby(rows.iterator(chunk_size=2000), key=lambda row: row.chain):
        found = list(group)
        entries = (
            Entry(
                number=row.number,
                previous=row.previous,
                hash=row.hash,
                found=found_hash(content_of(row), row.hash, keys),
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
