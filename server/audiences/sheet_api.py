"""The sheets of audiences: what one asks, how many it holds, and ten of them with why."""

from collections.abc import Sequence
from datetime import datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db.models import Count, QuerySet
from django.http import HttpResponseBase, StreamingHttpResponse
from django.utils.http import content_disposition_header
from ninja import Field, Router, Schema

from core.audiences import AudienceDocument, check_audience, missing_one
from core.conditions import (
    LONGEST_SENTENCE,
    Circumstances,
    Explained,
    Group,
    ParseProblem,
    Proposed,
    explain,
    parse,
    propose,
    say,
)
from core.documents import Finding
from core.people import Catalogue
from core.reading import Form, Question
from core.values import Choice
from server.people.api import full_name
from server.people.models import MailingList, Membership, Subscriber
from server.sequences.people import full_people
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.deadlines import only_reads
from server.workspaces.documents import draft_of, live_of, shown_of
from server.workspaces.endpoints import DocumentKind, add_document
from server.workspaces.expensive import expensive_read
from server.workspaces.models import Revision, Workspace
from server.workspaces.schemas import (
    Done,
    NameIn,
    RevisionLine,
    TurnOnIn,
    revision_line,
    revision_lines,
)

from .actions import (
    changes_of,
    differences_from_stored,
    discard,
    make_audience,
    remove,
    rename,
    restore_revision,
    save_audience,
    turn_on,
)
from .exports import TYPES, export_audience
from .exports import Form as FileForm
from .models import Audience, AudienceRevision, live_document, shown_document
from .query import audience_query

router = Router(tags=["audiences"], auth=member)
TEN, THREE = 10, 3


class AudienceLine(Schema):
    id: UUID
    name: str
    sentence: str
    """What it asks, by its live revision."""
    differs: bool
    people: int | None
    counted_at: datetime | None
    """How many it held when it was counted last; null: not yet."""


class AudienceOut(Schema):
    id: UUID
    name: str
    document: AudienceDocument
    """The draft where there is one, else what is live."""
    sentence: str
    edits: int
    differs: bool
    changes: list[str]
    saved_at: datetime
    findings: list[Finding]
    revisions: list[RevisionLine]


class AudienceIn(NameIn):
    who: Group = Group()


class AudienceDraftIn(Schema):
    document: AudienceDocument
    based_on: int


class AudienceRevisionOut(RevisionLine):
    changes: list[str]
    sentence: str
    document: AudienceDocument


class WhoIn(Schema):
    condition: Group


class AskedIn(Schema):
    """What a submission is asked, where a condition is about one."""

    name: str
    label: str
    choices: list[Choice] = Field(default=[], max_length=500)


class SayIn(Schema):
    condition: Group
    asked: list[AskedIn] = Field(default=[], max_length=500)


class SentenceOut(Schema):
    sentence: str


class TypedIn(Schema):
    text: str = Field(max_length=LONGEST_SENTENCE)
    cursor: int = Field(ge=0)
    """Characters before it."""
    asked: list[AskedIn] = Field(default=[], max_length=500)


class TypedOut(Schema):
    """What a typed sentence says, or what of it is not understood; and the ways on from the cursor."""

    condition: Group | None
    problems: list[ParseProblem]
    proposals: list[Proposed]


class OnList(Schema):
    """Of the people of an audience: how many are subscribed to a list."""

    name: str
    people: int


class SizeOut(Schema):
    sentence: str
    people: int
    of: int
    """Everybody in the workspace."""
    lists: list[OnList]
    """The greatest first; none where nobody is subscribed."""


class ExamplePerson(Schema):
    """Somebody with why they fit, or which part they miss."""

    id: UUID
    name: str
    address: str
    because: Explained


class Missing(Schema):
    """Who misses one part of a condition alone: how many more it would fit without that part."""

    part: str
    people: int
    some: list[ExamplePerson]


class ExamplesOut(Schema):
    fit: list[ExamplePerson]
    nearly: list[Missing]
    """By part, in the order of the condition."""


