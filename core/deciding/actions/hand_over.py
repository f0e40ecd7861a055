"""Hand the person to a service."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Problem, Use
from ...people import Catalogue, Person
from ...reading import Form
from ...services import FarLine, Handover, Operation, ServiceFacts, type_in_words
from ..decision import Handoff
from ..handing_over import prepare
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction

_LEFT = ("unsubscribed", "bounced", "complained", "none")


class HandOver(RuleAction):
    """Hand the person to a service: add, subscribe, tag, make a deal, append a row."""

    kind: Literal["hand_over"] = "hand_over"
    handover: Handover = Handover()

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """Once for each submission or visit; whoever may not get marketing is not handed over."""
        handover = self.handover
        facts = context.catalogue.services.get(handover.service or "")
        if facts is None:
            if handover.service:
                context.gone("service", rule.line)
            return context.outcome(rule.line, "no service to hand over to", acts=False)
        prepared = prepare(
            handover, facts, context.person, context.submission.everything, context.catalogue
        )
        if isinstance(prepared, Problem):
            context.problem(rule.line, prepared)
            return context.outcome(rule.line, prepared.sentence, acts=False)
        operation = prepared.operation
        refused = not_allowed(operation, handover, facts, context.person, context.catalogue)
        if refused:
            return context.outcome(rule.line, refused, acts=False)
        context.effects.append(
            Handoff(
                handover=handover,
                service=facts.id,
                name=facts.name,
                operation=operation.label,
                line=rule.line,
                because=context.because("then", rule.line, rule.why),
            )
        )
        sentence = f"{facts.name}: {operation.label.lower()}"
        if prepared.waits:
            sentence = f"{sentence}; waits: {prepared.problems[-1].sentence}"
        elif prepared.problems:
            sentence = f"{sentence}; {prepared.problems[0].sentence}"
        elif not may_go_now(operation, handover, facts, context.person):
            sentence = f"{sentence}, once they have confirmed"
        context.outcome(rule.line, sentence, acts=True)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """The service, the operation, what it needs, and each line against the fields over there."""
        facts = at.catalogue.services.get(self.handover.service or "")
        if facts is None:
            yield at.missing("service", self.handover.service)
            return
        operation = facts.operation(self.handover.operation)
        if operation is None:
            yield at.unfinished(f"What {facts.name} is to do is not chosen.", "Choose an operation")
            return
        yield from self._check_choices(at, facts, operation)
        if operation.fields:
            yield from self._check_lines(at, facts, operation)
        if operation.marketing:
            list_id = self.handover.list_of(facts)
            if not list_id:
                yield at.unfinished(
                    f"{facts.name} sends marketing, and no list here says who agreed to it.",
                    "Choose the list whose subscribers may be handed over",
                )
            elif list_id not in at.catalogue.lists:
                yield at.missing("list", list_id)

    def _check_choices(
        self, at: ActionCheck, facts: ServiceFacts, operation: Operation
    ) -> Iterator[Finding]:
        for need in operation.needs:
            chosen = self.handover.chosen.get(need.name)
            label = need.label.lower()
            if chosen is None or not (chosen.things or chosen.question):
                if not need.optional:
                    yield at.unfinished(f"No {label} is chosen.", f"Choose a {label}")
                continue
            if chosen.question:
                yield from at.unknown(chosen.question, at.place)
            named = {*chosen.things, *(row.thing for row in chosen.rows), *chosen.only}
            gone = [one for one in named if not facts.has(need.kind, one)]
            if gone:
                yield Finding(
                    code="thing_gone",
                    place=at.place,
                    sentence=f"A {label} that this rule uses is gone from {facts.name}.",
                    fix=f"Choose another {label}, or make it there again.",
                )

    def _check_lines(
        self, at: ActionCheck, facts: ServiceFacts, operation: Operation
    ) -> Iterator[Finding]:
        fields = {one.key: one for one in facts.fields}
        seen: set[str] = set()
        for line in self.handover.lines:
            field = fields.get(line.to)
            if not line.to:
                yield at.unfinished("A line fills no field of the service.", "Choose the field")
                continue
            if field is None:
                yield Finding(
                    code="far_field_gone",
                    place=at.place,
                    sentence=f"{facts.name} has no field {line.to} any more.",
                    fix="Choose another field, or make it there.",
                )
                continue
            if line.to in seen:
                yield at.unfinished(
                    f"{field.shown} is filled by two lines.", "Remove one of the lines"
                )
            seen.add(line.to)
            if line.take == "answer":
                yield from at.unknown(line.what, at.place)
            if line.take == "field" and line.what not in at.catalogue.fields:
                yield at.missing("field", line.what or None)
            if wrong := _types_differ(line, field.type, at.catalogue):
                yield at.warning(
                    "types_differ",
                    f"{field.shown} takes {type_in_words(field.type)}, and {wrong}.",
                    "What does not fit goes without, and is said at each handoff.",
                )
        required = [one for one in fields.values() if one.required and not one.group]
        required += [fields[key] for key in operation.required if key in fields]
        for field in required:
            if field.key not in seen:
                yield Finding(
                    code="required_unmapped",
                    place=at.place,
                    sentence=f"{facts.name} requires {field.shown}, which nothing fills.",
                    fix="Add a line for it.",
                )
        groups = {one.group for one in fields.values() if one.group and one.key in seen}
        for group in sorted(groups):
            lacking = [
                one.shown
                for one in fields.values()
                if one.group == group and one.required and one.key not in seen
            ]
            if lacking:
                yield at.warning(
                    "incomplete_group",
                    f"{facts.name} takes the {group.lower()} as a whole, and nothing fills "
                    f"{', '.join(lacking)}.",
                    "Add the missing lines; until then people go without it.",
                )

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """hand to Star letters: add to a list, 4 fields"""
        facts = catalogue.services.get(self.handover.service or "")
        operation = facts.operation(self.handover.operation) if facts else None
        name = facts.name if facts else "a service that is gone"
        does = operation.label.lower() if operation else "nothing chosen"
        count = len(self.handover.lines)
        fields = f", {count} field{'' if count == 1 else 's'}" if count else ""
        return f"hand to {name}: {does}{fields}"

    def uses(self) -> Iterator[Use]:
        """Its service, the fields that it looks at, and the list."""
        if self.handover.service:
            yield Use(id=self.handover.service, how="hands to")
        for line in self.handover.lines:
            if line.take == "field" and line.what:
                yield Use(id=line.what, how="looks at")
        if self.handover.list:
            yield Use(id=self.handover.list, how="looks at")


def _types_differ(line: FarLine, far: str, catalogue: Catalogue) -> str:
    """What of ours does not fit the type over there, in words; empty where it may."""
    field = catalogue.fields.get(line.what) if line.take == "field" else None
    if field is None or far in ("text", field.type):
        return ""
    plain = ("text", "long_text")
    if field.type in plain or (far, field.type) in (("choices", "choice"), ("choice", "country")):
        return ""
    return f"{field.label} is of type {field.type.replace('_', ' ')}"


def not_allowed(
    operation: Operation,
    handover: Handover,
    facts: ServiceFacts,
    person: Person,
    catalogue: Catalogue,
) -> str:
    """Why somebody may not be handed over, in words; empty where they may, now or once they confirm."""
    if not operation.marketing:
        return ""
    list_id = handover.list_of(facts)
    if person.suppressed:
        return "not handed over: the address is on the suppression list"
    if not list_id or list_id not in catalogue.lists:
        return "not handed over: no list here says who agreed to it"
    if person.membership(list_id) in _LEFT:
        return f"not handed over: not subscribed to {catalogue.lists[list_id]}"
    return ""


def may_go_now(
    operation: Operation, handover: Handover, facts: ServiceFacts, person: Person
) -> bool:
    """Whether nothing has to be waited for: whoever is pending is handed over once they confirm."""
    list_id = handover.list_of(facts)
    return not operation.marketing or person.membership(list_id or "") == "subscribed"
