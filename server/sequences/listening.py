"""What live sequences listen to: a fact that a door or a run waits for leaves a signal, in the
transaction that stores the fact; a job shows the signals to the doors and the runs."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial
from uuid import UUID

from django.db import transaction

from core.conditions import (
    FieldTest,
    Group,
    HappenedTest,
    MembershipTest,
    RunTest,
    ScoreTest,
    TagTest,
    leaves,
)
from core.documents import Because
from core.people import Catalogue
from core.sequences import (
    ClickDoor,
    EventDoor,
    FieldDoor,
    ListDoor,
    SequenceDocument,
    TagDoor,
    WaitDateStep,
)
from server.people.models import Fact
from server.people.trail import on_facts
from server.workspaces.copying import store_all
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_once

from .facts import catalogue_of, document_of_revision
from .jobs import LISTEN
from .models import Sequence as SequenceRow
from .models import SequenceRevision, Signal

ANY = ""
"""Stands for whatever something is about."""
Heard = tuple[str, str]
"""A kind of signal, and what it is about."""


@dataclass(frozen=True)
class LiveSequence:
    """A sequence that people can come into, with its live document."""

    id: str
    name: str
    revision: str
    paused: bool
    document: SequenceDocument


def live_sequences(workspace: Workspace) -> tuple[LiveSequence, ...]:
    """The sequences that are live or paused, as of the workspace's latest change."""
    return _live(workspace.pk, workspace.catalogue_version)


@lru_cache(maxsize=64)
def _live(workspace_id: UUID, version: UUID) -> tuple[LiveSequence, ...]:
    revisions = SequenceRevision.objects.of(Workspace(pk=workspace_id)).filter(
        state=SequenceRevision.State.LIVE, sequence__archived_at=None
    )
    rows = revisions.exclude(sequence__state=SequenceRow.State.DRAFT).select_related("sequence")
    return tuple(
        LiveSequence(
            id=str(one.sequence_id),
            name=one.sequence.name,
            revision=str(one.pk),
            paused=one.sequence.state == SequenceRow.State.PAUSED,
            document=document_of_revision(str(one.pk)),
        )
        for one in rows.order_by("pk")
    )


def heard_by(workspace: Workspace) -> frozenset[Heard]:
    """What the live sequences of a workspace listen to."""
    return _heard(workspace.pk, workspace.catalogue_version)


@lru_cache(maxsize=64)
def _heard(workspace_id: UUID, version: UUID) -> frozenset[Heard]:
    workspace = Workspace(pk=workspace_id, catalogue_version=version)
    catalogue = catalogue_of(workspace)
    found: set[Heard] = set()
    for one in live_sequences(workspace):
        found.update(_of_doors(one.document, catalogue))
        found.update(moves_runs(one.document, catalogue))
    return frozenset(found)


def _of_doors(document: SequenceDocument, catalogue: Catalogue) -> Iterator[Heard]:
    for door in document.doors:
        match door:
            case TagDoor(open=True, tag=str(tag)):
                yield "tag", tag
            case ListDoor(open=True, list=str(one)):
                yield "membership", one
            case FieldDoor(open=True, field=str(field)) if field in catalogue.fields:
                yield "field", catalogue.fields[field].key
            case EventDoor(open=True, name=name) if name:
                yield "event", name
            case ClickDoor(open=True, message=message):
                yield "clicked", message or ANY


def moves_runs(document: SequenceDocument, catalogue: Catalogue) -> Iterator[Heard]:
    """What may make a run of a sequence go on, or end, before it is due."""
    for goal in document.goals:
        if goal.event:
            yield "event", goal.event
        elif goal.when is not None:
            yield from _of_condition(goal.when, catalogue)
    if document.leaving.when is not None:
        yield from _of_condition(document.leaving.when, catalogue)
    for door in document.doors:
        if not door.stays and door.only is not None:
            yield from _of_condition(door.only, catalogue)
    for step in document.steps:
        if step.kind == "wait_condition":
            yield from _of_condition(step.when, catalogue)
        target = catalogue.fields.get(step.field or "") if isinstance(step, WaitDateStep) else None
        if target is not None:
            yield "field", target.key


def _of_condition(condition: Group, catalogue: Catalogue) -> Iterator[Heard]:
    for leaf in leaves(condition):
        match leaf:
            case TagTest(tag=tag):
                yield from (("tag", tag), ("untag", tag))
            case MembershipTest(list=one):
                yield "membership", one
            case FieldTest(field=field) if field in catalogue.fields:
                yield "field", catalogue.fields[field].key
            case ScoreTest():
                yield "score", ANY
            case HappenedTest(what="confirmed", about=about):
                yield "membership", about
            case HappenedTest(what=what, about=about):
                yield what, about
            case RunTest(sequence=one):
                yield from (("entered", one), ("left", one))
            case _:
                pass


def signal_of(fact: Fact) -> tuple[str, str, str] | None:
    """Kind, about and state of the signal that a fact may leave; None: nobody can listen to it."""
    what = fact.what
    match fact.kind:
        case Fact.Kind.TAG:
            return "untag" if what.get("removed") else "tag", str(what["id"]), ""
        case Fact.Kind.MEMBERSHIP:
            return "membership", str(what["id"]), str(what["after"])
        case Fact.Kind.FIELD:
            after = what.get("after")
            return "field", str(what["key"]), _text(after)
        case Fact.Kind.EVENT | Fact.Kind.SUBMITTED | Fact.Kind.SENT:
            return str(fact.kind), fact.about, ""
        case Fact.Kind.OPENED | Fact.Kind.CLICKED:
            return str(fact.kind), fact.about, str(what.get("link", ""))[:400]
        case Fact.Kind.SCORE:
            return "score", ANY, ""
        case Fact.Kind.ENTERED | Fact.Kind.LEFT:
            return str(fact.kind), str(what["id"]), ""
        case _:
            return None


def _text(after: object) -> str:
    if isinstance(after, bool):
        return "yes" if after else "no"
    if isinstance(after, list | tuple):
        return ",".join(map(str, after))[:400]
    return str(after or "")[:400]


@on_facts
def leave_signals(facts: Sequence[Fact]) -> None:
    """Leave a signal for each fact that a live sequence listens to, and the job that shows them."""
    workspaces = {one.workspace_id for one in facts}
    versions = Workspace.objects.filter(pk__in=workspaces).only("catalogue_version")
    heard = {one.pk: heard_by(one) for one in versions}
    signals = []
    for one in facts:
        listens = heard.get(one.workspace_id)
        signal = signal_of(one) if listens else None
        if listens and signal and (signal[:2] in listens or (signal[0], ANY) in listens):
            kind, about, state = signal
            signals.append(
                Signal(
                    workspace_id=one.workspace_id,
                    subscriber_id=one.subscriber_id,
                    kind=kind,
                    about=about,
                    state=state,
                    act=Because.from_json(one.because).act,
                    at=one.at,
                )
            )
    if signals:
        store_all(signals)
        for workspace_id in {one.workspace_id for one in signals}:
            # Afterwards: two transactions that defer the same job would wait for each other. Where
            # the process dies in between, the next look for due runs shows them.
            transaction.on_commit(partial(defer_once, LISTEN, workspace_id))
