"""A file of rows: uploaded in parts, counted first, then run in batches that go on after a crash."""

import itertools
import tempfile
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from datetime import datetime, timedelta
from pathlib import Path

from django.db import transaction
from django.db.models import Sum
from django.db.models.functions import Length

from core.deciding import (
    Decision,
    RouteDocument,
    Subscribe,
    decide,
    needs_history,
    submitted_address,
)
from core.documents import Problem
from core.reading import (
    Answers,
    Row,
    TableShape,
    answers_of_row,
    find_shape,
    headings_of,
    is_short,
    write_row,
)
from core.values import address_key
from server.people.at_hand import prefetch_relations
from server.people.erased import erased_at
from server.people.locks import person_key
from server.people.models import Subscriber
from server.routes.actions import turn_on
from server.routing.routing import apply_submissions, make_way
from server.sequences.people import people_of
from server.sources.actions import route_of_revision, shown_revision
from server.sources.catalogue import full_catalogue
from server.sources.models import Source
from server.submissions.models import FileImport, Submission
from server.submissions.receiving import submission_facts
from server.workspaces import clock
from server.workspaces.among import among_texts
from server.workspaces.copying import plain, store_all
from server.workspaces.documents import draft_of, live_of
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.personal import Subject
from server.workspaces.queues import defer_once
from server.workspaces.retention import reports_end

from .jobs import FILE
from .models import FilePart, RefusedRow
from .tables import LARGEST, MOST_ROWS, open_table

State = FileImport.State
BATCH = 1000
PART = 1024 * 1024
SHOWN = 8
_START = 64 * 1024
_WORKING = (State.READING, State.COUNTING, State.RUNNING)
Refusals = list[tuple[Row, Problem]]
Addressed = list[tuple[Row, Answers, str]]


@changes("put a file into “{source.name}”")
def begin_import(source: Source, name: str, size: int, member: Member | None) -> FileImport:
    """Say that a file is coming, in parts of at most `PART` bytes."""
    if source.kind != Source.Kind.FILE:
        raise refuse("not_a_file_source", "source", "This source takes no files.")
    if not 0 < size <= LARGEST:
        raise refuse(
            "file_size",
            "file",
            "The file is empty."
            if size <= 0
            else f"The file is larger than {LARGEST // 2**20} MB.",
            "Choose another file, or divide it.",
        )
    return FileImport.everywhere.create(
        workspace=source.workspace,
        source=source,
        member=member,
        name=" ".join(name.split())[:200] or "file",
        size=size,
        created_at=clock.now(source.workspace),
    )


@changes("sent a part of a file", whole=False)
def keep_part(row: FileImport, number: int, content: bytes) -> FileImport:
    """Keep a part of the file; with the last one its shape is found. Safe to repeat."""
    if row.state != State.ARRIVING:
        return row
    if len(content) > PART or not 0 <= number * PART < row.size:
        raise refuse("bad_part", "file", "This part does not belong to the file.", "Start again.")
    FilePart.everywhere.update_or_create(
        file_import=row, number=number, defaults={"workspace": row.workspace, "content": content}
    )
    arrived = row.parts.aggregate(size=Sum(Length("content")))["size"] or 0
    if arrived >= row.size:
        start = bytes(row.parts.get(number=0).content)[:_START]
        shape = find_shape(start)
        if shape.format == "csv":
            set_shape(row, shape)
        else:
            # Unpacking a spreadsheet takes long, so a worker does it.
            row.shape, row.state = shape.model_dump(), State.READING
            row.save(update_fields=["shape", "state"])
            _defer(row)
    return row


