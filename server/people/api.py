"""Fields, tags, lists, and people with their trail."""

from datetime import datetime, timedelta
from typing import Literal
from uuid import UUID

from django.contrib.postgres.aggregates import ArrayAgg
from django.db.models import Count, Q, QuerySet
from ninja import Query, Router, Schema

from core.documents import folded
from core.profiles import ListPages, written
from core.values import Choice, DateOrder, FieldType
from core.wording import About, OwnWords
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.forms import Based, Versioned, saving, version_of
from server.workspaces.languages import usual_words
from server.workspaces.paging import page_by_key
from server.workspaces.schemas import Done, NameIn
from server.workspaces.shapes import Json

from .actions import make_field, make_list, make_tag
from .facts import field_facts, values_of
from .fields import (
    Retyping,
    merge_fields,
    preview_retype,
    remove_field,
    rename_field,
    retype_field,
    set_choices,
)
from .labels import (
    causes_of,
    look_alikes,
    merge_tags,
    remove_list,
    remove_tag,
    rename,
    set_public,
)
from .models import Fact, Field, MailingList, Subscriber, Tag

router = Router(tags=["people"], auth=member)
_LATELY = timedelta(days=30)


class FieldChangeIn(Based):
    """What of a field can be changed as it is."""

    label: str
    choices: list[Choice]


class FieldOut(Versioned):
    id: UUID
    key: str
    label: str
    type: FieldType
    choices: list[Choice]
    built_in: bool

    @staticmethod
    def resolve_version(row: Field) -> str:
        return version_of(FieldChangeIn.from_orm(row), FieldChangeIn)


class FieldIn(Schema):
    label: str
    type: FieldType
    choices: list[Choice] = []


class ListIn(Schema):
    name: str
    description: str = ""


class TagOut(Schema):
    id: UUID
    name: str
    people: int = 0
    lately: int = 0
    """Who got it in the last 30 days."""
    like: str = ""
    """The name of another tag that is nearly the same."""


class CauseOut(Schema):
    """Why people have a tag."""

    because: str
    people: int


class ListChangeIn(Based):
    """A list's name here, and what the public reads of it."""

    name: str
    public_name: str = ""
    description: str = ""
    language: str = ""
    """BCP 47; empty: that of the workspace."""
    pages: ListPages = ListPages()
    words: OwnWords = {}
    """Own words for its fixed texts, by key."""


class TextOut(Schema):
    """A fixed text that can be worded otherwise."""

    key: str
    group: str
    usual: str
    """In the language asked for; what is filled in stands as `{{ list }}`."""
    tokens: list[str]


class ListOut(Versioned):
    id: UUID
    name: str
    public_name: str
    description: str
    language: str
    pages: ListPages
    words: OwnWords
    confirms: bool = False
    subscribed: int = 0
    lately: int = 0
    """Who subscribed in the last 30 days and still is."""
    pending: int = 0
    left: int = 0

    @staticmethod
    def resolve_version(row: MailingList) -> str:
        return version_of(ListChangeIn.from_orm(row), ListChangeIn)


class PersonLine(Schema):
    id: UUID
    address: str
    name: str
    added_at: datetime
    tags: list[str]
    lists: list[str]


class PeoplePage(Schema):
    people: list[PersonLine]
    next: str | None
    total: int


class FieldValue(Schema):
    key: str
    label: str
    value: str
    written: str
    """As a member would write it: the key of a choice, yes or no, several one on each line."""
    because: Json | None


class TaggedOut(Schema):
    id: UUID
    name: str
    at: datetime
    because: Json


class EvidenceOut(Schema):
    at: datetime
    before: str
    after: str
    wording: str
    page: str
    because: Json


class MembershipOut(Schema):
    id: UUID
    """Of the list."""
    state: str
    changed_at: datetime
    because: Json
    evidence: list[EvidenceOut]
    list: str


class FactOut(Schema):
    id: UUID
    at: datetime
    kind: str
    what: Json
    because: Json


