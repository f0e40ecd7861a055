"""Rehearsing a sheet: what it would make of each of the last submissions; nothing is kept."""

from dataclasses import dataclass

from core.deciding import Effect, RouteDocument
from core.history import Allowed
from server.sources.models import Source
from server.submissions.models import Submission

from .redeciding import Group, Redeciding

MOST = 500
_ALL: frozenset[Allowed] = frozenset({"removals", "sequences", "messages", "services"})


@dataclass(frozen=True)
class Rehearsed:
    """One submission: who it gives, what the lines make of it, and what differs from before."""

    submission: Submission
    address: str
    outcomes: tuple[str, ...]
    problems: tuple[str, ...]
    effects: tuple[Effect, ...]


def rehearse(source: Source, document: RouteDocument, most: int = MOST) -> list[Rehearsed]:
    """The last submissions, the newest first, each by itself, by the rules of a replay."""
    again = Redeciding(source, document, None)
    rows = list(
        Submission.objects.of(source.workspace)
        .filter(source=source, is_test=False, forgotten_at=None)
        .defer("raw", "decision", "signs")
        .order_by("-received_at", "-pk")[:most]
    )
    groups = [
        Group((str(one.pk),), one.subscriber_id, "" if one.subscriber_id else again.address_of(one))
        for one in rows
    ]
    found = []
    for row, replayed in zip(rows, again.decide(groups, _ALL, "rehearsal"), strict=True):
        decision = replayed.decisions[0][1] if replayed.decisions else None
        found.append(
            Rehearsed(
                submission=row,
                address=(decision.address or "") if decision else "",
                outcomes=tuple(one.text for one in decision.outcomes if one.acts)
                if decision
                else (),
                problems=tuple(one.sentence for one in decision.problems) if decision else (),
                effects=replayed.effects,
            )
        )
    return found
