"""What a route would make of answers, by the rules that will run."""

from dataclasses import replace
from datetime import datetime

from core.deciding import (
    Decision,
    RouteDocument,
    SubmissionFacts,
    context_answers,
    decide,
    submitted_address,
)
from core.reading import Answers
from core.sources import KINDS
from server.people.addresses import find_by_address
from server.people.suppression import suppressed_among
from server.sequences.people import people_of
from server.sources.catalogue import full_catalogue
from server.sources.models import Source
from server.workspaces.shapes import Json


def sample(
    source: Source,
    document: RouteDocument,
    answers: Answers,
    context: Json,
    now: datetime,
) -> Decision:
    """What `document` would make of `answers`, by the very rules that will run; nothing is kept."""
    catalogue = full_catalogue(source.workspace)
    facts = SubmissionFacts(
        source_id=str(source.pk),
        source_name=source.name,
        answers=answers,
        context=context_answers(context, source.name, now),
        own=KINDS[source.kind].own,
    )
    address = submitted_address(document, facts.everything, catalogue)
    to = address if isinstance(address, str) else None
    subscriber = find_by_address(source.workspace, to) if to else None
    if to and subscriber is None:
        facts = replace(facts, suppressed=bool(suppressed_among(source.workspace, [to])))
    found = people_of([subscriber] if subscriber else [], source.workspace, history=True)
    person = found[subscriber.pk] if subscriber else None
    return decide(facts, document, person, catalogue, now)
