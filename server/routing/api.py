"""What would become of a submission that is not routed yet."""

from uuid import UUID

from ninja import Router, Schema

from core.deciding import Decision
from server.submissions.models import Submission
from server.workspaces.auth import InPath, MemberRequest, find, member

from .routing import foreseen

router = Router(tags=["submissions"], auth=member)


class Foreseen(Schema):
    """What routing would make of it now; None where it is routed, or no sheet is on."""

    decision: Decision | None


@router.get("/submissions/{submission}/foreseen", response=Foreseen)
def get_foreseen(request: MemberRequest, workspace: InPath, submission: UUID) -> object:
    """Decide a submission that waits or is held as it would be if it were routed now."""
    row: Submission = find(Submission, request, submission, "submission")
    waits = row.state in (Submission.State.RECEIVED, Submission.State.HELD)
    return Foreseen(decision=foreseen(row) if waits and row.forgotten_at is None else None)