@changes("said how a file is written")
def set_shape(row: FileImport, shape: TableShape) -> FileImport:
    """Say how the file is written; its headings follow. What was counted is counted anew."""
    if row.state in (State.COUNTING, State.RUNNING, State.DONE, State.CANCELLED):
        raise Refused("This file is being imported, or was; its format can no longer be changed.")
    try:
        with _rows_of(row, shape, start_only=True) as rows:
            start = list(itertools.islice(rows, SHOWN + 1))
    except UnicodeError:
        raise refuse(
            "other_encoding", "encoding", "The file is not written so.", "Choose another encoding."
        ) from None
    first = start[0] if start else None
    if first is not None and first.problem:
        raise Refused(first.problem.sentence, (first.problem,))
    cells = first.cells if first else ()
    if not cells:
        raise refuse("no_rows", "file", "The file holds no rows.", "Choose another file.")
    names = headings_of(cells) if shape.has_header else headings_of(("",) * len(cells))
    row.shape, row.headings = shape.model_dump(), list(names)
    row.state, row.forecast = State.READY, None
    shown = start[1:] if shape.has_header else start[:SHOWN]
    row.start = [one.model_dump(mode="json") for one in shown]
    row.save(update_fields=["shape", "headings", "state", "forecast", "start"])
    return row


def first_rows(row: FileImport, most: int = SHOWN) -> list[tuple[Row, Answers | Problem]]:
    """The first rows, as answers."""
    rows = [Row.model_validate(one) for one in row.start[:most]]
    return [(one, answers_of_row(tuple(row.headings), one)) for one in rows]


@changes("counted a file of “{row.source.name}”")
def start_counting(row: FileImport) -> None:
    """Count in the background what a run would do."""
    _start(row, State.COUNTING, (State.READY, State.COUNTED))


@changes("ran a file of “{row.source.name}”")
def start_running(row: FileImport, consent: str, member: Member | None) -> None:
    """Put the rows in, in the background, by the sheet as it stands (which is turned on).

    `consent`: what the people of the file agreed to; empty: to nothing, and nobody is
    subscribed.
    """
    with transaction.atomic():
        if draft_of(row.source.revisions.all()) is not None:
            turn_on(row.source, member, f"For {row.name}")
        row.consent = consent.strip()[:2000]
        row.save(update_fields=["consent"])
        _start(row, State.RUNNING, (State.COUNTED,))


@changes("stopped a file of “{row.source.name}”")
def cancel(row: FileImport) -> None:
    """Stop after the batch that runs; what is in stays in."""
    changed = FileImport.everywhere.filter(pk=row.pk, state__in=_WORKING)
    if row.state == State.COUNTING:
        changed.update(state=State.READY)
    else:
        changed.update(state=State.CANCELLED, ended_at=clock.now(row.workspace))
    row.refresh_from_db()
    if row.holds_erased:
        _drop_file(row, _GONE)
        row.refresh_from_db()


@changes("went on with a file of “{row.source.name}”")
def resume_import(row: FileImport) -> None:
    """Go on with a run that was cancelled or failed, from the row where it stopped."""
    with transaction.atomic():
        locked = FileImport.everywhere.select_for_update().get(pk=row.pk)
        if locked.state not in (State.CANCELLED, State.FAILED):
            raise Refused("This file does not wait to be gone on with.")
        if not locked.parts.exists():
            raise Refused("The file is gone. Put it in again; rows that are in stay as they are.")
        locked.state, locked.ended_at, locked.failure = State.RUNNING, None, ""
        locked.save(update_fields=["state", "ended_at", "failure"])
        _defer(locked)
    row.refresh_from_db()


def _start(row: FileImport, state: FileImport.State, allowed: tuple[FileImport.State, ...]) -> None:
    with transaction.atomic():
        locked = FileImport.everywhere.select_for_update().get(pk=row.pk)
        if locked.state not in allowed:
            raise Refused("The file is not ready for that: count first, and wait until it is done.")
        locked.state, locked.next_row = state, 0
        locked.counts, locked.refusals = {}, {}
        locked.save(update_fields=["state", "next_row", "counts", "refusals"])
        _defer(locked)
    row.refresh_from_db()


def _defer(row: FileImport) -> None:
    defer_once(FILE, row.pk)


KEPT_DAYS = 7
"""How long a file stays that is not being put in; then it has to be sent again."""
_GONE = "Somebody in this file was erased, so the file was removed. Put it in again without them."
_OLD = "The file was removed seven days after the last work on it. Put it in again."


def forget_in_files(subject: Subject) -> None:
    """Remove the files that hold somebody's address. One that is being put in skips whoever was
    erased, and goes when it is done; if it is stopped before, it goes then."""
    rows = FileImport.objects.of(subject.workspace).exclude(parts=None).distinct()
    for row in rows:
        if _names(row, subject.addresses):
            row.holds_erased = True
            row.save(update_fields=["holds_erased"])
            if row.state not in _WORKING:
                _drop_file(row, _GONE)


