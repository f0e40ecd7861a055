"""Messages, their preview, and the sends that are stuck."""

from datetime import datetime
from uuid import UUID

from csp.constants import NONE, SELF
from django.http import HttpResponse
from django.utils.html import escape
from django.utils.http import content_disposition_header
from django.views.decorators.clickjacking import xframe_options_sameorigin
from ninja import Query, Router, Schema
from ninja.decorators import decorate_view
from pydantic import Field

from core.documents import Finding, Problem
from core.messages import MOST_EMAILS, MessageDocument, SeriesEmail, SeriesForm
from server.people.models import MailingList, Subscriber
from server.snags.models import Snag
from server.workspaces.auth import InPath, MemberRequest, editor_reads, find, member
from server.workspaces.deadlines import only_reads
from server.workspaces.documents import draft_of, live_of
from server.workspaces.endpoints import DocumentKind, add_document
from server.workspaces.errors import NotFound
from server.workspaces.forms import Based, Versioned, saving, version_of
from server.workspaces.models import Revision
from server.workspaces.schemas import (
    Done,
    NameIn,
    RevisionLine,
    TurnOnIn,
    revision_line,
    revision_lines,
)

from .actions import it_went_out, send_again
from .confirming import set_confirming
from .editing import (
    changes_of,
    differences_from_stored,
    discard_changes,
    make_message,
    restore_revision,
    save_message,
    turn_on_changes,
)
from .figures import LatelyFigures, MessageFigures, figures_of_message, lately
from .files import LARGEST, give_file, put_file, take_file
from .house import set_sender
from .models import ListMail, Message, MessageFile, MessageRevision, live_document, shown_document
from .portable import FORMATS, export_message, import_message
from .preflight import check, whom_blocks_are_for
from .previewing import Preview, preview_of, try_message
from .series import make_series, read_series
from .users import is_used

router = Router(tags=["mail"], auth=member)


class MessageLine(Schema):
    id: UUID
    name: str
    subject: str
    saved_at: datetime
    differs: bool
    lately: LatelyFigures


class MessageOut(Schema):
    id: UUID
    name: str
    document: MessageDocument
    """The draft where there is one, else what is sent."""
    edits: int
    differs: bool
    """Whether what is written is not what is sent yet."""
    used: bool
    """Whether something sends it, so that changes are a draft first."""
    changes: list[str]
    words: dict[str, str]
    """By id of a block, whom it is for."""
    saved_at: datetime
    findings: list[Finding]
    files: list["KeptFileOut"]
    revisions: list[RevisionLine]


class MessageDraftIn(Schema):
    document: MessageDocument
    based_on: int


class MessageRevisionOut(RevisionLine):
    changes: list[str]
    document: MessageDocument


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


class PreviewOut(Schema):
    subject: str
    preheader: str
    text: str
    html: str
    """The source of the HTML part."""
    holes: list[str]
    size: int
    """Bytes of the HTML."""
    problem: Problem | None = None


@router.get("/messages", response=list[MessageLine])
def messages(request: MemberRequest, workspace: InPath, archived: bool = False) -> object:
    rows = list(
        Message.objects.of(request.workspace)
        .filter(archived_at__isnull=not archived)
        .order_by("name")
    )
    shown: dict[UUID, MessageRevision] = {}
    differs = set()
    revisions = MessageRevision.objects.of(request.workspace).filter(message__in=rows)
    for one in revisions.exclude(state=Revision.State.PAST):
        if one.state == Revision.State.DRAFT:
            differs.add(one.message_id)
        if one.message_id not in shown or one.state == Revision.State.DRAFT:
            shown[one.message_id] = one
    figures = lately(request.workspace, [row.pk for row in rows])
    return [
        MessageLine(
            id=row.pk,
            name=row.name,
            subject=shown[row.pk].document["subject"],
            saved_at=shown[row.pk].saved_at,
            differs=row.pk in differs,
            lately=figures[row.pk],
        )
        for row in rows
    ]


@router.post("/messages", response=MessageOut)
def add_message(request: MemberRequest, workspace: InPath, body: NameIn) -> MessageOut:
    return _out(make_message(request.workspace, body.name, request.member))


class SeriesRead(Schema):
    """A series of emails as it was read, to look over."""

    emails: list[SeriesEmail]
    left_out: list[str]
    """What was in the text and is in no email, in sentences."""


class SeriesIn(Schema):
    emails: list[SeriesEmail] = Field(min_length=1, max_length=MOST_EMAILS)


class SeriesMade(Schema):
    messages: list[UUID]
    """In the order of the emails."""


