"""Pre-flight of the rules: each action, each condition, and rules that contradict each other."""

from collections.abc import Iterator

from ..conditions import AnswerTest, leaves
from ..deciding import (
    ActionCheck,
    AddTags,
    ChangeSubscription,
    RemoveTags,
    RouteDocument,
    Rule,
    Unknown,
    check_condition,
)
from ..documents import Finding
from ..people import Catalogue


def check_rules(
    route: RouteDocument, catalogue: Catalogue, unknown: Unknown, *, own: bool
) -> Iterator[Finding]:
    """What is wrong with the rules that are on. `unknown`: findings for names that nothing comes by; `own`:
    whether what comes in is the person's own act."""
    lists = frozenset(line.list for line in route.consent if line.list)
    for number, rule in enumerate(route.then, start=1):
        if not rule.on:
            continue
        if rule.when is not None:
            yield from check_condition(rule.when, rule.id, "rule", catalogue, unknown)
        at = ActionCheck(rule.id, catalogue, unknown, route.form.questions, lists, own)
        yield from rule.action.check(at)
        yield from _contradictions(route, rule, number, catalogue)


def _contradictions(
    route: RouteDocument, rule: Rule, number: int, catalogue: Catalogue
) -> Iterator[Finding]:
    """A rule for everybody that undoes what the sheet does for everybody."""
    action = rule.action
    if rule.when is not None:
        return
    if isinstance(action, ChangeSubscription) and action.direction == "unsubscribe":
        for line in route.consent:
            if line.list and (action.every_list or action.list == line.list):
                name = catalogue.lists.get(line.list, "a list")
                yield Finding(
                    code="contradiction",
                    place=rule.id,
                    sentence=f"Rule {number} unsubscribes everybody from {name}, to which the Consent "
                    "band subscribes them; unsubscribing wins.",
                    fix="Give the rule a condition, or take the list out of the Consent band.",
                )
    if isinstance(action, RemoveTags):
        given = {
            tag
            for earlier in route.then[: number - 1]
            if earlier.on and isinstance(earlier.action, AddTags)
            for tag in earlier.action.tags
        }
        for tag in given & set(action.tags):
            yield Finding(
                code="contradiction",
                place=rule.id,
                sentence=f"Rule {number} removes the tag “{catalogue.tags.get(tag, 'a tag')}”, which a rule "
                "before it has just given.",
                fix="Give one of the two a condition, or take one out.",
                stops=False,
            )


def questions_of_rules(route: RouteDocument) -> set[str]:
    """The questions that rules look at, in their actions or their conditions."""
    found = {str(getattr(rule.action, "question", "")) for rule in route.then}
    for rule in route.then:
        for leaf in leaves(rule.when) if rule.when else ():
            if isinstance(leaf, AnswerTest):
                found.add(leaf.question)
    return found
