"""Sequences: the sheet, its draft and revisions, and who stands where."""

from datetime import datetime
from typing import Any
from uuid import UUID

from django.db.models import Count, Q
from ninja import Router, Schema

from core.documents import Finding
from core.sequences import SequenceDocument
from server.mail.models import Send
from server.people.api import full_name
from server.people.models import Subscriber
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.documents import draft_of, edits_of, live_of
from server.workspaces.endpoints import DocumentKind, add_document
from server.workspaces.models import Revision
from server.workspaces.schemas import Done, NameIn, RevisionLine, revision_line

from .actions import (
    changes_of,
    check,
    discard,
    go_back,
    make_sequence,
    pause,
    resume,
    save_sequence_draft,
    turn_on,
)
from .facts import document_of_revision
from .going_on import go_on_again, move_time
from .models import Run, Sequence, SequenceRevision, Visit

router = Router(tags=["sequences"], auth=member)


class SequenceLine(Schema):
    id: UUID
    name: str
    state: str
    under_way: int
    entered: int


class StepCount(Schema):
    """At one step: how many came, and how many are there now."""

    step: str
    came: int
    sent: int = 0
    held: int = 0
    failed: int = 0
    """Of a send: its emails that went out, that are held, and that no server took."""
    waiting: int


class SequenceOut(Schema):
    id: UUID
    name: str
    state: str
    document: SequenceDocument
    edits: int
    differs: bool
    changes: list[str]
    """What the draft has different from the live revision."""
    live_number: int | None
    live: SequenceDocument | None
    findings: list[Finding]
    counts: list[StepCount]
    under_way: int
    entered: int
    ended: dict[str, int]
    revisions: list[RevisionLine]


class SequenceRevisionOut(RevisionLine):
    changes: list[str]
    """What it has different from the revision before it."""
    document: SequenceDocument


class SequenceDraftIn(Schema):
    document: SequenceDocument
    based_on: int


class PersonRun(Schema):
    """Where somebody is in a sequence: at a step (of its lane, from 1), since when, until when."""

    sequence: UUID
    name: str
    lane: str
    step: int
    of: int
    what: str
    """send, wait; empty where the run is over or its step is gone."""
    entered_at: datetime
    due_at: datetime | None
    ended: str
    ended_at: datetime | None
    held: str
    """Why it waits for an email that is held."""


class WaitingPerson(Schema):
    person: UUID
    address: str
    name: str
    came_at: datetime | None
    due_at: datetime | None


class MoveIn(Schema):
    to: datetime


class ClockOut(Schema):
    now: datetime


_REAL = Q(runs__subscriber__is_test=False)


@router.get("/sequences", response=list[SequenceLine])
def sequences(request: MemberRequest, workspace: InPath, archived: bool = False) -> Any:
    return (
        Sequence.objects.of(request.workspace)
        .filter(archived_at__isnull=not archived)
        .annotate(
            under_way=Count("runs", filter=_REAL & Q(runs__ended_at=None)),
            entered=Count("runs", filter=_REAL),
        )
        .order_by("name")
    )


@router.post("/sequences", response=SequenceOut)
def add_sequence(request: MemberRequest, workspace: InPath, body: NameIn) -> SequenceOut:
    return sequence_out(make_sequence(request.workspace, body.name, request.member))


@router.get("/sequences/{sequence}", response=SequenceOut)
def get_sequence(request: MemberRequest, workspace: InPath, sequence: UUID) -> SequenceOut:
    return sequence_out(find(Sequence, request, sequence, "sequence"))


@router.post("/runs/again/{snag}", response=Done)
def post_runs_again(request: MemberRequest, workspace: InPath, snag: UUID) -> Done:
    """Try again with the runs that a snag stopped."""
    return Done(count=go_on_again(request.workspace, find(Snag, request, snag, "snag")))


@router.get("/sequences/{sequence}/waiting/{step}", response=list[WaitingPerson])
def waiting(request: MemberRequest, workspace: InPath, sequence: UUID, step: str) -> Any:
    row = find(Sequence, request, sequence, "sequence")
    runs = Run.objects.of(request.workspace).filter(sequence=row, step=step, ended_at=None)
    came = {
        one.run_id: one.came_at
        for one in Visit.objects.of(request.workspace).filter(run__in=runs, step=step)
    }
    return [
        WaitingPerson(
            person=run.subscriber_id,
            address=run.subscriber.address,
            name=full_name(run.subscriber),
            came_at=came.get(run.pk),
            due_at=run.due_at,
        )
        for run in runs.select_related("subscriber").order_by("due_at")[:200]
    ]


