"""What would be handed to a service: of somebody's fields and answers, checked against what the other
side takes. The sample, pre-flight and each handoff call `prepare`."""

from collections.abc import Mapping
from typing import Any

from ..documents import Problem, value
from ..people import Catalogue, Person
from ..reading import CONTEXT, PARAMETER, Answers, answer_to
from ..services import Given, Handover, Operation, Payload, ServiceFacts, choose, fill_lines
from ..values import Kept


@value
class Prepared:
    """A handoff as it would go."""

    operation: Operation
    payload: Payload
    chosen: Mapping[str, tuple[str, ...]]
    problems: tuple[Problem, ...] = ()
    """All that is wrong, that of the lines among it."""
    waits: bool = False
    """Whether it cannot go as it is."""

    @property
    def ids(self) -> dict[str, Any]:
        """What was chosen, for requests: one id, or several."""
        several = {one.name for one in self.operation.needs if one.several}
        return {
            name: list(ids) if name in several else next(iter(ids), None)
            for name, ids in self.chosen.items()
        }


def prepare(
    handover: Handover,
    facts: ServiceFacts,
    person: Person,
    answers: Answers,
    catalogue: Catalogue,
) -> Prepared | Problem:
    """What would be sent; a problem where there is no such operation any more."""
    operation = facts.operation(handover.operation)
    if not handover.operation:
        return Problem(
            code="operation_lacking",
            sentence=f"What {facts.name} is to do is not chosen yet.",
            fix="Choose an operation.",
        )
    if operation is None:
        return Problem(
            code="operation_gone",
            sentence=f"{facts.name} cannot do what this asks for any more.",
            fix="Choose another operation.",
        )
    payload = Payload(values={})
    if operation.fields:
        given = {
            line.id: _given(line.take, line.what, person, answers, catalogue)
            for line in handover.lines
        }
        payload = fill_lines(handover.lines, given, facts.fields, operation.required)
    problems = list(payload.problems)
    texts = {name: answer_to(answers, name) or "" for name in handover.questions}
    chosen: dict[str, tuple[str, ...]] = {}
    lacks = False
    for need in operation.needs:
        picked = handover.chosen.get(need.name)
        ids = choose(need, picked, texts, facts) if picked else _nothing(need.label, need.optional)
        if isinstance(ids, Problem):
            lacks = lacks or not need.optional
            problems.append(ids)
            continue
        chosen[need.name] = ids
    if payload.missing:
        names = ", ".join(payload.missing)
        problems.append(
            Problem(
                code="required_missing",
                sentence=f"{facts.name} requires {names}, which has no value.",
                fix="Map it, or give it a fallback.",
            )
        )
    waits = bool(payload.missing) or lacks
    if payload.problems and handover.if_wrong == "wait":
        waits = True
    return Prepared(
        operation=operation,
        payload=payload,
        chosen=chosen,
        problems=tuple(problems),
        waits=waits,
    )


def _nothing(label: str, optional: bool) -> tuple[str, ...] | Problem:
    if optional:
        return ()
    return Problem(
        code="nothing_chosen",
        sentence=f"No {label.lower()} is chosen.",
        fix=f"Choose a {label.lower()}.",
    )


def _given(take: str, what: str, person: Person, answers: Answers, catalogue: Catalogue) -> Given:
    """A value as this side has it."""
    if take == "fixed":
        return Given(raw=(what,), shown=what)
    if take == "answer":
        text = answer_to(answers, what) or ""
        return Given(
            raw=tuple(text.split("\n")), shown=text.replace("\n", ", "), country=catalogue.country
        )
    field = catalogue.fields.get(what)
    if field is None:
        return Given()
    kept = person.address if field.type == "email" and field.key == "email" else None
    found: Kept | None = kept if kept is not None else person.values.get(field.key)
    if found is None:
        return Given()
    return Given(raw=_texts(found), shown=field.shown(found), country=catalogue.country)


def _texts(kept: Kept) -> tuple[str, ...]:
    if isinstance(kept, bool):
        return ("yes" if kept else "no",)
    return (kept,) if isinstance(kept, str) else kept


def question_label(name: str) -> str:
    """How people read the name of a question where no form names it."""
    return CONTEXT.get(name) or name.removeprefix(PARAMETER)
