"""What a route decides about one submission.

`decide` sends and stores nothing: it returns effects, each with its because, and what
each line of the sheet made of the submission, for the sample beside it.
"""

from dataclasses import replace
from datetime import datetime

from ..conditions import holds, leaves, say
from ..documents import Problem
from ..people import Catalogue, Person, zone_of
from ..reading import Answers, LineReport, answer_to, read_answers, read_into, received_by
from ..values import address_key, is_blank, read_email, read_yes_no
from .actions import AppliedRule
from .decision import ChangeAddress, Decision, Erase, SetZone, SubmissionFacts, field_set
from .route_document import ConsentLine, RouteDocument, Rule
from .rule_context import RuleContext
from .subscribing import subscribe


def _stays_erased(submission: SubmissionFacts) -> bool:
    """Whether somebody who was erased is not made anew by this."""
    erased, received = submission.erased_at, submission.received
    return erased is not None and (
        not submission.own or (received is not None and received <= erased)
    )


def submitted_address(
    route: RouteDocument, answers: Answers, catalogue: Catalogue
) -> str | Problem:
    """The address that answers (and context) give by the route's map, or why there is none."""
    if route.operation == "change_address":
        return _old_address(route, answers)
    return _mapped_address(route, answers, catalogue)


def _old_address(route: RouteDocument, answers: Answers) -> str | Problem:
    """Of a change of address: the one so far, which says who it is about."""
    if not route.old_address:
        return Problem(
            code="old_address_not_chosen",
            place="operation",
            sentence="No question is chosen for the current address.",
            fix="Choose the question that asks for it.",
        )
    text = answer_to(answers, route.old_address) or ""
    if is_blank(text):
        return Problem(
            code="no_address",
            place="operation",
            sentence=f"The question “{route.old_address}” has no answer, so nobody is found.",
            fix="Make the question required, or choose the one that asks for the current address.",
        )
    read = read_email(text)
    return read.model_copy(update={"place": "operation"}) if isinstance(read, Problem) else read


def read_address(route: RouteDocument, answers: Answers, email_field: str) -> str:
    """The address that a submission is about, without a look at the catalogue; empty where the
    sheet reads none. `email_field`: the id of the field that holds the address."""
    if route.operation == "change_address":
        found = _old_address(route, answers)
        return found if isinstance(found, str) else ""
    for line in route.read_as:
        if line.field == email_field:
            read = read_email(received_by(line, answers) or line.fallback)
            return read if isinstance(read, str) else ""
    return ""


def _mapped_address(route: RouteDocument, answers: Answers, catalogue: Catalogue) -> str | Problem:
    for line in route.read_as:
        target = catalogue.fields.get(line.field or "")
        if target is None or target.type != "email":
            continue
        value = read_into(target, received_by(line, answers) or "", line, ())
        if isinstance(value, Problem):
            return value.model_copy(update={"place": line.id})
        if isinstance(value, str) and value:
            return value
        return Problem(
            code="no_address",
            place=line.id,
            sentence=f"The question “{line.question}” has no answer, so there is no address.",
            fix="Make the question required, or map the one that holds the address.",
        )
    return Problem(
        code="email_not_mapped",
        place="read_as",
        sentence="No question is mapped to the email address.",
        fix="Map the question that asks for the address to the field Email.",
    )


def decide(
    submission: SubmissionFacts,
    route: RouteDocument,
    person: Person | None,
    catalogue: Catalogue,
    now: datetime,
    shown: RouteDocument | None = None,
) -> Decision:
    """Decide what `submission` means for `person` (None: nobody has the address yet).

    `route` is the sheet in force; `shown` the one that the visitor saw, where that is another:
    what they agreed to is decided by it alone.
    """
    address = submitted_address(route, submission.everything, catalogue)
    stored = person.values if person else {}
    read = read_answers(route.read_as, submission.everything, stored, catalogue, route.form.choices)
    reading = tuple(_unless_changed_since(one, submission) for one in read.lines)
    problems = [line.problem for line in reading if line.problem]
    if person is None and _stays_erased(submission):
        address = Problem(
            code="erased",
            place="read_as",
            sentence="Somebody with this address was erased, so nobody is stored.",
            fix="They can come back by a form of their own.",
        )
    if isinstance(address, Problem):
        if all(address.code != problem.code for problem in problems):
            problems.append(address)
        return Decision(
            address=None,
            is_new=False,
            reading=reading,
            unmapped=read.unmapped,
            outcomes=(),
            effects=(),
            problems=tuple(problems),
        )
    shown = shown or route
    context = RuleContext(
        submission,
        route.form,
        shown.form,
        person or Person(address=address, suppressed=submission.suppressed),
        catalogue,
        now,
    )
    applies = _operate(context, route, person, problems)
    if applies and route.operation != "erase":
        for report in reading:
            _keep(context, report)
        confirmed = {one.list for one in route.consent if one.confirm}
        for line in shown.consent:
            # The sheet in force may ask for a confirmation that the one shown did not.
            _consent(context, line, confirm=line.confirm or line.list in confirmed)
        for number, rule in enumerate(route.then, start=1):
            _apply(context, rule, number)
        _zone(context)
    return Decision(
        address=address,
        is_new=person is None,
        stores=applies or person is not None,
        reading=reading,
        unmapped=read.unmapped,
        outcomes=tuple(context.outcomes),
        effects=tuple(context.effects),
        problems=tuple(problems + context.problems),
    )


