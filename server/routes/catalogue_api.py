"""What documents can refer to, tasks for members, and how many a condition fits."""

from collections.abc import Mapping
from datetime import datetime
from uuid import UUID

from django.db.models import Count
from ninja import Router, Schema

from core.conditions import Circumstances, Group, holds, say
from core.deciding import RouteDocument, context_answers
from core.people import Person
from server.people.actions import finish_task
from server.people.api import FieldOut
from server.people.models import Field, Subscriber, Tagging, Task
from server.sequences.people import people_of
from server.sources.actions import shown_revision
from server.sources.catalogue import full_catalogue
from server.sources.models import Source
from server.sources.uses import users_of
from server.submissions.models import Submission
from server.submissions.seen import LOOKED_AT
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads

router = Router(tags=["catalogue"], auth=member)


class NamedOut(Schema):
    id: str
    name: str


class TagChoice(NamedOut):
    people: int = 0
    """How many have it."""


class SequenceChoice(NamedOut):
    live: bool
    lanes: list[NamedOut]


class ListChoice(NamedOut):
    confirms: bool
    """Whether it asks for a confirmation by email first."""


class ServiceChoice(NamedOut):
    hands_over: bool


class CatalogueOut(Schema):
    """Everything that a document of this workspace can refer to."""

    fields: list[FieldOut]
    tags: list[TagChoice]
    lists: list[ListChoice]
    sequences: list[SequenceChoice]
    messages: list[NamedOut]
    sources: list[NamedOut]
    members: list[NamedOut]
    services: list[ServiceChoice]
    groups: list[NamedOut]
    """Frozen groups."""


class FitsIn(Schema):
    condition: Group


class FitsOut(Schema):
    """Of the last submissions of a source, how many a condition would have fitted."""

    sentence: str
    fits: int
    of: int


class TaskOut(Schema):
    id: UUID
    title: str
    person: UUID
    address: str
    member: str
    due_at: datetime
    because: dict[str, object]


@router.get("/catalogue", response=CatalogueOut)
def catalogue(request: MemberRequest, workspace: InPath) -> CatalogueOut:
    found = full_catalogue(request.workspace)
    taggings = Tagging.objects.of(request.workspace).filter(subscriber__is_test=False)
    counted = taggings.values_list("tag").annotate(Count("pk"))
    counts = {str(tag): people for tag, people in counted}
    return CatalogueOut(
        fields=[
            FieldOut.from_orm(one) for one in Field.objects.of(request.workspace).order_by("pk")
        ],
        tags=[
            TagChoice(id=pk, name=name, people=counts.get(pk, 0)) for pk, name in found.tags.items()
        ],
        lists=[
            ListChoice(id=pk, name=name, confirms=pk in found.confirmed_lists)
            for pk, name in found.lists.items()
        ],
        sequences=[
            SequenceChoice(id=one.id, name=one.name, live=one.live, lanes=_named(one.lanes))
            for one in found.sequences.values()
        ],
        messages=_named(found.messages),
        sources=_named(found.sources),
        members=_named(found.members),
        groups=_named(found.groups),
        services=[
            ServiceChoice(id=one.id, name=one.name, hands_over=bool(one.description.operations))
            for one in found.services.values()
        ],
    )


def _named(rows: Mapping[str, str]) -> list[NamedOut]:
    return [NamedOut(id=pk, name=name) for pk, name in rows.items()]


class UserOut(Schema):
    """A route or a sequence that does something with a thing."""

    kind: str
    pk: UUID
    name: str
    live: bool
    how: str


@router.get("/uses", response=dict[str, list[UserOut]])
def uses(request: MemberRequest, workspace: InPath) -> dict[str, list[UserOut]]:
    """By id of a tag, list, sequence or message: what fills it and what uses it."""
    return {
        pk: [
            UserOut(kind=one.kind, pk=UUID(one.pk), name=one.name, live=one.live, how=one.how)
            for one in users
        ]
        for pk, users in users_of(request.workspace).items()
    }


@router.post("/sources/{source}/fits", response=FitsOut, auth=member_reads)
def fits(request: MemberRequest, workspace: InPath, source: UUID, body: FitsIn) -> FitsOut:
    row: Source = find(Source, request, source, "source")
    found = full_catalogue(request.workspace)
    rows = list(
        Submission.objects.of(request.workspace)
        .filter(source=row, is_test=False, forgotten_at=None)
        .select_related("subscriber")
        .defer("raw", "decision")
        .order_by("-received_at")[:LOOKED_AT]
    )
    subscribers: dict[UUID, Subscriber] = {}
    for one in rows:
        if one.subscriber is not None:
            one.subscriber.workspace = request.workspace
            subscribers[one.subscriber.pk] = one.subscriber
    people = people_of(subscribers.values(), request.workspace, history=True)
    count = 0
    for one in rows:
        person = people.get(one.subscriber_id) if one.subscriber_id else None
        seen = Circumstances(
            now=clock.now(request.workspace),
            zone=request.workspace.time_zone,
            answers=(
                *((name, text) for name, text in one.answers),
                *context_answers(one.context, row.name, one.received_at),
            ),
            source=str(row.pk),
        )
        count += holds(body.condition, person or Person(address=""), seen, found)
    form = RouteDocument.model_validate(shown_revision(row).document).form
    return FitsOut(sentence=say(body.condition, found, form), fits=count, of=len(rows))


@router.get("/tasks", response=list[TaskOut])
def tasks(request: MemberRequest, workspace: InPath, person: UUID | None = None) -> list[TaskOut]:
    rows = Task.objects.of(request.workspace).filter(done_at=None)
    if person:
        rows = rows.filter(subscriber=person)
    rows = rows.filter(subscriber__is_test=False).select_related(
        "subscriber", "member__user", "cause"
    )
    return [
        TaskOut(
            id=one.pk,
            title=one.title,
            person=one.subscriber_id,
            address=one.subscriber.address,
            member=(one.member.user.name or one.member.user.email) if one.member else "",
            due_at=one.due_at,
            because=one.because,
        )
        for one in rows.order_by("due_at")[:100]
    ]


@router.post("/tasks/{task}/done", response=list[TaskOut])
def post_done(request: MemberRequest, workspace: InPath, task: UUID) -> list[TaskOut]:
    finish_task(find(Task, request, task, "task"))
    return tasks(request, workspace)
