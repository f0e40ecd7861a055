"""What is to be written about people, collected first and written in few statements.

It holds the last state of each (person, thing): whatever was said before, what is written is
right by construction.
"""

from uuid import UUID

from django.db import connection

from server.workspaces.arrays import array
from server.workspaces.causes import CAUSE
from server.workspaces.copying import store_all, update_all

from .chain import sealed
from .models import Evidence, Fact, Membership, Subscriber, Tagging, Task
from .trail import store_facts

_UNTAG = """
DELETE FROM people_tagging AS row USING unnest(%s::uuid[], %s::uuid[]) AS gone (person, tag)
WHERE row.subscriber_id = gone.person AND row.tag_id = gone.tag
"""
_PERSONAL = ("values", "searched", "folded", "score", "owner", "left_all_at", "time_zone")


class Ledger:
    """Rows of many people; `write` stores them all, in the caller's transaction. Tags, evidence, facts
    and new memberships are plain rows."""

    def __init__(self) -> None:
        self.new: list[Subscriber] = []
        self._changed: dict[UUID, Subscriber] = {}
        self.evidence: list[Evidence] = []
        self.facts: list[Fact] = []
        self.tasks: list[Task] = []
        self._tags: dict[tuple[UUID, UUID], Tagging | None] = {}
        self._untagged: set[tuple[UUID, UUID]] = set()
        self._new_memberships: dict[tuple[UUID, UUID], Membership] = {}
        self._changed_memberships: dict[tuple[UUID, UUID], Membership] = {}

    def change(self, subscriber: Subscriber) -> None:
        """Somebody stored whose own row changes."""
        self._changed[subscriber.pk] = subscriber

    def tag(self, row: Tagging) -> None:
        """Put a tag on somebody who does not have it."""
        self._tags[row.subscriber_id, row.tag_id] = row

    def untag(self, subscriber: Subscriber, tag: str) -> None:
        """Remove a tag, stored or entered here before."""
        key = (subscriber.pk, UUID(tag))
        self._tags[key] = None
        self._untagged.add(key)

    def membership(self, subscriber: Subscriber, list_id: str) -> Membership | None:
        """The membership as entered here before."""
        key = (subscriber.pk, UUID(list_id))
        return self._new_memberships.get(key) or self._changed_memberships.get(key)

    def new_membership(self, row: Membership) -> None:
        """A membership that is not stored yet."""
        self._new_memberships[row.subscriber_id, row.list_id] = row

    def change_membership(self, row: Membership) -> None:
        """A membership that changes; one that is new here stays new."""
        key = (row.subscriber_id, row.list_id)
        if key not in self._new_memberships:
            self._changed_memberships[key] = row

    def write(self) -> None:
        """Store everything, people first."""
        store_all(self.new)
        update_all(list(self._changed.values()), _PERSONAL)
        if self._untagged:
            people, tags = zip(*sorted(self._untagged), strict=True)
            with connection.cursor() as cursor:
                cursor.execute(_UNTAG, [array(people), array(tags)])
        store_all([one for one in self._tags.values() if one is not None])
        store_all(list(self._new_memberships.values()))
        changed = list(self._changed_memberships.values())
        update_all(changed, ("state", "changed_at", "left_at", *CAUSE))
        store_all(sealed(self.evidence))
        store_facts(self.facts)
        store_all(self.tasks)
