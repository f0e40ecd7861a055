"""The tags and memberships of people, read for many at once.

Django's `prefetch_related` makes a manager and a query for each person and relation, which takes longer
than to read the people.
"""

from collections.abc import Collection, Iterable
from uuid import UUID

from server.workspaces.among import among

from .models import Membership, Subscriber, Tagging


def prefetch_relations(people: Collection[Subscriber], *, tags: bool = True) -> None:
    """Read the memberships of people, and their tags, in a statement each. What is at hand stays."""
    memberships = {one.pk: one for one in people if one.memberships_at_hand is None}
    tagged = {one.pk: one for one in people if tags and one.tags_at_hand is None}
    for one in memberships.values():
        one.memberships_at_hand = []
    for one in tagged.values():
        one.tags_at_hand = []
    if memberships:
        for row in Membership.everywhere.filter(among("subscriber", memberships)):
            memberships[row.subscriber_id].memberships_at_hand.append(row)  # type: ignore[union-attr]
    if tagged:
        rows = Tagging.everywhere.filter(among("subscriber", tagged))
        for person, tag in rows.values_list("subscriber_id", "tag_id"):
            tagged[person].tags_at_hand.append(tag)  # type: ignore[union-attr]


def memberships_of(subscriber: Subscriber) -> Iterable[Membership]:
    """The memberships of one person, at hand or read now."""
    at_hand = subscriber.memberships_at_hand
    return subscriber.memberships.all() if at_hand is None else at_hand


def tags_of(subscriber: Subscriber) -> Iterable[UUID]:
    """The ids of the tags of one person, at hand or read now."""
    at_hand = subscriber.tags_at_hand
    return subscriber.taggings.values_list("tag_id", flat=True) if at_hand is None else at_hand
