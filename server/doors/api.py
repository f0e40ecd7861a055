"""Letting people into sequences by hand, and taking them out."""

from datetime import datetime
from uuid import UUID

from ninja import Router, Schema

from core.conditions import Group
from server.people.models import Subscriber
from server.sequences.models import Run, Sequence
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.schemas import Done

from .by_hand import let_all_in, let_one_in, take_one_out
from .models import Admission

router = Router(tags=["doors"], auth=member)


class OneIn(Schema):
    """Who comes in, and into which lane (null: the first one)."""

    person: UUID
    lane: str | None = None


class AllIn(Schema):
    """Everybody whom the condition fits; `counted`: how many they were when it was shown."""

    condition: Group
    lane: str | None = None
    counted: int


class AdmissionOut(Schema):
    id: UUID
    state: str
    counted: int
    entered: int
    kept_out: int
    made_at: datetime
    done_at: datetime | None


@router.post("/sequences/{sequence}/people", response=Done)
def post_one(request: MemberRequest, workspace: InPath, sequence: UUID, body: OneIn) -> Done:
    """Let one person into a sequence; 0 where they have been in it, or the door is for others."""
    row = find(Sequence, request, sequence, "sequence")
    person = find(Subscriber, request, body.person, "person")
    return Done(count=let_one_in(row, person, body.lane, request.member))


@router.post("/sequences/{sequence}/everybody", response=AdmissionOut)
def post_everybody(
    request: MemberRequest, workspace: InPath, sequence: UUID, body: AllIn
) -> Admission:
    """Let everybody in whom a condition fits, by a worker."""
    row = find(Sequence, request, sequence, "sequence")
    return let_all_in(row, body.condition, body.lane, body.counted, request.member)


@router.get("/sequences/{sequence}/admissions", response=list[AdmissionOut])
def get_admissions(request: MemberRequest, workspace: InPath, sequence: UUID) -> object:
    """Whom members have let in, the latest first."""
    row = find(Sequence, request, sequence, "sequence")
    return row.admissions.order_by("-made_at")[:20]


@router.post("/runs/{run}/take-out", response=Done)
def post_take_out(request: MemberRequest, workspace: InPath, run: UUID) -> Done:
    """Take somebody out of a sequence: what is queued of it is withdrawn."""
    row = find(Run, request, run, "run")
    return Done(count=take_one_out(row, request.member))
