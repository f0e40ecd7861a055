"""What is done alike with sources, sequences and messages: rename, copy, archive, restore, delete.

Each says first what it touches. What people went through is never deleted, since it is what proves
their consent and tells why things are so; it is archived.
"""

from dataclasses import dataclass
from typing import Literal

from django.db import transaction

from core.deciding import RouteDocument
from server.mail.editing import make_message, save_message
from server.mail.models import ListMail, Message, MessageFile, shown_document
from server.people.models import MailingList
from server.sequences import actions as sequences
from server.sequences.models import Sequence
from server.sequences.models import shown_document as shown_sequence
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import Refused
from server.workspaces.history import changes
from server.workspaces.models import Member
from server.workspaces.names import free_name

from .actions import make_source, pause, rename_source, save_route_draft, shown_revision
from .models import Source
from .open_forms import forget
from .uses import users_of

Thing = Source | Sequence | Message
Kind = Literal["source", "sequence", "message"]
MODELS: dict[Kind, type[Thing]] = {"source": Source, "sequence": Sequence, "message": Message}


@dataclass(frozen=True)
class Touches:
    """What hangs on a thing, in sentences, and whether it can be deleted for good."""

    sentences: tuple[str, ...]
    deletable: bool


def touches(thing: Thing) -> Touches:
    """What archiving or deleting would touch."""
    users = users_of(thing.workspace).get(str(thing.pk), [])
    names = ", ".join(dict.fromkeys(f"“{one.name}”" for one in users))
    parts: list[str] = []
    if isinstance(thing, Source):
        count = thing.submissions.count()
        if count:
            parts.append(f"{_counted(count, 'submission')} came through it, and stay.")
        if thing.state == Source.State.LIVE:
            parts.append("It is live: nothing more comes in by it.")
    elif isinstance(thing, Sequence):
        under_way = thing.runs.filter(ended_at=None).count()
        count = thing.runs.count()
        if under_way:
            parts.append(
                f"{_counted(under_way, 'person', 'people')} in progress get no more of it."
            )
    else:
        count = thing.sends.count()
        if count:
            parts.append(f"It was sent {_counted(count, 'time')}.")
    if names:
        parts.append(f"Used by {names}.")
    lists = MailingList.objects.of(thing.workspace).filter(mail__in=_mails(thing))
    if lists:
        parts.append(f"It belongs to {', '.join(one.name for one in lists)}.")
    return Touches(tuple(parts), deletable=not count and not users and not lists)


def _mails(thing: Thing) -> list[ListMail]:
    if not isinstance(thing, Message):
        return []
    rows = ListMail.everywhere.filter(workspace=thing.workspace)
    return [one for one in rows if thing.pk in (one.asking_id, one.welcome_id)]


def _counted(count: int, one: str, many: str = "") -> str:
    if one == "time" and count == 1:
        return "once"
    return f"{count:,} {one if count == 1 else many or one + 's'}"


@changes("renamed “{thing.name}” to “{name}”")
def rename(thing: Thing, name: str) -> None:
    """Give it another name; what is known of the past keeps the old one."""
    if isinstance(thing, Source):
        return rename_source(thing, name)
    what = "sequence" if isinstance(thing, Sequence) else "message"
    name = free_name(type(thing).objects.of(thing.workspace), name, what, besides=thing)
    thing.name = name
    thing.save(update_fields=["name"])
    catalogue_changed(thing.workspace)
    return None


@changes("copied “{thing.name}” as “{name}”")
def copy(thing: Thing, name: str, member: Member | None) -> Thing:
    """Another one of the same content, as a draft; nobody is in it and nothing came through it."""
    workspace = thing.workspace
    with transaction.atomic():
        if isinstance(thing, Source):
            made = make_source(workspace, name, member, kind=Source.Kind(thing.kind))
            document = RouteDocument.model_validate(shown_revision(thing).document)
            save_route_draft(made, document, None, member)
            return made
        if isinstance(thing, Sequence):
            again = sequences.make_sequence(workspace, name, member)
            sequences.save_sequence_draft(again, shown_sequence(thing), None, member)
            return again
        other = make_message(workspace, name, member)
        save_message(other, shown_document(thing), None, member)
        for one in thing.files.all():
            MessageFile.everywhere.create(
                workspace=workspace,
                message=other,
                file=one.file,
                attached=one.attached,
                days=one.days,
            )
        return other


@changes("archived “{thing.name}”")
def archive(thing: Thing) -> None:
    """Put it away: what is live is paused first. A message that something live uses stays."""
    if isinstance(thing, Message):
        live = [one for one in users_of(thing.workspace).get(str(thing.pk), []) if one.live]
        if live or _mails(thing):
            raise Refused(
                "Something that is live uses this message. Choose another one there first."
            )
    elif isinstance(thing, Source):
        pause(thing)
        forget(thing)
    else:
        sequences.pause(thing)
    thing.archived_at = clock.now(thing.workspace)
    thing.save(update_fields=["archived_at"])
    catalogue_changed(thing.workspace)


@changes("restored “{thing.name}”")
def restore(thing: Thing) -> None:
    """Take it out again; what was paused stays so."""
    thing.archived_at = None
    thing.save(update_fields=["archived_at"])
    catalogue_changed(thing.workspace)


@changes("deleted “{thing.name}”")
def delete(thing: Thing) -> None:
    """Delete it for good, where nothing hangs on it."""
    workspace = thing.workspace
    with transaction.atomic():
        # Whatever would begin to hang on it now waits for this lock, or is counted.
        type(thing).everywhere.select_for_update().get(pk=thing.pk)
        found = touches(thing)
        if not found.deletable:
            raise Refused(f"It cannot be deleted. {' '.join(found.sentences)} Archive it instead.")
        if isinstance(thing, Source):
            forget(thing)
        thing.delete()
        catalogue_changed(workspace)
