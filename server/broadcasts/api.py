"""The sheets of broadcasts: what one is, what it would come to, and how it goes."""

from collections.abc import Callable
from datetime import datetime, timedelta
from itertools import islice
from uuid import UUID

from django.db.models import Count, Q, QuerySet
from django.http import HttpResponse
from django.shortcuts import render
from ninja import Router, Schema

from core.broadcasts import (
    Act,
    BroadcastDocument,
    BroadcastState,
    LeftOut,
    Why,
    acts_in,
    broadcast_differences,
    first_moment,
    to_in_words,
    trial_in_words,
    version_in_words,
    when_in_words,
)
from core.checking import Portable, Reference, packed
from core.documents import Finding
from server.mail.models import Send
from server.people.api import full_name
from server.people.models import Subscriber
from server.people.signing import signed
from server.sources.portable import read_document
from server.sources.portable_api import LARGEST, TakenIn, document_as_file
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.deadlines import only_reads
from server.workspaces.documents import draft_of, live_of, shown_of
from server.workspaces.endpoints import DocumentKind, add_document
from server.workspaces.errors import refuse
from server.workspaces.expensive import expensive_read
from server.workspaces.history import who_acts
from server.workspaces.models import Member, Revision
from server.workspaces.schemas import (
    Done,
    NameIn,
    RevisionLine,
    TurnOnIn,
    revision_line,
    revision_lines,
)

from . import actions
from .catalogue import whole_catalogue
from .judging import BroadcastTrial, trial_of
from .models import Broadcast, BroadcastRevision, page_of, shown_document
from .planning import PersonPlan, PlanOut, group_out, person_plan, plan_of, somebody
from .recipients import recipients_of
from .why import why_of

router = Router(tags=["broadcasts"], auth=member)
_LISTED = 50
_RATE = timedelta(minutes=5)


class BroadcastLine(Schema):
    """A broadcast in the list of them."""

    id: UUID
    name: str
    state: BroadcastState
    archived: bool
    to: str
    when: str
    at: datetime
    """When it began, or begins; before that, when it was made."""
    sent: int
    opened: int
    clicked: int
    left: int


class NamedMember(Schema):
    id: UUID
    name: str


class BroadcastOut(Schema):
    id: UUID
    name: str
    state: BroadcastState
    acts: list[Act]
    """What can be done with it now."""
    archived: bool
    document: BroadcastDocument
    to: str
    messages: list[str]
    trial: str
    when: str
    edits: int
    differs: bool
    changes: list[str]
    """What is different from the broadcast that went to this list before."""
    before: str
    """The name of that one."""
    saved_at: datetime
    findings: list[Finding]
    revisions: list[RevisionLine]
    asked_by: str
    approver: NamedMember | None
    """Who was asked, or who approved it."""
    approvers: list[NamedMember]
    """Who may approve it; none where nobody has to."""
    mine: bool
    """Whether the member who looks at it wrote it and asked."""
    set_off_at: datetime | None
    begins_at: datetime | None
    began_at: datetime | None
    decides_at: datetime | None
    ended_at: datetime | None
    chosen: str
    again_of: NamedMember | None
    page: str
    """Its address for everybody; empty: it has none, or nothing went out yet."""


class BroadcastDraftIn(Schema):
    document: BroadcastDocument
    based_on: int


class BroadcastRevisionOut(RevisionLine):
    changes: list[str]
    document: BroadcastDocument
    to: str
    messages: list[str]
    when: str


class BroadcastDocumentIn(Schema):
    document: BroadcastDocument


class BroadcastPersonIn(BroadcastDocumentIn):
    person: UUID | None = None
    after: UUID | None = None
    """NamedMember else than this one."""


class LeftOutIn(BroadcastDocumentIn):
    why: Why
    about: str = ""
    after: UUID | None = None


class LeftOutPerson(Schema):
    id: UUID
    name: str
    address: str


class LeftOutPage(Schema):
    title: str
    people: list[LeftOutPerson]
    next: UUID | None


class AskIn(Schema):
    approver: UUID
    based_on: int | None = None


class ChooseIn(Schema):
    version: str


class BroadcastTestIn(BroadcastDocumentIn):
    to: list[str]
    person: UUID | None = None


class WhyCount(Schema):
    why: str
    people: int


