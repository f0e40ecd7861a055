"""What is to be written about people, collected first and written in few statements."""

from django.db.models import Model

from .models import Evidence, Fact, Membership, Subscriber, Tagging


class Ledger:
    """Rows of many people; `write` stores them all, in the caller's transaction."""

    def __init__(self) -> None:
        self.new: list[Subscriber] = []
        self.changed: list[Subscriber] = []
        self.taggings: list[Tagging] = []
        self.new_memberships: list[Membership] = []
        self.changed_memberships: list[Membership] = []
        self.evidence: list[Evidence] = []
        self.facts: list[Fact] = []

    def write(self) -> None:
        """Store everything, people first."""
        _create(self.new)
        if self.changed:
            Subscriber.everywhere.bulk_update(self.changed, ["values", "searched"])
        _create(self.taggings)
        _create(self.new_memberships)
        if self.changed_memberships:
            Membership.everywhere.bulk_update(
                self.changed_memberships, ["state", "changed_at", "because"]
            )
        _create(self.evidence)
        _create(self.facts)


def _create(
    rows: "list[Subscriber] | list[Tagging] | list[Membership] | list[Evidence] | list[Fact]",
) -> None:
    if rows:
        model: type[Model] = type(rows[0])
        model._default_manager.bulk_create(rows)
