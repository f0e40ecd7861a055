"""The people of an audience out: CSV (RFC 4180), JSON lines, vCard (RFC 6350), as a stream."""

import json
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Literal
from uuid import UUID

from core.conditions import Condition, FrozenTest
from core.people import Card, vcard
from core.reading import write_row
from server.people.facts import field_facts
from server.people.models import Field, FrozenGroup, Membership, Subscriber, Tagging
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.expensive import expensive_read
from server.workspaces.history import changes
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

from .actions import refuse_unready
from .models import Audience, live_document
from .query import audience_query

Form = Literal["csv", "jsonl", "vcf"]
TYPES: dict[Form, str] = {
    "csv": "text/csv; charset=utf-8; header=present",
    "jsonl": "application/jsonl",
    "vcf": "text/vcard; charset=utf-8",
}
_CHUNK = 500
EXPORT_SECONDS = 20
"""For finding everybody: longer than a count, which somebody waits for."""


@dataclass
class _Line:
    """A person with what is said of them."""

    row: Subscriber
    tags: list[str]
    lists: list[str]
    """To which they are subscribed."""


@changes("exported the people of the audience “{audience.name}” ({form})")
def export_audience(audience: Audience, form: Form) -> Iterator[str]:
    """Everybody whom the live revision fits now, a set at a time."""
    workspace, document = audience.workspace, live_document(audience)
    # One that asks nothing yet would hand out everybody.
    refuse_unready(document, workspace)
    return _export(workspace, document.who, form)


@changes("exported the people of the frozen group “{group.name}” ({form})")
def export_group(group: FrozenGroup, form: Form) -> Iterator[str]:
    """Everybody in it, a set at a time."""
    return _export(group.workspace, FrozenTest(group=str(group.pk)), form)


def _export(workspace: Workspace, who: Condition, form: Form) -> Iterator[str]:
    rows = audience_query(who, workspace, full_catalogue(workspace), clock.now(workspace))
    # Before the answer begins, so that it can still be refused.
    with expensive_read(workspace, EXPORT_SECONDS):
        ids = list(rows.order_by("-added_at", "-pk").values_list("pk", flat=True))
    fields = list(Field.objects.of(workspace).exclude(key="email").order_by("label"))
    return _FORMS[form](_lines(workspace, ids), fields)


def _lines(workspace: Workspace, ids: list[UUID]) -> Iterator[_Line]:
    """A set at a time, so that nothing is held open while somebody downloads slowly."""
    for begin in range(0, len(ids), _CHUNK):
        chunk = ids[begin : begin + _CHUNK]
        people = Subscriber.objects.of(workspace).filter(among("pk", chunk)).in_bulk()
        tags = _named(
            Tagging.objects.of(workspace)
            .filter(among("subscriber", chunk))
            .order_by("tag__name")
            .values_list("subscriber_id", "tag__name")
        )
        lists = _named(
            Membership.objects.of(workspace)
            .filter(among("subscriber", chunk), state=Membership.State.SUBSCRIBED)
            .order_by("list__name")
            .values_list("subscriber_id", "list__name")
        )
        for pk in chunk:
            # Who was erased meanwhile is not exported.
            if pk in people:
                yield _Line(people[pk], tags.get(pk, []), lists.get(pk, []))


def _named(pairs: Iterable[tuple[UUID, str]]) -> dict[UUID, list[str]]:
    found: dict[UUID, list[str]] = {}
    for person, name in pairs:
        found.setdefault(person, []).append(name)
    return found


def _as_csv(lines: Iterator[_Line], fields: list[Field]) -> Iterator[str]:
    yield write_row(
        ("address", *(one.label for one in fields), "tags", "subscribed to", "score", "since")
    )
    facts = [(one.key, field_facts(one)) for one in fields]
    for line in lines:
        values = line.row.values
        yield write_row(
            (
                line.row.address,
                *(
                    one.shown(values[key]) if values.get(key) not in (None, "", []) else ""
                    for key, one in facts
                ),
                "\n".join(line.tags),
                "\n".join(line.lists),
                str(line.row.score),
                line.row.added_at.isoformat(timespec="seconds"),
            )
        )


def _as_json_lines(lines: Iterator[_Line], fields: list[Field]) -> Iterator[str]:
    keys = [one.key for one in fields]
    for line in lines:
        person: Json = {
            "id": str(line.row.pk),
            "address": line.row.address,
            "values": {key: line.row.values[key] for key in keys if key in line.row.values},
            "tags": line.tags,
            "subscribed_to": line.lists,
            "score": line.row.score,
            "since": line.row.added_at.isoformat(timespec="seconds"),
        }
        yield json.dumps(person, ensure_ascii=False) + "\n"


def _as_vcards(lines: Iterator[_Line], fields: list[Field]) -> Iterator[str]:
    phones = [one.key for one in fields if one.type == "phone"]
    links = [one.key for one in fields if one.type == "url"]
    for line in lines:
        values = line.row.values
        yield vcard(
            Card(
                uid=str(line.row.pk),
                address=line.row.address,
                given=str(values.get("first_name") or ""),
                family=str(values.get("last_name") or ""),
                phones=[str(values[key]) for key in phones if values.get(key)],
                links=[str(values[key]) for key in links if values.get(key)],
                birthday=str(values.get("birthday") or ""),
                categories=line.tags,
            )
        )


_FORMS: dict[Form, Callable[[Iterator[_Line], list[Field]], Iterator[str]]] = {
    "csv": _as_csv,
    "jsonl": _as_json_lines,
    "vcf": _as_vcards,
}
