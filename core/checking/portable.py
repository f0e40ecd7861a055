"""Documents out and in as JSON: what they refer to travels by name, and is found again by it."""

from collections.abc import Iterator, Mapping
from typing import Any, Literal

from pydantic import Field

from ..documents import Frozen, folded
from ..people import Catalogue

DocumentKind = Literal["route", "sequence", "message", "broadcast"]
ReferenceKind = Literal[
    "field",
    "tag",
    "list",
    "sequence",
    "message",
    "member",
    "source",
    "service",
    "audience",
    "group",
]
FORM = 1
"""The version of this form of document."""


class Reference(Frozen):
    """What an id in the document stands for."""

    kind: ReferenceKind
    name: str
    type: str = ""
    """Of a field its type."""


class Portable(Frozen):
    """A document of a workspace, to be read elsewhere."""

    form: int = FORM
    kind: DocumentKind
    name: str = Field(max_length=200)
    references: dict[str, Reference]
    document: dict[str, Any]


def packed(kind: DocumentKind, name: str, document: Any, catalogue: Catalogue) -> Portable:
    """`document` (as JSON) with the names of all that it refers to."""
    known = _known(catalogue)
    used = {text: known[text] for text in _texts(document) if text in known}
    return Portable(kind=kind, name=name, references=used, document=document)


def unpacked(portable: Portable, catalogue: Catalogue) -> tuple[dict[str, Any], list[Reference]]:
    """The document for this workspace, and what it refers to that is not there by that name.

    An id that is of the same kind here stays: the document came from this workspace.
    """
    here = _known(catalogue)
    by_name: dict[tuple[str, str, str], str] = {}
    for pk, one in here.items():
        by_name.setdefault((one.kind, folded(one.name), one.type), pk)
    translated: dict[str, str] = {}
    missing: list[Reference] = []
    for pk, wanted in portable.references.items():
        if pk in here and here[pk].kind == wanted.kind:
            continue
        found = by_name.get((wanted.kind, folded(wanted.name), wanted.type))
        if found is None:
            missing.append(wanted)
        else:
            translated[pk] = found
    document = _translated(portable.document, translated)
    return document, sorted(missing, key=lambda one: (one.kind, one.name))


def _known(catalogue: Catalogue) -> dict[str, Reference]:
    found: dict[str, Reference] = {}
    for pk, field in catalogue.fields.items():
        found[pk] = Reference(kind="field", name=field.label, type=field.type)
    for pk, sequence in catalogue.sequences.items():
        found[pk] = Reference(kind="sequence", name=sequence.name)
    named: tuple[tuple[ReferenceKind, Mapping[str, str]], ...] = (
        ("tag", catalogue.tags),
        ("list", catalogue.lists),
        ("message", catalogue.messages),
        ("audience", catalogue.audiences),
        ("group", catalogue.groups),
        ("member", catalogue.members),
        ("source", catalogue.sources),
        ("service", {pk: one.name for pk, one in catalogue.services.items()}),
    )
    for kind, names in named:
        for pk, name in names.items():
            found[pk] = Reference(kind=kind, name=name)
    return found


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, Mapping):
        for each in value.values():
            yield from _texts(each)
    elif isinstance(value, list | tuple):
        for each in value:
            yield from _texts(each)


def _translated(value: Any, ids: Mapping[str, str]) -> Any:
    if isinstance(value, str):
        return ids.get(value, value)
    if isinstance(value, Mapping):
        return {key: _translated(each, ids) for key, each in value.items()}
    if isinstance(value, list | tuple):
        return [_translated(each, ids) for each in value]
    return value
