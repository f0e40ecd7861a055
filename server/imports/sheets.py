"""Watched sheets: looked at every some minutes; each new row is one submission, once."""

import hashlib
import tempfile
from datetime import timedelta
from pathlib import Path

from django.db import transaction

from core.deciding import RouteDocument, is_web_address
from core.documents import Problem, near_miss
from core.reading import (
    CONTEXT,
    Answers,
    TableShape,
    answer_to,
    answers_of_row,
    find_shape,
    headings_of,
)
from server.snags.actions import close, report
from server.snags.models import Snag
from server.sources.actions import route_of_revision
from server.sources.models import Source, Watch
from server.sources.open_forms import OpenForm, open_form
from server.submissions.models import Submission
from server.submissions.receiving import Arrival, receive
from server.workspaces import clock
from server.workspaces.documents import live_of
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes

from .fetching import fetch
from .tables import open_table

MOST_ROWS = 50_000
_CHUNK = 500
Table = tuple[tuple[str, ...], list[tuple[int, Answers | Problem]]]


@changes("changed which sheet “{watch.source.name}” looks at")
def set_watch(watch: Watch, address: str, minutes: int, key_heading: str) -> Watch:
    """Say which sheet is watched, how often, and which column names its rows."""
    if not 1 <= minutes <= 7 * 24 * 60:
        raise refuse("minutes", "minutes", "Look at it every 1 to 10,080 minutes.")
    if address.strip() and not is_web_address(address.strip()):
        raise refuse(
            "not_an_address",
            "address",
            f"“{address.strip()[:100]}” is not the address of a sheet.",
            "Give the address at which the published sheet can be downloaded, from https:// on.",
        )
    moved = watch.address != address.strip()
    watch.address, watch.minutes = address.strip()[:2000], minutes
    watch.key_heading = key_heading.strip()[:200]
    watch.next_at = clock.now(watch.workspace)
    if moved:
        watch.headings, watch.problem = [], None
    watch.save(
        update_fields=["address", "minutes", "key_heading", "next_at", "headings", "problem"]
    )
    return watch


@changes("looked at the sheet of “{watch.source.name}”", whole=False)
def look_now(watch: Watch) -> Watch:
    """Look at the sheet, because a member wants to know."""
    return look(str(watch.pk))


def look(watch_id: str) -> Watch:
    """Look at the sheet now, and take in the rows that are new."""
    watch = Watch.everywhere.select_related("workspace", "source").get(pk=watch_id)
    watch.source.workspace = watch.workspace
    asked = (watch.address, watch.key_heading)
    found = read_sheet(watch.address)
    with transaction.atomic():
        # A member may have changed what is watched while it was fetched: that look is over then.
        locked = Watch.everywhere.select_for_update().get(pk=watch.pk)
        if (locked.address, locked.key_heading) != asked:
            return locked
        watch.minutes = locked.minutes
        return _looked(watch, found)


def _looked(watch: Watch, found: "Table | Problem") -> Watch:
    """Keep what a look found; the caller has locked the watch."""
    now = clock.now(watch.workspace)
    watch.looked_at, watch.next_at = now, now + timedelta(minutes=watch.minutes)
    watch.came = 0
    problem = found if isinstance(found, Problem) else _problem_of(watch, found[0])
    if not isinstance(found, Problem):
        watch.headings, watch.rows = list(found[0]), len(found[1])
        if problem is None:
            watch.came = _take_new(watch, found)
    watch.problem = problem.model_dump() if problem else None
    seen = ["looked_at", "next_at", "came", "headings", "rows", "problem"]
    watch.save(update_fields=seen)
    _tell(watch, problem)
    return watch


def read_sheet(address: str) -> Table | Problem:
    """The headings of a published sheet (CSV or XLSX), and its rows as answers."""
    body = fetch(address)
    if isinstance(body, Problem):
        return body
    shape = find_shape(body[: 64 * 1024]).model_copy(update={"has_header": True})
    with tempfile.TemporaryDirectory(prefix="yalla-sheet-") as folder:
        file = Path(folder) / "sheet"
        file.write_bytes(body)
        try:
            return _table(file, shape)
        except Refused as reason:
            return reason.problems[0]