@router.get("/people/{person}/runs", response=list[PersonRun])
def person_runs(request: MemberRequest, workspace: InPath, person: UUID) -> list[PersonRun]:
    """Where the person is in each sequence, the latest entered first."""
    row: Subscriber = find(Subscriber, request, person, "person")
    runs = Run.objects.of(request.workspace).filter(subscriber=row).select_related("sequence")
    held = Send.objects.of(request.workspace).filter(subscriber=row, state=Send.State.HELD)
    reasons = dict(held.exclude(holds=None).values_list("holds", "reply"))
    return [_person_run(run, reasons.get(run.pk, "")) for run in runs.order_by("-entered_at")[:50]]


def _person_run(run: Run, held: str) -> PersonRun:
    lane = document_of_revision(str(run.revision_id)).lane(run.lane)
    steps = lane.steps if lane else ()
    place = next((n for n, one in enumerate(steps, 1) if one.id == run.step), 0)
    return PersonRun(
        sequence=run.sequence_id,
        name=run.sequence.name,
        lane=lane.name if lane else "",
        step=place,
        of=len(steps),
        what=steps[place - 1].kind if place and not run.ended else "",
        entered_at=run.entered_at,
        due_at=run.due_at,
        ended=run.ended,
        ended_at=run.ended_at,
        held=held,
    )


@router.post("/clock", response=ClockOut)
def post_clock(request: MemberRequest, workspace: InPath, body: MoveIn) -> ClockOut:
    move_time(request.workspace, body.to)
    return ClockOut(now=clock.now(request.workspace))


def sequence_out(row: Sequence) -> SequenceOut:
    """The sheet of a sequence: the draft where there is one, else the live revision."""
    revisions = row.revisions.all()
    draft, live = draft_of(revisions), live_of(revisions)
    shown: SequenceRevision = draft or live  # type: ignore[assignment]
    document = SequenceDocument.model_validate(shown.document)
    numbered = (
        row.revisions.exclude(state=Revision.State.DRAFT)
        .select_related("author__user")
        .order_by("-number")[:50]
    )
    runs = row.runs.filter(subscriber__is_test=False)
    ended = runs.exclude(ended_at=None).values_list("ended").annotate(Count("pk"))
    ended_by = dict(ended)
    under_way = runs.filter(ended_at=None).count()
    return SequenceOut(
        id=row.pk,
        name=row.name,
        state=row.state,
        document=document,
        edits=edits_of(draft, live),
        differs=bool(draft and live and draft.document != live.document),
        changes=changes_of(row, live, draft) if draft else [],
        live_number=live.number if live else None,
        live=SequenceDocument.model_validate(live.document) if live else None,
        findings=list(check(row.workspace, document)),
        counts=_counts(row),
        under_way=under_way,
        entered=under_way + sum(ended_by.values()),
        ended=ended_by,
        revisions=[revision_line(one) for one in numbered],
    )


def _counts(row: Sequence) -> list[StepCount]:
    visits = row.visits.filter(run__subscriber__is_test=False)
    came = dict(visits.values_list("step").annotate(Count("pk")))
    there_now = row.runs.filter(ended_at=None, step__isnull=False, subscriber__is_test=False)
    there = dict(there_now.values_list("step").annotate(Count("pk")))
    sends = Send.objects.of(row.workspace).filter(sequence=row.pk, subscriber__is_test=False)
    emails: dict[tuple[str, str], int] = {}
    for step, state, count in sends.values_list("step", "state").annotate(Count("pk")):
        emails[step, state] = count
    return [
        StepCount(
            step=step,
            came=count,
            waiting=there.get(step, 0),
            sent=emails.get((step, "sent"), 0),
            held=emails.get((step, "held"), 0),
            failed=emails.get((step, "refused"), 0) + emails.get((step, "unknown"), 0),
        )
        for step, count in came.items()
    ]


def _revision_out(
    row: Sequence, one: SequenceRevision, earlier: SequenceRevision | None
) -> SequenceRevisionOut:
    return SequenceRevisionOut(
        **revision_line(one).dict(),
        changes=changes_of(row, earlier, one),
        document=SequenceDocument.model_validate(one.document),
    )


add_document(
    router,
    DocumentKind(
        name="sequence",
        model=Sequence,
        out=SequenceOut,
        shown=sequence_out,
        draft_in=SequenceDraftIn,
        revision_out=SequenceRevisionOut,
        revision_shown=_revision_out,
        save=save_sequence_draft,
        turn_on=turn_on,
        discard=discard,
        go_back=go_back,
        pause=pause,
        resume=resume,
    ),
)
