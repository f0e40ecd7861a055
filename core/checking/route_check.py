"""Pre-flight of a route: what keeps it from being turned on, and what needs a look."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from ..deciding import ConsentLine, RouteDocument, SourceKind, is_web_address
from ..documents import Finding, near_miss
from ..people import Catalogue
from ..reading import CONTEXT, PARAMETER, QuestionType, ReadLine
from ..sources import KINDS, SourceRules
from ..wording import check_words
from .rule_check import check_rules, questions_of_rules


@dataclass(frozen=True)
class _Asked:
    """What a source asks: the names that a line can read."""

    rules: SourceRules
    names: tuple[str, ...]

    def unknown(self, name: str, place: str) -> Iterator[Finding]:
        """A finding, if nothing comes by this name."""
        if name in self.names or name in CONTEXT or name.startswith(PARAMETER):
            return
        if not name:
            yield Finding(
                code="question_gone",
                place=place,
                sentence="No question is chosen.",
                fix="Choose a question, or remove the line.",
            )
            return
        meant = near_miss(name, list(self.names))
        if meant:
            yield Finding(
                code="near_miss",
                place=place,
                sentence=f"Nothing comes by the name “{name}”, but “{meant}” does.",
                fix=f"Change it to “{meant}”.",
            )
        else:
            yield from self.rules.unknown(name, place, self.names)


def check_route(
    route: RouteDocument,
    catalogue: Catalogue,
    kind: SourceKind = "form",
    seen: tuple[str, ...] = (),
) -> tuple[Finding, ...]:
    """Every finding, in the order of the sheet. `seen`: the names that came in lately."""
    rules = KINDS[kind]
    asked = _Asked(rules, rules.names(route, seen))
    return (
        *(rules.check(route) if rules.asks else ()),
        *_check_words(route),
        *_check_operation(route, asked),
        *_check_reading(route, catalogue, asked),
        *_check_consent(route, catalogue, asked),
        *check_rules(route, catalogue, asked.unknown, own=rules.own),
        *(_check_visitor(route, asked) if rules.shows_page else ()),
        *(() if rules.asks else rules.check(route)),
    )


def _check_words(route: RouteDocument) -> Iterator[Finding]:
    for problem in check_words(route.form.words, "form", "form.words"):
        yield Finding(**problem.model_dump())


def _check_operation(route: RouteDocument, asked: _Asked) -> Iterator[Finding]:
    """What the submissions are for, and what of the sheet that leaves without effect."""
    if route.operation == "change_address":
        if not route.old_address:
            yield Finding(
                code="old_address_not_chosen",
                place="operation",
                sentence="No question is chosen for the current address.",
                fix="Choose the question that asks for it.",
            )
        else:
            yield from asked.unknown(route.old_address, "operation")
    if route.operation == "erase" and (route.consent or route.then):
        yield Finding(
            code="erased_first",
            place="operation",
            sentence="Whoever comes through is erased, so Consent and Then do nothing.",
            fix="Take their lines out, or choose another operation.",
            stops=False,
        )
    if route.operation in ("change_address", "erase") and asked.rules.own:
        yield Finding(
            code="asked_first",
            place="operation",
            sentence="Anybody can fill in a form with somebody else's address, so the address is "
            "asked by email before anything is done.",
            fix="Nothing has to be done about it.",
            stops=False,
        )


def _check_reading(route: RouteDocument, catalogue: Catalogue, names: _Asked) -> Iterator[Finding]:
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
                sentence=f"No field is chosen for “{line.question}”."
                if line.question
                else "No field is chosen.",
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
        if not (line.constant and not line.question):
            for name in (line.question, *line.also):
                yield from names.unknown(name, line.id)
    mapped = {name for line in route.read_as for name in (line.question, *line.also)}
    mapped |= {line.question for line in route.consent} | questions_of_rules(route)
    for question in route.form.questions:
        inputs = route.form.model_copy(update={"questions": (question,)}).names
        if question.name and not mapped & set(inputs) and question.type == "consent":
            yield Finding(
                code="consent_unused",
                place=question.id,
                sentence=f"Ticking “{question.label or question.name}” does nothing yet.",
                fix="Choose it in the Consent band, for the list it is about.",
                stops=False,
            )
        elif question.name and not mapped & set(inputs) and question.type != "hidden":
            yield Finding(
                code="not_mapped",
                place=question.id,
                sentence=f"The answer to “{question.label or question.name}” is kept, but goes to no field.",
                fix="Map it, or take the question out: each question costs sign-ups.",
                stops=False,
            )


def _check_consent(route: RouteDocument, catalogue: Catalogue, names: _Asked) -> Iterator[Finding]:
    if not route.consent:
        yield Finding(
            code="no_list",
            place="consent",
            sentence="Nobody who comes in here is subscribed to a list.",
            fix="Choose a list, or ignore this if nobody should be subscribed.",
            stops=False,
        )
    for line in route.consent:
        yield from _check_consent_line(line, names, catalogue)


def _check_consent_line(
    line: ConsentLine, names: _Asked, catalogue: Catalogue
) -> Iterator[Finding]:
    if line.list is None or line.list not in catalogue.lists:
        yield Finding(
            code="list_gone" if line.list else "line_unfinished",
            place=line.id,
            sentence="The list is gone." if line.list else "No list is chosen.",
            fix="Choose a list, make one, or remove the line.",
        )
    if line.question:
        yield from names.unknown(line.question, line.id)
    if not line.question and not line.wording.strip() and not names.rules.states_consent:
        yield Finding(
            code="no_wording",
            place=line.id,
            sentence="The visitor is not told that this subscribes them.",
            fix="Write what they agree to; it is shown on the form and kept as evidence.",
        )


def _check_visitor(route: RouteDocument, names: _Asked) -> Iterator[Finding]:
    sees = route.visitor_sees
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
    personal = {
        name
        for question in route.form.questions
        if question.type in _PERSONAL
        for name in route.form.model_copy(update={"questions": (question,)}).names
    }
    for passing in sees.passing:
        yield from names.unknown(passing.question, "visitor_sees")
        if passing.question in personal:
            yield Finding(
                code="passes_personal_data",
                place="visitor_sees",
                sentence=f"“{route.form.names[passing.question]}” stands in the address of the "
                "next page, where its server's logs and its statistics can read it.",
                fix="Pass it only if that page needs it.",
                stops=False,
            )


_PERSONAL: tuple[QuestionType, ...] = ("email", "name", "phone", "address")


def _type_of(line: ReadLine, catalogue: Catalogue) -> str | None:
    target = catalogue.fields.get(line.field or "")
    return target.type if target else None