class ProgressOut(Schema):
    """How a broadcast goes."""

    state: BroadcastState
    sent: int
    waiting: int
    later: int
    """Of those who wait: not before a later time."""
    under_way: int
    unknown: int
    held: int
    refused: int
    withdrawn: list[WhyCount]
    """Who does not get it after all, and why."""
    opened: int
    clicked: int
    left: int
    bounced: int
    complained: int
    counts_opens: bool
    per_hour: int | None
    """By what went out in the last minutes; null: nothing did."""
    seconds_left: int | None
    trial: BroadcastTrial | None
    decided: BroadcastTrial | None
    """What the trial said when the version for the rest was chosen."""
    left_out: list[WhyCount]
    """Who was left out when it began."""


@router.get("/broadcasts", response=list[BroadcastLine])
def broadcasts(request: MemberRequest, workspace: InPath) -> object:
    """All of them, what is under way first, then the newest."""
    room = request.workspace
    catalogue = whole_catalogue(room)
    rows = list(Broadcast.objects.of(room))
    revisions = BroadcastRevision.objects.of(room).exclude(state=Revision.State.PAST)
    shown = {one.broadcast_id: one for one in revisions.order_by("state")}
    drafts = {one.broadcast_id: one for one in revisions.filter(state=Revision.State.DRAFT)}
    figures = _figures(Send.objects.of(room).filter(broadcast__isnull=False))
    names = {str(one.pk): one.name for one in rows}

    def line(row: Broadcast) -> BroadcastLine:
        document = BroadcastDocument.model_validate((drafts.get(row.pk) or shown[row.pk]).document)
        sent, opened, clicked, left = figures.get(row.pk, (0, 0, 0, 0))
        return BroadcastLine(
            id=row.pk,
            name=row.name,
            state=row.stands,
            archived=row.archived_at is not None,
            to=to_in_words(document.to, catalogue, names.get(document.to.again_of or "", "")),
            when=when_in_words(document.when),
            at=row.began_at or row.begins_at or row.created_at,
            sent=sent,
            opened=opened,
            clicked=clicked,
            left=left,
        )

    over = ("done", "stopped")
    lines = sorted((line(row) for row in rows), key=lambda one: one.at, reverse=True)
    return sorted(lines, key=lambda one: one.state in over)


def _figures(sends: QuerySet[Send]) -> dict[UUID, tuple[int, int, int, int]]:
    counted = (
        sends.filter(state=Send.State.SENT)
        .order_by()
        .values_list("broadcast")
        .annotate(
            sent=Count("pk"),
            opened=Count("pk", filter=Q(opened_at__isnull=False) | Q(clicked_at__isnull=False)),
            clicked=Count("pk", filter=Q(clicked_at__isnull=False)),
            left=Count("pk", filter=Q(left_at__isnull=False)),
        )
    )
    return {pk: (sent, opened, clicked, left) for pk, sent, opened, clicked, left in counted}


@router.post("/broadcasts", response=BroadcastOut)
def add_broadcast(request: MemberRequest, workspace: InPath, body: NameIn) -> BroadcastOut:
    row = actions.make_broadcast(request.workspace, body.name, BroadcastDocument(), request.member)
    return _out(row, request.member)


@router.get("/broadcasts/{broadcast}", response=BroadcastOut)
def get_broadcast(request: MemberRequest, workspace: InPath, broadcast: UUID) -> BroadcastOut:
    return _out(_found(request, broadcast), request.member)


@router.put("/broadcasts/{broadcast}/name", response=BroadcastOut)
def put_name(
    request: MemberRequest, workspace: InPath, broadcast: UUID, body: NameIn
) -> BroadcastOut:
    return _out(actions.rename(_found(request, broadcast), body.name), request.member)


@router.post("/broadcasts/{broadcast}/copy", response=BroadcastOut)
def copy_broadcast(
    request: MemberRequest, workspace: InPath, broadcast: UUID, body: NameIn
) -> BroadcastOut:
    """Another one with what its sheet shows, as a draft."""
    document = shown_document(_found(request, broadcast))
    to = document.to.model_copy(update={"again_of": None})
    document = document.model_copy(update={"to": to})
    row = actions.make_broadcast(request.workspace, body.name, document, request.member)
    return _out(row, request.member)


@router.post("/broadcasts/{broadcast}/again", response=BroadcastOut)
def send_again(
    request: MemberRequest, workspace: InPath, broadcast: UUID, body: NameIn
) -> BroadcastOut:
    """Another one to those who got it and neither opened nor clicked, as a draft."""
    row = actions.make_again(_found(request, broadcast), body.name, request.member)
    return _out(row, request.member)


