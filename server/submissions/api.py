"""The log of submissions: what came, where each is now, what can be done with it."""

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from django.db.models import Min
from django.http import HttpResponseBase, StreamingHttpResponse
from ninja import Query, Router, Schema

from core.deciding import Decision
from server.snags.models import Snag
from server.sources.actions import route_of_revision, shown_revision
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.bounds import Moment
from server.workspaces.errors import refuse
from server.workspaces.paging import page_by_key
from server.workspaces.schemas import Done
from server.workspaces.shapes import Json

from .exports import as_csv, as_json_lines
from .log import filtered_submissions, hold, mark_test, release, remove, route_again
from .models import Submission
from .schemas import Answer

router = Router(tags=["submissions"], auth=member)
MOST_AT_ONCE = 500
COUNTED = 10_000
"""Submissions are counted as far as this: a total that nobody reads is not worth a whole table."""


class SubmissionLine(Schema):
    id: UUID
    source: UUID
    source_name: str
    received_at: datetime
    routed_at: datetime | None
    state: str
    held_because: str
    is_test: bool
    forgotten: bool
    answers: list[Answer]
    context: Json
    person: UUID | None
    address: str
    problems: list[str]


class SubmissionPage(Schema):
    submissions: list[SubmissionLine]
    next: str | None
    total: int
    """How many there are in all pages; counted up to `COUNTED`, which means as many or more."""


class SubmissionOut(SubmissionLine):
    revision: int | None
    decision: Decision | None
    first_sent_at: datetime | None
    """When the first email that it started was handed to the mail server."""
    raw: str
    raw_type: str
    labels: dict[str, str]
    """Of questions that the form asked: how it names them."""
    consent: list[str]
    """The names of those that ask for consent."""


class SubmissionFilter(Schema):
    source: UUID | None = None
    file_import: UUID | None = None
    state: Literal["received", "held", "routed", "stuck", "attention"] | None = None
    since: Moment | None = None
    until: Moment | None = None
    first_day: date | None = None
    last_day: date | None = None
    """Days of the workspace's own zone, both among what is wanted."""
    text: str = ""
    tests: Literal["without", "with", "only"] = "without"


class PageFilter(SubmissionFilter):
    after: str | None = None


class ExportFilter(SubmissionFilter):
    form: Literal["csv", "jsonl"] = "csv"


class ManyIn(Schema):
    submissions: list[UUID]


class MarkIn(ManyIn):
    is_test: bool


class RemoveIn(ManyIn):
    with_people: bool = False


class Removed(Schema):
    submissions: int
    people: int


@router.get("/submissions", response=SubmissionPage)
def submissions(
    request: MemberRequest, workspace: InPath, wanted: Query[PageFilter]
) -> SubmissionPage:
    rows = filtered_submissions(request.workspace, wanted.dict())
    shown = rows.select_related("source", "subscriber").defer("raw")
    page, next_mark = page_by_key(shown, "received_at", wanted.after)
    return SubmissionPage(
        submissions=[_line(one) for one in page],
        next=next_mark,
        total=rows.order_by()[:COUNTED].count(),
    )


@router.get("/submissions/export", response={200: object})
def export(
    request: MemberRequest,
    workspace: InPath,
    wanted: Query[ExportFilter],
) -> HttpResponseBase:
    rows = filtered_submissions(request.workspace, wanted.dict())
    form = wanted.form
    lines = as_csv(rows) if form == "csv" else as_json_lines(rows)
    kind = "text/csv; charset=utf-8; header=present" if form == "csv" else "application/jsonl"
    response = StreamingHttpResponse((line.encode() for line in lines), content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="submissions.{form}"'
    return response


@router.post("/submissions/again/{snag}", response=Done)
def again(request: MemberRequest, workspace: InPath, snag: UUID) -> Done:
    return Done(count=route_again(request.workspace, find(Snag, request, snag, "snag")))


@router.post("/submissions/hold", response=Done)
def post_hold(request: MemberRequest, workspace: InPath, body: ManyIn) -> Done:
    why = f"held by {request.member.user.name or request.member.user.email}"
    return Done(count=hold(request.workspace, _bounded(body), why))


@router.post("/submissions/release", response=Done)
def post_release(request: MemberRequest, workspace: InPath, body: ManyIn) -> Done:
    return Done(count=release(request.workspace, _bounded(body)))


@router.post("/submissions/test", response=Done)
def post_mark(request: MemberRequest, workspace: InPath, body: MarkIn) -> Done:
    return Done(count=mark_test(request.workspace, _bounded(body), body.is_test))


@router.post("/submissions/remove", response=Removed)
def post_remove(request: MemberRequest, workspace: InPath, body: RemoveIn) -> Removed:
    removed, people = remove(request.workspace, _bounded(body), body.with_people)
    return Removed(submissions=removed, people=people)


@router.get("/submissions/{submission}", response=SubmissionOut)
def get_submission(request: MemberRequest, workspace: InPath, submission: UUID) -> SubmissionOut:
    row: Submission = find(Submission, request, submission, "submission")
    seen = row.shown_id or row.revision_id or shown_revision(row.source).pk
    sheet = route_of_revision(str(seen))
    return SubmissionOut(
        **_line(row).dict(),
        revision=row.revision.number if row.revision else None,
        decision=Decision.from_json(row.decision) if row.decision else None,
        first_sent_at=_first_sent(row),
        raw=bytes(row.raw).decode("utf-8", "replace") if row.raw else "",
        raw_type=row.raw_type,
        labels=dict(sheet.form.names),
        consent=[one.question for one in sheet.consent],
    )


def _bounded(body: ManyIn) -> list[UUID]:
    if len(body.submissions) > MOST_AT_ONCE:
        raise refuse("too_many", "submissions", f"At most {MOST_AT_ONCE} at once.")
    return body.submissions


def _first_sent(row: Submission) -> datetime | None:
    """The first send of the runs that this submission started."""
    if row.subscriber is None:
        return None
    runs = row.subscriber.runs.filter(by_submission=row.pk)
    sends = row.subscriber.sends.filter(by_run__in=runs.values("pk"))
    found: datetime | None = sends.aggregate(first=Min("sent_at"))["first"]
    return found


def _line(row: Submission) -> SubmissionLine:
    return SubmissionLine(
        id=row.pk,
        source=row.source_id,
        source_name=row.source.name,
        received_at=row.received_at,
        routed_at=row.routed_at,
        state=row.state,
        held_because=row.held_because if row.state == Submission.State.HELD else "",
        is_test=row.is_test,
        forgotten=row.forgotten_at is not None,
        answers=[Answer(name=name, text=text) for name, text in row.answers],
        context=row.context,
        person=row.subscriber_id,
        address=row.subscriber.address if row.subscriber else "",
        problems=[one["sentence"] for one in (row.decision or {}).get("problems", [])],
    )
