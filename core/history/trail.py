"""A person's past as the trail tells it, and the person with some of it taken back in thought."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal

from ..people import MembershipState, Person
from ..values import Kept

ThingKind = Literal["field", "tag", "list"]
Thing = tuple[ThingKind, str]
"""A field by its key, a tag or a list by its id."""


@dataclass(frozen=True)
class Changed:
    """One change of one thing, from the trail."""

    thing: Thing
    at: datetime
    before: Kept | bool | None
    after: Kept | bool | None
    submission_id: str | None = None
    replay_id: str | None = None


@dataclass(frozen=True)
class Scored:
    """One change of the score."""

    by: int
    submission_id: str | None = None
    replay_id: str | None = None


@dataclass(frozen=True)
class Done:
    """Something that is done once for a submission (see `core.replay.mark`)."""

    what: str
    submission_id: str | None = None
    replay_id: str | None = None


Entry = Changed | Scored | Done


@dataclass(frozen=True)
class Trail:
    """What is known of a person's past, oldest first."""

    changes: tuple[Changed, ...] = ()
    scored: tuple[Scored, ...] = ()
    done: tuple[Done, ...] = ()
    """Events, tasks, notices and starts of sequences."""
    messages: frozenset[str] = frozenset()
    """Messages that were ever sent to the person, or are about to be."""


@dataclass
class Rewound:
    """The person without what the chosen submissions did, and what stands since."""

    person: Person
    since: dict[Thing, datetime]
    """When each thing was changed last by something else."""


def rewind(person: Person | None, trail: Trail, taken: Callable[[Entry], bool]) -> Rewound:
    """Take back the newest changes of each thing, as long as they are among those `taken`."""
    base = person or Person(address="")
    values: dict[str, Kept] = dict(base.values)
    tags = set(base.tags)
    memberships: dict[str, MembershipState] = dict(base.memberships)
    since: dict[Thing, datetime] = {}
    for change in reversed(trail.changes):
        thing = change.thing
        if thing in since:
            continue
        if not taken(change) or not _stands(change, values, tags, memberships):
            since[thing] = change.at
            continue
        match thing[0]:
            case "field" if change.before in (None, "", ()):
                values.pop(thing[1], None)
            case "field":
                values[thing[1]] = change.before  # type: ignore[assignment]
            case "tag":
                (tags.add if change.before else tags.discard)(thing[1])
            case "list" if change.before == "none":
                memberships.pop(thing[1], None)
            case "list":
                memberships[thing[1]] = change.before  # type: ignore[assignment]
    entered = {
        one.what.removeprefix("entered/")
        for one in trail.done
        if taken(one) and one.what.startswith("entered/")
    }
    rewound = replace(
        base,
        values=values,
        tags=frozenset(tags),
        memberships=memberships,
        entered=base.entered - entered,
        under_way=base.under_way - entered,
        score=base.score - sum(one.by for one in trail.scored if taken(one)),
    )
    return Rewound(rewound, since)


def _stands(
    change: Changed,
    values: Mapping[str, Kept],
    tags: set[str],
    memberships: Mapping[str, MembershipState],
) -> bool:
    """Whether a thing is as the change left it. Where two people were merged their trails stand
    side by side, and what one of them says need not be what became of the other."""
    kind, key = change.thing
    match kind:
        case "field":
            nothing = (None, "", ())
            now = values.get(key)
            return now == change.after or (now in nothing and change.after in nothing)
        case "tag":
            return (key in tags) == bool(change.after)
        case "list":
            return memberships.get(key, "none") == change.after