@router.get("/audiences", response=list[AudienceLine])
def audiences(request: MemberRequest, workspace: InPath) -> object:
    """All of them, by name; nothing is counted here."""
    catalogue = full_catalogue(request.workspace)
    rows = list(Audience.objects.of(request.workspace).order_by("name"))
    revisions = AudienceRevision.objects.of(request.workspace).filter(audience__in=rows)
    live = {one.audience_id: one for one in revisions.filter(state=Revision.State.LIVE)}
    drafts = set(revisions.filter(state=Revision.State.DRAFT).values_list("audience_id", flat=True))
    return [
        AudienceLine(
            id=row.pk,
            name=row.name,
            sentence=say(AudienceDocument.model_validate(live[row.pk].document).who, catalogue),
            differs=row.pk in drafts,
            people=row.people,
            counted_at=row.counted_at,
        )
        for row in rows
    ]


@router.post("/audiences", response=AudienceOut)
def add_audience(request: MemberRequest, workspace: InPath, body: AudienceIn) -> AudienceOut:
    document = AudienceDocument(who=body.who)
    return _out(make_audience(request.workspace, body.name, document, request.member))


@router.get("/audiences/{audience}", response=AudienceOut)
def get_audience(request: MemberRequest, workspace: InPath, audience: UUID) -> AudienceOut:
    return _out(_found(request, audience))


@router.put("/audiences/{audience}/name", response=AudienceOut)
def put_name(
    request: MemberRequest, workspace: InPath, audience: UUID, body: NameIn
) -> AudienceOut:
    return _out(rename(_found(request, audience), body.name))


@router.post("/audiences/{audience}/copy", response=AudienceOut)
def copy_audience(
    request: MemberRequest, workspace: InPath, audience: UUID, body: NameIn
) -> AudienceOut:
    """Another one with what its sheet shows."""
    document = shown_document(_found(request, audience))
    return _out(make_audience(request.workspace, body.name, document, request.member))


@router.delete("/audiences/{audience}", response=Done)
def delete_audience(request: MemberRequest, workspace: InPath, audience: UUID) -> Done:
    remove(_found(request, audience))
    return Done(count=1)


@router.post("/audiences/{audience}/count", response=SizeOut, auth=member_reads)
def count_audience(request: MemberRequest, workspace: InPath, audience: UUID) -> SizeOut:
    """Count those whom the live revision fits; the list shows it until it is counted again."""
    row = _found(request, audience)
    now = clock.now(request.workspace)
    only_reads(request)
    found = _size(request.workspace, live_document(row).who)
    Audience.everywhere.filter(pk=row.pk).update(people=found.people, counted_at=now)
    return found


@router.get("/audiences/{audience}/export", response={200: object})
def export(
    request: MemberRequest, workspace: InPath, audience: UUID, form: FileForm = "csv"
) -> HttpResponseBase:
    """Everybody in it now, by its live revision, as a file."""
    row = _found(request, audience)
    parts = (part.encode() for part in export_audience(row, form))
    response = StreamingHttpResponse(parts, content_type=TYPES[form])
    response["Content-Disposition"] = content_disposition_header(True, f"{row.name}.{form}") or ""
    return response


@router.post("/conditions/size", response=SizeOut, auth=member_reads)
def size(request: MemberRequest, workspace: InPath, body: WhoIn) -> SizeOut:
    """How many a condition fits, of how many, and to which lists these are subscribed."""
    only_reads(request)
    return _size(request.workspace, body.condition)


@router.post("/conditions/say", response=SentenceOut, auth=member_reads)
def say_condition(request: MemberRequest, workspace: InPath, body: SayIn) -> SentenceOut:
    """A condition as a sentence, which can be typed too."""
    only_reads(request)
    sentence = say(body.condition, full_catalogue(request.workspace), _asked(body.asked))
    return SentenceOut(sentence=sentence)


@router.post("/conditions/typed", response=TypedOut, auth=member_reads)
def typed_condition(request: MemberRequest, workspace: InPath, body: TypedIn) -> TypedOut:
    """The condition that a typed sentence says."""
    only_reads(request)
    catalogue, form = full_catalogue(request.workspace), _asked(body.asked)
    today = clock.now(request.workspace).astimezone(ZoneInfo(request.workspace.time_zone)).date()
    found = parse(body.text, catalogue, today, form)
    return TypedOut(
        condition=found.condition,
        problems=list(found.problems),
        proposals=list(propose(body.text[: body.cursor], catalogue, today, form)),
    )


