"""What is to be written about people, collected first and written in few statements."""

from server.workspaces.copying import store_all

from .models import Evidence, Fact, Membership, Subscriber, Tagging, Task


class Ledger:
    """Rows of many people; `write` stores them all, in the caller's transaction."""

    def __init__(self) -> None:
        self.new: list[Subscriber] = []
        self.changed: list[Subscriber] = []
        self.taggings: list[Tagging] = []
        self.untagged: list[tuple[Subscriber, str]] = []
        self.new_memberships: list[Membership] = []
        self.changed_memberships: list[Membership] = []
        self.evidence: list[Evidence] = []
        self.facts: list[Fact] = []
        self.tasks: list[Task] = []

    def write(self) -> None:
        """Store everything, people first."""
        store_all(self.new)
        if self.changed:
            Subscriber.everywhere.bulk_update(
                self.changed, ["values", "searched", "folded", "score", "owner"]
            )
        store_all(self.taggings)
        for subscriber, tag in self.untagged:
            Tagging.everywhere.filter(subscriber=subscriber, tag=tag).delete()
        store_all(self.new_memberships)
        if self.changed_memberships:
            Membership.everywhere.bulk_update(
                self.changed_memberships, ["state", "changed_at", "because"]
            )
        store_all(self.evidence)
        store_all(self.facts)
        store_all(self.tasks)
