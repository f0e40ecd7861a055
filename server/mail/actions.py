"""Writing messages, and queueing, withdrawing and deciding about their sends."""

import contextlib
from collections.abc import Iterator, Mapping
from datetime import datetime
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import Min, Q

from core.documents import Because, Finding, Problem
from core.messages import MessageText, Personalised, context_of, links_to, with_links
from core.people import FieldFacts
from server.people.facts import fields_of, reader_of
from server.people.locks import locked_people
from server.people.models import Subscriber
from server.snags.actions import close
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.documents import changed_by
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.names import free_name
from server.workspaces.queues import defer_once

from .compose import Letter, clean_body, html_part, text_part
from .deliver import deliver, mark_sent
from .jobs import DELIVER
from .models import Message, Send, live_text, shown_text
from .outbox import Outbox
from .sandbox import check_message, needed, personalise
from .users import is_used


@changes("made the message “{name}”")
def make_message(workspace: Workspace, name: str, member: Member | None = None) -> Message:
    """Make an empty message."""
    name = free_name(Message.objects.of(workspace), name, "message")
    row = Message(workspace=workspace, name=name[:80], author=member, saved_at=clock.now(workspace))
    row.save(force_insert=True)
    catalogue_changed(workspace)
    return row


@changes("changed the message “{message.name}”")
def save_message(
    message: Message, name: str, text: MessageText, based_on: int, member: Member | None
) -> Message:
    """Save the text, unless it was saved by somebody else since `based_on` (its `edits`).

    One that takes too much to write is not even stored: opening it would take it again.
    """
    tried = personalise(text.model_copy(update={"body": clean_body(text.body)}), {})
    if isinstance(tried, Problem) and tried.code == "too_costly":
        raise refuse(tried.code, "body", tried.sentence, tried.fix)
    with transaction.atomic():
        row = Message.everywhere.select_for_update().get(pk=message.pk)
        if row.edits != based_on:
            raise changed_by(row.author, member, "message")
        row.name = " ".join(name.split())[:80] or row.name
        kept = MessageText(
            subject=text.subject[:300], preheader=text.preheader[:300], body=clean_body(text.body)
        )
        if is_used(row):
            # What is sent changes only when somebody turns it on.
            row.draft = kept.model_dump() if kept != live_text(row) else None
        else:
            _set_live(row, kept)
        row.edits += 1
        row.author = member
        row.saved_at = clock.now(message.workspace)
        row.save()
        catalogue_changed(message.workspace)
        return row


def _set_live(row: Message, text: MessageText) -> None:
    row.subject, row.preheader, row.body = text.subject, text.preheader, text.body
    row.draft = None


@changes("turned on the changes of the message “{message.name}”")
def turn_on_changes(message: Message, based_on: int | None, member: Member | None) -> Message:
    """Make the draft what is sent from now on, if pre-flight finds nothing that stops it."""
    with transaction.atomic():
        row = _draft_of(message, based_on, member)
        stopping = tuple(one for one in check(row) if one.stops)
        if stopping:
            raise Refused("Pre-flight found problems to fix first.", stopping)
        _set_live(row, shown_text(row))
        return _keep(row, member)


@changes("discarded the draft of the message “{message.name}”")
def discard_changes(message: Message, based_on: int | None, member: Member | None) -> Message:
    """Throw the draft away."""
    with transaction.atomic():
        row = _draft_of(message, based_on, member)
        row.draft = None
        return _keep(row, member)


def _draft_of(message: Message, based_on: int | None, member: Member | None) -> Message:
    row: Message = Message.everywhere.select_for_update().get(pk=message.pk)
    row.workspace = message.workspace
    if based_on is not None and row.edits != based_on:
        raise changed_by(row.author, member, "message")
    if row.draft is None:
        raise Refused("There is no draft: what is written is what is sent.")
    return row


def _keep(row: Message, member: Member | None) -> Message:
    row.edits += 1
    row.author, row.saved_at = member, clock.now(row.workspace)
    row.save()
    catalogue_changed(row.workspace)
    return row


def check(message: Message) -> tuple[Finding, ...]:
    """Pre-flight of a message as it is edited: its text, and whom it could not be sent to."""
    fields = fields_of(message.workspace)
    text = shown_text(message)
    return (
        *check_message(message.name, text, fields),
        *_check_file(message, text),
        *_missing_values(message, text, fields),
    )


def _check_file(message: Message, text: MessageText) -> Iterator[Finding]:
    linked = message.files.filter(attached=False).exists()
    if linked and not links_to(text, "file_link"):
        yield Finding(
            code="file_not_linked",
            sentence=f"“{message.name}” has a file to link to, and no link leads to it.",
            fix="Put {{ file_link }} into a link of the text, or attach the file.",
        )
    if not linked and links_to(text, "file_link"):
        yield Finding(
            code="no_file",
            sentence=f"“{message.name}” links to a file, and has none.",
            fix="Attach the file, or remove the link.",
        )


