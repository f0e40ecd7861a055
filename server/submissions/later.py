"""What is known of a person by something received later than a submission that is decided now.

That happens to what was held, or stopped by a snag, and let through afterwards. It then changes
nothing that a later submission, a member or the person has changed since.
"""

from collections.abc import Sequence
from datetime import datetime
from uuid import UUID

from django.db.models import Max

from server.people.models import Fact, Subscriber
from server.workspaces.among import among

from .models import Submission

Changed = frozenset[tuple[str, str]]


def changed_since(
    batch: Sequence[tuple[Submission, Subscriber | None]],
) -> dict[UUID, Changed]:
    """For each submission of somebody known: the fields and tags that were changed by what came
    after it. In two statements for all, one where nothing came late, as nearly always."""
    known = [(one, person) for one, person in batch if person is not None]
    if not known:
        return {}
    people = [person.pk for _, person in known]
    first = min(one.received_at for one, _ in known)
    newest = dict(
        Fact.everywhere.filter(among("subscriber", people), kind__in=("field", "tag"), at__gt=first)
        .values_list("subscriber_id")
        .annotate(last=Max("at"))
        .order_by()
    )
    late = [(one, person) for one, person in known if person.pk in newest]
    if not late:
        return {}
    facts = Fact.everywhere.filter(
        among("subscriber", [person.pk for _, person in late]),
        kind__in=("field", "tag"),
        at__gt=first,
    ).values_list("subscriber_id", "kind", "what", "at", "by_submission")
    rows = list(facts)
    received = _received({row[4] for row in rows if row[4]})
    found: dict[UUID, Changed] = {}
    for one, person in late:
        found[one.pk] = frozenset(
            (kind, str(what["key"] if kind == "field" else what["id"]))
            for owner, kind, what, at, submission in rows
            if owner == person.pk and received.get(submission, at) > one.received_at
        )
    return found


def _received(ids: set[UUID]) -> dict[UUID, datetime]:
    rows = Submission.everywhere.filter(among("pk", ids)).values_list("pk", "received_at")
    return dict(rows)
