"""What a document does with the tags, lists, sequences and messages that it names."""

from collections.abc import Iterator
from typing import Literal

from .conditions import HappenedTest, MembershipTest, RunTest, TagTest, leaves
from .documents import Frozen
from .route_document import (
    AddTags,
    ChangeSubscription,
    RemoveTags,
    RouteDocument,
    Rule,
    SendNow,
    StartSequence,
    StopSequence,
    TagByAnswer,
)
from .sequences.document import SendStep, SequenceDocument

How = Literal["fills", "confirms", "takes", "looks at", "starts", "ends", "sends", "belongs to"]


class Use(Frozen):
    """One thing that a document names, and what it does with it."""

    id: str
    how: How


def uses_of_route(route: RouteDocument) -> tuple[Use, ...]:
    """Everything that a sheet does with what exists, each once."""
    return tuple(dict.fromkeys(_route(route)))


def uses_of_sequence(sequence: SequenceDocument) -> tuple[Use, ...]:
    """Everything that a sequence does with what exists, each once."""
    return tuple(dict.fromkeys(_sequence(sequence)))


def _route(route: RouteDocument) -> Iterator[Use]:
    for line in route.consent:
        if line.list:
            yield Use(id=line.list, how="fills")
            if line.confirm:
                yield Use(id=line.list, how="confirms")
    for rule in route.then:
        yield from _condition(rule)
        match rule.action:
            case AddTags(tags=tags):
                yield from (Use(id=tag, how="fills") for tag in tags)
            case RemoveTags(tags=tags):
                yield from (Use(id=tag, how="takes") for tag in tags)
            case TagByAnswer(table=table):
                yield from (Use(id=tag, how="fills") for row in table for tag in row.tags)
            case ChangeSubscription(list=one, direction=direction) if one:
                if direction != "unsubscribe":
                    yield Use(id=one, how="fills")
                if direction != "subscribe":
                    yield Use(id=one, how="takes")
            case StartSequence(sequence=one) if one:
                yield Use(id=one, how="starts")
            case StopSequence(sequence=one) if one:
                yield Use(id=one, how="ends")
            case SendNow(message=message, list=one):
                if message:
                    yield Use(id=message, how="sends")
                if one:
                    yield Use(id=one, how="belongs to")


def _condition(rule: Rule) -> Iterator[Use]:
    for leaf in leaves(rule.when) if rule.when else ():
        match leaf:
            case (
                TagTest(tag=one)
                | MembershipTest(list=one)
                | RunTest(sequence=one)
                | HappenedTest(what="submitted" | "confirmed" | "sent", about=one)
            ) if one:
                yield Use(id=one, how="looks at")


def _sequence(sequence: SequenceDocument) -> Iterator[Use]:
    if sequence.list:
        yield Use(id=sequence.list, how="belongs to")
    for lane in sequence.lanes:
        for step in lane.steps:
            if isinstance(step, SendStep) and step.message:
                yield Use(id=step.message, how="sends")
