"""A message as somebody would get it: on a member's screen, and in a member's inbox."""

from dataclasses import dataclass

from django.core.mail import get_connection

from core.documents import Problem
from core.messages import MessageDocument, counted_links
from server.people.models import Subscriber
from server.workspaces import clock
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes
from server.workspaces.models import Workspace

from .frames import Stands
from .models import Message, shown_document
from .preflight import NOWHERE
from .senders import sender_of
from .trial import trial_of
from .writing import reader_for, write_message


@dataclass(frozen=True)
class Preview:
    """The email, with links of ours that lead nowhere."""

    subject: str
    preheader: str
    html: str
    text: str
    holes: tuple[str, ...]


def preview_of(
    workspace: Workspace,
    document: MessageDocument,
    subscriber: Subscriber | None,
    stands: Stands = Stands.ALONE,
) -> Preview | Problem:
    """The email as the person would get it; for nobody in particular, with every block."""
    reader = reader_for(document, subscriber)
    written = write_message(workspace, document, reader, NOWHERE, stands=stands)
    if isinstance(written, Problem):
        return written
    filled = written.filled
    return Preview(
        subject=filled.subject,
        preheader=filled.preheader,
        html=counted_links(filled.html, lambda _, address: address),
        text=filled.text,
        holes=written.holes,
    )


@changes("sent a test of the message “{message.name}” to {to}")
def try_message(message: Message, subscriber: Subscriber | None, to: str) -> None:
    """Send the text that is edited to a member, as the person would get it."""
    workspace = message.workspace
    if not workspace.sender_address:
        raise refuse(
            "no_sender",
            "sender",
            "The workspace has no address to send from.",
            "Set the sender in the settings of the workspace.",
        )
    document = shown_document(message)
    written = write_message(workspace, document, reader_for(document, subscriber), NOWHERE)
    if isinstance(written, Problem):
        raise Refused(written.sentence)
    now = clock.now(workspace)
    mark = f"Test, as {subscriber.address}" if subscriber else "Test"
    get_connection().send_messages([trial_of(sender_of(workspace, None), written, to, mark, now)])
