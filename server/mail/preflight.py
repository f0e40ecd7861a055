"""Pre-flight of a message as it is edited: its text, and whom it could not be sent to."""

from collections.abc import Iterator, Mapping

from django.db.models import Q

from core.conditions import say
from core.deciding import check_condition
from core.documents import Finding, Problem
from core.messages import OWN_LINKS, MessageDocument, check_size, check_style, every_block
from core.people import FieldFacts
from server.people.facts import fields_of
from server.people.models import Subscriber
from server.workspaces.documents import draft_of
from server.workspaces.models import Workspace

from .models import Message, live_document, shown_document
from .pictures import logo_pixels, pictures_of
from .readers import catalogue_of
from .sandbox import check_document, needed
from .writing import Reader, style_of, write_message

NOWHERE = dict.fromkeys(OWN_LINKS, "#")
"""The links that are made for each email, where there is none: they lead nowhere."""


def check(message: Message) -> tuple[Finding, ...]:
    """What keeps a message from being sent as it is edited, and what is worth a look."""
    return _check(message, shown_document(message))


def check_live(message: Message) -> tuple[Finding, ...]:
    """The same of what is sent, for whatever sends it; and whether there is a draft besides."""
    found = _check(message, live_document(message))
    if draft_of(message.revisions.all()) is None:
        return found
    draft = Finding(
        code="message_draft",
        sentence=f"“{message.name}” has changes that are not live; what was live before is sent.",
        fix="Turn them on in the message.",
        stops=False,
    )
    return (*found, draft)


def _check(message: Message, document: MessageDocument) -> tuple[Finding, ...]:
    workspace = message.workspace
    fields, style = fields_of(workspace), style_of(workspace)
    has_file = message.files.filter(attached=False).exists()
    found = check_document(
        message.name, document, fields, pictures_of(workspace), has_file=has_file
    )
    return (
        *found,
        *_conditions(message, document),
        *_missing_values(message, document, fields),
        *_size(message, document),
        *(
            one.model_copy(update={"stops": False})
            for one in check_style(style, logo_pixels(workspace, style))
        ),
    )


def _conditions(message: Message, document: MessageDocument) -> Iterator[Finding]:
    """What is wrong with whom blocks are for."""
    if not any(block.only for block in every_block(document)):
        return
    catalogue = catalogue_of(message.workspace)
    for block in every_block(document):
        if block.only is not None:
            yield from check_condition(
                block.only, f"block-{block.id}", "block", catalogue, lambda _, __: iter(())
            )


def whom_blocks_are_for(workspace: Workspace, document: MessageDocument) -> dict[str, str]:
    """By id of a block that is for some people alone, whom it is for, in words."""
    limited = [block for block in every_block(document) if block.only is not None]
    if not limited:
        return {}
    catalogue = catalogue_of(workspace)
    return {block.id: say(block.only, catalogue) for block in limited if block.only is not None}


def _size(message: Message, document: MessageDocument) -> Iterator[Finding]:
    written = write_message(message.workspace, document, Reader(None), NOWHERE)
    if not isinstance(written, Problem):
        yield from check_size(message.name, written.filled.html)


def _missing_values(
    message: Message, document: MessageDocument, fields: Mapping[str, FieldFacts]
) -> Iterator[Finding]:
    labels = {one.key: one.label for one in fields.values()}
    for key in needed(document):
        if key not in labels or key == "email":
            continue
        without = Subscriber.objects.of(message.workspace).filter(
            Q(**{f"values__{key}": ""}) | Q(**{f"values__{key}__isnull": True})
        )
        count = without.count()
        if not count:
            continue
        some = list(without.order_by("-added_at").values_list("address", flat=True)[:3])
        who = ", ".join(some) + (" and others" if count > len(some) else "")
        people = "1 person has" if count == 1 else f"{count} people have"
        yield Finding(
            code="no_fallback",
            place=f"token-{key}",
            sentence=f"“{message.name}” needs {labels[key]}, and {people} none ({who}): "
            "they would not be sent it.",
            fix=f"Give {labels[key]} a fallback in the message.",
            stops=False,
        )
