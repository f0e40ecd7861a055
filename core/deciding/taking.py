"""What an event of a service changes here: the event itself, fields, tags."""

from ..documents import Because, Problem
from ..people import Catalogue, Person
from ..reading import ReadLine, read_into
from ..services import HeardEvent, HeardRule
from .decision import AddTag, Effect, Event, field_set


def taken(
    event: HeardEvent, rule: HeardRule, person: Person, catalogue: Catalogue, because: Because
) -> tuple[tuple[Effect, ...], tuple[Problem, ...]]:
    """The effects of an event that is understood, and what of it could not be read."""
    if event.kind is None or event.problem is not None or not rule.take:
        return (), ()
    name = rule.event.strip() or event.kind.event
    effects: list[Effect] = [Event(name=name[:80], data=dict(event.data) or None, because=because)]
    problems: list[Problem] = []
    for key, text in event.fields.items():
        field = catalogue.fields.get(rule.fields.get(key, ""))
        if field is None or field.type == "email":
            continue
        line = ReadLine(id=key, question=key, field=field.id)
        value = read_into(field, text, line, (), catalogue.country)
        before = person.values.get(field.key)
        if isinstance(value, Problem):
            problems.append(value.model_copy(update={"place": key}))
        elif value not in ("", (), before):
            effects.append(field_set(field, before, value, because))
    for tag in rule.tags:
        if tag in catalogue.tags and tag not in person.tags:
            effects.append(AddTag(tag=tag, name=catalogue.tags[tag], because=because))
    return tuple(effects), tuple(problems)