@router.post("/series/read", response=SeriesRead, auth=editor_reads)
def post_series(request: MemberRequest, workspace: InPath, form: SeriesForm) -> SeriesRead:
    """Read the body of the request, a file or a text, as a series; nothing is made yet."""
    only_reads(request)
    found = read_series(form, request.read(LARGEST + 1))
    return SeriesRead(emails=found.emails, left_out=found.left_out)


@router.post("/series", response=SeriesMade)
def post_series_made(request: MemberRequest, workspace: InPath, body: SeriesIn) -> SeriesMade:
    """Make a message of each email."""
    made = make_series(request.workspace, body.emails, request.member)
    return SeriesMade(messages=[one.pk for one in made.messages])


@router.get("/messages/{message}", response=MessageOut)
def get_message(request: MemberRequest, workspace: InPath, message: UUID) -> MessageOut:
    return _out(find(Message, request, message, "message"))


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


class PreviewQuery(Schema):
    person: UUID | None = None
    """None: nobody in particular; every block is shown, and tokens are empty."""
    pictures: bool = True
    live: bool = False
    """What is sent, rather than what is edited."""


@router.get("/messages/{message}/preview", response=PreviewOut)
def get_preview(
    request: MemberRequest, workspace: InPath, message: UUID, how: Query[PreviewQuery]
) -> PreviewOut:
    made = _preview(request, message, how)
    if isinstance(made, Problem):
        return PreviewOut(
            subject="", preheader="", text="", html="", holes=[], size=0, problem=made
        )
    return PreviewOut(
        subject=made.subject,
        preheader=made.preheader,
        text=made.text,
        html=made.html,
        holes=list(made.holes),
        size=len(made.html.encode()),
    )


@router.get("/messages/{message}/preview.html", include_in_schema=False)
@decorate_view(xframe_options_sameorigin)
def get_preview_page(
    request: MemberRequest, workspace: InPath, message: UUID, how: Query[PreviewQuery]
) -> HttpResponse:
    made = _preview(request, message, how)
    page = escape(made.sentence) if isinstance(made, Problem) else made.html
    return email_page(page, pictures=how.pictures)


def email_page(page: str, *, pictures: bool) -> HttpResponse:
    """An email as a page of its own: it brings its own styles, and nothing in it may run."""
    response = HttpResponse(page)
    policy = {
        "default-src": [NONE],
        "style-src": ["'unsafe-inline'"],
        "img-src": ["https:", "http:", "data:"] if pictures else [NONE],
        "frame-ancestors": [SELF],
        # No script runs in it; the screen around it puts in what changes.
        "sandbox": ["allow-popups", "allow-same-origin"],
    }
    response._csp_replace = policy | {  # type: ignore[attr-defined]
        "style-src-attr": ["'unsafe-inline'"],
        "script-src": [NONE],
        "form-action": [NONE],
    }
    return response


class TryIn(Schema):
    person: UUID | None = None


@router.post("/messages/{message}/try", response=Done)
def post_try(request: MemberRequest, workspace: InPath, message: UUID, body: TryIn) -> Done:
    """Send it to the member who asks, as the person would get it, marked as a test."""
    row: Message = find(Message, request, message, "message")
    person = find(Subscriber, request, body.person, "person") if body.person else None
    try_message(row, person, request.member.user.email)
    return Done(count=1)


@router.get("/messages/{message}/figures", response=MessageFigures)
def get_figures(request: MemberRequest, workspace: InPath, message: UUID) -> MessageFigures:
    return figures_of_message(find(Message, request, message, "message"))


@router.get("/messages/{message}/export/{form}", include_in_schema=False)
def get_export(request: MemberRequest, workspace: InPath, message: UUID, form: str) -> HttpResponse:
    row: Message = find(Message, request, message, "message")
    if form not in FORMATS:
        raise NotFound(f"There is no format {form}.")
    content, content_type = export_message(row, form)
    response = HttpResponse(content, content_type=content_type)
    response["Content-Disposition"] = content_disposition_header(True, f"{row.name}.{form}") or ""
    return response


class ImportedOut(Schema):
    message: MessageOut
    left_out: list[str]
    """What was in the file and is not in the message, in sentences."""


@router.post("/messages/{message}/import/{form}", response=ImportedOut)
def post_import(request: MemberRequest, workspace: InPath, message: UUID, form: str) -> ImportedOut:
    """Take the content of a file (the body of the request) as the draft."""
    row: Message = find(Message, request, message, "message")
    if form not in FORMATS:
        raise NotFound(f"There is no format {form}.")
    left_out = import_message(row, form, request.read(LARGEST + 1), request.member)
    return ImportedOut(message=_out(row), left_out=left_out)


@router.post("/sends/again/{snag}", response=Done)
def again(request: MemberRequest, workspace: InPath, snag: UUID) -> Done:
    return Done(count=send_again(request.workspace, find(Snag, request, snag, "snag")))


