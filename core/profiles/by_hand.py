"""What a member changes on a person by hand: fields, tags, and lists that they are taken off.

Nobody is subscribed by hand: that takes an opt-in of the person's own, or the stated consent
of a file.
"""

from collections.abc import Iterator

from ..deciding import AddTag, Effect, RemoveTag, SetField, SetZone, Subscribe, field_set
from ..documents import Because, Frozen, Problem
from ..people import Catalogue, FieldFacts, Person, membership, zone_of
from ..values import Kept, ReadingOptions, read


class ByHand(Frozen):
    """Fields by key with what was written (empty: nothing any more; several choices one on each
    line); tags and lists by id."""

    fields: dict[str, str] = {}
    add_tags: tuple[str, ...] = ()
    remove_tags: tuple[str, ...] = ()
    leave: tuple[str, ...] = ()
    """Lists that they asked to be taken off, by whichever way they asked."""
    complained: tuple[str, ...] = ()
    """Lists whose emails they said are spam."""


def written(value: Kept) -> str:
    """A value as `ByHand` takes it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return value if isinstance(value, str) else "\n".join(value)


def change_by_hand(
    change: ByHand, person: Person, catalogue: Catalogue, because: Because
) -> tuple[tuple[Effect, ...], tuple[Problem, ...]]:
    """The effects, and what is wrong; what is so already has no effect, and is no error."""
    found = list(_changes(change, person, catalogue, because))
    values = dict(person.values)
    values |= {one.key: one.after for one in found if isinstance(one, SetField)}
    zone = zone_of(values, catalogue, person.own_zone) if change.fields else None
    if zone is not None:
        found.append(SetZone(before=person.own_zone, after=zone.zone, because=because))
    return (
        tuple(one for one in found if not isinstance(one, Problem)),
        tuple(one for one in found if isinstance(one, Problem)),
    )


def _changes(
    change: ByHand, person: Person, catalogue: Catalogue, because: Because
) -> Iterator[Effect | Problem]:
    targets = {one.key: one for one in catalogue.fields.values() if one.type != "email"}
    for key, text in change.fields.items():
        if key not in targets:
            yield _gone("field", key)
        else:
            yield from _set(targets[key], text, person, catalogue, because)
    for tag in dict.fromkeys((*change.add_tags, *change.remove_tags)):
        name = catalogue.tags.get(tag)
        if name is None:
            yield _gone("tag", tag)
        elif tag in change.remove_tags and tag in person.tags:
            yield RemoveTag(tag=tag, name=name, because=because)
        elif tag not in change.remove_tags and tag not in person.tags:
            yield AddTag(tag=tag, name=name, because=because)
    for one in dict.fromkeys((*change.complained, *change.leave)):
        if one not in catalogue.lists:
            yield _gone("list", one)
            continue
        state = person.membership(one)
        leaves = membership.complained if one in change.complained else membership.unsubscribe
        to = state if state == "none" else leaves(state).to
        if to != state:
            name = catalogue.lists[one]
            yield Subscribe(list=one, name=name, before=state, to=to, wording="", because=because)


def _set(
    target: FieldFacts, text: str, person: Person, catalogue: Catalogue, because: Because
) -> Iterator[Effect | Problem]:
    options = ReadingOptions(choices=target.choices, country=catalogue.country)
    value = read(target.type, text, options)
    if isinstance(value, Problem):
        yield value.model_copy(update={"place": target.key})
        return
    nothing: tuple[Kept | None, ...] = (None, "", ())
    before = person.values.get(target.key)
    if value == before or (value in nothing and before in nothing):
        return
    yield field_set(target, before, value, because)


def _gone(what: str, place: str) -> Problem:
    return Problem(
        code=f"{what}_gone",
        place=place,
        sentence=f"This {what} is not there any more.",
        fix="Load the page again.",
    )
