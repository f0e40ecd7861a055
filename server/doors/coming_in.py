"""People who come in by a door, a page of them at a time."""

from collections.abc import Callable, Sequence
from uuid import UUID

from core.conditions import Group
from core.people import Person
from core.sequences import Door
from server.people.locks import lock_keys, people_by_key
from server.people.models import Subscriber
from server.sequences.entering import enter_all
from server.sequences.facts import catalogue_of
from server.sequences.journeys import looks_back, needs_past
from server.sequences.listening import LiveSequence
from server.sequences.people import persons_by_id
from server.sequences.signals import by_door
from server.sequences.step_effects import Entering
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.models import Workspace

PAGE = 500
"""People who come in within one transaction."""
Still = Callable[[UUID, Person], bool]


def let_in(
    workspace: Workspace,
    sequence: LiveSequence,
    door: Door,
    people: Sequence[UUID],
    still: Still,
    member: str | None = None,
    *,
    looks_at: Group | None = None,
) -> int:
    """Let in those of the people for whom the door is open, in the caller's transaction; how many.

    `still`: whether what opens it for somebody is so now that they are locked; `looks_at`: a condition
    that it looks at, which is none of the sequence's own.
    """
    catalogue = catalogue_of(workspace)
    keys = list(
        Subscriber.objects.of(workspace)
        .filter(among("pk", people))
        .values_list("address_key", flat=True)
    )
    lock_keys(workspace.pk, keys)
    rows = {one.pk: one for one in people_by_key(workspace, keys, alone=True).values()}
    back = looks_back(sequence.document) or (looks_at is not None and needs_past(looks_at))
    persons = persons_by_id(workspace, rows, history=back)
    coming: list[Entering] = []
    for pk, row in rows.items():
        person = persons[pk]
        if not still(pk, person):
            continue
        coming += by_door(workspace, sequence, door, row, person, catalogue, member)
    if coming:
        enter_all(workspace, coming, clock.now(workspace), persons=persons)
    return len(coming)
