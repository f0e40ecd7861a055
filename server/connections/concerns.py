"""For how many of the last people a mapping would go wrong, before it is turned on."""

from collections import Counter
from uuid import UUID

from ninja import Schema

from core.deciding import prepare
from core.documents import Problem
from core.services import Handover
from server.services.facts import service_facts
from server.services.handing import catalogue_for, person_for
from server.services.models import Service
from server.submissions.models import Submission

MOST = 500


class Concern(Schema):
    """One thing that goes wrong, and for how many."""

    line: str
    label: str
    code: str
    example: str
    count: int


def concerns(service: Service, handover: Handover, source: UUID) -> tuple[list[Concern], int]:
    """Of the last people who came in by a source: what goes wrong for how many, and how many there
    were."""
    facts = service_facts(service)
    catalogue = catalogue_for(service.workspace, facts)
    rows = (
        Submission.objects.of(service.workspace)
        .filter(source=source, is_test=False)
        .exclude(subscriber=None)
        .select_related("subscriber")
        .prefetch_related("subscriber__memberships")
        .order_by("-received_at", "-pk")[:MOST]
    )
    counts: Counter[tuple[str, str]] = Counter()
    examples: dict[tuple[str, str], Problem] = {}
    labels = {one.key: one.shown for one in facts.fields}
    to = {line.id: labels.get(line.to, line.to) for line in handover.lines}
    for row in rows:
        answers = tuple((name, text) for name, text in row.answers)
        person = person_for(row.subscriber, suppressed=False)
        prepared = prepare(handover, facts, person, answers, catalogue)
        problems = (prepared,) if isinstance(prepared, Problem) else prepared.problems
        # Once for each person, however many parts of one thing are wrong.
        for key in {(one.place, one.code): one for one in problems}:
            counts[key] += 1
        for one in problems:
            examples.setdefault((one.place, one.code), one)
    found = [
        Concern(
            line=line,
            label=to.get(line, ""),
            code=code,
            example=examples[line, code].sentence,
            count=count,
        )
        for (line, code), count in counts.most_common()
    ]
    return found, len(rows)