def _names(row: FileImport, addresses: Sequence[str]) -> bool:
    """Whether a cell of the file holds one of the addresses; a file that cannot be read may hold it."""
    wanted = [address.casefold() for address in addresses]
    try:
        with _data_rows(row) as rows:
            return any(
                one in cell.casefold() for line in rows for cell in line.cells for one in wanted
            )
    except Exception:
        return True


def _drop_file(row: FileImport, why: str) -> None:
    row.parts.all().delete()
    FileImport.everywhere.filter(pk=row.pk).update(start=[])
    FileImport.everywhere.filter(pk=row.pk).exclude(state=State.DONE).update(
        state=State.FAILED, failure=why, ended_at=clock.now(row.workspace)
    )


def forget_files(workspace: Workspace) -> int:
    """Remove files that nobody works on any more, after seven days; how many."""
    before = clock.now(workspace) - timedelta(days=KEPT_DAYS)
    rows = FileImport.objects.of(workspace).exclude(parts=None).exclude(state__in=_WORKING)
    old = list(rows.filter(created_at__lt=before, ended_at=None).distinct())
    old += list(rows.filter(ended_at__lt=before).distinct())
    for row in old:
        _drop_file(row, _OLD)
    return len(old)


def work_on(import_id: str) -> None:
    """Count or run a file to its end, batch by batch; again after a crash it goes on."""
    row = FileImport.everywhere.select_related("workspace", "source").get(pk=import_id)
    row.source.workspace = row.workspace
    if row.state == State.READING:
        return _read(row)
    if row.state not in _WORKING:
        return
    if row.state == State.COUNTING and row.next_row:
        # Which addresses came before is known to this process alone, so it begins again.
        row.next_row, row.counts, row.refusals = 0, {}, {}
        row.save(update_fields=["next_row", "counts", "refusals"])
    seen: set[str] = set()
    try:
        with _data_rows(row) as rows:
            for batch in _batches(rows):
                if batch[-1].number <= row.next_row:
                    continue
                fresh = [one for one in batch if one.number > row.next_row]
                make_way()
                if not _work_batch(row, fresh, seen):
                    return
                if row.rows > MOST_ROWS:
                    raise refuse(
                        "too_many_rows", "file", f"More than {MOST_ROWS:,} rows.", "Divide it."
                    )
    except Refused as reason:
        return fail(import_id, reason.title)
    _finish(row)


def _read(row: FileImport) -> None:
    """Find the headings and the first rows of a spreadsheet."""
    try:
        set_shape(row, TableShape.model_validate(row.shape))
    except Refused as reason:
        fail(str(row.pk), reason.title)


def fail(import_id: str, why: str) -> None:
    """The file cannot be worked on; what is in stays in."""
    rows = FileImport.everywhere.select_related("workspace").filter(
        pk=import_id, state__in=_WORKING
    )
    for row in rows:
        ended = {"failure": why[:300], "ended_at": clock.now(row.workspace)}
        FileImport.everywhere.filter(pk=row.pk).update(state=State.FAILED, **ended)
        if row.holds_erased:
            _drop_file(row, _GONE)


def _work_batch(row: FileImport, batch: list[Row], seen: set[str]) -> bool:
    """One batch in one transaction; whether to go on."""
    with transaction.atomic():
        locked = FileImport.everywhere.select_for_update(of=("self",)).get(pk=row.pk)
        if locked.state not in _WORKING:
            return False
        counts, refusals = Counter(locked.counts), dict(locked.refusals)
        refused = (_count if locked.state == State.COUNTING else _run)(row, batch, counts, seen)
        for _, problem in refused:
            one = refusals.setdefault(problem.code, {"sentence": problem.sentence, "rows": 0})
            one["rows"] += 1
        counts["refused"] += len(refused)
        if short := _short(row, batch, refused):
            counts["short"] += short
        locked.counts, locked.refusals = dict(counts), refusals
        locked.next_row = batch[-1].number
        locked.rows = max(locked.rows, counts.total() - counts["short"])
        locked.save(update_fields=["counts", "refusals", "next_row", "rows"])
    row.next_row, row.rows, row.counts = locked.next_row, locked.rows, locked.counts
    row.refusals, row.state = locked.refusals, locked.state
    return True