TrailPart = Literal["came", "lists", "tags", "fields", "emails", "sequences", "rest"]
_PARTS: dict[TrailPart, tuple[str, ...]] = {
    "came": ("added", "submitted", "event"),
    "lists": ("membership", "fewer"),
    "tags": ("tag",),
    "fields": ("field", "zone", "score", "address"),
    "emails": ("sent", "opened", "clicked", "returned", "uncounted"),
    "sequences": ("entered", "left", "goal"),
    "rest": ("owner", "task", "told", "merged"),
}
"""The parts that a trail can be filtered by, and the kinds of facts in each."""


class TrailPage(Schema):
    facts: list[FactOut]
    next: str | None


class PersonOut(Schema):
    id: UUID
    address: str
    name: str
    time_zone: str
    added_at: datetime
    is_test: bool
    score: int
    gap_days: int
    owner: str
    fields: list[FieldValue]
    tags: list[TaggedOut]
    memberships: list[MembershipOut]


@router.get("/fields", response=list[FieldOut])
def fields(request: MemberRequest, workspace: InPath) -> object:
    return Field.objects.of(request.workspace).order_by("pk")


@router.post("/fields", response=FieldOut)
def add_field(request: MemberRequest, workspace: InPath, body: FieldIn) -> Field:
    return make_field(request.workspace, body.label, body.type, tuple(body.choices))


class RetypeIn(Schema):
    type: FieldType
    choices: list[Choice] = []
    date_order: DateOrder = "unstated"


class Unreadable(Schema):
    value: str
    why: str


class RetypeOut(Schema):
    people: int
    unreadable: int
    examples: list[Unreadable]


class MergeIn(Schema):
    into: UUID


@router.put("/fields/{field}", response=FieldOut)
def put_field(request: MemberRequest, workspace: InPath, field: UUID, body: FieldChangeIn) -> Field:
    found = find(Field, request, field, "field")
    with saving(found, body.based_on, FieldOut.resolve_version) as row:
        others = [one.model_dump(mode="json") for one in body.choices] != row.choices
        if others:
            set_choices(row, tuple(body.choices))
        if body.label != row.label or not others:
            rename_field(row, body.label)
        return row


@router.post("/fields/{field}/retype/preview", response=RetypeOut, auth=member_reads)
def post_retype_preview(
    request: MemberRequest, workspace: InPath, field: UUID, body: RetypeIn
) -> RetypeOut:
    row = find(Field, request, field, "field")
    return _retyped(preview_retype(row, body.type, tuple(body.choices), body.date_order))


@router.post("/fields/{field}/retype", response=RetypeOut)
def post_retype(
    request: MemberRequest, workspace: InPath, field: UUID, body: RetypeIn
) -> RetypeOut:
    row = find(Field, request, field, "field")
    return _retyped(
        retype_field(row, body.type, tuple(body.choices), body.date_order, request.member)
    )


def _retyped(made: Retyping) -> RetypeOut:
    return RetypeOut(
        people=made.people,
        unreadable=made.unreadable,
        examples=[Unreadable(value=value, why=why) for value, why in made.examples],
    )


@router.post("/fields/{field}/merge", response=Done)
def post_merge(request: MemberRequest, workspace: InPath, field: UUID, body: MergeIn) -> Done:
    gone = find(Field, request, field, "field")
    kept = find(Field, request, body.into, "field")
    return Done(count=merge_fields(gone, kept, request.member))


@router.delete("/fields/{field}", response=Done)
def delete_field(request: MemberRequest, workspace: InPath, field: UUID) -> Done:
    return Done(count=remove_field(find(Field, request, field, "field")))


