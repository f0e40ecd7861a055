"""Pre-flight of a route: what keeps it from being turned on, and what needs a look."""

import re
from collections import Counter
from collections.abc import Iterator

from .documents import Finding
from .folding import near_miss
from .people import Catalogue
from .reading import ReadLine
from .routes import (
    AddTags,
    ConsentLine,
    RouteDocument,
    Rule,
    StartSequence,
    TagByAnswer,
    is_web_address,
)

# Names that begin with an underscore are the form's own, and _charset_ is the standard's
# (WHATWG HTML, form submission).
_NAME = re.compile(r"[^\W_][\w. -]*")


def check_route(route: RouteDocument, catalogue: Catalogue) -> tuple[Finding, ...]:
    """Every finding, in the order of the sheet."""
    return (
        *_check_form(route),
        *_check_reading(route, catalogue),
        *_check_consent(route, catalogue),
        *_check_then(route, catalogue),
        *_check_visitor(route),
    )


def _check_form(route: RouteDocument) -> Iterator[Finding]:
    questions = route.form.questions
    if not questions:
        yield Finding(
            code="no_questions",
            place="arrives",
            sentence="The form asks nothing.",
            fix="Add a question of the type Email.",
        )
    counted = Counter(question.name for question in questions)
    for question in questions:
        if not question.name.strip():
            yield Finding(
                code="question_unnamed",
                place=question.id,
                sentence=f"The question “{question.label}” has no name of its input.",
                fix="Give it a short name, such as first_name.",
            )
        elif not _NAME.fullmatch(question.name):
            yield Finding(
                code="question_name",
                place=question.id,
                sentence=f"“{question.name}” cannot be the name of an input.",
                fix="Begin with a letter; use letters, digits, hyphens, underscores and dots.",
            )
        elif counted[question.name] > 1:
            counted[question.name] = 0
            yield Finding(
                code="question_twice",
                place=question.id,
                sentence=f"Two questions have the name “{question.name}”.",
                fix="Give one of them another name.",
            )
        if question.type == "choice" and len(question.choices) < 2:
            yield Finding(
                code="choices_missing",
                place=question.id,
                sentence=f"“{question.label}” offers fewer than two choices.",
                fix="Add what a visitor can choose from.",
            )
        if question.type != "hidden" and not question.label.strip():
            yield Finding(
                code="question_without_label",
                place=question.id,
                sentence=f"The question “{question.name}” has no label, so nobody sees what it asks.",
                fix="Write the question.",
            )


def _check_reading(route: RouteDocument, catalogue: Catalogue) -> Iterator[Finding]:
    names = [question.name for question in route.form.questions]
    email_lines = [line for line in route.read_as if _type_of(line, catalogue) == "email"]
    if not email_lines:
        yield Finding(
            code="email_not_mapped",
            place="read_as",
            sentence="No question is mapped to the email address, so nobody can be stored.",
            fix="Map the question that asks for the address to the field Email.",
        )
    for line in email_lines:
        asked = next((one for one in route.form.questions if one.name == line.question), None)
        if asked and not asked.required and not line.fallback:
            yield Finding(
                code="email_not_required",
                place=asked.id,
                sentence=f"“{asked.label}” can be left empty, and then nobody is stored.",
                fix="Make the question required.",
            )
    targets = Counter((line.field) for line in route.read_as if line.field)
    for line in route.read_as:
        if line.field is None:
            yield Finding(
                code="line_unfinished",
                place=line.id,
                sentence=f"No field is chosen for “{line.question}”.",
                fix="Choose a field, make one, or remove the line.",
            )
        elif line.field not in catalogue.fields:
            yield Finding(
                code="field_gone",
                place=line.id,
                sentence=f"The field that “{line.question}” goes to is gone.",
                fix="Choose another field, or make it again.",
            )
        elif targets[line.field] > 1:
            targets[line.field] = 0
            label = catalogue.fields[line.field].label
            yield Finding(
                code="field_twice",
                place=line.id,
                sentence=f"Two lines write to the field {label}, and only one of them can win.",
                fix="Point one of them at another field, or remove it.",
            )
        if line.question not in names:
            yield _unknown_question(line.question, names, line.id)
    mapped = {line.question for line in route.read_as}
    for question in route.form.questions:
        if question.name and question.name not in mapped and question.type != "hidden":
            yield Finding(
                code="not_mapped",
                place=question.id,
                sentence=f"The answer to “{question.label or question.name}” is kept, but goes to no field.",
                fix="Map it, or take the question out: each question costs sign-ups.",
                stops=False,
            )


def _check_consent(route: RouteDocument, catalogue: Catalogue) -> Iterator[Finding]:
    names = [question.name for question in route.form.questions]
    if not route.consent:
        yield Finding(
            code="no_list",
            place="consent",
            sentence="Nobody who comes in here is subscribed to a list.",
            fix="Choose the list, or leave it so if that is meant.",
            stops=False,
        )
    for line in route.consent:
        yield from _check_consent_line(line, names, catalogue)