def _short(row: FileImport, batch: list[Row], refused: Refusals) -> int:
    """How many of the rows that are taken have fewer cells than there are headings."""
    shape, headings = TableShape.model_validate(row.shape), tuple(row.headings)
    out = {line.number for line, _ in refused}
    return sum(is_short(headings, one, shape) for one in batch if one.number not in out)


def _finish(row: FileImport) -> None:
    with transaction.atomic():
        locked = FileImport.everywhere.select_for_update(of=("self",)).get(pk=row.pk)
        if locked.state == State.COUNTING:
            locked.forecast = {"counts": locked.counts, "refusals": locked.refusals}
            locked.state = State.COUNTED
        elif locked.state == State.RUNNING:
            locked.state, locked.ended_at = State.DONE, clock.now(row.workspace)
            locked.parts.all().delete()
            locked.start = []
        locked.save(update_fields=["state", "forecast", "ended_at", "start"])


_ERASED = Problem(
    code="erased",
    sentence="They were erased here; an import does not bring them back.",
    fix="They can come back by a form of their own.",
)


def _count(row: FileImport, batch: list[Row], counts: Counter[str], seen: set[str]) -> Refusals:
    """What a run would do with these rows; nothing is kept. `seen`: addresses of rows before."""
    route = RouteDocument.model_validate(shown_revision(row.source).document)
    refused, good = _addressed(row, batch, route)
    catalogue = full_catalogue(row.workspace)
    people = _people(row, [address for _, _, address in good])
    persons = people_of(people.values(), row.workspace, history=needs_history(route))
    now = clock.now(row.workspace)
    for line, answers, address in good:
        key = address_key(address)
        if key in seen:
            counts["again"] += 1
            continue
        seen.add(key)
        known = people.get(key)
        person = persons[known.pk] if known else None
        submission = _submission(row, line, answers, now)
        facts = submission_facts(submission, row.source, None, "counted")
        counts[_kind_of(decide(facts, route, person, catalogue, now))] += 1
    return refused


def _run(row: FileImport, batch: list[Row], counts: Counter[str], seen: set[str]) -> Refusals:
    """Put these rows in. Rows of one address follow each other, as separate rounds."""
    live = live_of(row.source.revisions.all())
    if live is None:
        raise Refused("The sheet of this source is not turned on.")
    route = route_of_revision(str(live.pk))
    refused, good = _addressed(row, batch, route)
    now = clock.now(row.workspace)
    left = good
    while left:
        this_round, left = _first_of_each(left)
        made = [
            (_submission(row, line, answers, now), address) for line, answers, address in this_round
        ]
        known = _known_keys(row, [one for one, _ in made])
        fresh = [(one, address) for one, address in made if one.idempotency_key not in known]
        decisions = apply_submissions(
            fresh, row.source, route, live, now, stated_consent=row.consent
        )
        store_all([one for one, _ in fresh])
        counts.update(_kind_of(one) for one in decisions)
        counts["again"] += len(made) - len(fresh)
    RefusedRow.everywhere.bulk_create(
        [
            RefusedRow(
                workspace=row.workspace,
                file_import=row,
                number=line.number,
                cells=list(line.cells),
                problem=problem.model_dump(),
            )
            for line, problem in refused
        ],
        ignore_conflicts=True,
    )
    return refused


def _kind_of(decision: Decision) -> str:
    """New, updated or unchanged; a subscription hangs on the consent that is stated later."""
    if decision.is_new:
        return "new"
    changed = any(not isinstance(effect, Subscribe) for effect in decision.effects)
    return "updated" if changed else "unchanged"


