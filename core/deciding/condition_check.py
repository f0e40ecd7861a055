"""Pre-flight of a condition, wherever one stands: in a rule, a door, a split or a goal."""

from collections.abc import Iterator

from ..conditions import AnswerTest, FieldTest, Group, MembershipTest, TagTest, is_gone, leaves, say
from ..documents import Finding
from ..people import Catalogue
from .actions import Unknown


def check_condition(
    condition: Group, place: str, of: str, catalogue: Catalogue, unknown: Unknown
) -> Iterator[Finding]:
    """What is wrong with the condition of something (`of`: a rule, a door, …) at a place.

    `unknown`: findings for names of questions that nothing comes by.
    """
    if not any(True for _ in leaves(condition)):
        yield Finding(
            code="condition_empty",
            place=place,
            sentence=f"The condition of this {of} is empty, so the {of} applies to everybody.",
            fix="Add a condition to it, or remove it.",
        )
        return
    for leaf in leaves(condition):
        if isinstance(leaf, AnswerTest):
            yield from unknown(leaf.question, place)
        elif is_gone(leaf, catalogue):
            yield Finding(
                code="condition_gone",
                place=place,
                sentence=f"The condition “{say(leaf, catalogue)}” is not complete, or what it names "
                "does not exist any more.",
                fix="Choose it again, or remove the comparison.",
            )
    if never_holds(condition):
        yield Finding(
            code="never_holds",
            place=place,
            sentence=f"“{say(condition, catalogue)}” can never hold.",
            fix="Ask for any of them instead of all, or take one out.",
            stops=False,
        )


def never_holds(condition: Group) -> bool:
    """Whether a condition cannot hold for anybody, as far as that can be seen from it alone."""
    if condition.kind == "any" and not condition.of:
        return True
    if condition.kind != "all":
        return False
    wanted: dict[str, str] = {}
    tags: dict[str, bool] = {}
    for one in condition.of:
        if isinstance(one, Group) and never_holds(one):
            return True
        if isinstance(one, MembershipTest) and one.holds and not one.states:
            return True
        if isinstance(one, TagTest) and tags.setdefault(one.tag, one.has) != one.has:
            return True
        if isinstance(one, FieldTest) and one.op == "is":
            value = one.value.casefold()
            if wanted.setdefault(one.field, value) != value:
                return True
    return False
