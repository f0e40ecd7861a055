"""Handoffs: where each is, what was sent and what came back, and again."""

from uuid import UUID

from django.db.models import QuerySet
from ninja import Router

from core.services import ServiceDescription
from server.people.models import Subscriber
from server.services.again import Current, current_of, hand_over_again, one_again, take_away
from server.services.models import Handoff, Service
from server.services.trying import seen_at
from server.submissions.models import Submission
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.models import Workspace
from server.workspaces.paging import page_by_key
from server.workspaces.schemas import Done

from .live import live_documents
from .schemas import AgainIn, AttemptOut, HandoffLine, HandoffOut, HandoffPage

router = Router(tags=["services"], auth=member)


@router.post("/handoffs/{handoff}/take-away", response=HandoffLine)
def post_take_away(request: MemberRequest, workspace: InPath, handoff: UUID) -> object:
    """Remove over there what a test made."""
    row = _find_handoff(request, handoff)
    take_away(row)
    return _handoff(row)


@router.get("/services/{service}/handoffs", response=HandoffPage)
def service_handoffs(
    request: MemberRequest,
    workspace: InPath,
    service: UUID,
    state: str = "",
    fault: str = "",
    after: str | None = None,
) -> object:
    rows = _handoffs(request).filter(service=find(Service, request, service, "service"))
    if state:
        rows = rows.filter(state=state)
    if fault:
        rows = rows.filter(fault=fault)
    page, more = page_by_key(rows, "created_at", after)
    return HandoffPage(handoffs=[_handoff(one) for one in page], next=more)


@router.get("/people/{person}/handoffs", response=list[HandoffLine])
def person_handoffs(request: MemberRequest, workspace: InPath, person: UUID) -> object:
    rows = _handoffs(request).filter(subscriber=find(Subscriber, request, person, "person"))
    return [_handoff(one) for one in rows.order_by("-pk")[:100]]


@router.get("/submissions/{submission}/handoffs", response=list[HandoffLine])
def submission_handoffs(request: MemberRequest, workspace: InPath, submission: UUID) -> object:
    row = find(Submission, request, submission, "submission")
    return [_handoff(one) for one in _handoffs(request).filter(by_submission=row.pk).order_by("pk")]


@router.get("/handoffs/{handoff}", response=HandoffOut)
def get_handoff(request: MemberRequest, workspace: InPath, handoff: UUID) -> object:
    row = _find_handoff(request, handoff)
    described = ServiceDescription.model_validate(row.service.description)
    address = row.subscriber.address if row.subscriber else row.address
    return HandoffOut(
        **_handoff(row).model_dump(),
        attempts=[
            AttemptOut(
                at=one.at,
                what=one.what,  # type: ignore[arg-type]
                request=one.request,
                status=one.status,
                answer=one.answer,
                seconds=one.seconds,
            )
            for one in row.attempts.order_by("pk")
        ],
        see=seen_at(described, row.their_id, address)
        if row.state == Handoff.State.DONE and address
        else "",
    )


@router.post("/handoffs/{handoff}/again", response=HandoffLine)
def post_handoff_again(request: MemberRequest, workspace: InPath, handoff: UUID) -> object:
    """Try one once more, by what its rule or step says now."""
    row = _find_handoff(request, handoff)
    one_again(row, _current(request.workspace))
    row.refresh_from_db()
    return _handoff(row)


@router.post("/services/{service}/again", response=Done)
def post_again(request: MemberRequest, workspace: InPath, service: UUID, body: AgainIn) -> object:
    """Try all that failed, or failed by one cause, once more."""
    row: Service = find(Service, request, service, "service")
    rows = Handoff.objects.of(request.workspace).filter(state=Handoff.State.FAILED)
    if body.fault:
        rows = rows.filter(fault=body.fault)
    return Done(count=hand_over_again(row, rows, _current(request.workspace)))


def _find_handoff(request: MemberRequest, pk: UUID) -> Handoff:
    find(Handoff, request, pk, "handoff")
    row: Handoff = _handoffs(request).get(pk=pk)
    row.service.workspace = request.workspace
    row.workspace = request.workspace
    return row


def _handoffs(request: MemberRequest) -> QuerySet[Handoff]:
    return Handoff.objects.of(request.workspace).select_related("service", "subscriber", "cause")


def _handoff(row: Handoff) -> HandoffLine:
    return HandoffLine(
        id=row.pk,
        service=row.service_id,
        service_name=row.service.name,
        person=row.subscriber_id,
        address=row.subscriber.address if row.subscriber else row.address,
        operation=row.operation,
        state=row.state,
        outcome=row.outcome,
        fault=row.fault,
        created_at=row.created_at,
        due_at=row.due_at,
        done_at=row.done_at,
        tries=row.tries,
        is_test=row.is_test,
        because=row.because,
    )


def _current(workspace: Workspace) -> Current:
    return current_of(live_documents(workspace))
