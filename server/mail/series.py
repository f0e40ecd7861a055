"""A whole series of emails from one text: read by itself first, then made into as many messages."""

from collections.abc import Container, Sequence
from dataclasses import dataclass

from django.db import transaction

from core.documents import Problem
from core.messages import (
    MessageDocument,
    Series,
    SeriesEmail,
    SeriesForm,
    TextBlock,
)
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace

from . import sandbox
from .editing import make_message, refuse_too_costly, save_message
from .models import Message
from .portable import LARGEST


def read_series(form: SeriesForm, content: bytes) -> Series:
    """The emails of a file or a pasted text."""
    if not content or len(content) > LARGEST:
        raise refuse(
            "file_size",
            "file",
            "There is nothing in it." if not content else "It has more than 2 MB.",
            "Choose another file, or paste the text.",
        )
    found = sandbox.read_series(form, content)
    if isinstance(found, Problem):
        raise refuse(found.code, found.place, found.sentence, found.fix)
    return found


@dataclass
class MadeSeries:
    """The messages that were made of a series, in its order."""

    messages: list[Message]

    @property
    def count(self) -> int:
        """How many."""
        return len(self.messages)


def make_series(
    workspace: Workspace, emails: Sequence[SeriesEmail], member: Member | None
) -> MadeSeries:
    """A message for each email of a series, all or none; names that are taken get a number."""
    documents = [(one.name, _document(one)) for one in emails]
    # Trying a text can take seconds; nothing is locked meanwhile.
    for _, document in documents:
        refuse_too_costly(document)
    return _make(workspace, documents, member)


def _document(email: SeriesEmail) -> MessageDocument:
    text = TextBlock(id="text", html=email.html)
    return MessageDocument(subject=email.subject, preheader=email.preheader, blocks=(text,))


@changes("made {result.count} messages of a series")
def _make(
    workspace: Workspace, documents: Sequence[tuple[str, MessageDocument]], member: Member | None
) -> MadeSeries:
    taken = {one.lower() for one in Message.objects.of(workspace).values_list("name", flat=True)}
    made = []
    with transaction.atomic():
        for wanted, document in documents:
            name = _free(wanted, taken)
            taken.add(name.lower())
            message = make_message(workspace, name, member)
            save_message(message, document, None, member)
            made.append(message)
    return MadeSeries(made)


def _free(name: str, taken: Container[str]) -> str:
    name = " ".join(name.split()) or "Email"
    tries = (f"{name[:80]}", *(f"{name[:76]} {number}" for number in range(2, 1_000)))
    return next(one for one in tries if one.lower() not in taken)
