"""What a document does with the tags, lists, sequences and messages that it names."""

from collections.abc import Iterator

from ..conditions import FrozenTest, Group, HappenedTest, MembershipTest, RunTest, TagTest, leaves
from ..deciding import RouteDocument
from ..documents import Use
from ..sequences import SequenceDocument


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
        yield from _condition(rule.when)
        yield from rule.action.uses()


def _condition(condition: Group | None) -> Iterator[Use]:
    for leaf in leaves(condition) if condition else ():
        match leaf:
            case (
                TagTest(tag=one)
                | MembershipTest(list=one)
                | RunTest(sequence=one)
                | FrozenTest(group=one)
                | HappenedTest(
                    what="submitted" | "confirmed" | "sent" | "opened" | "clicked", about=one
                )
            ) if one:
                yield Use(id=one, how="looks at")


def _sequence(sequence: SequenceDocument) -> Iterator[Use]:
    if sequence.list:
        yield Use(id=sequence.list, how="belongs to")
    for door in sequence.doors:
        yield from door.uses()
    for step in sequence.steps:
        yield from step.uses()
    for condition in sequence.conditions():
        yield from _condition(condition)
    if sequence.leaving.takes_over == "these":
        yield from (Use(id=one, how="ends") for one in sequence.leaving.these)
