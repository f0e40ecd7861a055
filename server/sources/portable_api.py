"""Routes, sequences and messages as files of JSON."""

from uuid import UUID

from django.http import HttpResponse
from django.utils.http import content_disposition_header
from ninja import Router, Schema

from core.checking import Portable, Reference
from server.mail.models import Message
from server.sequences.models import Sequence
from server.workspaces.auth import InPath, MemberRequest, find, member

from .models import Source
from .portable import (
    message_in,
    message_out,
    route_in,
    route_out,
    sequence_in,
    sequence_out,
)

router = Router(tags=["documents"], auth=member)
LARGEST = 4 * 2**20


class TakenIn(Schema):
    """What a document refers to that is not here by its name."""

    missing: list[Reference]


@router.get("/sources/{source}/document.json", response=Portable)
def get_route(request: MemberRequest, workspace: InPath, source: UUID) -> HttpResponse:
    return document_as_file(route_out(find(Source, request, source, "source")))


@router.put("/sources/{source}/document.json", response=TakenIn)
def put_route(
    request: MemberRequest, workspace: InPath, source: UUID, based_on: int | None = None
) -> TakenIn:
    """Make the document in the body the draft, in place of the one of so many edits."""
    row = find(Source, request, source, "source")
    return TakenIn(missing=route_in(row, request.read(LARGEST), request.member, based_on))


@router.get("/sequences/{sequence}/document.json", response=Portable)
def get_sequence(request: MemberRequest, workspace: InPath, sequence: UUID) -> HttpResponse:
    return document_as_file(sequence_out(find(Sequence, request, sequence, "sequence")))


@router.put("/sequences/{sequence}/document.json", response=TakenIn)
def put_sequence(
    request: MemberRequest, workspace: InPath, sequence: UUID, based_on: int | None = None
) -> TakenIn:
    """Make the document in the body the draft, in place of the one of so many edits."""
    row = find(Sequence, request, sequence, "sequence")
    return TakenIn(missing=sequence_in(row, request.read(LARGEST), request.member, based_on))


@router.get("/messages/{message}/document.json", response=Portable)
def get_message(request: MemberRequest, workspace: InPath, message: UUID) -> HttpResponse:
    return document_as_file(message_out(find(Message, request, message, "message")))


@router.put("/messages/{message}/document.json", response=TakenIn)
def put_message(
    request: MemberRequest, workspace: InPath, message: UUID, based_on: int | None = None
) -> TakenIn:
    """Make the document in the body the draft, in place of the one of so many edits."""
    row = find(Message, request, message, "message")
    return TakenIn(missing=message_in(row, request.read(LARGEST), request.member, based_on))


def document_as_file(portable: Portable) -> HttpResponse:
    """A document, to be kept as a file."""
    body = portable.model_dump_json(indent=2)
    response = HttpResponse(body, content_type="application/json")
    name = f"{portable.kind} {portable.name}.json"
    response["Content-Disposition"] = content_disposition_header(True, name) or "attachment"
    return response