@router.delete("/broadcasts/{broadcast}", response=Done)
def delete_broadcast(request: MemberRequest, workspace: InPath, broadcast: UUID) -> Done:
    actions.remove(_found(request, broadcast))
    return Done(count=1)


@router.post("/broadcasts/{broadcast}/plan", response=PlanOut, auth=member_reads)
def plan(
    request: MemberRequest, workspace: InPath, broadcast: UUID, body: BroadcastDocumentIn
) -> PlanOut:
    """What it would come to if it were set off now."""
    row = _found(request, broadcast)
    only_reads(request)
    with expensive_read(request.workspace):
        return plan_of(row, body.document)


@router.post("/broadcasts/{broadcast}/person", response=PersonPlan | None, auth=member_reads)
def person(
    request: MemberRequest, workspace: InPath, broadcast: UUID, body: BroadcastPersonIn
) -> PersonPlan | None:
    """What it would come to for one person; for somebody who gets it, where none is named."""
    row = _found(request, broadcast)
    only_reads(request)
    pk = body.person or somebody(row, body.document, body.after)
    if pk is None:
        return None
    return person_plan(row, body.document, find(Subscriber, request, pk, "person"))


@router.post("/broadcasts/{broadcast}/left-out", response=LeftOutPage, auth=member_reads)
def left_out(
    request: MemberRequest, workspace: InPath, broadcast: UUID, body: LeftOutIn
) -> LeftOutPage:
    """Those who are left out for one reason."""
    row, now = _found(request, broadcast), clock.now(request.workspace)
    only_reads(request)
    start = first_moment(body.document.when, now, request.workspace.time_zone)
    recipients = recipients_of(row, body.document, now, start)
    wanted = (body.why, body.about)
    with expensive_read(request.workspace):
        found = (
            one.pk
            for one in recipients.everybody(after=body.after)
            if isinstance(one.place, LeftOut) and (one.place.why, one.place.about) == wanted
        )
        ids = list(islice(found, _LISTED + 1))
    people = Subscriber.objects.of(request.workspace).in_bulk(ids[:_LISTED])
    return LeftOutPage(
        title=group_out(body.why, body.about, 0, recipients).title,
        people=[
            LeftOutPerson(id=pk, name=full_name(people[pk]), address=people[pk].address)
            for pk in ids[:_LISTED]
            if pk in people
        ],
        next=ids[_LISTED - 1] if len(ids) > _LISTED else None,
    )


@router.post("/broadcasts/{broadcast}/test", response=Done)
def post_test(
    request: MemberRequest, workspace: InPath, broadcast: UUID, body: BroadcastTestIn
) -> Done:
    """Send each version to stated addresses, marked as a test."""
    somebody_ = find(Subscriber, request, body.person, "person") if body.person else None
    addresses = [one for one in body.to if one.strip()]
    row = _found(request, broadcast)
    actions.send_test(row, body.document, somebody_, addresses, len(addresses))
    return Done(count=len(addresses))


@router.post("/broadcasts/{broadcast}/ask", response=BroadcastOut)
def post_ask(
    request: MemberRequest, workspace: InPath, broadcast: UUID, body: AskIn
) -> BroadcastOut:
    """Ask another member to approve it."""
    row = _found(request, broadcast)
    members = Member.objects.filter(workspace=request.workspace).select_related("user")
    approver = members.filter(pk=body.approver).first()
    if approver is None:
        raise refuse("approver", "approver", "There is no such member.", "Choose another.")
    actions.ask(row, approver, request.member, body.based_on)
    return get_broadcast(request, workspace, broadcast)


@router.post("/broadcasts/{broadcast}/choose", response=BroadcastOut)
def post_choose(
    request: MemberRequest, workspace: InPath, broadcast: UUID, body: ChooseIn
) -> BroadcastOut:
    """End the trial: the rest get this version."""
    actions.choose(_found(request, broadcast), body.version)
    return get_broadcast(request, workspace, broadcast)


def _add_act(word: str, act: Callable[[Broadcast, Member], object]) -> None:
    @router.post(
        f"/broadcasts/{{broadcast}}/{word}",
        response=BroadcastOut,
        operation_id=f"broadcast_{word.replace('-', '_')}",
        summary=f"{word.replace('-', ' ').capitalize()} (broadcast)",
    )
    def post_act(request: MemberRequest, workspace: InPath, broadcast: UUID) -> BroadcastOut:
        act(_found(request, broadcast), request.member)
        return get_broadcast(request, workspace, broadcast)


