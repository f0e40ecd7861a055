"""The path that a sequence is part of: the sources that lead into it, and the emails that it sends.

What hangs together is checked together and turned on together.
"""

import secrets
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Literal
from uuid import UUID

from django.db import transaction
from ninja import Schema

from core.deciding import ConsentLine, RouteDocument, Rule, StartSequence
from core.documents import Finding
from core.sequences import SendStep, Way
from server.mail.editing import turn_on_changes
from server.mail.models import Message, MessageRevision
from server.mail.preflight import check as check_message
from server.sequences.actions import check as check_sequence
from server.sequences.actions import turn_on as turn_on_sequence
from server.sequences.models import Sequence, shown_document
from server.sources.actions import make_source, save_route_draft, shown_revision
from server.sources.models import RouteRevision, Source
from server.workspaces.documents import draft_of, edits_of, live_of
from server.workspaces.errors import Refused
from server.workspaces.history import changes
from server.workspaces.models import Member

from .actions import check as check_source
from .actions import turn_on as turn_on_source

NOT_LIVE = "sequence_not_live"
"""A finding of a route that is none where the sequence is turned on along with it."""


class PathPart(Schema):
    """A source that leads into a sequence, or a message that it sends, where it has a draft."""

    kind: Literal["source", "message"]
    id: UUID
    name: str
    edits: int
    """What a member has seen of it, for turning it on."""
    first: bool
    """Whether nothing of it is live that hangs together with the sequence: it waits for being turned on."""
    findings: list[Finding]


class PathOut(Schema):
    """What a sequence is checked and turned on with."""

    findings: list[Finding]
    """Of the sequence itself as it is written now, its emails included."""
    parts: list[PathPart]
    """The drafts that hang together with it, sources first."""


def path_of(sequence: Sequence) -> PathOut:
    """The path that a sequence is part of, with what pre-flight finds in each part of it."""
    parts = []
    for source, draft in _sources_of(sequence):
        found = check_source(source, RouteDocument.model_validate(draft.document))
        parts.append(
            PathPart(
                kind="source",
                id=source.pk,
                name=source.name,
                edits=edits_of(draft, None),
                first=not _leads_in_live(source, sequence),
                findings=[one for one in found if one.code != NOT_LIVE],
            )
        )
    for message in _messages_of(sequence):
        edits = edits_of(draft_of(message.revisions.all()), None)
        found = check_message(message)
        parts.append(
            PathPart(
                kind="message",
                id=message.pk,
                name=message.name,
                edits=edits,
                first=False,
                findings=list(found),
            )
        )
    found = check_sequence(sequence.workspace, shown_document(sequence), str(sequence.pk))
    return PathOut(findings=list(found), parts=parts)


def starts(document: RouteDocument, sequence: Sequence) -> Iterator[tuple[Rule, str | None]]:
    """The rules of a route that start a sequence, each with the lane that it names (None: the first)."""
    for rule in document.then:
        action = rule.action
        if rule.on and isinstance(action, StartSequence) and action.sequence == str(sequence.pk):
            yield rule, action.lane


def _leads_in_live(source: Source, sequence: Sequence) -> bool:
    live = live_of(source.revisions.all())
    return live is not None and any(starts(RouteDocument.model_validate(live.document), sequence))


def _sources_of(sequence: Sequence) -> Iterator[tuple[Source, RouteRevision]]:
    """The sources whose drafts lead into the sequence."""
    drafts = RouteRevision.objects.of(sequence.workspace).filter(
        state=RouteRevision.State.DRAFT, source__archived_at__isnull=True
    )
    for draft in drafts.select_related("source").order_by("source__name"):
        if any(starts(RouteDocument.model_validate(draft.document), sequence)):
            draft.source.workspace = sequence.workspace
            yield draft.source, draft


def _messages_of(sequence: Sequence) -> Iterator[Message]:
    """The messages that the sequence sends and that have a draft."""
    steps = shown_document(sequence).steps
    sent = {step.message for step in steps if isinstance(step, SendStep) and step.message}
    drafts = MessageRevision.objects.of(sequence.workspace).filter(
        state=MessageRevision.State.DRAFT, message__in=sent
    )
    yield from (
        Message.objects.of(sequence.workspace)
        .filter(pk__in=drafts.values("message"))
        .order_by("name")
    )


