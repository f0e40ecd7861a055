"""Pre-flight of the rules' actions: what is missing, gone or contradictory, each with its fix."""

from collections.abc import Callable, Iterator

from .conditions import AnswerTest, FieldTest, Group, MembershipTest, TagTest, leaves
from .documents import Finding
from .folding import folded
from .forms import Question
from .people import Catalogue
from .route_document import (
    Action,
    AddTags,
    ChangeSubscription,
    MakeTask,
    Notify,
    PutField,
    RecordEvent,
    RemoveTags,
    RouteDocument,
    Rule,
    SendNow,
    SetOwner,
    StopSequence,
    TagFromAnswer,
)
from .rules import direction_of

Unknown = Callable[[str, str], Iterator[Finding]]
"""Findings for a question (first) at a place (second) that nothing comes by."""


def check_action(
    place: str,
    action: Action,
    catalogue: Catalogue,
    unknown: Unknown,
    questions: tuple[Question, ...] = (),
) -> Iterator[Finding]:
    """What is wrong with one action; `questions`: those of the form."""
    match action:
        case AddTags(tags=tags) | RemoveTags(tags=tags):
            yield from check_tags(place, tags, catalogue)
            if not tags:
                yield _unfinished(place, "No tag is chosen.", "Choose a tag")
        case TagFromAnswer():
            yield from unknown(action.question, place)
            if not action.prefix.strip() and not action.only:
                yield _unfinished(
                    place,
                    "Any answer at all would become a tag.",
                    "State what such a tag begins with, or which answers may become one",
                )
        case PutField(field=field):
            if field is None or field not in catalogue.fields:
                yield _missing(place, "field", field)
            elif catalogue.fields[field].type == "email":
                yield _unfinished(place, "The address is set by no rule.", "Choose another field")
            elif not action.value.strip():
                label = catalogue.fields[field].label
                yield Finding(
                    code="empties_field",
                    place=place,
                    sentence=f"This rule has no value, so it empties {label} for everybody it "
                    "applies to.",
                    fix="Enter the value, or keep it empty if that is what you want.",
                    stops=False,
                )
        case RecordEvent(name=name):
            if not name.strip():
                yield _unfinished(place, "The event has no name.", "Name it")
        case ChangeSubscription():
            yield from _check_subscription(place, action, catalogue, unknown, questions)
        case StopSequence(sequence=sequence):
            if not action.every_sequence and sequence not in catalogue.sequences:
                yield _missing(place, "sequence", sequence)
        case Notify(members=members):
            if any(one not in catalogue.members for one in members):
                yield _missing(place, "member", "gone")
            if not members and not action.owner:
                yield _unfinished(place, "Nobody is told.", "Choose a member")
        case SendNow(message=message):
            if message is None or message not in catalogue.messages:
                yield _missing(place, "message", message)
        case MakeTask(title=title):
            if not title.strip():
                yield _unfinished(place, "The task says nothing.", "Write what is to be done")
        case SetOwner():
            yield from _check_owner(place, action, catalogue, unknown)
        case _:
            return


def _check_subscription(
    place: str,
    action: ChangeSubscription,
    catalogue: Catalogue,
    unknown: Unknown,
    questions: tuple[Question, ...],
) -> Iterator[Finding]:
    if action.direction is None:
        yield _unfinished(
            place,
            "Neither subscribe nor unsubscribe is chosen.",
            "Choose one of them, or let an answer decide",
        )
        return
    if action.list is not None and action.list not in catalogue.lists:
        yield _missing(place, "list", action.list)
    if action.list is None and not (action.direction == "unsubscribe" and action.every_list):
        yield _missing(place, "list", None)
    if action.direction == "by_answer":
        yield from unknown(action.question, place)
        yield from _check_directions(place, action, questions)


def _check_directions(
    place: str, action: ChangeSubscription, questions: tuple[Question, ...]
) -> Iterator[Finding]:
    """Whether every answer that a visitor can give means one of the two."""
    both = set(map(folded, action.subscribe_words)) & set(map(folded, action.unsubscribe_words))
    if both:
        yield _unfinished(
            place,
            f"“{sorted(both)[0]}” means both subscribe and unsubscribe.",
            "Let each answer mean one of them",
        )
    asked = next((one for one in questions if one.name == action.question), None)
    for choice in asked.choices if asked else ():
        if direction_of(choice.key, action, asked.choices if asked else ()) is None:
            yield Finding(
                code="fits_neither",
                place=place,
                sentence=f"The answer “{choice.label}” means neither subscribe nor unsubscribe, so "
                "whoever gives it stays as they are.",
                fix="Say for each choice of the question what it means.",
            )
    if not action.subscribe_words and not action.unsubscribe_words:
        yield _unfinished(place, "No answer has a meaning yet.", "Say what each answer means")


def _check_owner(
    place: str, action: SetOwner, catalogue: Catalogue, unknown: Unknown
) -> Iterator[Finding]:
    named = [row.member for row in action.table] if action.how == "by_answer" else action.members
    if action.how == "by_answer":
        yield from unknown(action.question, place)
    if not any(named):
        yield _unfinished(place, "No member is chosen.", "Choose who looks after them")
    if any(one and one not in catalogue.members for one in named):
        yield _missing(place, "member", "gone")


def check_tags(place: str, tags: tuple[str, ...], catalogue: Catalogue) -> Iterator[Finding]:
    """Tags that are gone."""
    if any(tag not in catalogue.tags for tag in tags):
        yield _missing(place, "tag", "gone")


def contradictions(
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
                sentence=f"Rule {number} takes off “{catalogue.tags.get(tag, 'a tag')}”, which a rule "
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


def _missing(place: str, what: str, chosen: str | None) -> Finding:
    return Finding(
        code=f"{what}_gone" if chosen else "line_unfinished",
        place=place,
        sentence=f"The {what} that this rule uses is gone." if chosen else f"No {what} is chosen.",
        fix=f"Choose a {what}, or remove the rule.",
    )


def _unfinished(place: str, sentence: str, do: str) -> Finding:
    return Finding(
        code="line_unfinished", place=place, sentence=sentence, fix=f"{do}, or remove the rule."
    )