for _word, _act in (
    ("approve", actions.approve),
    ("take-back", actions.take_back),
    ("call-back", actions.call_back),
    ("stop", lambda row, _: actions.stop(row)),
    ("archive", lambda row, _: actions.archive(row)),
    ("restore", lambda row, _: actions.restore(row)),
):
    _add_act(_word, _act)


@router.get("/broadcasts/{broadcast}/progress", response=ProgressOut)
def progress(request: MemberRequest, workspace: InPath, broadcast: UUID) -> ProgressOut:
    """How it goes."""
    row = _found(request, broadcast)
    now = clock.now(request.workspace)
    sends = Send.objects.of(request.workspace).filter(broadcast=row.pk)
    states = dict(sends.order_by().values_list("state").annotate(n=Count("pk")))
    sent = sends.filter(state=Send.State.SENT)
    counts = sent.aggregate(
        opened=Count("pk", filter=Q(opened_at__isnull=False) | Q(clicked_at__isnull=False)),
        clicked=Count("pk", filter=Q(clicked_at__isnull=False)),
        left=Count("pk", filter=Q(left_at__isnull=False)),
        bounced=Count("pk", filter=Q(came_back__in=["hard", "soft"])),
        complained=Count("pk", filter=Q(came_back="complaint")),
        opens=Count("pk", filter=Q(counts_opens=True)),
        lately=Count("pk", filter=Q(sent_at__gt=now - _RATE)),
    )
    waiting = states.get("queued", 0)
    later = sends.filter(state=Send.State.QUEUED, not_before__gt=now).count()
    per_hour = round(counts["lately"] * (timedelta(hours=1) / _RATE)) or None
    document = shown_document(row)
    withdrawn = sends.filter(state=Send.State.WITHDRAWN).order_by().values_list("reply")
    recipients = recipients_of(row, document, now, row.began_at or now)
    return ProgressOut(
        state=row.stands,
        sent=states.get("sent", 0),
        waiting=waiting,
        later=later,
        under_way=states.get("handing_over", 0),
        unknown=states.get("unknown", 0),
        held=states.get("held", 0),
        refused=states.get("refused", 0),
        withdrawn=[
            WhyCount(why=why, people=people)
            for why, people in withdrawn.annotate(n=Count("pk")).order_by("-n")[:20]
        ],
        opened=counts["opened"],
        clicked=counts["clicked"],
        left=counts["left"],
        bounced=counts["bounced"],
        complained=counts["complained"],
        counts_opens=counts["opens"] > 0,
        per_hour=per_hour,
        seconds_left=round((waiting - later) / per_hour * 3600) if per_hour else None,
        trial=trial_of(row, document) if document.is_tried and row.began_at else None,
        decided=BroadcastTrial.model_validate(row.judged) if row.judged else None,
        left_out=[
            WhyCount(
                why=group_out(one["why"], one["about"], 0, recipients).title, people=one["people"]
            )
            for one in row.counted.get("left_out", [])
        ],
    )


@router.get("/broadcasts/{broadcast}/document.json", response=Portable)
def get_document(request: MemberRequest, workspace: InPath, broadcast: UUID) -> HttpResponse:
    row = _found(request, broadcast)
    document = shown_of(row.revisions.all()).document
    return document_as_file(
        packed("broadcast", row.name, document, whole_catalogue(request.workspace))
    )


@router.put("/broadcasts/{broadcast}/document.json", response=TakenIn)
def put_document(
    request: MemberRequest, workspace: InPath, broadcast: UUID, based_on: int | None = None
) -> TakenIn:
    """Make the document in the body the draft, in place of the one of so many edits."""
    row = _found(request, broadcast)
    missing: list[Reference]
    document, missing = read_document(
        request.read(LARGEST), "broadcast", BroadcastDocument, whole_catalogue(request.workspace)
    )
    actions.save_broadcast(row, document, based_on, request.member)
    return TakenIn(missing=missing)


@router.get("/emails/{email}/why", response={200: str})
def get_why(request: MemberRequest, workspace: InPath, email: UUID) -> HttpResponse:
    """Why somebody got an email, as a page to read and print."""
    why = why_of(find(Send, request, email, "email"))
    return render(request, "broadcasts/why.html", {"why": why, "signed": "why.jws"})