def _operate(
    context: RuleContext, route: RouteDocument, person: Person | None, problems: list[Problem]
) -> bool:
    """Do what the submission is for, besides the lines; whether the lines apply at all.

    Whoever fills in a public form has proved nothing: they are asked by email first.
    """
    asks, known = context.submission.own, person is not None

    def nothing(text: str) -> bool:
        context.outcome("operation", text, acts=False)
        return False

    match route.operation:
        case "add_only" if known:
            return nothing("known already: left as they are")
        case "update_only" | "change_address" | "erase" if not known:
            return nothing("nobody has this address: nothing is stored")
        case "erase":
            because = context.because("operation", "operation", "the source erases those who come")
            context.effects.append(Erase(asks=asks, because=because))
            context.outcome("operation", "asked by email first" if asks else "erased", acts=True)
        case "change_address":
            new = _mapped_address(route, context.submission.everything, context.catalogue)
            if isinstance(new, Problem):
                if all(new.code != problem.code for problem in problems):
                    problems.append(new)
                return nothing("no new address: nothing is changed")
            if address_key(new) == address_key(context.person.address):
                context.outcome("operation", "has this address already", acts=False)
                return True
            because = context.because(
                "operation", "operation", "the submission gives another address"
            )
            change = ChangeAddress(
                before=context.person.address, after=new, asks=asks, because=because
            )
            context.effects.append(change)
            sentence = "the old address is asked first" if asks else "the address is changed"
            context.outcome("operation", f"{sentence}: {new}", acts=True)
    return True


def needs_history(route: RouteDocument) -> bool:
    """Whether a rule looks at what happened before, so that it has to be loaded."""
    conditions = [rule.when for rule in route.then if rule.on and rule.when is not None]
    kinds = {leaf.kind for condition in conditions for leaf in leaves(condition)}
    stops = any(rule.action.kind == "stop_sequence" for rule in route.then)
    return stops or not kinds.isdisjoint({"happened", "run", "frozen"})


def _zone(context: RuleContext) -> None:
    """What the answers, or the visitor's browser, say of their time zone."""
    browser = context.submission.browser_zone
    before = context.own_zone
    found = zone_of(context.values, context.catalogue, before, browser)
    if found is not None:
        because = context.because("read_as", "zone", found.says)
        context.effects.append(SetZone(before=before, after=found.zone, because=because))


def _unless_changed_since(report: LineReport, submission: SubmissionFacts) -> LineReport:
    """The line as it stands; without effect where something received later wrote the field."""
    if not report.changes or ("field", report.field_key or "") not in submission.changed_since:
        return report
    return replace(report, after=report.before, changes=False, note="a later answer stays")


def _keep(context: RuleContext, report: LineReport) -> None:
    target = context.catalogue.fields.get(report.field or "")
    if not target or not report.changes or report.after is None or target.type == "email":
        return
    shown = f"the answer to “{context.label(report.question)}”"
    if not report.question:
        shown = "the line says so for everybody"
    elif report.note == "erased":
        shown = f"the answer to “{context.label(report.question)}” was empty"
    elif report.received is None or not report.received.strip():
        shown = f"the fallback of “{context.label(report.question)}”"
    context.values[target.key] = report.after
    context.effects.append(
        field_set(
            target,
            report.before,
            report.after,
            context.because("read_as", report.line, shown),
        )
    )


def _consent(context: RuleContext, line: ConsentLine, *, confirm: bool) -> None:
    if line.list is None or line.list not in context.catalogue.lists:
        return context.outcome(line.id, "no list chosen", acts=False)
    if line.question and read_yes_no(context.answer(line.question) or "no") is not True:
        return context.outcome(line.id, "not ticked: not subscribed", acts=False)
    stated = context.submission.stated_consent
    if stated is not None and not stated.strip() and not line.question:
        return context.outcome(
            line.id, "no consent is stated for the file: not subscribed", acts=False
        )
    asked = "the form says so"
    if line.question:
        asked = f"“{context.label_shown(line.question)}” was ticked"
    elif stated is not None:
        asked = "the member who imported the file states that they agreed"
    elif not context.submission.own:
        asked = "the source says so"
    subscribe(
        context,
        line.id,
        line.list,
        asked,
        wording=stated or line.wording or context.label_shown(line.question),
        own=context.submission.own and bool(line.question or line.wording.strip()),
        band="consent",
        confirm=confirm,
    )


def _apply(context: RuleContext, rule: Rule, number: int) -> None:
    """Carry out one rule, if it is on and its condition holds."""
    if not rule.on:
        return context.outcome(rule.id, "switched off", acts=False)
    why = f"rule {number}: everybody from here"
    if rule.when is not None:
        sentence = say(rule.when, context.catalogue, context.form)
        if not holds(rule.when, context.person, context.circumstances, context.catalogue):
            return context.outcome(rule.id, f"no: not {sentence}", acts=False)
        why = f"rule {number}: {sentence}"
    rule.action.carry_out(context, AppliedRule(line=rule.id, number=number, why=why))