def _check_consent_line(
    line: ConsentLine, names: list[str], catalogue: Catalogue
) -> Iterator[Finding]:
    if line.list is None or line.list not in catalogue.lists:
        yield Finding(
            code="list_gone" if line.list else "line_unfinished",
            place=line.id,
            sentence="The list is gone." if line.list else "No list is chosen.",
            fix="Choose a list, make one, or remove the line.",
        )
    if line.question and line.question not in names:
        yield _unknown_question(line.question, names, line.id)
    if not line.question and not line.wording.strip():
        yield Finding(
            code="no_wording",
            place=line.id,
            sentence="The visitor is not told that this subscribes them.",
            fix="Write what they agree to; it is shown on the form and kept as evidence.",
        )


def _check_then(route: RouteDocument, catalogue: Catalogue) -> Iterator[Finding]:
    names = [question.name for question in route.form.questions]
    for rule in route.then:
        if not rule.on:
            continue
        match rule.action:
            case AddTags(tags=tags):
                yield from _check_tags(rule.id, tags, catalogue)
                if not tags:
                    yield Finding(
                        code="line_unfinished",
                        place=rule.id,
                        sentence="No tag is chosen.",
                        fix="Choose a tag, or remove the rule.",
                    )
            case TagByAnswer():
                yield from _check_tag_by_answer(rule, rule.action, route, catalogue, names)
            case StartSequence():
                yield from _check_start(rule, rule.action, route, catalogue)


def _check_tag_by_answer(
    rule: Rule, action: TagByAnswer, route: RouteDocument, catalogue: Catalogue, names: list[str]
) -> Iterator[Finding]:
    if action.question not in names:
        yield _unknown_question(action.question, names, rule.id)
        return
    asked = next(one for one in route.form.questions if one.name == action.question)
    offered = {choice.key for choice in asked.choices}
    for row in action.table:
        if row.choice not in offered and row.tags:
            yield Finding(
                code="choice_gone",
                place=rule.id,
                sentence=f"“{asked.label}” no longer offers “{row.choice}”, so its tags are never given.",
                fix="Take the row out, or offer the choice again.",
                stops=False,
            )
        yield from _check_tags(rule.id, row.tags, catalogue)
    if not any(row.tags for row in action.table):
        yield Finding(
            code="line_unfinished",
            place=rule.id,
            sentence="No choice has a tag.",
            fix="Choose a tag for at least one choice, or remove the rule.",
        )


def _check_start(
    rule: Rule, action: StartSequence, route: RouteDocument, catalogue: Catalogue
) -> Iterator[Finding]:
    sequence = catalogue.sequences.get(action.sequence or "")
    if sequence is None:
        yield Finding(
            code="sequence_gone" if action.sequence else "line_unfinished",
            place=rule.id,
            sentence="The sequence is gone." if action.sequence else "No sequence is chosen.",
            fix="Choose a sequence, or remove the rule.",
        )
        return
    if action.lane and action.lane not in sequence.lanes:
        yield Finding(
            code="lane_gone",
            place=rule.id,
            sentence=f"The lane of {sequence.name} that this starts at is gone.",
            fix="Choose the lane again.",
        )
    if not sequence.live:
        yield Finding(
            code="sequence_not_live",
            place=rule.id,
            sentence=f"{sequence.name} is not live, so nobody would be started.",
            fix="Turn the sequence on first.",
        )
    if sequence.list_id and sequence.list_id not in {line.list for line in route.consent}:
        name = catalogue.lists.get(sequence.list_id, "its list")
        yield Finding(
            code="sequence_list",
            place=rule.id,
            sentence=f"The emails of {sequence.name} go to subscribers of {name}, "
            "and this sheet does not subscribe anybody to it.",
            fix=f"Add {name} to the Consent band.",
            stops=False,
        )


def _check_tags(place: str, tags: tuple[str, ...], catalogue: Catalogue) -> Iterator[Finding]:
    if any(tag not in catalogue.tags for tag in tags):
        yield Finding(
            code="tag_gone",
            place=place,
            sentence="A tag that this rule gives is gone.",
            fix="Choose another tag, or make it again.",
        )


def _check_visitor(route: RouteDocument) -> Iterator[Finding]:
    sees = route.visitor_sees
    names = [question.name for question in route.form.questions]
    if sees.kind == "text":
        if not sees.heading.strip() and not sees.text.strip():
            yield Finding(
                code="empty_thanks",
                place="visitor_sees",
                sentence="The visitor sees an empty page after the form.",
                fix="Write a sentence: what they get, and when.",
                stops=False,
            )
        return
    if not is_web_address(sees.address):
        yield Finding(
            code="not_an_address",
            place="visitor_sees",
            sentence="The page that the visitor goes to has no full address.",
            fix="Give the whole address, beginning with https://.",
        )
    for passing in sees.passing:
        if passing.question not in names:
            yield _unknown_question(passing.question, names, "visitor_sees")


def _unknown_question(name: str, names: list[str], place: str) -> Finding:
    meant = near_miss(name, names)
    if meant:
        return Finding(
            code="near_miss",
            place=place,
            sentence=f"The form has no question named “{name}”, but it has “{meant}”.",
            fix=f"Change it to “{meant}”.",
        )
    return Finding(
        code="question_gone",
        place=place,
        sentence=f"The form has no question named “{name}”." if name else "No question is chosen.",
        fix="Choose a question of the form, or remove the line.",
    )


def _type_of(line: ReadLine, catalogue: Catalogue) -> str | None:
    target = catalogue.fields.get(line.field or "")
    return target.type if target else None
