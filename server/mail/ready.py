"""Sends as finished letters: written for their people, links made countable, headers known."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from core.documents import Problem
from core.messages import PAGE_LINK
from server.people.links import leave_address, own_address, page_address
from server.people.models import MailingList
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.documents import live_of
from server.workspaces.models import Workspace

from .compose import Attached, Letter
from .confirm_links import ORIGIN as CONFIRMS
from .confirm_links import confirm_link_of
from .counting import counted_of, with_counted_links
from .files import file_address
from .frames import Stands
from .models import MessageFile, MessageRevision, Send
from .readers import own_broadcasts, senders_of
from .return_path import leave_mail_of, return_path_of
from .senders import Sender, sender_of
from .signing import Signer, signer_for
from .writing import Reader, WrittenMessage, document_of, readers_among, write_messages


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


_Alike = tuple[UUID, UUID | None, UUID | None, tuple[UUID, str] | None, bool]
"""Message, list, sequence, broadcast with version, and whether it asks to confirm."""
NOTHING_LIVE = Problem(
    code="nothing_live",
    sentence="Nothing of it is live.",
    fix="Turn the message on, then send again.",
)


def emails_for(workspace: Workspace, sends: Sequence[Send]) -> dict[UUID, ReadyEmail | Problem]:
    """By send: the letter for its person, with the values of now. Sends of one message to one list are
    written for together."""
    now = clock.now(workspace)
    alike: dict[_Alike, list[Send]] = {}
    for send in sends:
        asks = send.origin.startswith(CONFIRMS)
        of = (send.broadcast, send.version) if send.broadcast else None
        key = (send.message_id, send.list_id, send.sequence, of, asks)
        alike.setdefault(key, []).append(send)
    files: dict[UUID, list[MessageFile]] = {}
    messages = {one.message_id for one in sends}
    rows = MessageFile.objects.of(workspace).filter(among("message", messages))
    for one in rows.select_related("file"):
        files.setdefault(one.message_id, []).append(one)
    found: dict[UUID, ReadyEmail | Problem] = {}
    senders = senders_of(workspace, [one for _, _, one, _, _ in alike if one])
    broadcasts = own_broadcasts(workspace, {one[0] for _, _, _, one, _ in alike if one})
    for (message, _, sequence, of, asks), group in alike.items():
        sender = sender_of(workspace, group[0].list, senders.get(sequence) if sequence else None)
        attached = files.get(message, [])
        of_list = group[0].list
        revisions = group[0].message.revisions.all()
        own = broadcasts.get(of[0]) if of else None
        if own and of:
            revision = revisions.filter(
                pk__in=[pk for version, pk in own.revisions.items() if version == of[1]]
            ).first()
        else:
            revision = live_of(revisions)
        if revision is None:
            found.update(dict.fromkeys((one.pk for one in group), NOTHING_LIVE))
            continue
        subject = own.subjects.get(of[1], "") if own and of else ""
        page = own.page if own else ""
        batch = _Batch(workspace, revision, of_list, attached, sender, now, asks, subject, page)
        found.update(batch.written(group))
    return found


class _Batch:
    """Emails of one message to one list."""

    def __init__(
        self,
        workspace: Workspace,
        revision: MessageRevision,
        to_list: MailingList | None,
        files: Sequence[MessageFile],
        sender: Sender,
        now: datetime,
        asks: bool,
        subject: str,
        page: str,
    ) -> None:
        self.workspace, self.to_list, self.now, self.asks = workspace, to_list, now, asks
        self.revision, self.page = revision, page
        document = document_of(revision)
        self.document = document.model_copy(update={"subject": subject}) if subject else document
        self.linked = next((one for one in files if not one.attached), None)
        self.attached = tuple(
            Attached(one.file.name, one.file.content_type, bytes(one.file.content))
            for one in files
            if one.attached
        )
        self.sender = sender
        self.signer = signer_for(workspace, self.sender.domain)

    def written(self, sends: Sequence[Send]) -> dict[UUID, ReadyEmail | Problem]:
        people = readers_among(self.workspace, self.document, [one.subscriber for one in sends])
        file = file_address(self.linked, self.now) if self.linked else ""
        letters = []
        for send in sends:
            answers = tuple((name, text) for name, text in send.answers)
            addresses = {
                "confirm_link": confirm_link_of(send),
                "file_link": file,
                "own_page": own_address(send.subscriber_id, self.now),
                "leave_link": leave_address(str(send.pk)),
                PAGE_LINK: page_address(self.page, send.pk, self.now) if self.page else "",
            }
            letters.append((Reader(people[send.subscriber_id], answers), addresses))
        written = write_messages(
            self.workspace,
            self.document,
            letters,
            to_list=self.to_list,
            asks=self.asks,
            stands=Stands.WITH_PAGE if self.page else Stands.ALONE,
        )
        return {
            send.pk: one if isinstance(one, Problem) else self._email(send, one)
            for send, one in zip(sends, written, strict=True)
        }

    def _email(self, send: Send, written: WrittenMessage) -> ReadyEmail:
        counts = counted_of(send, self.document)
        filled = with_counted_links(send, self.document, counts, written.template, written.filled)
        of_list, sender = self.to_list, self.sender
        named = of_list is not None and sender.domain.isascii() and sender.domain
        letter = Letter(
            identity=str(send.pk),
            sender_name=sender.name,
            sender_address=sender.address,
            to=send.subscriber.address,
            subject=filled.subject,
            html=filled.html,
            text=filled.text,
            leave=leave_address(str(send.pk)),
            date=self.now,
            language=written.template.language,
            list_id=f"{of_list.pk.hex[:12]}.{sender.domain}" if of_list and named else "",
            list_name=of_list.shown_name if of_list else "",
            reply_to=sender.reply_to,
            leave_mail=leave_mail_of(send),
            envelope=return_path_of(send),
            automatic=self.asks,
            files=self.attached,
        )
        return ReadyEmail(
            letter=letter,
            revision=self.revision,
            links=len(written.template.links) if counts.clicks else 0,
            counts_opens=counts.opens,
            holes=written.holes,
            date=self.now,
            signer=self.signer,
        )
