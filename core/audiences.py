"""Audiences: conditions that are kept by a name, and always current."""

from collections.abc import Iterable, Iterator

from pydantic import ValidationError

from .conditions import Condition, Group, SourceTest, leaves, say
from .deciding import check_condition
from .documents import Finding, Frozen
from .people import Catalogue

MOST_TOLD_APART = 8
"""Parts of a condition that are counted one by one."""


class AudienceDocument(Frozen):
    """Whom an audience holds."""

    who: Group = Group()


def check_audience(document: AudienceDocument, catalogue: Catalogue) -> tuple[Finding, ...]:
    """Pre-flight: what would make the audience another one than was meant."""
    return tuple(_findings(document.who, catalogue))


def _findings(who: Group, catalogue: Catalogue) -> Iterator[Finding]:
    def of_a_submission(_: str, place: str) -> Iterator[Finding]:
        yield Finding(
            code="of_a_submission",
            place=place,
            sentence="This compares an answer of one submission; an audience is about people.",
            fix="Use the field that this answer is saved to.",
        )

    yield from check_condition(who, "who", "audience", catalogue, of_a_submission)
    if any(isinstance(leaf, SourceTest) for leaf in leaves(who)):
        yield Finding(
            code="of_a_submission",
            place="who",
            sentence="This compares the source of one submission; an audience is about people.",
            fix="Choose “something that happened”, then “submitted”.",
        )


def missing_one(who: Group) -> tuple[tuple[Condition, Group], ...]:
    """For each part that has to hold: the part, and a condition that fits whoever misses it alone. Nothing
    where not several parts all have to hold, or there are too many to tell apart."""
    if who.kind != "all" or not 1 < len(who.of) <= MOST_TOLD_APART:
        return ()

    def without(index: int) -> Group:
        failing = Group(kind="none", of=(who.of[index],))
        return Group(of=(*who.of[:index], *who.of[index + 1 :], failing))

    try:
        return tuple((part, without(index)) for index, part in enumerate(who.of))
    except ValidationError:
        return ()


def audience_changes(
    before: AudienceDocument, after: AudienceDocument, catalogue: Catalogue
) -> tuple[str, ...]:
    """What one has different from another, in sentences."""
    return tuple(_changes(before.who, after.who, catalogue))


def _changes(before: Group, after: Group, catalogue: Catalogue) -> Iterator[str]:
    if before.kind != after.kind:
        yield f"“{after.kind} of these” instead of “{before.kind} of these”."
    old, new = list(before.of), list(after.of)
    for part in before.of:
        if part in new:
            new.remove(part)
            old.remove(part)
    yield from (f"No longer: {_quoted(part, catalogue)}." for part in old)
    yield from (f"New: {_quoted(part, catalogue)}." for part in new)
    if not old and not new and before.kind == after.kind and before != after:
        yield "The parts are in another order."


def _quoted(part: Condition, catalogue: Catalogue) -> str:
    return f"“{say(part, catalogue)}”"


def without_values(document: AudienceDocument, texts: Iterable[str]) -> AudienceDocument:
    """The audience with nothing left in its comparisons of what holds one of these texts."""
    return document.model_copy(update={"who": without_texts(document.who, texts)})


def without_texts(who: Group, texts: Iterable[str]) -> Group:
    """The same of a condition."""
    gone = [one.casefold() for one in texts]

    def kept(text: str) -> bool:
        return not any(one in text.casefold() for one in gone)

    def emptied(part: Condition) -> Condition:
        if isinstance(part, Group):
            return part.model_copy(update={"of": tuple(emptied(one) for one in part.of)})
        changed: dict[str, object] = {
            name: tuple(one for one in value if kept(one)) if isinstance(value, tuple) else ""
            for name, value in part
            if (isinstance(value, str) and not kept(value))
            or (isinstance(value, tuple) and not all(map(kept, value)))
        }
        return part.model_copy(update=changed)

    found = emptied(who)
    assert isinstance(found, Group)
    return found