@router.get("/tags", response=list[TagOut])
def tags(request: MemberRequest, workspace: InPath) -> list[TagOut]:
    real = Q(taggings__subscriber__is_test=False)
    lately = real & Q(taggings__at__gte=clock.now(request.workspace) - _LATELY)
    rows = list(
        Tag.objects.of(request.workspace)
        .annotate(people=Count("taggings", filter=real), lately=Count("taggings", filter=lately))
        .order_by("folded")
    )
    names = {str(one.pk): one.name for one in rows}
    alike = look_alikes(names)
    return [
        TagOut(
            id=one.pk,
            name=one.name,
            people=one.people,
            lately=one.lately,
            like=names.get(alike.get(str(one.pk), ""), ""),
        )
        for one in rows
    ]


@router.put("/tags/{tag}/name", response=TagOut)
def put_tag_name(request: MemberRequest, workspace: InPath, tag: UUID, body: NameIn) -> object:
    return rename(find(Tag, request, tag, "tag"), body.name, "tag")


@router.get("/tags/{tag}/causes", response=list[CauseOut])
def tag_causes(request: MemberRequest, workspace: InPath, tag: UUID) -> list[CauseOut]:
    found = causes_of(find(Tag, request, tag, "tag"))
    return [CauseOut(because=because, people=people) for because, people in found]


@router.post("/tags/{tag}/merge", response=Done)
def post_tag_merge(request: MemberRequest, workspace: InPath, tag: UUID, body: MergeIn) -> Done:
    gone, kept = find(Tag, request, tag, "tag"), find(Tag, request, body.into, "tag")
    return Done(count=merge_tags(gone, kept))


@router.delete("/tags/{tag}", response=Done)
def delete_tag(request: MemberRequest, workspace: InPath, tag: UUID) -> Done:
    return Done(count=remove_tag(find(Tag, request, tag, "tag")))


@router.put("/lists/{list}", response=ListOut)
def put_list(request: MemberRequest, workspace: InPath, list: UUID, body: ListChangeIn) -> object:
    found = find(MailingList, request, list, "list")
    with saving(found, body.based_on, ListOut.resolve_version) as row:
        if body.name.strip() != row.name:
            rename(row, body.name, "list")
        return set_public(
            row, body.public_name, body.description, body.language, body.pages, body.words
        )


@router.get("/wording", response=list[TextOut])
def get_wording(
    request: MemberRequest, workspace: InPath, about: About, language: str = ""
) -> list[TextOut]:
    """The fixed texts that a form or a list can word for itself, with the usual words."""
    return [
        TextOut(key=one.key, group=one.group, usual=usual, tokens=list(one.tokens))
        for one, usual in usual_words(about, language or request.workspace.language)
    ]


@router.delete("/lists/{list}", response=Done)
def delete_list(request: MemberRequest, workspace: InPath, list: UUID) -> Done:
    return Done(count=remove_list(find(MailingList, request, list, "list")))


@router.post("/tags", response=TagOut)
def add_tag(request: MemberRequest, workspace: InPath, body: NameIn) -> Tag:
    return make_tag(request.workspace, body.name)


@router.get("/lists", response=list[ListOut])
def lists(request: MemberRequest, workspace: InPath) -> object:
    return (
        MailingList.objects.of(request.workspace)
        .annotate(
            subscribed=_people_who_are("subscribed"),
            lately=_people_who_are("subscribed", since=clock.now(request.workspace) - _LATELY),
            pending=_people_who_are("pending"),
            left=_people_who_are("unsubscribed"),
        )
        .order_by("folded")
    )


def _people_who_are(state: str, since: datetime | None = None) -> Count:
    wanted = Q(memberships__state=state, memberships__subscriber__is_test=False)
    if since is not None:
        wanted &= Q(memberships__changed_at__gte=since)
    return Count("memberships", filter=wanted)


@router.post("/lists", response=ListOut)
def add_list(request: MemberRequest, workspace: InPath, body: ListIn) -> MailingList:
    return make_list(request.workspace, body.name, body.description)


class PeopleFilter(Schema):
    search: str = ""
    tests: bool = False
    """The people whom tests made, instead of everybody else."""
    after: str | None = None