def _table(file: Path, shape: TableShape) -> Table | Problem:
    with open_table(file, shape) as rows:
        first = next(rows, None)
        if first is None or not first.cells:
            return Problem(
                code="no_rows",
                place="address",
                sentence="The sheet is empty.",
                fix="Write its headings.",
            )
        headings = headings_of(first.cells)
        found: list[tuple[int, Answers | Problem]] = []
        for row in rows:
            if len(found) == MOST_ROWS:
                return Problem(
                    code="sheet_too_long",
                    place="address",
                    sentence=f"The sheet has more than {MOST_ROWS:,} rows.",
                    fix="Watch one with fewer, or put this one in as a file.",
                )
            found.append((row.number, answers_of_row(headings, row)))
    return headings, found


def _problem_of(watch: Watch, headings: tuple[str, ...]) -> Problem | None:
    """A heading that the map or the key needs, and that is gone or called otherwise now."""
    live = live_of(watch.source.revisions.all())
    route = route_of_revision(str(live.pk)) if live else RouteDocument()
    if not watch.key_heading:
        return Problem(
            code="no_key",
            place="key_heading",
            sentence="No column is chosen that names each row for good.",
            fix="Choose one whose values are never the same twice, such as the address.",
        )
    needed = [watch.key_heading]
    needed += [name for line in route.read_as if line.field for name in (line.question, *line.also)]
    needed += [line.question for line in route.consent]
    for name in needed:
        if name and name not in headings and name not in CONTEXT and not name.startswith("@"):
            meant = near_miss(name, list(headings))
            return Problem(
                code="heading_changed",
                place="headings",
                sentence=f"The sheet has no column “{name}” any more"
                + (f", but “{meant}”." if meant else ".")
                + " Its new rows wait.",
                fix=f"Name the column “{name}” again, or change the line"
                + (f" to “{meant}”." if meant else "."),
            )
    return None


def _take_new(watch: Watch, table: Table) -> int:
    """Store a submission for each row that was not seen before; how many."""
    opened = open_form(watch.source.key)
    if opened is None:
        return 0
    keyed: dict[str, tuple[int, Answers]] = {}
    for number, answers in table[1]:
        if isinstance(answers, Problem):
            _refuse_row(watch, number, answers)
            continue
        key = (answer_to(answers, watch.key_heading) or "").strip()
        if key:
            keyed.setdefault(_row_key(key), (number, answers))
    return sum(_take_chunk(watch, opened, chunk) for chunk in _chunks(list(keyed.items())))


def _take_chunk(
    watch: Watch, opened: OpenForm, chunk: list[tuple[str, tuple[int, Answers]]]
) -> int:
    wanted = [key for key, _ in chunk]
    seen = set(
        Submission.everywhere.filter(source=watch.source, idempotency_key__in=wanted).values_list(
            "idempotency_key", flat=True
        )
    )
    count = 0
    with transaction.atomic():
        for key, (number, answers) in chunk:
            if key in seen:
                continue
            context = {"page": f"row {number} of the sheet", "from": watch.address}
            arrival = Arrival(opened.revision_id, answers, key, context)
            count += 0 if receive(opened, arrival) is None else 1
    return count


def _row_key(key: str) -> str:
    return f"sheet/{hashlib.sha256(key.encode()).hexdigest()[:40]}"


def _chunks(
    rows: list[tuple[str, tuple[int, Answers]]],
) -> list[list[tuple[str, tuple[int, Answers]]]]:
    return [rows[at : at + _CHUNK] for at in range(0, len(rows), _CHUNK)]


def _refuse_row(watch: Watch, number: int, problem: Problem) -> None:
    report(
        watch.workspace,
        Snag.About.SHEET,
        f"sheet/{watch.source_id}/row/{number}",
        f"{watch.source.name}: {problem.sentence}",
        problem.fix,
        {"source": str(watch.source_id)},
    )


def _tell(watch: Watch, problem: Problem | None) -> None:
    """A snag for what keeps the sheet from being read; closed by itself once it is fixed."""
    cause = f"sheet/{watch.source_id}"
    is_live = watch.source.state == Source.State.LIVE
    if problem is not None and is_live:
        report(
            watch.workspace,
            Snag.About.SHEET,
            cause,
            f"{watch.source.name}: {problem.sentence}",
            problem.fix,
            {"source": str(watch.source_id)},
        )
    elif problem is None:
        for snag in Snag.objects.of(watch.workspace).filter(cause=cause, closed_at=None):
            snag.workspace = watch.workspace
            close(snag)
