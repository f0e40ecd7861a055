"""Making broadcasts, and what members do with them: ask, approve, set off, call back, pause, stop."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from django.core.mail import get_connection
from django.db import transaction

from core.broadcasts import (
    EDITABLE,
    Around,
    BroadcastDocument,
    Version,
    broadcast_differences,
    check_broadcast,
    clock_in_words,
    first_moment,
)
from core.documents import Finding, Problem
from core.messages import Counts, counts_of
from core.values import read_email
from server.mail.counting import house_counts
from server.mail.jobs import DELIVER
from server.mail.life import withdraw
from server.mail.models import BroadcastPause, Message, Send, live_document
from server.mail.preflight import NOWHERE, check_live
from server.mail.senders import sender_of
from server.mail.trial import trial_of as marked_trial
from server.mail.writing import reader_for, write_message
from server.people.models import MailingList, Subscriber, Tag
from server.workspaces import clock
from server.workspaces.documents import (
    changed_by,
    discard_draft,
    draft_of,
    draft_to_turn_on,
    live_of,
    make_live,
    revision_numbered,
    save_draft,
    shown_of,
)
from server.workspaces.errors import Conflict, Forbidden, Refused, refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Revision, Role, Workspace
from server.workspaces.names import free_name
from server.workspaces.queues import defer_once

from . import going
from .catalogue import whole_catalogue
from .jobs import GO_ON
from .life import locked, move, refuse_act
from .models import Broadcast, BroadcastRevision, going_document, shown_document

State = Broadcast.State
MOST_TESTS = 20
"""Addresses that one test goes to."""
READY = "ready for broadcasts"
"""The name of the tag that pre-flight proposes to ask for, where a workspace has it."""


@changes("made the broadcast “{name}”")
def make_broadcast(
    workspace: Workspace, name: str, document: BroadcastDocument, member: Member | None
) -> Broadcast:
    """Make a broadcast, as a draft."""
    name = free_name(Broadcast.objects.of(workspace), name, "broadcast")
    now = clock.now(workspace)
    with transaction.atomic():
        row = Broadcast(workspace=workspace, name=name, created_at=now)
        row.save(force_insert=True)
        save_draft(row.revisions.all(), {"broadcast": row}, workspace, document, 0, member)
    return row


@changes("changed the draft of the broadcast “{broadcast.name}”")
def save_broadcast(
    broadcast: Broadcast, document: BroadcastDocument, based_on: int | None, member: Member | None
) -> BroadcastRevision:
    """Save the draft."""
    with transaction.atomic():
        row = locked(broadcast)
        if row.state not in EDITABLE:
            raise Conflict(
                "This broadcast is no longer in preparation, so it cannot be changed. Copy it instead."
            )
        return save_draft(
            row.revisions.all(), {"broadcast": row}, row.workspace, document, based_on, member
        )


@changes("discarded the draft of the broadcast “{broadcast.name}”")
def discard(
    broadcast: Broadcast, member: Member | None, based_on: int | None = None
) -> BroadcastRevision:
    """Go back to what was set off before."""
    found: BroadcastRevision = discard_draft(broadcast.revisions.all(), based_on, member)
    return found


@changes("made revision {number} of the broadcast “{broadcast.name}” the draft again")
def restore_revision(
    broadcast: Broadcast, number: int, member: Member | None, based_on: int | None = None
) -> BroadcastRevision:
    """Make an earlier revision the draft."""
    one, _ = revision_numbered(broadcast.revisions.all(), number)
    document = BroadcastDocument.model_validate(one.document)
    return save_broadcast(broadcast, document, based_on, member)


@changes("renamed the broadcast “{broadcast.name}” to “{name}”")
def rename(broadcast: Broadcast, name: str) -> Broadcast:
    """Give it another name."""
    rows = Broadcast.objects.of(broadcast.workspace)
    broadcast.name = free_name(rows, name, "broadcast", besides=broadcast)
    broadcast.save(update_fields=["name"])
    return broadcast


@changes("deleted the broadcast “{broadcast.name}”")
def remove(broadcast: Broadcast) -> None:
    """Delete it, if nothing of it ever went out."""
    with transaction.atomic():
        row = locked(broadcast)
        sent = Send.objects.of(row.workspace).filter(broadcast=row.pk)
        if row.state != State.DRAFT or sent.exists():
            raise Conflict("Emails of it exist, so it stays. Put it away in the archive instead.")
        row.delete()


@changes("put the broadcast “{broadcast.name}” into the archive")
def archive(broadcast: Broadcast) -> None:
    """Put it away; only what is in preparation, or over."""
    if broadcast.state not in (State.DRAFT, State.DONE, State.STOPPED):
        raise Conflict("It is under way. Stop it first, or wait until it is over.")
    broadcast.archived_at = clock.now(broadcast.workspace)
    broadcast.save(update_fields=["archived_at"])


@changes("took the broadcast “{broadcast.name}” out of the archive")
def restore(broadcast: Broadcast) -> None:
    """Bring it back into the list."""
    broadcast.archived_at = None
    broadcast.save(update_fields=["archived_at"])


@changes("made the broadcast “{name}”, again to those who did not open “{broadcast.name}”")
def make_again(broadcast: Broadcast, name: str, member: Member | None) -> Broadcast:
    """Another one to those who got it and neither opened nor clicked, as a draft."""
    if broadcast.state != State.DONE:
        raise refuse(
            "not_over",
            "broadcast",
            "It has not gone out to everybody yet.",
            "Wait until it is over.",
        )
    first = going_document(broadcast)
    if first.to.again_of:
        raise refuse(
            "again_twice",
            "broadcast",
            "This one was sent again already; who does not open twice has answered.",
        )
    version = first.version(broadcast.chosen)
    counts = _counts(broadcast.workspace, [version.message or ""])
    if not any(one.opens or one.clicks for one in counts.values()):
        raise refuse(
            "not_counted",
            "broadcast",
            "Neither opens nor clicks of it were counted, so nobody knows who did not open it.",
        )
    to = first.to.model_copy(update={"again_of": str(broadcast.pk)})
    document = first.model_copy(
        update={"to": to, "versions": (version.model_copy(update={"id": "a"}),)}
    )
    return make_broadcast(broadcast.workspace, name, document, member)


def check(broadcast: Broadcast, document: BroadcastDocument) -> tuple[Finding, ...]:
    """Pre-flight of a document of this broadcast."""
    workspace = broadcast.workspace
    used = {one.message for one in document.versions if one.message}
    known = whole_catalogue(workspace)
    rows = list(
        Message.objects.of(workspace)
        .filter(pk__in=used & known.messages.keys())
        .select_related("workspace")
    )
    counts = _counts(workspace, [str(one.pk) for one in rows])
    subjects = {str(one.pk): live_document(one).subject for one in rows}
    earlier, again = _earlier(broadcast, document)
    ready = Tag.objects.of(workspace).filter(name__iexact=READY).first()
    of_list = MailingList.objects.of(workspace).filter(pk=document.to.list).first()
    around = Around(
        catalogue=known,
        message_findings={str(one.pk): check_live(one) for one in rows},
        sender=sender_of(workspace, of_list).address,
        postal_address=workspace.postal_address,
        now=clock.now(workspace),
        zone=workspace.time_zone,
        counts_clicks={pk: one.clicks for pk, one in counts.items()},
        counts_opens={pk: one.opens for pk, one in counts.items()},
        subjects=subjects,
        earlier_subjects=earlier,
        again_already=again,
        ready_tag=str(ready.pk) if ready else "",
    )
    return check_broadcast(document, around)


def _counts(workspace: Workspace, messages: Sequence[str]) -> dict[str, Counts]:
    house = house_counts(workspace)
    rows = Message.objects.of(workspace).filter(pk__in=[one for one in messages if one])
    return {str(one.pk): counts_of(live_document(one), house) for one in rows}


def _earlier(broadcast: Broadcast, document: BroadcastDocument) -> tuple[frozenset[str], bool]:
    """The subjects of the broadcast that it is sent again of, and whether that was done before."""
    of = document.to.again_of
    if not of:
        return frozenset(), False
    rows = Send.objects.of(broadcast.workspace).filter(broadcast=of, state=Send.State.SENT)
    first = Broadcast.objects.of(broadcast.workspace).filter(pk=of).first()
    subjects = set()
    if first is not None and first.texts:
        earlier = going_document(first)
        for one in earlier.versions:
            live = Message.objects.of(broadcast.workspace).filter(pk=one.message).first()
            subjects.add(one.subject or (live_document(live).subject if live else ""))
    others = Broadcast.objects.of(broadcast.workspace).exclude(pk=broadcast.pk)
    others = others.exclude(state__in=[State.DRAFT, State.ASKED])
    again = others.filter(revisions__document__to__again_of=of).exists()
    return frozenset(subjects) if rows.exists() else frozenset(), again


def _refuse_unready(row: Broadcast, document: BroadcastDocument) -> None:
    stopping = tuple(one for one in check(row, document) if one.stops)
    if stopping:
        raise Refused("Pre-flight found problems to fix first.", stopping)


@changes("asked {approver.user.email} to approve the broadcast “{broadcast.name}”")
def ask(broadcast: Broadcast, approver: Member, member: Member, based_on: int | None) -> None:
    """Ask another member to approve it; nobody changes it meanwhile."""
    with transaction.atomic():
        row = locked(broadcast)
        if approver.pk == member.pk:
            raise refuse(
                "own", "approver", "Somebody else has to approve it.", "Choose another member."
            )
        if approver.role == Role.READER:
            raise refuse("reader", "approver", "They may only read here.", "Choose another member.")
        _same_draft(row, based_on, member)
        _refuse_unready(row, shown_document(row))
        move(row, "ask", asked_by=member, approved_by=approver)


def _same_draft(row: Broadcast, based_on: int | None, member: Member | None) -> BroadcastRevision:
    draft: BroadcastRevision | None = draft_of(row.revisions.all())
    if draft is None:
        raise Refused("There is no draft to set off.")
    if based_on is not None and draft.edits != based_on:
        raise changed_by(draft.author, member, "draft")
    return draft


@changes("took the broadcast “{broadcast.name}” back from approval")
def take_back(broadcast: Broadcast, member: Member | None) -> None:
    """It is edited again: by whoever asked, or by who does not approve."""
    with transaction.atomic():
        move(locked(broadcast), "take_back", asked_by=None, approved_by=None)


@changes("approved the broadcast “{broadcast.name}”, which goes {result}", kind="turned_on")
def approve(broadcast: Broadcast, member: Member | None) -> str:
    """A second member says that it may go; when, in words."""
    with transaction.atomic():
        row = locked(broadcast)
        if member is not None and row.asked_by_id == member.pk:
            raise Forbidden("Somebody else has to approve what you have written.")
        draft = draft_to_turn_on(row.revisions.all(), None, member)
        return _go(row, draft, member, "approve", "")


@changes("set off the broadcast “{broadcast.name}”, which goes {result}", kind="turned_on")
def set_off(
    broadcast: Broadcast, member: Member | None, note: str = "", based_on: int | None = None
) -> str:
    """Let it go, after the time in which it can be called back; when, in words."""
    with transaction.atomic():
        row = locked(broadcast)
        if row.workspace.approves_broadcasts:
            raise refuse(
                "approval",
                "broadcast",
                "Here a second member approves a broadcast before it goes.",
                "Ask one of them.",
            )
        draft = draft_to_turn_on(row.revisions.all(), based_on, member)
        return _go(row, draft, member, "set_off", note)


def _go(
    row: Broadcast, draft: BroadcastRevision, member: Member | None, act: str, note: str
) -> str:
    workspace = row.workspace
    document = BroadcastDocument.model_validate(draft.document)
    _refuse_unready(row, document)
    now = clock.now(workspace)
    make_live(row.revisions.all(), draft, workspace, member, note[:300])
    begins = first_moment(document.when, now, workspace.time_zone)
    more = {"approved_by": member} if act == "approve" else {"approved_by": None, "asked_by": None}
    move(
        row,
        act,  # type: ignore[arg-type]
        set_off_by=member,
        set_off_at=now,
        begins_at=begins,
        texts=_texts(workspace, document.versions),
        **more,
    )
    wait = begins - now
    defer_once(GO_ON, row.pk, after=wait if timedelta() < wait < timedelta(hours=1) else None)
    return _when(begins, workspace)


def _when(moment: datetime, workspace: Workspace) -> str:
    return f"from {clock_in_words(moment.astimezone(ZoneInfo(workspace.time_zone)))} on"


def _texts(workspace: Workspace, versions: Sequence[Version]) -> dict[str, str]:
    """By version the live revision of its message."""
    found = {}
    for one in versions:
        message = Message.objects.of(workspace).get(pk=one.message)
        live = live_of(message.revisions.all())
        assert live is not None
        found[one.id] = str(live.pk)
    return found


@changes("called back the broadcast “{broadcast.name}”")
def call_back(broadcast: Broadcast, member: Member | None) -> None:
    """Stop it whole before anything went out: it is a draft again."""
    with transaction.atomic():
        row = locked(broadcast)
        if (
            row.state == State.WAITING
            and row.begins_at
            and row.begins_at <= clock.now(row.workspace)
        ):
            raise Conflict("It has begun to go out. Pause it, or stop it.")
        move(
            row,
            "call_back",
            set_off_at=None,
            begins_at=None,
            texts={},
            approved_by=None,
            asked_by=None,
        )
        live = live_of(row.revisions.all())
        assert live is not None
        document = BroadcastDocument.model_validate(live.document)
        save_draft(row.revisions.all(), {"broadcast": row}, row.workspace, document, None, member)


@changes("paused the broadcast “{broadcast.name}”")
def pause(broadcast: Broadcast) -> None:
    """Nothing of it is handed over any more, until it is resumed."""
    with transaction.atomic():
        row = locked(broadcast)
        move(row, "pause")
        BroadcastPause.everywhere.get_or_create(
            broadcast=row.pk, defaults={"workspace": row.workspace}
        )


@changes("resumed the broadcast “{broadcast.name}”")
def resume(broadcast: Broadcast) -> None:
    """Go on with what waits."""
    with transaction.atomic():
        row = locked(broadcast)
        move(row, "resume")
        BroadcastPause.everywhere.filter(broadcast=row.pk).delete()
        DELIVER.defer(workspace_id=str(row.workspace_id))


@changes("stopped the broadcast “{broadcast.name}”: {result} did not get it")
def stop(broadcast: Broadcast) -> int:
    """Whoever has not got it does not get it; how many. What the mail server has in hand goes out."""
    with transaction.atomic():
        row = locked(broadcast)
        move(row, "stop", ended_at=clock.now(row.workspace))
        BroadcastPause.everywhere.filter(broadcast=row.pk).delete()
        waiting = Send.objects.of(row.workspace).filter(broadcast=row.pk)
        return withdraw(waiting, "the broadcast was stopped")


@changes("chose the version {version} of the broadcast “{broadcast.name}” for the rest")
def choose(broadcast: Broadcast, version: str) -> None:
    """End the trial: the rest get this version."""
    with transaction.atomic():
        row = locked(broadcast)
        refuse_act(row, "decide")
        if version not in {one.id for one in going_document(row).versions}:
            raise refuse("version", "version", "There is no such version.", "Choose another one.")
        going.decide(row, version, clock.now(row.workspace))


@changes("sent a test of the broadcast “{broadcast.name}” to {count} addresses")
def send_test(
    broadcast: Broadcast,
    document: BroadcastDocument,
    subscriber: Subscriber | None,
    addresses: Sequence[str],
    count: int,
) -> None:
    """Send each version, as somebody would get it, to stated addresses; marked as a test, and not counted."""
    workspace = broadcast.workspace
    if not 0 < len(addresses) <= MOST_TESTS:
        raise refuse("addresses", "to", f"A test goes to 1 to {MOST_TESTS} addresses.")
    to = []
    for one in addresses:
        read = read_email(one)
        if isinstance(read, Problem):
            raise refuse(read.code, "to", f"“{one}”: {read.sentence}", read.fix)
        to.append(read)
    of_list = MailingList.objects.of(workspace).filter(pk=document.to.list).first()
    sender = sender_of(workspace, of_list)
    if not sender.address:
        raise refuse(
            "no_sender",
            "sender",
            "The workspace has no address to send from.",
            "Set it in the settings.",
        )
    now, mails = clock.now(workspace), []
    for version in document.versions:
        message = Message.objects.of(workspace).filter(pk=version.message).first()
        if message is None:
            raise refuse(
                "no_message", "message", "No message is chosen yet.", "Choose one in Message."
            )
        text = live_document(message)
        if version.subject:
            text = text.model_copy(update={"subject": version.subject})
        written = write_message(
            workspace, text, reader_for(text, subscriber), NOWHERE, to_list=of_list
        )
        if isinstance(written, Problem):
            raise Refused(written.sentence)
        name = f" {version.id.upper()}" if document.is_tried else ""
        mark = f"Test{name}, as {subscriber.address}" if subscriber else f"Test{name}"
        mails += [marked_trial(sender, written, one, mark, now) for one in to]
    get_connection().send_messages(mails)


def changes_of(
    broadcast: Broadcast, before: BroadcastRevision | None, after: BroadcastRevision
) -> list[str]:
    """What a revision has different from another, in sentences."""
    if before is None or before.pk == after.pk:
        return []
    old, new = (BroadcastDocument.model_validate(one.document) for one in (before, after))
    return list(broadcast_differences(old, new, whole_catalogue(broadcast.workspace)))


def differences_from_stored(broadcast: Broadcast, document: BroadcastDocument) -> list[str]:
    """What a document has different from the broadcast as it is stored, in sentences."""
    stored = BroadcastDocument.model_validate(shown_of(broadcast.revisions.all()).document)
    catalogue = whole_catalogue(broadcast.workspace)
    return list(broadcast_differences(stored, document, catalogue))


def newest_before(broadcast: Broadcast) -> Broadcast | None:
    """The broadcast that went out last before this one, to the same list."""
    of_list = shown_document(broadcast).to.list
    rows = Broadcast.objects.of(broadcast.workspace).exclude(began_at=None).exclude(pk=broadcast.pk)
    live = BroadcastRevision.objects.of(broadcast.workspace).filter(
        state=Revision.State.LIVE, document__to__list=of_list
    )
    found: Broadcast | None = (
        rows.filter(pk__in=live.values("broadcast")).order_by("-began_at").first()
    )
    return found


def approvers(workspace: Workspace, member: Member) -> list[tuple[UUID, str]]:
    """Who may approve what a member has written."""
    rows = (
        Member.objects.filter(workspace=workspace).exclude(pk=member.pk).exclude(role=Role.READER)
    )
    return [
        (one.pk, one.user.name or one.user.email)
        for one in rows.select_related("user").order_by("pk")
    ]
