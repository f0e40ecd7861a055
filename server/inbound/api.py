"""The mailbox where replies arrive."""

from datetime import datetime

from ninja import Router, Schema
from pydantic import Field

from server.mail.models import ReplyMailbox
from server.workspaces.auth import InPath, MemberRequest, member
from server.workspaces.errors import refuse
from server.workspaces.schemas import Done

from .mailbox import look, remove_mailbox, set_mailbox

router = Router(tags=["mail settings"], auth=member)


class MailboxIn(Schema):
    host: str
    port: int = Field(default=993, ge=1, le=65_535)
    user: str
    password: str = ""
    """Write-only; empty keeps the one before."""
    folder: str = "INBOX"


class MailboxOut(Schema):
    host: str
    port: int
    user: str
    folder: str
    checked_at: datetime | None
    problem: str


@router.get("/mail/mailbox", response=MailboxOut | None)
def mailbox(request: MemberRequest, workspace: InPath) -> MailboxOut | None:
    row = ReplyMailbox.objects.of(request.workspace).first()
    return _out(row) if row else None


@router.put("/mail/mailbox", response=MailboxOut)
def put_mailbox(request: MemberRequest, workspace: InPath, body: MailboxIn) -> MailboxOut:
    """Read replies from it, once it could be read."""
    return _out(
        set_mailbox(request.workspace, body.host, body.port, body.user, body.password, body.folder)
    )


@router.post("/mail/mailbox/look", response=MailboxOut)
def post_look(request: MemberRequest, workspace: InPath) -> MailboxOut:
    """Take what has arrived, now."""
    row = ReplyMailbox.objects.of(request.workspace).select_related("workspace").first()
    if row is None:
        raise refuse(
            "no_mailbox", "mailbox", "No mailbox is connected.", "Connect the mailbox first."
        )
    look(row)
    return _out(row)


@router.delete("/mail/mailbox", response=Done)
def delete_mailbox(request: MemberRequest, workspace: InPath) -> Done:
    remove_mailbox(request.workspace)
    return Done(count=1)


def _out(row: ReplyMailbox) -> MailboxOut:
    return MailboxOut(
        host=row.host,
        port=row.port,
        user=row.user,
        folder=row.folder,
        checked_at=row.checked_at,
        problem=row.problem,
    )