def _asked(asked: Sequence[AskedIn]) -> Form | None:
    questions = tuple(
        Question(
            id=f"q{number}",
            name=one.name,
            label=one.label,
            type="choice" if one.choices else "text",
            choices=tuple(one.choices),
        )
        for number, one in enumerate(asked)
    )
    return Form(questions=questions) if questions else None


@router.post("/conditions/examples", response=ExamplesOut, auth=member_reads)
def examples(request: MemberRequest, workspace: InPath, body: WhoIn) -> ExamplesOut:
    """Ten whom a condition fits, and whom it would fit without one of its parts, each explained."""
    only_reads(request)
    who, room = body.condition, request.workspace
    catalogue = full_catalogue(room)
    with expensive_read(room):
        return ExamplesOut(
            fit=_explained(_those(who, room, catalogue), who, room, catalogue, TEN),
            nearly=[
                Missing(
                    part=say(part, catalogue),
                    people=rows.count(),
                    some=_explained(rows, who, room, catalogue, THREE),
                )
                for part, near in missing_one(who)
                for rows in (_those(near, room, catalogue),)
            ],
        )


def _size(workspace: Workspace, who: Group) -> SizeOut:
    catalogue = full_catalogue(workspace)
    people = _those(who, workspace, catalogue)
    with expensive_read(workspace):
        subscribed = (
            Membership.objects.of(workspace)
            .filter(state=Membership.State.SUBSCRIBED, subscriber__in=people.values("pk"))
            .values("list")
            .annotate(people=Count("pk"))
            .order_by("-people")
        )
        by_list = {one["list"]: one["people"] for one in subscribed}
        everybody = Subscriber.objects.of(workspace).filter(is_test=False).count()
        count = people.count()
    names = dict(MailingList.objects.of(workspace).filter(pk__in=by_list).values_list("pk", "name"))
    return SizeOut(
        sentence=say(who, catalogue),
        people=count,
        of=everybody,
        lists=[OnList(name=names[pk], people=found) for pk, found in by_list.items()],
    )


def _those(who: Group, workspace: Workspace, catalogue: Catalogue) -> QuerySet[Subscriber]:
    return audience_query(who, workspace, catalogue, clock.now(workspace))


def _explained(
    those: QuerySet[Subscriber], by: Group, workspace: Workspace, catalogue: Catalogue, most: int
) -> list[ExamplePerson]:
    """The newest of some people, explained by a condition."""
    rows = list(those.order_by("-added_at", "-pk")[:most])
    seen = Circumstances(now=clock.now(workspace), zone=workspace.time_zone)
    persons = full_people(workspace, rows)
    return [
        ExamplePerson(
            id=row.pk,
            name=full_name(row),
            address=row.address,
            because=explain(by, persons[row.pk], seen, catalogue),
        )
        for row in rows
    ]


def _found(request: MemberRequest, pk: UUID) -> Audience:
    row: Audience = find(Audience, request, pk, "audience")
    return row


def _out(row: Audience) -> AudienceOut:
    draft, live = draft_of(row.revisions.all()), live_of(row.revisions.all())
    shown = shown_of(row.revisions.all())
    document = AudienceDocument.model_validate(shown.document)
    catalogue = full_catalogue(row.workspace)
    return AudienceOut(
        id=row.pk,
        name=row.name,
        document=document,
        sentence=say(document.who, catalogue),
        edits=shown.edits,
        differs=draft is not None,
        changes=changes_of(row, live, draft) if draft else [],
        saved_at=shown.saved_at,
        findings=list(check_audience(document, catalogue)),
        revisions=revision_lines(row.revisions.all()),
    )


def _revision_out(
    row: Audience, one: AudienceRevision, earlier: AudienceRevision | None
) -> AudienceRevisionOut:
    document = AudienceDocument.model_validate(one.document)
    return AudienceRevisionOut(
        **revision_line(one).dict(),
        changes=changes_of(row, earlier, one),
        sentence=say(document.who, full_catalogue(row.workspace)),
        document=document,
    )


add_document(
    router,
    DocumentKind(
        name="audience",
        model=Audience,
        out=AudienceOut,
        shown=_out,
        draft_in=AudienceDraftIn,
        turn_on_in=TurnOnIn,
        revision_out=AudienceRevisionOut,
        revision_shown=_revision_out,
        save=save_audience,
        turn_on=turn_on,
        discard=discard,
        go_back=restore_revision,
        document=AudienceDocument,
        differences=differences_from_stored,
    ),
)