def _addressed(
    row: FileImport, batch: list[Row], route: RouteDocument
) -> tuple[Refusals, Addressed]:
    """The rows that give an address, and those that are refused, each with its reason."""
    catalogue = full_catalogue(row.workspace)
    headings = tuple(row.headings)
    refused: Refusals = []
    good: Addressed = []
    for line in batch:
        answers = answers_of_row(headings, line)
        address = (
            answers
            if isinstance(answers, Problem)
            else submitted_address(route, answers, catalogue)
        )
        if isinstance(answers, Problem):
            refused.append((line, answers))
        elif isinstance(address, Problem):
            refused.append((line, address))
        else:
            good.append((line, answers, address))
    erased = _erased(row, [address for _, _, address in good])
    for line, _, address in good:
        if address in erased:
            # Nothing of them is kept here either.
            refused.append((Row(number=line.number, cells=()), _ERASED))
    return refused, [one for one in good if one[2] not in erased]


def _erased(row: FileImport, addresses: list[str]) -> set[str]:
    """Those of the addresses whose people asked to be erased, and who have not come back."""
    erased = set(erased_at(row.workspace, addresses))
    if not erased:
        return erased
    return {one for one in erased if person_key(one) not in _people(row, list(erased))}


def _first_of_each(rows: Addressed) -> tuple[Addressed, Addressed]:
    seen: set[str] = set()
    first: Addressed = []
    left: Addressed = []
    for one in rows:
        key = address_key(one[2])
        (left if key in seen else first).append(one)
        seen.add(key)
    return first, left


def _submission(row: FileImport, line: Row, answers: Answers, now: datetime) -> Submission:
    return plain(Submission)(
        workspace_id=row.workspace_id,
        source_id=row.source_id,
        file_import_id=row.pk,
        answers=[list(pair) for pair in answers],
        context={"page": f"row {line.number} of {row.name}"},
        idempotency_key=f"row/{row.pk}/{line.number}",
        received_at=now,
    )


def _known_keys(row: FileImport, made: list[Submission]) -> set[str]:
    wanted = [one.idempotency_key for one in made]
    rows = Submission.everywhere.filter(
        among_texts("idempotency_key", wanted), source=row.source_id
    )
    return set(rows.values_list("idempotency_key", flat=True))


def _people(row: FileImport, addresses: list[str]) -> dict[str, Subscriber]:
    keys = {person_key(address) for address in addresses}
    found = Subscriber.objects.of(row.workspace).filter(among_texts("address_key", keys))
    people = {}
    for one in found:
        one.workspace = row.workspace
        people[one.address_key] = one
    prefetch_relations(people.values())
    return people


def _batches(rows: Iterator[Row]) -> Iterator[list[Row]]:
    while batch := list(itertools.islice(rows, BATCH)):
        yield batch


@contextmanager
def _data_rows(row: FileImport, *, start_only: bool = False) -> Iterator[Iterator[Row]]:
    """The rows of the file but for its header."""
    shape = TableShape.model_validate(row.shape)
    with _rows_of(row, shape, start_only=start_only) as rows:
        if shape.has_header:
            next(rows, None)
        yield rows


@contextmanager
def _rows_of(
    row: FileImport, shape: TableShape, *, start_only: bool = False
) -> Iterator[Iterator[Row]]:
    """The rows of the file, which is put together from its parts on this machine's disk.

    `start_only`: of a CSV the first part is enough to show some rows.
    """
    with tempfile.TemporaryDirectory(prefix="yalla-file-") as folder:
        file = Path(folder) / "rows"
        with file.open("wb") as out:
            numbers = list(row.parts.order_by("number").values_list("number", flat=True))
            if start_only and shape.format == "csv":
                numbers = numbers[:1]
            for number in numbers:
                out.write(bytes(row.parts.get(number=number).content))
        with open_table(file, shape) as rows:
            yield rows


def refused_as_csv(row: FileImport) -> Iterator[str]:
    """The refused rows, to fix and import again: as they came, with the reason last."""
    yield write_row((*row.headings, "why it was refused"))
    refused: Iterable[RefusedRow] = row.refused.order_by("number").iterator(chunk_size=500)
    for one in refused:
        cells = [*one.cells, *[""] * (len(row.headings) - len(one.cells))]
        yield write_row((*cells, one.problem["sentence"]))


def forget_refused(workspace: Workspace) -> int:
    """Remove refused rows after the retention time of reports; how many."""
    rows = RefusedRow.objects.of(workspace).filter(
        file_import__created_at__lt=reports_end(workspace)
    )
    return int(rows.delete()[0])
