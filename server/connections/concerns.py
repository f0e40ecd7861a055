"""For how many of the last people a mapping would go wrong, before it is turned on."""

from collections import Counter
from collections.abc import Sequence
from uuid import UUID

from ninja import Schema

from core.deciding import prepare
from core.documents import Problem
from core.services import Handover
from server.people.facts import person_of
from server.people.models import Subscriber
from server.sequences.models import Run
from server.services.facts import service_facts
from server.services.handing import catalogue_for
from server.services.models import Service
from server.submissions.models import Submission
from server.workspaces.models import Workspace

MOST = 500


class Concern(Schema):
    """One thing that goes wrong, and for how many."""

    line: str
    label: str
    code: str
    example: str
    count: int


Come = tuple[Subscriber, list[list[str]]]
"""Somebody who came, with their answers."""


def last_of_source(workspace: Workspace, source: UUID, most: int = MOST) -> list[Come]:
    """The last people who came in by a source."""
    rows = (
        Submission.objects.of(workspace)
        .filter(source=source, is_test=False)
        .exclude(subscriber=None)
        .select_related("subscriber")
        .prefetch_related("subscriber__memberships")
        .order_by("-received_at", "-pk")[:most]
    )
    return [(row.subscriber, row.answers) for row in rows if row.subscriber is not None]


def entered_last(workspace: Workspace, sequence: UUID, most: int = MOST) -> list[Come]:
    """The last people who entered a sequence."""
    runs = (
        Run.objects.of(workspace)
        .filter(sequence=sequence, subscriber__is_test=False)
        .select_related("subscriber")
        .prefetch_related("subscriber__memberships")
        .order_by("-pk")[:most]
    )
    return [(run.subscriber, run.answers) for run in runs]


def last_of_sequence(workspace: Workspace, sequence: UUID, most: int = MOST) -> list[Come]:
    """The same; where nobody has entered yet, the last who were added at all: to be looked at alone."""
    found = entered_last(workspace, sequence, most)
    if found:
        return found
    people = Subscriber.objects.of(workspace).filter(is_test=False).order_by("-added_at", "-pk")
    return [(one, []) for one in people.prefetch_related("memberships")[:most]]


def concerns(service: Service, handover: Handover, people: Sequence[Come]) -> list[Concern]:
    """Of some people, what goes wrong for how many."""
    facts = service_facts(service)
    catalogue = catalogue_for(service.workspace, facts)
    counts: Counter[tuple[str, str]] = Counter()
    examples: dict[tuple[str, str], Problem] = {}
    labels = {one.key: one.shown for one in facts.fields}
    to = {line.id: labels.get(line.to, line.to) for line in handover.lines}
    for subscriber, given in people:
        answers = tuple((name, text) for name, text in given)
        subscriber.workspace = service.workspace
        person = person_of(subscriber, tags=False)
        prepared = prepare(handover, facts, person, answers, catalogue)
        problems = (prepared,) if isinstance(prepared, Problem) else prepared.problems
        # Once for each person, however many parts of one thing are wrong.
        for key in {(one.place, one.code): one for one in problems}:
            counts[key] += 1
        for one in problems:
            examples.setdefault((one.place, one.code), one)
    return [
        Concern(
            line=line,
            label=to.get(line, ""),
            code=code,
            example=examples[line, code].sentence,
            count=count,
        )
        for (line, code), count in counts.most_common()
    ]
