"""Messages, their preview, and the sends that are stuck."""

from datetime import datetime
from typing import Any
from uuid import UUID

from csp.constants import NONE, SELF
from django.db.models import BooleanField, Count, ExpressionWrapper, Q
from django.http import HttpResponse
from django.views.decorators.clickjacking import xframe_options_sameorigin
from ninja import Query, Router, Schema
from ninja.decorators import decorate_view

from core.documents import Finding, Problem
from core.messages import MessageText
from server.people.models import MailingList, Subscriber
from server.snags.models import Snag
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.schemas import BasedOn, Done, NameIn

from .actions import (
    check,
    discard_changes,
    it_went_out,
    make_message,
    preview,
    save_message,
    send_again,
    turn_on_changes,
)
from .confirming import set_confirming
from .files import LARGEST, give_file, put_file, take_file
from .models import ListMail, Message, MessageFile, shown_text

router = Router(tags=["mail"], auth=member)


class MessageLine(Schema):
    id: UUID
    name: str
    subject: str
    saved_at: datetime
    sent: int
    waiting: int
    differs: bool


class MessageOut(Schema):
    id: UUID
    name: str
    subject: str
    preheader: str
    body: str
    edits: int
    differs: bool
    """Whether what is written is not what is sent yet."""
    saved_at: datetime
    findings: list[Finding]
    files: list["KeptFileOut"]


class KeptFileOut(Schema):
    """A file of a message: attached, or behind a link that works for some days."""

    id: UUID
    name: str
    size: int
    attached: bool
    days: int


class KeptFileIn(Schema):
    attached: bool
    days: int = 14


class FileQuery(Schema):
    name: str = ""
    attached: bool = False
    days: int = 14


MessageOut.model_rebuild()


class MessageIn(Schema):
    name: str
    subject: str
    preheader: str
    body: str
    based_on: int


class PreviewOut(Schema):
    subject: str
    preheader: str
    text: str
    holes: list[str]
    problem: Problem | None = None


@router.get("/messages", response=list[MessageLine])
def messages(request: MemberRequest, workspace: InPath, archived: bool = False) -> Any:
    return (
        Message.objects.of(request.workspace)
        .filter(archived_at__isnull=not archived)
        .annotate(
            sent=Count("sends", filter=Q(sends__state="sent")),
            differs=ExpressionWrapper(Q(draft__isnull=False), output_field=BooleanField()),
            waiting=Count("sends", filter=~Q(sends__state__in=["sent", "withdrawn"])),
        )
        .order_by("name")
    )


@router.post("/messages", response=MessageOut)
def add_message(request: MemberRequest, workspace: InPath, body: NameIn) -> MessageOut:
    return _out(make_message(request.workspace, body.name, request.member))


@router.get("/messages/{message}", response=MessageOut)
def get_message(request: MemberRequest, workspace: InPath, message: UUID) -> MessageOut:
    return _out(find(Message, request, message, "message"))


@router.put("/messages/{message}", response=MessageOut)
def put_message(
    request: MemberRequest, workspace: InPath, message: UUID, body: MessageIn
) -> MessageOut:
    row = find(Message, request, message, "message")
    text = MessageText(subject=body.subject, preheader=body.preheader, body=body.body)
    saved = save_message(row, body.name, text, body.based_on, request.member)
    saved.workspace = request.workspace
    return _out(saved)


@router.post("/messages/{message}/turn-on", response=MessageOut)
def post_turn_on(
    request: MemberRequest, workspace: InPath, message: UUID, body: BasedOn
) -> MessageOut:
    """Send what is written from now on."""
    row: Message = find(Message, request, message, "message")
    return _out(turn_on_changes(row, body.based_on, request.member))


@router.post("/messages/{message}/discard", response=MessageOut)
def post_discard(
    request: MemberRequest, workspace: InPath, message: UUID, body: BasedOn
) -> MessageOut:
    row: Message = find(Message, request, message, "message")
    return _out(discard_changes(row, body.based_on, request.member))


@router.post("/messages/{message}/files", response=MessageOut)
def post_file(
    request: MemberRequest, workspace: InPath, message: UUID, how: Query[FileQuery]
) -> MessageOut:
    """Give a message a file: its content is the body of the request."""
    row: Message = find(Message, request, message, "message")
    content = request.read(LARGEST + 1)
    give_file(row, how.name, request.content_type or "", content, how.attached, how.days)
    return _out(row)