@router.get("/emails/{email}/why.jws", response={200: str})
def get_signed_why(request: MemberRequest, workspace: InPath, email: UUID) -> HttpResponse:
    """The same, signed: a compact JSON Web Signature."""
    record = signed(why_of(find(Send, request, email, "email")), "email-proof+jws")
    response = HttpResponse(record, content_type="application/jose")
    response["Content-Disposition"] = 'attachment; filename="why.jws"'
    return response


def _found(request: MemberRequest, pk: UUID) -> Broadcast:
    row: Broadcast = find(Broadcast, request, pk, "broadcast")
    return row


def _out(row: Broadcast, viewer: Member | None) -> BroadcastOut:
    room = row.workspace
    revisions = row.revisions.all()
    shown, draft = shown_of(revisions), draft_of(revisions)
    document = BroadcastDocument.model_validate(shown.document)
    catalogue = whole_catalogue(room)
    editable = row.state == Broadcast.State.DRAFT
    before = actions.newest_before(row) if editable else None
    earlier = live_of(before.revisions.all()) if before else None
    first = (
        Broadcast.objects.of(room).filter(pk=document.to.again_of).first()
        if document.to.again_of
        else None
    )
    approved_by, asked_by = row.approved_by, row.asked_by
    needs = room.approves_broadcasts
    acts = [
        one
        for one in acts_in(row.stands)
        if one != ("set_off" if needs else "ask") and one not in ("begin", "finish")
    ]
    return BroadcastOut(
        id=row.pk,
        name=row.name,
        state=row.stands,
        acts=acts,
        archived=row.archived_at is not None,
        document=document,
        to=to_in_words(document.to, catalogue, first.name if first else ""),
        messages=[version_in_words(one, catalogue) for one in document.versions],
        trial=trial_in_words(document) if document.is_tried else "",
        when=when_in_words(document.when),
        edits=shown.edits,
        differs=draft is not None,
        changes=_changes(earlier, document, row) if earlier else [],
        before=before.name if before else "",
        saved_at=shown.saved_at,
        findings=list(actions.check(row, document)) if editable else [],
        revisions=revision_lines(revisions),
        asked_by=_member(asked_by),
        approver=NamedMember(id=approved_by.pk, name=_member(approved_by)) if approved_by else None,
        approvers=[
            NamedMember(id=pk, name=name)
            for pk, name in (actions.approvers(room, viewer) if needs and viewer else [])
        ],
        mine=viewer is not None and row.asked_by_id == viewer.pk,
        set_off_at=row.set_off_at,
        begins_at=row.begins_at,
        began_at=row.began_at,
        decides_at=row.decides_at,
        ended_at=row.ended_at,
        chosen=row.chosen,
        again_of=NamedMember(id=first.pk, name=first.name) if first else None,
        page=page_of(row) if document.page and row.began_at else "",
    )


def _changes(earlier: BroadcastRevision, document: BroadcastDocument, row: Broadcast) -> list[str]:
    old = BroadcastDocument.model_validate(earlier.document)
    return list(broadcast_differences(old, document, whole_catalogue(row.workspace)))


def _member(one: Member | None) -> str:
    return (one.user.name or one.user.email) if one else ""


def _revision_out(
    row: Broadcast, one: BroadcastRevision, earlier: BroadcastRevision | None
) -> BroadcastRevisionOut:
    document = BroadcastDocument.model_validate(one.document)
    catalogue = whole_catalogue(row.workspace)
    return BroadcastRevisionOut(
        **revision_line(one).dict(),
        changes=actions.changes_of(row, earlier, one),
        document=document,
        to=to_in_words(document.to, catalogue),
        messages=[version_in_words(version, catalogue) for version in document.versions],
        when=when_in_words(document.when),
    )


def _shown(row: Broadcast) -> BroadcastOut:
    row.refresh_from_db()
    return _out(row, who_acts())


add_document(
    router,
    DocumentKind(
        name="broadcast",
        model=Broadcast,
        out=BroadcastOut,
        shown=_shown,
        draft_in=BroadcastDraftIn,
        turn_on_in=TurnOnIn,
        revision_out=BroadcastRevisionOut,
        revision_shown=_revision_out,
        save=actions.save_broadcast,
        turn_on=actions.set_off,
        discard=actions.discard,
        go_back=actions.restore_revision,
        document=BroadcastDocument,
        differences=actions.differences_from_stored,
        pause=actions.pause,
        resume=actions.resume,
    ),
)