def _missing_values(
    message: Message, text: MessageText, fields: Mapping[str, FieldFacts]
) -> Iterator[Finding]:
    labels = {one.key: one.label for one in fields.values()}
    for key in needed(text):
        if key not in labels or key == "email":
            continue
        without = Subscriber.objects.of(message.workspace).filter(
            Q(**{f"values__{key}": ""}) | Q(**{f"values__{key}__isnull": True})
        )
        count = without.count()
        if not count:
            continue
        some = list(without.order_by("-added_at").values_list("address", flat=True)[:3])
        who = ", ".join(some) + (" and others" if count > len(some) else "")
        people = "1 person has" if count == 1 else f"{count} people have"
        yield Finding(
            code="no_fallback",
            place=f"token-{key}",
            sentence=f"“{message.name}” needs {labels[key]}, and {people} none ({who}): "
            "they would not be sent it.",
            fix=f"Give {labels[key]} a fallback in the message.",
            stops=False,
        )


def preview(
    workspace: Workspace, text: MessageText, subscriber: Subscriber | None, name: str
) -> tuple[Personalised, str, str] | Problem:
    """The text as the person would get it: rendered, as an HTML document, as plain text."""
    fields = fields_of(workspace)
    person = reader_of(subscriber) if subscriber else None
    context = context_of(person, fields) if person else {}
    # Links that are made for each send lead nowhere in a preview.
    shown = with_links(text, {"confirm_link": "#", "file_link": "#", "own_page": "#"})
    rendered = personalise(shown.model_copy(update={"body": clean_body(shown.body)}), context)
    if isinstance(rendered, Problem):
        return rendered
    letter = Letter(
        identity="preview",
        sender_name=workspace.sender_name or workspace.name,
        sender_address=workspace.sender_address or "preview@localhost",
        postal_address=workspace.postal_address,
        to=person.address if person else "",
        subject=rendered.subject,
        preheader=rendered.preheader,
        body=clean_body(rendered.body),
        leave="#",
        own="#",
        list_name="",
        date=clock.now(workspace),
    )
    return rendered, html_part(letter), text_part(letter)


def queue_send(
    subscriber: Subscriber,
    message_id: str,
    list_id: str | None,
    origin: str,
    because: Because,
    at: datetime,
    *,
    asked_for: bool,
    answers: list[Any],
) -> None:
    """Queue one send, once for each `origin`; the caller holds the transaction."""
    outbox = Outbox()
    outbox.add(
        subscriber,
        message_id,
        list_id,
        origin,
        because,
        at,
        asked_for=asked_for,
        answers=answers,
    )
    with contextlib.suppress(IntegrityError), transaction.atomic():
        outbox.write()


def deliver_queued(workspace: Workspace) -> None:
    """Hand over now what is queued, without waiting for the worker; for the movable clock."""
    now = clock.now(workspace)
    queued = Send.objects.of(workspace).filter(state=Send.State.QUEUED, attempts=0)
    queued = queued.filter(Q(not_before=None) | Q(not_before__lte=now))
    for pk in list(queued.order_by("queued_at").values_list("pk", flat=True)):
        deliver(str(pk))


def next_held_back(workspace: Workspace, until: datetime) -> datetime | None:
    """When the next email is due that waits because its person asked for fewer."""
    waiting = Send.objects.of(workspace).filter(
        state=Send.State.QUEUED, not_before__gt=clock.now(workspace), not_before__lte=until
    )
    found: datetime | None = waiting.aggregate(next=Min("not_before"))["next"]
    return found


@changes("sent {result} again that a snag had stopped")
def send_again(workspace: Workspace, snag: Snag) -> int:
    """Queue again what the snag stopped, each at most once more; how many."""
    with transaction.atomic():
        stopped = list(
            Send.objects.of(workspace).select_for_update().filter(snag=snag).exclude(state="sent")
        )
        for send in stopped:
            send.state, send.snag, send.attempts = Send.State.QUEUED, None, 0
            send.save(update_fields=["state", "snag", "attempts"])
            defer_once(DELIVER, send.pk)
        close(snag)
        return len(stopped)


@changes("said of {result} emails that they went out")
def it_went_out(workspace: Workspace, snag: Snag) -> int:
    """A member knows that the sends of the snag went out; how many."""
    with transaction.atomic():
        rows = Send.objects.of(workspace).filter(snag=snag, state=Send.State.UNKNOWN)
        people = Subscriber.objects.of(workspace).filter(pk__in=rows.values("subscriber"))
        locked_people(workspace, list(people.values_list("address", "is_test")))
        unknown = list(
            rows.select_for_update(of=("self",)).select_related(
                "workspace", "subscriber", "message"
            )
        )
        for send in unknown:
            mark_sent(send, clock.now(workspace))
        close(snag)
        return len(unknown)