@router.post("/sends/went-out/{snag}", response=Done)
def went_out(request: MemberRequest, workspace: InPath, snag: UUID) -> Done:
    return Done(count=it_went_out(request.workspace, find(Snag, request, snag, "snag")))


def _preview(request: MemberRequest, message: UUID, how: PreviewQuery) -> Preview | Problem:
    row: Message = find(Message, request, message, "message")
    subscriber = find(Subscriber, request, how.person, "person") if how.person else None
    document = live_document(row) if how.live else shown_document(row)
    return preview_of(request.workspace, document, subscriber)


def _out(row: Message) -> MessageOut:
    draft, live = draft_of(row.revisions.all()), live_of(row.revisions.all())
    shown: MessageRevision = draft or live  # type: ignore[assignment]
    document = MessageDocument.model_validate(shown.document)
    return MessageOut(
        id=row.pk,
        name=row.name,
        document=document,
        words=whom_blocks_are_for(row.workspace, document),
        edits=shown.edits,
        differs=draft is not None,
        used=is_used(row),
        changes=changes_of(row, live, draft) if draft else [],
        saved_at=shown.saved_at,
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
        revisions=revision_lines(row.revisions.all()),
    )


def _revision_out(
    row: Message, one: MessageRevision, earlier: MessageRevision | None
) -> MessageRevisionOut:
    return MessageRevisionOut(
        **revision_line(one).dict(),
        changes=changes_of(row, earlier, one),
        document=MessageDocument.model_validate(one.document),
    )


MessageOut.model_rebuild()
ImportedOut.model_rebuild()
add_document(
    router,
    DocumentKind(
        name="message",
        model=Message,
        out=MessageOut,
        shown=_out,
        draft_in=MessageDraftIn,
        turn_on_in=TurnOnIn,
        revision_out=MessageRevisionOut,
        revision_shown=_revision_out,
        save=save_message,
        turn_on=turn_on_changes,
        discard=discard_changes,
        go_back=restore_revision,
        document=MessageDocument,
        differences=differences_from_stored,
    ),
)


class ConfirmingIn(Schema):
    """Whether a list asks for a confirmation by email first, and by which messages."""

    confirms: bool
    asking: UUID | None = None
    welcome: UUID | None = None


class ConfirmingOut(ConfirmingIn):
    drafts: list[str]
    """Names of its messages that have changes which are not live."""


@router.get("/lists/{list}/confirming", response=ConfirmingOut)
def get_confirming(request: MemberRequest, workspace: InPath, list: UUID) -> ConfirmingOut:
    return _confirming(find(MailingList, request, list, "list"))


@router.put("/lists/{list}/confirming", response=ConfirmingOut)
def put_confirming(
    request: MemberRequest, workspace: InPath, list: UUID, body: ConfirmingIn
) -> ConfirmingOut:
    row = find(MailingList, request, list, "list")
    asking = find(Message, request, body.asking, "message") if body.asking else None
    welcome = find(Message, request, body.welcome, "message") if body.welcome else None
    return _confirming(set_confirming(row, body.confirms, request.member, asking, welcome))


class SenderIn(Based):
    """Who the emails of a list are from, and where replies go; empty: as the workspace says."""

    sender_name: str = ""
    sender_address: str = ""
    reply_to: str = ""


class SenderOut(Versioned):
    sender_name: str
    sender_address: str
    reply_to: str

    @staticmethod
    def resolve_version(row: MailingList) -> str:
        return version_of(SenderIn.from_orm(row), SenderIn)


@router.get("/lists/{list}/sender", response=SenderOut)
def get_sender(request: MemberRequest, workspace: InPath, list: UUID) -> object:
    return find(MailingList, request, list, "list")


@router.put("/lists/{list}/sender", response=SenderOut)
def put_sender(request: MemberRequest, workspace: InPath, list: UUID, body: SenderIn) -> object:
    found: MailingList = find(MailingList, request, list, "list")
    with saving(found, body.based_on, SenderOut.resolve_version) as row:
        return set_sender(row, body.sender_name, body.sender_address, body.reply_to)


def _confirming(row: MailingList) -> ConfirmingOut:
    mail = ListMail.objects.of(row.workspace).filter(list=row).first()
    ids = [one for one in (mail.asking_id, mail.welcome_id) if one] if mail else []
    drafts = MessageRevision.objects.of(row.workspace).filter(
        message__in=ids, state=Revision.State.DRAFT
    )
    return ConfirmingOut(
        confirms=row.confirms,
        asking=mail.asking_id if mail else None,
        welcome=mail.welcome_id if mail else None,
        drafts=[*drafts.order_by("pk").values_list("message__name", flat=True)],
    )