@changes("made “{source.name}” start “{sequence.name}”, in the draft")
def lead_into(source: Source, sequence: Sequence, lane: str | None, member: Member | None) -> None:
    """Write into the draft of a source that everybody who sends it starts the sequence at a lane, unless it
    says so already; what it does besides stays."""
    shown = shown_revision(source)
    document = RouteDocument.model_validate(shown.document)
    first = _first_lane(sequence)
    at = [named or first for rule, named in starts(document, sequence) if rule.when is None]
    if (lane or first) in at:
        return
    action = StartSequence(sequence=str(sequence.pk), lane=lane)
    rule = Rule(id=f"t{secrets.token_hex(4)}", action=action)
    changed = document.model_copy(update={"then": (*document.then, rule)})
    save_route_draft(source, changed, shown.edits, member)


@changes("made the form “{name}”, which leads into “{sequence.name}”")
def lead_in_by_new_form(
    sequence: Sequence, name: str, lane: str | None, wording: str, member: Member | None
) -> Source:
    """Make a form, as a draft, that starts the sequence. `wording`: what people read above its button and
    agree to, by which they subscribe to the list of the sequence; empty: they do not."""
    with transaction.atomic():
        source = make_source(sequence.workspace, name, member)
        list_id = shown_document(sequence).list
        if wording.strip() and list_id:
            _subscribe(source, list_id, wording.strip(), member)
        lead_into(source, sequence, lane, member)
    return source


def _subscribe(source: Source, list_id: str, wording: str, member: Member | None) -> None:
    shown = shown_revision(source)
    document = RouteDocument.model_validate(shown.document)
    line = ConsentLine(id=f"c{secrets.token_hex(4)}", list=list_id, wording=wording)
    changed = document.model_copy(update={"consent": (*document.consent, line)})
    save_route_draft(source, changed, shown.edits, member)


@changes("made “{source.name}” start “{sequence.name}” no more, in the draft")
def lead_no_more(source: Source, sequence: Sequence, lane: str, member: Member | None) -> None:
    """Take the rules that start the sequence at a lane out of the draft of a source."""
    shown = shown_revision(source)
    document = RouteDocument.model_validate(shown.document)
    first = _first_lane(sequence)
    gone = {
        rule.id for rule, named in starts(document, sequence) if (named or first) == (lane or first)
    }
    rest = tuple(rule for rule in document.then if rule.id not in gone)
    if gone:
        save_route_draft(source, document.model_copy(update={"then": rest}), shown.edits, member)


def _first_lane(sequence: Sequence) -> str:
    lanes = shown_document(sequence).lanes
    return lanes[0].id if lanes else ""


@dataclass(frozen=True)
class TurnedOn:
    """What was turned on together, in words."""

    parts: tuple[str, ...]

    def __str__(self) -> str:
        return ", ".join(self.parts)


@changes("turned on {result}", kind="turned_on")
def turn_on_path(
    sequence: Sequence,
    parts: Iterable[tuple[Source | Message, int]],
    member: Member | None,
    note: str = "",
    based_on: int | None = None,
    removed: Mapping[str, Way] | None = None,
) -> TurnedOn:
    """Make the drafts live that a member has chosen, each with the edits that were seen: the emails first,
    the sequence if it has a draft, and last what leads into it. All or nothing: what pre-flight finds in one
    of them stops them all."""
    # Always in one order, so that two who turn on the same things do not wait for each other.
    chosen = sorted(parts, key=lambda one: one[0].pk)
    done = []
    with transaction.atomic():
        for part, edits in chosen:
            if isinstance(part, Message):
                with _naming(part.name):
                    live_email = turn_on_changes(part, member, note, edits)
                done.append(f"the message “{part.name}”, revision {live_email.number}")
        if draft_of(sequence.revisions.all()) is not None:
            live = turn_on_sequence(sequence, member, note, based_on, removed)
            done.append(f"the sequence “{sequence.name}”, revision {live.number}")
        for part, edits in chosen:
            if isinstance(part, Source):
                with _naming(part.name):
                    live_route = turn_on_source(part, member, note, edits)
                done.append(f"“{part.name}”, revision {live_route.number}")
    if not done:
        raise Refused("There is no draft to turn on.")
    return TurnedOn(tuple(done))


@contextmanager
def _naming(name: str) -> Iterator[None]:
    """Says of what is found in one part which part it is."""
    try:
        yield
    except Refused as error:
        named = tuple(
            one.model_copy(update={"sentence": f"“{name}”: {one.sentence}"})
            for one in error.problems
        )
        raise type(error)(error.title, named, status=error.status) from error
