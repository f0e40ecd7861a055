"""A message for its person: laid out once for each revision, and written for each email."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from uuid import UUID

from core.conditions import Circumstances, Group, holds
from core.documents import Problem
from core.messages import (
    TOO_COSTLY,
    Filled,
    Frame,
    HouseStyle,
    MessageDocument,
    PictureFacts,
    Template,
    context_of,
    every_block,
    fill,
    hidden_from,
)
from core.people import Person
from server.people.facts import fields_of, reader_of
from server.people.models import MailingList, Subscriber
from server.workspaces import clock
from server.workspaces.models import Workspace

from .frames import Stands, frame_of, language_of_letter
from .models import MessageRevision
from .pictures import pictures_of
from .readers import catalogue_of, full_people
from .sandbox import NotLaidOut, lay_out, write_all


@dataclass(frozen=True)
class WrittenMessage:
    """A message for one person, and the tokens that had neither value nor fallback."""

    filled: Filled
    holes: tuple[str, ...]
    template: Template


@dataclass(frozen=True)
class Reader:
    """Whom a message is written for: with all that conditions look at, where it has some."""

    person: Person | None
    answers: tuple[tuple[str, str], ...] = ()


def reader_for(
    document: MessageDocument,
    subscriber: Subscriber | None,
    answers: tuple[tuple[str, str], ...] = (),
) -> Reader:
    """A subscriber, as far as the message needs to know them."""
    if subscriber is None:
        return Reader(None)
    people = readers_among(subscriber.workspace, document, [subscriber])
    return Reader(people[subscriber.pk], answers)


def readers_among(
    workspace: Workspace, document: MessageDocument, subscribers: Sequence[Subscriber]
) -> dict[UUID, Person]:
    """Subscribers, as far as the message needs to know them."""
    if any(block.only is not None for block in every_block(document)):
        return full_people(workspace, subscribers)
    return {one.pk: reader_of(one) for one in subscribers}


def document_of(revision: MessageRevision) -> MessageDocument:
    """The document of a revision, read once for each of its edits."""
    key = (revision.pk, revision.edits)
    found = _DOCUMENTS.get(key)
    if found is None:
        if len(_DOCUMENTS) >= 256:
            _DOCUMENTS.clear()
        found = _DOCUMENTS[key] = MessageDocument.model_validate(revision.document)
    return found


_DOCUMENTS: dict[tuple[UUID, int], MessageDocument] = {}


def style_of(workspace: Workspace) -> HouseStyle:
    """How the letters of a workspace look."""
    return HouseStyle.model_validate(workspace.house_style)


def write_message(
    workspace: Workspace,
    document: MessageDocument,
    reader: Reader,
    addresses: Mapping[str, str],
    *,
    to_list: MailingList | None = None,
    stands: Stands = Stands.ALONE,
) -> WrittenMessage | Problem:
    """The message for one person. `addresses`: the links that are ours, by their tokens; one that is
    missing is a hole."""
    letters = [(reader, addresses)]
    return write_messages(workspace, document, letters, to_list=to_list, stands=stands)[0]


def write_messages(
    workspace: Workspace,
    document: MessageDocument,
    letters: Sequence[tuple[Reader, Mapping[str, str]]],
    *,
    to_list: MailingList | None = None,
    asks: bool = False,
    stands: Stands = Stands.ALONE,
) -> list[WrittenMessage | Problem]:
    """The same message for many people: those who see the same blocks are written for together."""
    language = language_of_letter(workspace, document, to_list)
    frame = frame_of(workspace, language, to_list, asks=asks, stands=stands)
    style, pictures = style_of(workspace), tuple(pictures_of(workspace).items())
    fields = fields_of(workspace)
    alike: dict[frozenset[str], list[int]] = {}
    for place, (reader, _) in enumerate(letters):
        alike.setdefault(_hidden(workspace, document, reader), []).append(place)
    found: dict[int, WrittenMessage | Problem] = {}
    for hidden, places in alike.items():
        try:
            template = _template(document, hidden, style, frame, pictures)
        except NotLaidOut:
            found |= dict.fromkeys(places, TOO_COSTLY)
            continue
        contexts = []
        for place in places:
            reader, addresses = letters[place]
            known = context_of(reader.person, fields, reader.answers) if reader.person else {}
            contexts.append({**known, **{key: one for key, one in addresses.items() if one}})
        for place, written in zip(places, write_all(template.sources, contexts), strict=True):
            found[place] = (
                written
                if isinstance(written, Problem)
                else WrittenMessage(fill(template, written.parts), written.holes, template)
            )
    return [found[place] for place in range(len(letters))]


def _hidden(workspace: Workspace, document: MessageDocument, reader: Reader) -> frozenset[str]:
    """The blocks that are not for this person; all are, where nobody is chosen."""
    person = reader.person
    if person is None or not any(block.only for block in every_block(document)):
        return frozenset()
    seen = Circumstances(now=clock.now(workspace), zone=workspace.time_zone, answers=reader.answers)
    catalogue = catalogue_of(workspace)

    def held(condition: Group) -> bool:
        return holds(condition, person, seen, catalogue)

    return hidden_from(document, held)


@lru_cache(maxsize=256)
def _template(
    document: MessageDocument,
    hidden: frozenset[str],
    style: HouseStyle,
    frame: Frame,
    pictures: tuple[tuple[str, PictureFacts], ...],
) -> Template:
    return lay_out(document, hidden, style, frame, dict(pictures))
