"""A member lets people into a sequence: one, or everybody whom a condition fits."""

from uuid import UUID

from django.db import transaction

from core.conditions import Circumstances, Group, holds
from core.sequences import ByHandDoor, Door
from server.audiences.query import audience_query
from server.people.locks import lock_person, retried
from server.people.models import Subscriber
from server.routing.routing import make_way
from server.sequences.entering import take_out
from server.sequences.facts import catalogue_of
from server.sequences.listening import LiveSequence, live_sequences
from server.sequences.models import Run, Sequence
from server.sequences.signals import member_because
from server.workspaces import clock
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.queues import defer_new

from .coming_in import PAGE, Still, let_in
from .jobs import ADMIT
from .models import Admission


@changes("let somebody into the sequence “{sequence.name}”")
def let_one_in(
    sequence: Sequence, person: Subscriber, lane: str | None, member: Member | None
) -> int:
    """Let one person in; 1, or 0 where the door is not for them, or they have been in it."""
    live = _live(sequence)
    door = _door(live, lane)
    with transaction.atomic():
        return let_in(
            sequence.workspace, live, door, [person.pk], lambda *_: True, _name_of(member)
        )


@changes("let everybody whom a condition fits into the sequence “{sequence.name}”")
def let_all_in(
    sequence: Sequence, condition: Group, lane: str | None, counted: int, member: Member | None
) -> Admission:
    """Let everybody in whom the condition fits, by a worker; `counted`: the count that the member was
    shown, which must not have grown by more than a tenth."""
    workspace = sequence.workspace
    live = _live(sequence)
    door = _door(live, lane)
    now = clock.now(workspace)
    people = audience_query(condition, workspace, catalogue_of(workspace), now).count()
    if people > counted + max(5, counted // 10):
        raise refuse(
            "more_by_now",
            "condition",
            f"The condition fits {people} people by now, and {counted} were shown.",
            "Look at the new count, then let them in.",
        )
    with transaction.atomic():
        row = Admission(
            workspace=workspace,
            sequence=sequence,
            door=door.id if live.document.door(door.id) else "",
            lane=door.lane or "",
            condition=condition.model_dump(mode="json"),
            member=member,
            counted=people,
            made_at=now,
        )
        row.save(force_insert=True)
        defer_new(ADMIT, row.pk)
    return row


def admit(admission_id: str) -> None:
    """Let in the people of an admission, page by page; after a crash it goes on where it was."""
    while _admit_page(admission_id):
        make_way()


@retried
def _admit_page(admission_id: str) -> bool:
    with transaction.atomic():
        row = (
            Admission.everywhere.select_for_update(of=("self",))
            .select_related("workspace", "sequence", "member__user")
            .filter(pk=admission_id, state=Admission.State.WORKING)
            .first()
        )
        if row is None:
            return False
        workspace = row.workspace
        live = next(
            (one for one in live_sequences(workspace) if one.id == str(row.sequence_id)), None
        )
        people = _next_people(workspace, row) if live is not None else []
        if live is not None and people:
            condition = Group.model_validate(row.condition)
            door = live.document.door(row.door) or _door(live, row.lane or None)
            still = _still(workspace, condition)
            name = _name_of(row.member)
            entered = let_in(workspace, live, door, people, still, name, looks_at=condition)
            row.entered += entered
            row.kept_out += len(people) - entered
            row.after = people[-1]
        if len(people) < PAGE:
            row.state, row.done_at = Admission.State.DONE, clock.now(workspace)
        row.save()
        return row.state == Admission.State.WORKING


def _next_people(workspace: Workspace, row: Admission) -> list[UUID]:
    condition = Group.model_validate(row.condition)
    people = audience_query(condition, workspace, catalogue_of(workspace), clock.now(workspace))
    if row.after is not None:
        people = people.filter(pk__gt=row.after)
    return list(people.order_by("pk").values_list("pk", flat=True)[:PAGE])


def _still(workspace: Workspace, condition: Group) -> Still:
    catalogue = catalogue_of(workspace)
    seen = Circumstances(now=clock.now(workspace), zone=workspace.time_zone)
    return lambda _, person: holds(condition, person, seen, catalogue)


@changes("took somebody out of the sequence “{run.sequence.name}”")
def take_one_out(run: Run, member: Member | None) -> int:
    """End somebody's run; what is queued of it is withdrawn, but for what they asked for."""
    with transaction.atomic():
        lock_person(
            lambda: Run.everywhere.filter(pk=run.pk).values_list("subscriber", flat=True).first()
        )
        rows = Run.everywhere.select_for_update(of=("self",)).filter(pk=run.pk, ended_at=None)
        found = list(rows.select_related("sequence", "subscriber", "workspace"))
        return take_out(run.workspace, found, member_because(run.sequence, _name_of(member)))


def _live(sequence: Sequence) -> LiveSequence:
    fresh = Workspace.objects.get(pk=sequence.workspace_id)
    found = next((one for one in live_sequences(fresh) if one.id == str(sequence.pk)), None)
    if found is None:
        raise refuse(
            "not_live",
            "sequence",
            "The sequence is not live, so nobody can come in.",
            "Turn it on.",
        )
    return found


def _door(live: LiveSequence, lane: str | None) -> Door:
    """The door for members into a lane; where the sequence has none, one that is always open."""
    if lane is not None and live.document.lane(lane) is None:
        raise refuse("lane_gone", "lane", "The lane is gone.", "Choose another one.")
    first = live.document.lanes[0].id if live.document.lanes else None
    for door in live.document.doors:
        if isinstance(door, ByHandDoor) and (door.lane or first) == (lane or first):
            return door
    return ByHandDoor(id="", lane=lane)


def _name_of(member: Member | None) -> str:
    return (member.user.name or member.user.email) if member else "a member"
