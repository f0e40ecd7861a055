"""What a route decides about one submission.

`decide` sends and stores nothing: it returns effects, each with its because, and what
each line of the sheet made of the submission, for the sample beside it.
"""

from datetime import datetime

from .conditions import leaves
from .decision import Decision, SetField, SubmissionFacts
from .documents import Problem
from .forms import Answers
from .people import Catalogue, Person
from .reading import LineReport, read_answers, read_into, received_by
from .route_document import ConsentLine, RouteDocument
from .rules import carry_rule, subscribe
from .values import read_yes_no
from .working import Working


def submitted_address(
    route: RouteDocument, answers: Answers, catalogue: Catalogue
) -> str | Problem:
    """The address that answers (and context) give by the route's map, or why there is none."""
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
) -> Decision:
    """Decide what `submission` means for `person` (None: nobody has the address yet)."""
    address = submitted_address(route, submission.everything, catalogue)
    stored = person.values if person else {}
    choices = {question.name: question.choices for question in route.form.questions}
    reading = read_answers(route.read_as, submission.everything, stored, catalogue, choices)
    problems = [line.problem for line in reading.lines if line.problem]
    if isinstance(address, Problem):
        if all(address.code != problem.code for problem in problems):
            problems.append(address)
        return Decision(
            address=None,
            is_new=False,
            reading=reading.lines,
            unmapped=reading.unmapped,
            outcomes=(),
            effects=(),
            problems=tuple(problems),
        )
    work = Working(
        submission,
        route,
        person or Person(address=address, suppressed=submission.suppressed),
        catalogue,
        now,
    )
    for report in reading.lines:
        _keep(work, report)
    for line in route.consent:
        _consent(work, line)
    for number, rule in enumerate(route.then, start=1):
        carry_rule(work, rule, number)
    return Decision(
        address=address,
        is_new=person is None,
        reading=reading.lines,
        unmapped=reading.unmapped,
        outcomes=tuple(work.outcomes),
        effects=tuple(work.effects),
        problems=tuple(problems + work.problems),
    )


def needs_history(route: RouteDocument) -> bool:
    """Whether a rule looks at what happened before, so that it has to be loaded."""
    conditions = [rule.when for rule in route.then if rule.on and rule.when is not None]
    kinds = {leaf.kind for condition in conditions for leaf in leaves(condition)}
    stops = any(rule.action.kind == "stop_sequence" for rule in route.then)
    return stops or not kinds.isdisjoint({"happened", "run"})


def _keep(work: Working, report: LineReport) -> None:
    target = work.catalogue.fields.get(report.field or "")
    if not target or not report.changes or report.after is None or target.type == "email":
        return
    shown = f"the answer to “{work.label(report.question)}”"
    if not report.question:
        shown = "the line says so for everybody"
    elif report.note == "erased":
        shown = f"the answer to “{work.label(report.question)}” was empty"
    elif report.received is None or not report.received.strip():
        shown = f"the fallback of “{work.label(report.question)}”"
    work.values[target.key] = report.after
    work.effects.append(
        SetField(
            field=target.id,
            key=target.key,
            label=target.label,
            before=report.before,
            after=report.after,
            shown_before=target.shown(report.before or ""),
            shown=target.shown(report.after),
            because=work.because("read_as", report.line, shown),
        )
    )


def _consent(work: Working, line: ConsentLine) -> None:
    if line.list is None or line.list not in work.catalogue.lists:
        return work.say(line.id, "no list chosen", acts=False)
    if line.question and read_yes_no(work.answer(line.question) or "no") is not True:
        return work.say(line.id, "not ticked: not subscribed", acts=False)
    stated = work.submission.stated_consent
    if stated is not None and not stated.strip() and not line.question:
        return work.say(line.id, "no consent is stated for the file: not subscribed", acts=False)
    asked = "the form says so"
    if line.question:
        asked = f"“{work.label(line.question)}” was ticked"
    elif stated is not None:
        asked = "the member who put the file in says that they agreed"
    elif not work.submission.own:
        asked = "the source says so"
    subscribe(
        work,
        line.id,
        line.list,
        asked,
        wording=stated or line.wording or work.label(line.question),
        own=work.submission.own and bool(line.question or line.wording.strip()),
        band="consent",
        confirm=line.confirm,
    )