@router.get("/people", response=PeoplePage)
def people(request: MemberRequest, workspace: InPath, wanted: Query[PeopleFilter]) -> PeoplePage:
    everybody = Subscriber.objects.of(request.workspace).filter(is_test=wanted.tests)
    return page_of_people(everybody, wanted)


def page_of_people(rows: QuerySet[Subscriber], wanted: PeopleFilter) -> PeoplePage:
    """A page of those of `rows` who are also as the filter says, the newest first."""
    for word in folded(wanted.search).split()[:6]:
        rows = rows.filter(searched__contains=word)
    total = rows.count()
    page, after = page_by_key(rows, "added_at", wanted.after)
    shown = (
        Subscriber.everywhere.filter(pk__in=[one.pk for one in page])
        .annotate(
            tag_names=ArrayAgg("taggings__tag__name", distinct=True, default=[]),
            list_names=ArrayAgg(
                "memberships__list__name",
                filter=Q(memberships__state="subscribed"),
                distinct=True,
                default=[],
            ),
        )
        .order_by("-added_at", "-id")
    )
    return PeoplePage(
        people=[
            PersonLine(
                id=one.pk,
                address=one.address,
                name=full_name(one),
                added_at=one.added_at,
                tags=[name for name in one.tag_names if name],
                lists=[name for name in one.list_names if name],
            )
            for one in shown
        ],
        next=after,
        total=total,
    )


@router.get("/people/{person}", response=PersonOut)
def person(request: MemberRequest, workspace: InPath, person: UUID) -> PersonOut:
    row: Subscriber = find(Subscriber, request, person, "person")
    newest: dict[str, Json] = {}
    for fact in row.facts.select_related("cause").filter(kind=Fact.Kind.FIELD).order_by("at", "id"):
        newest[fact.what.get("key", "")] = fact.because
    known = []
    values = values_of(row)
    for field in Field.objects.of(request.workspace).exclude(key="email").order_by("pk"):
        value = values.get(field.key)
        if value not in (None, "", ()):
            known.append(
                FieldValue(
                    key=field.key,
                    label=field.label,
                    value=field_facts(field).shown(value),
                    written=written(value),
                    because=newest.get(field.key),
                )
            )
    memberships = row.memberships.select_related("list", "cause").prefetch_related("evidence")
    return PersonOut(
        id=row.pk,
        address=row.address,
        name=full_name(row),
        time_zone=row.time_zone or request.workspace.time_zone,
        added_at=row.added_at,
        is_test=row.is_test,
        score=row.score,
        gap_days=row.gap_days,
        owner=(row.owner.user.name or row.owner.user.email) if row.owner else "",
        fields=known,
        tags=[
            TaggedOut(id=one.tag_id, name=one.tag.name, at=one.at, because=one.because)
            for one in row.taggings.select_related("tag", "cause").order_by("at")
        ],
        memberships=[
            MembershipOut(
                id=one.list_id,
                list=one.list.name,
                state=one.state,
                changed_at=one.changed_at,
                because=one.because,
                evidence=[
                    EvidenceOut.from_orm(proof)
                    for proof in sorted(one.evidence.all(), key=lambda proof: proof.at)
                ],
            )
            for one in memberships
        ],
    )


@router.get("/people/{person}/trail", response=TrailPage)
def trail(
    request: MemberRequest,
    workspace: InPath,
    person: UUID,
    what: TrailPart | None = None,
    after: str | None = None,
) -> TrailPage:
    row: Subscriber = find(Subscriber, request, person, "person")
    facts = row.facts.select_related("cause")
    facts = facts.filter(kind__in=_PARTS[what]) if what else facts
    page, next_page = page_by_key(facts, "at", after)
    return TrailPage(facts=[FactOut.from_orm(one) for one in page], next=next_page)


def full_name(subscriber: Subscriber) -> str:
    """First and last name, as far as they are known."""
    names = (subscriber.values.get("first_name"), subscriber.values.get("last_name"))
    return " ".join(str(name) for name in names if name)
