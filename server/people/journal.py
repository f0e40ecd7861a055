"""The journal of evidence: how far each chain has come, signed, in files outside of the database.

Whoever has the database can take the last entries of a chain away, or put an older copy of all of it back; what
stands here then says so. Keep the folder (`YALLA_EVIDENCE_JOURNAL`) where nobody who has the database can
write, and in the backups of its own.
"""

import fcntl
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import UUID

import orjson
from django.conf import settings

from core.history import Broken, Head, behind, head_line, read_heads
from server.workspaces.among import among
from server.workspaces.models import Workspace
from server.workspaces.partitions import bound_at

from .chain import evidence_keys, released_chains
from .models import Evidence

LATE = timedelta(minutes=15)
"""A transaction that writes evidence is over by then: so far back each look begins before the one before."""


def folder() -> Path:
    """Where the journal is."""
    return Path(settings.EVIDENCE_JOURNAL)


def write_heads(now: datetime | None = None) -> int:
    """Note how far the chains have come that grew since the last look; how many."""
    now = now or datetime.now(UTC)
    folder().mkdir(parents=True, exist_ok=True)
    with (folder() / ".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        mark = folder() / "looked-at"
        since = datetime.fromisoformat(mark.read_text()) - LATE if mark.exists() else None
        rows = Evidence.everywhere.all()
        if since is not None:
            rows = rows.filter(pk__gte=bound_at(since))
        grown = set(rows.order_by().values_list("chain", flat=True).distinct())
        written = 0
        for part in _parts(sorted(grown)):
            written += _append(part, now)
        mark.write_text(now.isoformat())
        return written


def _parts(chains: list[UUID], size: int = 5_000) -> Iterator[list[UUID]]:
    for first in range(0, len(chains), size):
        yield chains[first : first + size]


def _append(chains: list[UUID], now: datetime) -> int:
    rows = Evidence.everywhere.filter(among("chain", chains)).order_by("chain", "-number")
    ends = rows.distinct("chain").values_list("chain", "number", "hash")
    file = folder() / f"heads-{now:%Y-%m}.jsonl"
    lines = file.read_bytes().splitlines() if file.exists() else []
    previous = orjson.loads(lines[-1])["signature"] if lines else ""
    key = evidence_keys()[0]
    with file.open("ab") as journal:
        for chain, number, digest in ends:
            line = head_line(
                Head(chain=str(chain), number=number, hash=digest), now.isoformat(), previous, key
            )
            previous = orjson.loads(line)["signature"]
            journal.write(line.encode() + b"\n")
        journal.flush()
    return len(ends)


def behind_the_journal(workspace: Workspace) -> Iterator[tuple[str, Broken]]:
    """The chains of a workspace that do not reach what the journal says of them: entries taken off, whole chains
    gone, made anew, or an older copy. What erasing let go of is not missing."""
    heads = {one.chain: one for one in _heads()}
    rows = Evidence.objects.of(workspace).values_list("chain", "number", "hash")
    stored: dict[str, dict[int, str]] = {}
    for chain, number, digest in rows.iterator(chunk_size=5_000):
        stored.setdefault(str(chain), {})[number] = digest
    released = released_chains(workspace)
    elsewhere = _chains_of_others(workspace)
    wanted = [one for one in heads.values() if one.chain not in released | elsewhere]
    yield from sorted(behind(wanted, stored).items())


def _chains_of_others(workspace: Workspace) -> set[str]:
    others = Evidence.everywhere.exclude(workspace=workspace).order_by()
    found = {str(one) for one in others.values_list("chain", flat=True).distinct()}
    for one in Workspace.objects.exclude(pk=workspace.pk):
        found |= released_chains(one)
    return found


def tampered_lines() -> Iterator[tuple[str, int]]:
    """The files of the journal that are not as they were written, each with the first such line."""
    for file in sorted(folder().glob("heads-*.jsonl")):
        _, broken = read_heads(file.read_text().splitlines(), evidence_keys())
        if broken is not None:
            yield file.name, broken


def _heads() -> Iterator[Head]:
    """The heads in the order in which they were written, so that the last of each chain counts."""
    for file in sorted(folder().glob("heads-*.jsonl")):
        yield from read_heads(file.read_text().splitlines(), evidence_keys())[0]
