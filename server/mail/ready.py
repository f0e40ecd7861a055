"""A send as a finished letter: written for its person, its links made countable, its headers known."""

from dataclasses import dataclass
from datetime import datetime

from core.documents import Problem
from server.people.links import leave_address, own_address
from server.workspaces import clock
from server.workspaces.documents import live_of

from .compose import Attached, Letter
from .confirm_links import ORIGIN as CONFIRMS
from .confirm_links import confirm_link_of
from .counting import counts_of, with_counted_links
from .files import file_address
from .models import MessageRevision, Send
from .return_path import leave_mail_of, return_path_of
from .signing import Signer, signer_for
from .writing import document_of, reader_for, write_message


@dataclass(frozen=True)
class ReadyEmail:
    """A letter that can be composed, and what is kept of it with the send."""

    letter: Letter
    revision: MessageRevision
    links: int
    counts_opens: bool
    holes: tuple[str, ...]
    date: datetime
    signer: Signer | None


def email_for(send: Send) -> ReadyEmail | Problem:
    """The letter for the person of the send, with the values of now."""
    workspace, person, now = send.workspace, send.subscriber, clock.now(send.workspace)
    revision: MessageRevision = live_of(send.message.revisions.all())  # type: ignore[assignment]
    document = document_of(revision)
    files = list(send.message.files.select_related("file"))
    linked = next((one for one in files if not one.attached), None)
    leave, own = leave_address(str(send.pk)), own_address(person.pk, now)
    asks = send.origin.startswith(CONFIRMS)
    reader = reader_for(document, person, tuple((name, text) for name, text in send.answers))
    written = write_message(
        workspace,
        document,
        reader,
        {
            "confirm_link": confirm_link_of(send),
            "file_link": file_address(linked, now) if linked else "",
            "own_page": own,
            "leave_link": leave,
        },
        to_list=send.list,
        asks=asks,
    )
    if isinstance(written, Problem):
        return written
    counts = counts_of(send, document)
    filled = with_counted_links(send, document, counts, written.template, written.filled)
    of_list = send.list
    address = (of_list and of_list.sender_address) or workspace.sender_address
    domain = address.rpartition("@")[2]
    letter = Letter(
        identity=str(send.pk),
        sender_name=(of_list and of_list.sender_name) or workspace.sender_name,
        sender_address=address,
        to=person.address,
        subject=filled.subject,
        html=filled.html,
        text=filled.text,
        leave=leave,
        date=now,
        language=written.template.language,
        list_id=f"{of_list.pk.hex[:12]}.{domain}" if of_list and domain.isascii() else "",
        list_name=of_list.shown_name if of_list else "",
        reply_to=(of_list and of_list.reply_to) or workspace.reply_to,
        leave_mail=leave_mail_of(send),
        envelope=return_path_of(send),
        automatic=asks,
        files=tuple(
            Attached(one.file.name, one.file.content_type, bytes(one.file.content))
            for one in files
            if one.attached
        ),
    )
    return ReadyEmail(
        letter=letter,
        revision=revision,
        links=len(written.template.links) if counts.clicks else 0,
        counts_opens=counts.opens,
        holes=written.holes,
        date=now,
        signer=signer_for(workspace, domain),
    )
