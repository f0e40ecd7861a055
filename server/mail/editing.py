"""Writing messages: drafts that save themselves, and revisions that are sent once turned on."""

from collections.abc import Sequence

from django.db import transaction

from core.documents import Finding, Problem
from core.messages import (
    MessageDocument,
    TextBlock,
    asks_to_confirm,
    changes_between,
    clean_html,
    every_block,
    sources_of,
    with_html,
)
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.documents import (
    changed_by,
    discard_draft,
    draft_of,
    draft_to_turn_on,
    edits_of,
    live_of,
    make_live,
    revision_numbered,
    save_draft,
    shown_of,
)
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.names import free_name

from .models import ListMail, Message, MessageRevision, live_document
from .preflight import check
from .readers import catalogue_of
from .sandbox import write
from .users import is_used


@changes("made the message “{name}”")
def make_message(workspace: Workspace, name: str, member: Member | None = None) -> Message:
    """Make an empty message."""
    name = free_name(Message.objects.of(workspace), name, "message")
    now = clock.now(workspace)
    with transaction.atomic():
        row = Message(workspace=workspace, name=name[:80])
        row.save(force_insert=True)
        MessageRevision.everywhere.create(
            workspace=workspace,
            message=row,
            state=MessageRevision.State.LIVE,
            number=1,
            # One text, to begin writing in.
            document=MessageDocument(blocks=(TextBlock(id="text"),)).model_dump(mode="json"),
            author=member,
            saved_at=now,
            live_at=now,
        )
        catalogue_changed(workspace)
    return row


@changes("changed the message “{message.name}”")
def save_message(
    message: Message,
    document: MessageDocument,
    based_on: int | None,
    member: Member | None,
) -> MessageRevision:
    """Save the text, unless it was saved by somebody else since `based_on` (its edits; None:
    whatever it is).

    One that takes too much to write is not even stored: opening it would take it again.
    """
    document = cleaned(document)
    refuse_too_costly(document)
    with transaction.atomic():
        row = Message.everywhere.select_for_update().get(pk=message.pk)
        row.workspace = message.workspace
        draft, live = draft_of(row.revisions.all()), live_of(row.revisions.all())
        if draft is None and live is not None and not _is_kept(row, live):
            return _save_in_place(row, live, document, based_on, member)
        if live is not None and document.model_dump(mode="json") == live.document:
            if draft is None:
                return live
            return discard_draft(row.revisions.all(), based_on, member)
        return save_draft(
            row.revisions.all(), {"message": row}, row.workspace, document, based_on, member
        )


def refuse_too_costly(document: MessageDocument) -> None:
    """Refuse a text that takes too much to write for one person."""
    tried = write([source for _, source in sources_of(document)], {})
    if isinstance(tried, Problem) and tried.code == "too_costly":
        raise refuse(tried.code, "blocks", tried.sentence, tried.fix)


def cleaned(document: MessageDocument) -> MessageDocument:
    """The document with nothing in its texts but what a text needs, and no id twice."""
    ids = [block.id for block in every_block(document)]
    if len(ids) != len(set(ids)) or "" in ids:
        raise refuse("block_ids", "blocks", "Two blocks have the same id.", "Reload the page.")
    return with_html(document, clean_html)


def _is_kept(message: Message, live: MessageRevision) -> bool:
    """Whether what is live may not change: something sends it, or it was sent."""
    return is_used(message) or live.sends.exists()


def _save_in_place(
    message: Message,
    live: MessageRevision,
    document: MessageDocument,
    based_on: int | None,
    member: Member | None,
) -> MessageRevision:
    if based_on is not None and edits_of(None, live) != based_on:
        raise changed_by(live.author, member, "message")
    live.document = document.model_dump(mode="json")
    live.edits += 1
    live.author, live.saved_at = member, clock.now(message.workspace)
    live.save()
    return live


@changes("turned on the changes of the message “{message.name}”", kind="turned_on")
def turn_on_changes(
    message: Message, member: Member | None, note: str = "", based_on: int | None = None
) -> MessageRevision:
    """Make the draft what is sent from now on, if pre-flight finds nothing that stops it."""
    with transaction.atomic():
        row = Message.everywhere.select_for_update().get(pk=message.pk)
        row.workspace = message.workspace
        draft = draft_to_turn_on(row.revisions.all(), based_on, member)
        stopping = (*(one for one in check(row) if one.stops), *_still_asks(row, draft))
        if stopping:
            raise Refused("Pre-flight found problems to fix first.", stopping)
        draft.edits += 1
        made: MessageRevision = make_live(
            row.revisions.all(), draft, row.workspace, member, note[:300]
        )
        catalogue_changed(row.workspace)
        return made


def _still_asks(message: Message, draft: MessageRevision) -> Sequence[Finding]:
    """A message by which a list asks has to keep the link that confirms."""
    asks = ListMail.everywhere.filter(asking=message.pk).exists()
    if not asks or asks_to_confirm(MessageDocument.model_validate(draft.document)):
        return ()
    return (
        Finding(
            code="no_confirm_link",
            sentence=f"A list asks people to confirm by “{message.name}”, and it no longer holds the "
            "link to confirm with.",
            fix="Put {{ confirm_link }} into a link or a button.",
        ),
    )


@changes("discarded the draft of the message “{message.name}”")
def discard_changes(
    message: Message, member: Member | None, based_on: int | None = None
) -> MessageRevision:
    """Throw the draft away; what is live is what is shown again."""
    live: MessageRevision = discard_draft(message.revisions.all(), based_on, member)
    return live


@changes("restored revision {number} of the message “{message.name}” as a draft")
def restore_revision(
    message: Message, number: int, member: Member | None, based_on: int | None = None
) -> MessageRevision:
    """Make an earlier revision the draft."""
    one, _ = revision_numbered(message.revisions.all(), number)
    return save_message(message, MessageDocument.model_validate(one.document), based_on, member)


def changes_of(
    message: Message, before: MessageRevision | None, after: MessageRevision
) -> list[str]:
    """What a revision has different from another, in sentences."""
    if before is None or before.pk == after.pk:
        return []
    return _differences(message, before, MessageDocument.model_validate(after.document))


def differences_from_stored(message: Message, document: MessageDocument) -> list[str]:
    """What a document has different from the message as it is stored, in sentences."""
    return _differences(message, shown_of(message.revisions.all()), document)


def _differences(message: Message, before: MessageRevision, after: MessageDocument) -> list[str]:
    old = MessageDocument.model_validate(before.document)
    return list(changes_between(old, after, catalogue_of(message.workspace)))


def confirms(message: Message) -> bool:
    """Whether what is live holds the link that confirms."""
    return asks_to_confirm(live_document(message))
