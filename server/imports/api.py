"""Files of rows: uploaded in parts, shown as mapped, checked, run, continued."""

from datetime import datetime
from uuid import UUID

from django.http import HttpResponseBase, StreamingHttpResponse
from ninja import Router, Schema

from core.deciding import Decision, RouteDocument
from core.documents import Problem
from core.reading import TableShape
from server.routes.sample import sample
from server.sources.models import Source
from server.submissions.models import FileImport
from server.submissions.schemas import Answer
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.endpoints import add_acts

from .imports import (
    PART,
    begin_import,
    cancel,
    first_rows,
    keep_part,
    refused_as_csv,
    resume_import,
    set_shape,
    start_counting,
    start_running,
)

router = Router(tags=["files"], auth=member)


class Refusal(Schema):
    sentence: str
    rows: int


class Tally(Schema):
    """Rows by what becomes of them; `again`: an address that stood earlier in the file; `short`:
    how many of them have fewer cells than there are headings."""

    new: int = 0
    updated: int = 0
    unchanged: int = 0
    again: int = 0
    refused: int = 0
    short: int = 0
    refusals: list[Refusal] = []


class FileOut(Schema):
    id: UUID
    source: UUID
    name: str
    size: int
    arrived: int
    state: FileImport.State
    shape: TableShape | None
    headings: list[str]
    consent: str
    rows: int
    done: int
    tally: Tally
    forecast: Tally | None
    failure: str
    created_at: datetime
    ended_at: datetime | None


class BeginIn(Schema):
    name: str
    size: int


class RunIn(Schema):
    consent: str = ""


class ShownRow(Schema):
    """One of the first rows: its answers as they are in the file, and what the sheet makes of them."""

    number: int
    answers: list[Answer]
    problem: Problem | None
    decision: Decision | None


class RowsIn(Schema):
    document: RouteDocument


@router.get("/sources/{source}/files", response=list[FileOut])
def files(request: MemberRequest, workspace: InPath, source: UUID) -> list[FileOut]:
    row: Source = find(Source, request, source, "source")
    return [_out(one) for one in row.imports.order_by("-created_at")[:20]]


@router.post("/sources/{source}/files", response=FileOut)
def begin(request: MemberRequest, workspace: InPath, source: UUID, body: BeginIn) -> FileOut:
    row: Source = find(Source, request, source, "source")
    return _out(begin_import(row, body.name, body.size, request.member))


@router.put("/files/{file}/parts/{number}", response=FileOut)
def put_part(request: MemberRequest, workspace: InPath, file: UUID, number: int) -> FileOut:
    return _out(keep_part(_find(request, file), number, request.read(PART + 1)))


@router.put("/files/{file}/shape", response=FileOut)
def put_shape(request: MemberRequest, workspace: InPath, file: UUID, body: TableShape) -> FileOut:
    return _out(set_shape(_find(request, file), body))


@router.get("/files/{file}", response=FileOut)
def get_file(request: MemberRequest, workspace: InPath, file: UUID) -> FileOut:
    return _out(_find(request, file))


@router.post("/files/{file}/rows", response=list[ShownRow], auth=member_reads)
def rows(request: MemberRequest, workspace: InPath, file: UUID, body: RowsIn) -> list[ShownRow]:
    row = _find(request, file)
    now = clock.now(request.workspace)
    shown = []
    for line, answers in first_rows(row):
        if isinstance(answers, Problem):
            shown.append(ShownRow(number=line.number, answers=[], problem=answers, decision=None))
            continue
        decision = sample(row.source, body.document, answers, {}, now)
        pairs = [Answer(name=name, text=text) for name, text in answers]
        shown.append(ShownRow(number=line.number, answers=pairs, problem=None, decision=decision))
    return shown


@router.post("/files/{file}/run", response=FileOut)
def post_run(request: MemberRequest, workspace: InPath, file: UUID, body: RunIn) -> FileOut:
    row = _find(request, file)
    start_running(row, body.consent, request.member)
    return _out(row)


@router.get("/files/{file}/refused.csv", response={200: str})
def get_refused(request: MemberRequest, workspace: InPath, file: UUID) -> HttpResponseBase:
    lines = refused_as_csv(_find(request, file))
    response = StreamingHttpResponse(
        (line.encode() for line in lines), content_type="text/csv; charset=utf-8; header=present"
    )
    response["Content-Disposition"] = 'attachment; filename="refused-rows.csv"'
    return response


def _find(request: MemberRequest, file: UUID) -> FileImport:
    row: FileImport = find(FileImport, request, file, "file")
    row.source.workspace = request.workspace
    return row


def _tally(counts: dict[str, int], refusals: dict[str, dict[str, object]]) -> Tally:
    return Tally(
        **counts,  # type: ignore[arg-type]
        refusals=[Refusal.model_validate(one) for one in refusals.values()],
    )


def _out(row: FileImport) -> FileOut:
    forecast = row.forecast
    return FileOut(
        id=row.pk,
        source=row.source_id,
        name=row.name,
        size=row.size,
        arrived=row.parts.count() if row.state == FileImport.State.ARRIVING else 0,
        state=FileImport.State(row.state),
        shape=TableShape.model_validate(row.shape) if row.shape else None,
        headings=row.headings,
        consent=row.consent,
        rows=row.rows,
        done=sum(row.counts.values()),
        tally=_tally(row.counts, row.refusals),
        forecast=_tally(forecast["counts"], forecast["refusals"]) if forecast else None,
        failure=row.failure,
        created_at=row.created_at,
        ended_at=row.ended_at,
    )


_ACTS = {"count": start_counting, "cancel": cancel, "go-on": resume_import}
add_acts(router, "file", _find, FileOut, _out, _ACTS)
