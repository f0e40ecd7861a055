"""Routes, sequences and messages as JSON, out of a workspace and into one."""

from typing import TypeVar

from pydantic import BaseModel, ValidationError

from core.checking import FORM, Portable, Reference, packed, unpacked
from core.deciding import RouteDocument
from core.documents import Problem, invalid_in_words
from core.messages import MessageDocument
from core.people import Catalogue
from core.sequences import SequenceDocument
from server.mail.editing import save_message
from server.mail.models import Message, shown_document
from server.sequences.actions import save_sequence_draft
from server.sequences.models import Sequence
from server.workspaces.documents import shown_of
from server.workspaces.errors import Refused, refuse
from server.workspaces.models import Member, Workspace

from .actions import save_route_draft, shown_revision
from .catalogue import full_catalogue
from .models import Source

Document = TypeVar("Document", bound=BaseModel)


def route_out(source: Source) -> Portable:
    """The sheet of a source as it is shown."""
    document = shown_revision(source).document
    return packed("route", source.name, document, full_catalogue(source.workspace))


def sequence_out(sequence: Sequence) -> Portable:
    """A sequence as it is shown."""
    document = shown_of(sequence.revisions.all()).document
    return packed("sequence", sequence.name, document, full_catalogue(sequence.workspace))


def route_in(
    source: Source, body: bytes, member: Member | None, based_on: int | None
) -> list[Reference]:
    """Make a document the draft of a source; what it refers to that is not there by name."""
    document, missing = _read(source.workspace, body, "route", RouteDocument)
    save_route_draft(source, document, based_on, member)
    return missing


def sequence_in(
    sequence: Sequence, body: bytes, member: Member | None, based_on: int | None
) -> list[Reference]:
    """Make a document the draft of a sequence; what it refers to that is not there by name."""
    document, missing = _read(sequence.workspace, body, "sequence", SequenceDocument)
    save_sequence_draft(sequence, document, based_on, member)
    return missing


def message_out(message: Message) -> Portable:
    """A message as it is shown. Its pictures stay behind."""
    document = shown_document(message).model_dump(mode="json")
    return packed("message", message.name, document, full_catalogue(message.workspace))


def message_in(
    message: Message, body: bytes, member: Member | None, based_on: int | None
) -> list[Reference]:
    """Make a document the draft of a message; what it refers to that is not there by name."""
    document, missing = _read(message.workspace, body, "message", MessageDocument)
    save_message(message, document, based_on, member)
    return missing


def _read(
    workspace: Workspace, body: bytes, kind: str, model: type[Document]
) -> tuple[Document, list[Reference]]:
    return read_document(body, kind, model, full_catalogue(workspace))


def read_document(
    body: bytes, kind: str, model: type[Document], catalogue: Catalogue
) -> tuple[Document, list[Reference]]:
    """A document out of a file, for the workspace of the catalogue; what it refers to that is not there."""
    try:
        portable = Portable.model_validate_json(body)
    except ValidationError as error:
        raise _unreadable(error, "") from None
    if portable.form != FORM:
        raise refuse(
            "other_form",
            "file",
            f"This file has form {portable.form}, and form {FORM} is known here.",
            "Make it anew where it came from.",
        )
    if portable.kind != kind:
        raise refuse(
            "other_kind",
            "file",
            f"This file holds a {portable.kind}, and a {kind} is wanted here.",
            "Choose another file.",
        )
    document, missing = unpacked(portable, catalogue)
    try:
        return model.model_validate(document), missing
    except ValidationError as error:
        raise _unreadable(error, "document.") from None


def _unreadable(error: ValidationError, where: str) -> Refused:
    problems = []
    for one in error.errors(include_url=False, include_input=False)[:20]:
        place = where + ".".join(map(str, one["loc"]))
        words, _ = invalid_in_words(one)
        problems.append(
            Problem(
                code=one["type"],
                place=place,
                sentence=f"{place or 'The file'}: {words}",
                fix="Upload a file that was made here, or fix this place.",
            )
        )
    return Refused("This file is not a document of Yalla.", tuple(problems))