@router.put("/messages/{message}/files/{kept}", response=MessageOut)
def put_message_file(
    request: MemberRequest, workspace: InPath, message: UUID, kept: UUID, body: KeptFileIn
) -> MessageOut:
    row: Message = find(Message, request, message, "message")
    file = find(MessageFile, request, kept, "file").file
    put_file(row, file, attached=body.attached, days=body.days)
    return _out(row)


@router.delete("/messages/{message}/files/{kept}", response=MessageOut)
def delete_file(request: MemberRequest, workspace: InPath, message: UUID, kept: UUID) -> MessageOut:
    row: Message = find(Message, request, message, "message")
    take_file(find(MessageFile, request, kept, "file"))
    return _out(row)


@router.get("/messages/{message}/preview", response=PreviewOut)
def get_preview(
    request: MemberRequest, workspace: InPath, message: UUID, person: UUID | None = None
) -> PreviewOut:
    made = _preview(request, message, person)
    if isinstance(made, Problem):
        return PreviewOut(subject="", preheader="", text="", holes=[], problem=made)
    rendered, _, text = made
    return PreviewOut(
        subject=rendered.subject,
        preheader=rendered.preheader,
        text=text,
        holes=list(rendered.holes),
    )


@router.get("/messages/{message}/preview.html", include_in_schema=False)
@decorate_view(xframe_options_sameorigin)
def get_preview_page(
    request: MemberRequest, workspace: InPath, message: UUID, person: UUID | None = None
) -> HttpResponse:
    made = _preview(request, message, person)
    page = made.sentence if isinstance(made, Problem) else made[1]
    response = HttpResponse(page)
    # An email brings its own inline styles, and nothing in it may run.
    policy = {
        "default-src": [NONE],
        "style-src": ["'unsafe-inline'"],
        "img-src": ["https:", "http:", "data:"],
        "frame-ancestors": [SELF],
        "sandbox": ["allow-popups"],
    }
    response._csp_replace = policy | {  # type: ignore[attr-defined]
        "style-src-attr": ["'unsafe-inline'"],
        "script-src": [NONE],
        "form-action": [NONE],
    }
    return response


@router.post("/sends/again/{snag}", response=Done)
def again(request: MemberRequest, workspace: InPath, snag: UUID) -> Done:
    return Done(count=send_again(request.workspace, find(Snag, request, snag, "snag")))


@router.post("/sends/went-out/{snag}", response=Done)
def went_out(request: MemberRequest, workspace: InPath, snag: UUID) -> Done:
    return Done(count=it_went_out(request.workspace, find(Snag, request, snag, "snag")))


def _preview(request: MemberRequest, message: UUID, person: UUID | None) -> Any:
    row: Message = find(Message, request, message, "message")
    subscriber = find(Subscriber, request, person, "person") if person else None
    text = shown_text(row)
    return preview(request.workspace, text, subscriber, row.name)


def _out(row: Message) -> MessageOut:
    text = shown_text(row)
    return MessageOut(
        id=row.pk,
        name=row.name,
        subject=text.subject,
        preheader=text.preheader,
        body=text.body,
        edits=row.edits,
        differs=row.draft is not None,
        saved_at=row.saved_at,
        findings=list(check(row)),
        files=[
            KeptFileOut(
                id=one.pk,
                name=one.file.name,
                size=one.file.size,
                attached=one.attached,
                days=one.days,
            )
            for one in row.files.select_related("file").defer("file__content").order_by("pk")
        ],
    )


class ConfirmingIn(Schema):
    """Whether a list asks for a confirmation by email first, and by which messages."""

    confirms: bool
    asking: UUID | None = None
    welcome: UUID | None = None


@router.get("/lists/{list}/confirming", response=ConfirmingIn)
def get_confirming(request: MemberRequest, workspace: InPath, list: UUID) -> ConfirmingIn:
    return _confirming(find(MailingList, request, list, "list"))


@router.put("/lists/{list}/confirming", response=ConfirmingIn)
def put_confirming(
    request: MemberRequest, workspace: InPath, list: UUID, body: ConfirmingIn
) -> ConfirmingIn:
    row = find(MailingList, request, list, "list")
    asking = find(Message, request, body.asking, "message") if body.asking else None
    welcome = find(Message, request, body.welcome, "message") if body.welcome else None
    return _confirming(set_confirming(row, body.confirms, request.member, asking, welcome))


def _confirming(row: MailingList) -> ConfirmingIn:
    mail = ListMail.objects.of(row.workspace).filter(list=row).first()
    return ConfirmingIn(
        confirms=row.confirms,
        asking=mail.asking_id if mail else None,
        welcome=mail.welcome_id if mail else None,
    )
