"""What members do with a whole person: their record, another address, a merge, erasing."""

import json
from datetime import datetime
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import render
from ninja import Router, Schema

from core.documents import Because
from core.profiles import ByHand, Line
from server.mail.own_requests import ask
from server.people.models import Merge, OwnRequest, Subscriber
from server.people.signing import signed_record
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.history import changes
from server.workspaces.schemas import Done

from .addresses import change_address
from .by_hand import change_person
from .erasing import erase
from .merges import merge_people, merges_of, preview_merge, undo_merge
from .records import whole_record

router = Router(tags=["people"], auth=member)


class MergePeopleIn(Schema):
    other: UUID
    """Who is put into the person, and goes."""
    fields: list[str] = []
    """Keys of the fields whose value of the other stays."""


class MergePreviewOut(Schema):
    lines: list[Line]


class MergeOut(Schema):
    id: UUID
    address: str
    at: datetime
    until: datetime


class AddressIn(Schema):
    address: str


class PersonId(Schema):
    person: UUID


@router.post("/people/{person}/merge-preview", response=MergePreviewOut, auth=member_reads)
def post_merge_preview(
    request: MemberRequest, workspace: InPath, person: UUID, body: MergePeopleIn
) -> MergePreviewOut:
    kept, gone = _two(request, person, body.other)
    return MergePreviewOut(lines=list(preview_merge(kept, gone, frozenset(body.fields)).lines))


@router.post("/people/{person}/merge", response=list[MergeOut])
def post_merge_people(
    request: MemberRequest, workspace: InPath, person: UUID, body: MergePeopleIn
) -> list[MergeOut]:
    kept, gone = _two(request, person, body.other)
    merge_people(kept, gone, frozenset(body.fields), _by(request, "merged"))
    return _merges(kept)


@router.get("/people/{person}/merges", response=list[MergeOut])
def merges(request: MemberRequest, workspace: InPath, person: UUID) -> list[MergeOut]:
    return _merges(find(Subscriber, request, person, "person"))


@router.post("/people/{person}/merges/{merge}/undo", response=PersonId)
def post_undo(request: MemberRequest, workspace: InPath, person: UUID, merge: UUID) -> PersonId:
    find(Subscriber, request, person, "person")
    row: Merge = find(Merge, request, merge, "merge")
    return PersonId(person=undo_merge(row, _by(request, "parted after a merge")).pk)


@router.post("/people/{person}/by-hand", response=Done)
def post_by_hand(request: MemberRequest, workspace: InPath, person: UUID, body: ByHand) -> Done:
    """Set fields, tag and untag, take off lists: all of it, or nothing where something is wrong."""
    row: Subscriber = find(Subscriber, request, person, "person")
    return Done(count=change_person(row, body, _by(request, "changed")))


@router.put("/people/{person}/address", response=PersonId)
def put_address(
    request: MemberRequest, workspace: InPath, person: UUID, body: AddressIn
) -> PersonId:
    row: Subscriber = find(Subscriber, request, person, "person")
    return PersonId(person=change_address(row, body.address, _by(request, "changed")).pk)


@router.post("/people/{person}/erase", response=Done)
def post_erase(request: MemberRequest, workspace: InPath, person: UUID) -> Done:
    erase(find(Subscriber, request, person, "person"))
    return Done(count=1)


@router.post("/people/{person}/own-page", response=Done)
def post_own_page(request: MemberRequest, workspace: InPath, person: UUID) -> Done:
    row: Subscriber = find(Subscriber, request, person, "person")
    return Done(count=send_own_page(row, _by(request, "sent their page")))


@changes("sent a person the link to their own page")
def send_own_page(row: Subscriber, because: Because) -> int:
    """Send the link to the person's own page to their inbox; 0 where one went just before."""
    return int(ask(row, OwnRequest.Kind.PAGE, because))


@router.get("/people/{person}/record.json", response={200: dict})
def get_record(request: MemberRequest, workspace: InPath, person: UUID) -> HttpResponse:
    record = whole_record(find(Subscriber, request, person, "person"))
    body = json.dumps(record, ensure_ascii=False, indent=2)
    response = HttpResponse(body, content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="record.json"'
    return response


@router.get("/people/{person}/consent.jws", response={200: str})
def get_consent_record(request: MemberRequest, workspace: InPath, person: UUID) -> HttpResponse:
    """The consent record, signed: a compact JSON Web Signature."""
    signed = signed_record(find(Subscriber, request, person, "person"))
    response = HttpResponse(signed, content_type="application/jose")
    response["Content-Disposition"] = 'attachment; filename="consent.jws"'
    return response


@router.get("/people/{person}/record", response={200: str})
def get_record_page(request: MemberRequest, workspace: InPath, person: UUID) -> HttpResponse:
    """The same as a page to read and print."""
    record = whole_record(find(Subscriber, request, person, "person"))
    return render(request, "profiles/record.html", {"record": record})


def _two(request: MemberRequest, person: UUID, other: UUID) -> tuple[Subscriber, Subscriber]:
    return find(Subscriber, request, person, "person"), find(Subscriber, request, other, "person")


def _by(request: MemberRequest, what: str) -> Because:
    name = request.member.user.name or request.member.user.email
    return Because(kind="member", sentence=f"{what} by {name}", member=str(request.member.pk))


def _merges(person: Subscriber) -> list[MergeOut]:
    return [
        MergeOut(id=one.pk, address=one.gone_address, at=one.at, until=one.until)
        for one in merges_of(person)
    ]
