"""Rehearsal of a sequence as it is shown, with somebody real or made up: nothing is sent or stored."""

from collections.abc import Mapping
from collections.abc import Sequence as Sequence_
from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from core.documents import Problem
from core.people import MembershipState, Person
from core.sequences import (
    Assumption,
    Journey,
    Rehearsal,
    SequenceDocument,
    rehearse,
)
from core.values import Kept, ReadingOptions, read
from server.mail.deciding import gap_of, times_of
from server.people.facts import fields_of
from server.people.models import Subscriber
from server.workspaces import clock
from server.workspaces.actions import known_zone
from server.workspaces.errors import Refused, refuse
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

from .facts import catalogue_of
from .models import Sequence, shown_document
from .people import persons_by_id

LONGEST = timedelta(days=400)


@dataclass(frozen=True)
class MadeUp:
    """Somebody who does not exist, with the fields that matter."""

    time_zone: str = ""
    values: dict[str, str] | None = None
    """By the keys of fields."""
    tags: tuple[str, ...] = ()
    on_list: MembershipState = "subscribed"


def rehearse_for(
    sequence: Sequence,
    who: Subscriber | MadeUp,
    lane: str | None,
    door: str,
    start: datetime | None,
    assumptions: Sequence_[Assumption],
) -> tuple[Rehearsal, Person]:
    """The way of somebody through a sequence as it is shown, entering a lane at `start` (now, where
    None), by the rules that run live."""
    workspace = sequence.workspace
    document = shown_document(sequence)
    now = start or clock.now(workspace)
    person = person_for(sequence, who, document)
    journey = Journey(
        sequence_id=str(sequence.pk),
        name=sequence.name,
        subscriber_id=str(who.pk) if isinstance(who, Subscriber) else "made up",
        catalogue=catalogue_of(workspace),
        times=times_of(workspace),
        gap=gap_of(workspace),
        entered_at=now,
        door=door,
        act="" if (found := document.door(door)) is not None and not found.asked else "rehearsal",
    )
    return rehearse(document, lane, person, now, journey, assumptions, now + LONGEST), person


def person_for(sequence: Sequence, who: Subscriber | MadeUp, document: SequenceDocument) -> Person:
    """Somebody for the core, with all that conditions look at."""
    if isinstance(who, Subscriber):
        found: dict[UUID, Person] = persons_by_id(sequence.workspace, [who.pk], history=True)
        return found[who.pk]
    zone = known_zone(who.time_zone or sequence.workspace.time_zone)
    memberships: Json = {document.list: who.on_list} if document.list else {}
    return Person(
        address="somebody@example.com",
        values=_values_of(sequence.workspace, who.values or {}),
        tags=frozenset(who.tags),
        memberships=memberships,
        time_zone=zone,
    )


def _values_of(workspace: Workspace, written: Mapping[str, str]) -> dict[str, Kept]:
    """What is written of somebody made up, read as fields keep it. Refused, each with its field, where it
    cannot be read."""
    fields = {one.key: one for one in fields_of(workspace).values()}
    values: dict[str, Kept] = {}
    wrong: list[Problem] = []
    for key, text in written.items():
        field = fields.get(key)
        if field is None:
            raise refuse("field_gone", key, f"There is no field {key}.", "Choose another field.")
        options = ReadingOptions(choices=field.choices, country=workspace.country)
        value = read(field.type, text, options)
        if isinstance(value, Problem):
            wrong.append(value.model_copy(update={"place": key}))
        elif value not in ("", ()):
            values[key] = value
    if wrong:
        raise Refused("Some values cannot be read.", tuple(wrong))
    return values
