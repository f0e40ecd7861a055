"""The suppression list: put on, taken off, looked up."""

from collections.abc import Callable, Iterable, Iterator, Sequence

from django.db import transaction

from core.documents import Problem
from core.people import keys_of, read_entry
from core.reading import write_row
from server.workspaces import clock
from server.workspaces.among import among_texts
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace

from .erased import suppressed_by_erasure
from .models import Suppression

MOST_AT_ONCE = 5_000
Listener = Callable[[Workspace, Sequence[Suppression]], None]
_LISTENERS: list[Listener] = []


def on_suppressed(listener: Listener) -> Listener:
    """Have `listener` called with new entries, in the transaction that stores them."""
    _LISTENERS.append(listener)
    return listener


@changes("put {result[0]} on the suppression list")
def suppress(
    workspace: Workspace, lines: list[str], reason: str, member: Member | None
) -> tuple[int, list[Problem]]:
    """Put addresses and domains on the list; how many are new, and the lines that are neither."""
    if len(lines) > MOST_AT_ONCE:
        raise refuse("too_many", "lines", f"At most {MOST_AT_ONCE:,} lines at once.")
    problems: list[Problem] = []
    entries: dict[str, Suppression] = {}
    now = clock.now(workspace)
    for number, line in enumerate(lines, start=1):
        if not line.strip():
            continue
        entry = read_entry(line)
        if isinstance(entry, Problem):
            problems.append(entry.model_copy(update={"place": str(number)}))
            continue
        entries[entry.key] = Suppression(
            workspace=workspace,
            kind=entry.kind,
            key=entry.key,
            reason=" ".join(reason.split())[:200],
            member=member,
            added_at=now,
        )
    with transaction.atomic():
        there = set(
            Suppression.objects.of(workspace)
            .filter(among_texts("key", set(entries)))
            .values_list("key", flat=True)
        )
        Suppression.everywhere.bulk_create(entries.values(), ignore_conflicts=True, batch_size=1000)
        fresh = [one for key, one in entries.items() if key not in there]
        for listener in _LISTENERS:
            listener(workspace, fresh)
    return len(fresh), problems


@changes("took an entry off the suppression list")
def unsuppress(entry: Suppression) -> None:
    """Take an entry off the list."""
    entry.delete()


def suppressed_among(workspace: Workspace, addresses: Iterable[str]) -> set[str]:
    """Those of the addresses that are on the list, by themselves or by their domain."""
    keys = {address: keys_of(address) for address in addresses}
    wanted = {key for pair in keys.values() for key in pair}
    found = set(
        Suppression.objects.of(workspace)
        .filter(among_texts("key", wanted))
        .values_list("key", flat=True)
    )
    listed = {address for address, pair in keys.items() if found.intersection(pair)}
    return listed | suppressed_by_erasure(workspace, keys.keys() - listed)


def as_csv(workspace: Workspace) -> Iterator[str]:
    """The whole list, to be put in elsewhere."""
    yield write_row(("address or domain", "reason", "since"))
    rows = Suppression.objects.of(workspace).order_by("added_at", "pk").select_related("member")
    for row in rows.iterator(chunk_size=1000):
        shown = f"@{row.key}" if row.kind == Suppression.Kind.DOMAIN else row.key
        yield write_row((shown, row.reason, row.added_at.date().isoformat()))
