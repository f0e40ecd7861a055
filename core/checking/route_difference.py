"""The difference between two revisions of a route, in sentences that a reader can check."""

from collections.abc import Iterator
from typing import Any

from ..conditions import say
from ..deciding import ConsentLine, RouteDocument, Rule
from ..documents import changed_lines, other_order, value
from ..people import Catalogue
from ..reading import Form, ReadLine
from ..values import language_name
from ..wording import FORM_TEXTS, own_text


def differences(
    before: RouteDocument, after: RouteDocument, catalogue: Catalogue
) -> tuple[str, ...]:
    """What is different in `after`, in the order of the sheet."""
    return (
        *_operation(before, after),
        *_form(before, after),
        *changed_lines("line", before.read_as, after.read_as, lambda one: _read(one, catalogue)),
        *changed_lines(
            "consent", before.consent, after.consent, lambda one: _consent(one, catalogue)
        ),
        *_rules(before, after, catalogue),
        *_visitor(before, after),
    )


_FOR = {
    "add_or_update": "add or update people",
    "add_only": "add new people and leave existing ones unchanged",
    "update_only": "update existing people and add nobody",
    "change_address": "change the address of people",
    "erase": "erase people",
}


def _operation(before: RouteDocument, after: RouteDocument) -> Iterator[str]:
    if before.operation != after.operation:
        yield f"submissions are to {_FOR[after.operation]} (before: {_FOR[before.operation]})"
    if before.old_address != after.old_address and after.operation == "change_address":
        yield f"the current address is the answer to “{after.old_address}”"


def _form(before: RouteDocument, after: RouteDocument) -> Iterator[str]:
    for name, word in (("title", "heading"), ("intro", "text"), ("button", "button")):
        old, new = getattr(before.form, name), getattr(after.form, name)
        if old != new:
            yield f"form: {word} “{old}” → “{new}”"
    for text in FORM_TEXTS:
        old, new = (own_text(one.form.words, text) or text.usual for one in (before, after))
        if old != new:
            yield f"form: “{old}” → “{new}”"
    if before.form.language != after.form.language:
        old, new = (_language(one.form.language) for one in (before, after))
        yield f"form: language {old} → {new}"

    def describe(one: Any) -> str:
        needed = ", required" if one.required else ""
        choices = f" ({', '.join(choice.label for choice in one.choices)})" if one.choices else ""
        return f"“{one.label or one.name}”, {one.type}{needed}{choices}, named {one.name}"

    yield from changed_lines("question", before.form.questions, after.form.questions, describe)
    if other_order(before.form.questions, after.form.questions):
        yield "form: the questions stand in another order"
    same = {"style", "picture", "picture_says", "pop_up", "shared_screen"}
    for name in sorted(same):
        if getattr(before.form, name) != getattr(after.form, name):
            yield f"form: {name.replace('_', ' ')} changed"


def _language(tag: str) -> str:
    return language_name(tag) if tag else "as the workspace"


def _read(line: ReadLine, catalogue: Catalogue) -> str:
    target = catalogue.fields.get(line.field or "")
    question = " and ".join(filter(None, (line.question, *line.also))) or f"“{line.constant}”"
    return f"{question} into {target.label if target else 'no field'}"


def _consent(line: ConsentLine, catalogue: Catalogue) -> str:
    name = catalogue.lists.get(line.list or "", "no list")
    when = f"if {line.question} is ticked" if line.question else "always"
    first = ", confirmed by email first" if line.confirm else ""
    return f"{name}, {when}{first}, worded “{line.wording}”"


def _rules(before: RouteDocument, after: RouteDocument, catalogue: Catalogue) -> Iterator[str]:
    # A rule may go together with its question.
    questions = (*before.form.questions, *after.form.questions)
    both = after.form.model_copy(update={"questions": questions})
    yield from changed_lines(
        "rule",
        before.then,
        after.then,
        lambda rule: describe_rule(rule, catalogue, both),
        numbered=True,
    )
    if other_order(before.then, after.then):
        yield "the rules stand in another order"


def describe_rule(rule: Rule, catalogue: Catalogue, form: Form | None = None) -> str:
    """A rule in words: what it does, when, and whether it is off."""
    when = f", when {say(rule.when, catalogue, form)}" if rule.when else ""
    return f"{rule.action.describe(catalogue, form)}{when}{'' if rule.on else ' (off)'}"


@value
class RuleWords:
    """A rule as a sentence in two parts."""

    when: str
    does: str


def rules_in_words(document: RouteDocument, catalogue: Catalogue) -> dict[str, RuleWords]:
    """Each rule of a sheet as a sentence, by its id."""
    form = document.form
    return {
        rule.id: RuleWords(
            when=f"When {say(rule.when, catalogue, form)}" if rule.when else "Always",
            does=rule.action.describe(catalogue, form),
        )
        for rule in document.then
    }


def _visitor(before: RouteDocument, after: RouteDocument) -> Iterator[str]:
    old, new = before.visitor_sees, after.visitor_sees
    for name in ("kind", "heading", "text", "address"):
        if getattr(old, name) != getattr(new, name):
            yield f"visitor sees: {name} “{getattr(old, name)}” → “{getattr(new, name)}”"
    if old.passing != new.passing:
        yield "visitor sees: other answers are passed along"
    if before.own_form != after.own_form:
        yield "the page for answers with errors changed"
