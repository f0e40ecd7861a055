"""Messages in and out by open formats."""

from core.documents import Problem
from core.messages import TOO_COSTLY
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Member

from . import sandbox
from .editing import save_message
from .frames import frame_of, language_of_letter
from .headers import mailbox
from .models import Message, shown_document
from .pictures import pictures_of
from .writing import style_of

LARGEST = 2 * 2**20
FORMATS = {
    "eml": "message/rfc822",
    "html": "text/html; charset=utf-8",
    "mjml": "text/plain; charset=utf-8",
}


def export_message(message: Message, form: str) -> tuple[bytes, str]:
    """The text that is edited, in one of `FORMATS`; and its type."""
    workspace, document = message.workspace, shown_document(message)
    sender = workspace.sender_name or workspace.name
    frame = frame_of(workspace, language_of_letter(workspace, document))
    style, pictures = style_of(workspace), pictures_of(workspace)
    address = workspace.sender_address
    whom = mailbox(sender, address) if address and address.isascii() else ""
    try:
        content = sandbox.export(form, document, style, frame, pictures, whom)
    except sandbox.NotLaidOut:
        raise refuse(TOO_COSTLY.code, "message", TOO_COSTLY.sentence, TOO_COSTLY.fix) from None
    return content, FORMATS[form]


@changes("took the content of the message “{message.name}” from a file")
def import_message(message: Message, form: str, content: bytes, member: Member | None) -> list[str]:
    """Take a file as the draft of the message; what was left out, in sentences."""
    if not content or len(content) > LARGEST:
        raise refuse(
            "file_size",
            "file",
            "The file is empty." if not content else "The file has more than 2 MB.",
            "Choose another one.",
        )
    found = sandbox.read(form, content)
    if isinstance(found, Problem):
        raise refuse(found.code, found.place or "file", found.sentence, found.fix)
    document, left_out = found.document, list(found.left_out)
    # The file knows nothing of what is set beside the text.
    before = shown_document(message)
    kept = {key: getattr(before, key) for key in ("language", "opens", "clicks", "utm")}
    kept["subject"] = document.subject or before.subject
    kept["preheader"] = document.preheader or before.preheader
    document = document.model_copy(update=kept)
    save_message(message, document, None, member)
    return left_out
