"""What a new revision of a route's form breaks for answers that come in after it."""

from collections.abc import Iterator

from ..deciding import RouteDocument, TagByAnswer
from ..documents import Finding


def broken_by(live: RouteDocument, draft: RouteDocument) -> tuple[Finding, ...]:
    """Changes of the form that somebody should know of before they are live."""
    return tuple(_gone_questions(live, draft)) + tuple(_gone_choices(live, draft))


def _gone_questions(live: RouteDocument, draft: RouteDocument) -> Iterator[Finding]:
    before, after = live.form.names, draft.form.names
    read = {name for line in live.read_as if line.field for name in (line.question, *line.also)}
    kept = {name for line in draft.read_as if line.field for name in (line.question, *line.also)}
    ids = {question.id: question.name for question in draft.form.questions}
    for question in live.form.questions:
        new_name = ids.get(question.id)
        if new_name and new_name != question.name:
            yield Finding(
                code="question_renamed",
                place=question.id,
                sentence=f"“{before.get(question.name, question.name)}” is called “{new_name}” "
                f"from now on, where it was “{question.name}”. The sheet follows.",
                fix="Whoever posts to this form by the old name has to change it too.",
                stops=False,
            )
    for name, label in before.items():
        renamed = any(
            one.name == name.partition(".")[0] and ids.get(one.id) not in (None, one.name)
            for one in live.form.questions
        )
        if name in read and name not in after and name not in kept and not renamed:
            yield Finding(
                code="no_longer_asked",
                place="read_as",
                sentence=f"“{label}” is no longer asked; what it filled stays as it is for "
                "everybody who comes from now on.",
                fix="Keep the question if the field is still needed.",
                stops=False,
            )


def _gone_choices(live: RouteDocument, draft: RouteDocument) -> Iterator[Finding]:
    now = {question.id: question for question in draft.form.questions}
    tables = {
        rule.action.question: {row.choice for row in rule.action.table if row.tags}
        for rule in live.then
        if isinstance(rule.action, TagByAnswer)
    }
    for question in live.form.questions:
        changed = now.get(question.id)
        if changed is None or not question.choices:
            continue
        offered = {choice.key for choice in changed.choices}
        for choice in question.choices:
            if choice.key in offered:
                continue
            tagged = choice.key in tables.get(question.name, set())
            yield Finding(
                code="choice_no_longer_offered",
                place=question.id,
                sentence=f"“{choice.label}” is no longer offered by “{question.label}”"
                + (", so nobody gets its tags any more." if tagged else "."),
                fix="Pages that visitors have open now may still send it; it is then a problem "
                "of that submission, and nothing else of it is lost.",
                stops=False,
            )
