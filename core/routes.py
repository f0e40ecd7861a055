"""The route of a source, and what it decides about one submission.

`decide` sends and stores nothing: it returns effects, each with its because, and what
each line of the sheet made of the submission, for the sample beside it.
"""

from collections.abc import Mapping
from datetime import datetime
from typing import Annotated, Literal
from urllib.parse import parse_qsl, urlencode, urlsplit, urlunsplit

from pydantic import Field

from . import membership
from .because import Because
from .documents import Frozen, Problem
from .forms import Answers, Form, Question, answer_to, input_names
from .people import Catalogue, MembershipState, Person
from .reading import CONTEXT, PARAMETER, LineReport, ReadLine, read_answers, read_into, received_by
from .values import Choice, Kept, read_choices, read_yes_no

SourceKind = Literal["form", "posted", "file", "sheet", "webhook"]
OWN_KINDS: tuple[SourceKind, ...] = ("form", "posted")
"""Kinds whose submissions are sent by the person who is in them."""


class ConsentLine(Frozen):
    """Subscribe to a list: always, or only if the yes/no question `question` is a yes."""

    id: str
    list: str | None = None
    question: str = ""
    wording: str = ""


class AddTags(Frozen):
    """Tag everybody who comes through."""

    kind: Literal["add_tags"] = "add_tags"
    tags: tuple[str, ...] = ()


class TagRow(Frozen):
    """The tags that one choice gives."""

    choice: str
    tags: tuple[str, ...] = ()


class TagByAnswer(Frozen):
    """Tag by the answer to a question: a table of choice and tags."""

    kind: Literal["tag_by_answer"] = "tag_by_answer"
    question: str = ""
    table: tuple[TagRow, ...] = ()


class StartSequence(Frozen):
    """Start a sequence, at the top of a lane (the first one where none is named)."""

    kind: Literal["start_sequence"] = "start_sequence"
    sequence: str | None = None
    lane: str | None = None


Action = Annotated[AddTags | TagByAnswer | StartSequence, Field(discriminator="kind")]


class Rule(Frozen):
    """A rule of the Then band. One that is switched off stays, and does nothing."""

    id: str
    on: bool = True
    action: Action


class Passing(Frozen):
    """An answer that is passed along to the next page, under a parameter's name."""

    question: str
    parameter: str


class VisitorSees(Frozen):
    """What the visitor gets after the form: a text, or another page."""

    kind: Literal["text", "page"] = "text"
    heading: str = "Thank you"
    text: str = ""
    address: str = ""
    passing: tuple[Passing, ...] = ()


class OwnForm(Frozen):
    """Of a posted HTML form: where a visitor goes whose answers have to be mended."""

    errors_to: str = ""
    sites: tuple[str, ...] = ()
    """Websites (https://www.example.org) that a visitor may be sent back to."""


class RouteDocument(Frozen):
    """The whole sheet of a source, band by band."""

    form: Form = Form()
    read_as: tuple[ReadLine, ...] = ()
    consent: tuple[ConsentLine, ...] = ()
    then: tuple[Rule, ...] = ()
    visitor_sees: VisitorSees = VisitorSees()
    own_form: OwnForm = OwnForm()


class SubmissionFacts(Frozen):
    """A submission as the rules see it."""

    source_id: str
    source_name: str
    answers: Answers
    context: tuple[tuple[str, str], ...] = ()
    """What is known besides: by names of `CONTEXT`, or of a parameter of the page."""
    own: bool = True
    """Whether the person sent it; not so for a row of a file, a sheet or a webhook."""
    stated_consent: str | None = None
    """Of a file: what its people agreed to, as the member says; empty where to nothing."""
    submission_id: str | None = None
    revision: int | None = None

    @property
    def everything(self) -> Answers:
        """Answers and context: what a line of the map can ask for."""
        return (*self.answers, *self.context)


def context_answers(
    context: Mapping[str, object], source_name: str, received: datetime | None
) -> tuple[tuple[str, str], ...]:
    """The context of a submission as questions; `context` as the server keeps it."""
    named = {
        "@page": context.get("page"),
        "@title": context.get("title"),
        "@referrer": context.get("from"),
        "@source": source_name,
        "@received": received.isoformat() if received else None,
    }
    found = [(name, str(named[name])) for name in CONTEXT if named[name]]
    parameters = context.get("parameters")
    if isinstance(parameters, Mapping):
        found += [(f"{PARAMETER}{name}", str(text)) for name, text in parameters.items()]
    return tuple(found)


class SetField(Frozen):
    """Keep a value in a field."""

    kind: Literal["set_field"] = "set_field"
    field: str
    key: str
    label: str
    before: Kept | None
    after: Kept
    shown_before: str
    shown: str
    """The values as people read them: the label of a choice, yes or no."""
    because: Because


class AddTag(Frozen):
    """Put a tag on the person."""

    kind: Literal["add_tag"] = "add_tag"
    tag: str
    name: str
    because: Because


class Subscribe(Frozen):
    """Move a membership, with the wording that was agreed to."""

    kind: Literal["subscribe"] = "subscribe"
    list: str
    name: str
    before: MembershipState
    to: MembershipState
    wording: str
    because: Because


class EnterSequence(Frozen):
    """Start a run of a sequence."""

    kind: Literal["enter_sequence"] = "enter_sequence"
    sequence: str
    name: str
    lane: str | None
    because: Because


Effect = Annotated[SetField | AddTag | Subscribe | EnterSequence, Field(discriminator="kind")]


class Outcome(Frozen):
    """What one line of Consent or Then made of the submission, in a few words."""

    line: str
    text: str
    acts: bool


class Decision(Frozen):
    """What should happen. Without an address nobody is stored and nothing is done."""

    address: str | None
    is_new: bool
    reading: tuple[LineReport, ...]
    unmapped: tuple[str, ...]
    outcomes: tuple[Outcome, ...]
    effects: tuple[Effect, ...]
    problems: tuple[Problem, ...]


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
    desk = _Desk(submission, route, person or Person(address=address), catalogue)
    for report in reading.lines:
        desk.keep(report)
    for line in route.consent:
        desk.consent(line)
    for number, rule in enumerate(route.then, start=1):
        desk.rule(rule, number)
    return Decision(
        address=address,
        is_new=person is None,
        reading=reading.lines,
        unmapped=reading.unmapped,
        outcomes=tuple(desk.outcomes),
        effects=tuple(desk.effects),
        problems=tuple(problems + desk.problems),
    )


class _Desk:
    """Collects the effects of one submission, so that a later rule sees the earlier ones."""

    def __init__(
        self,
        submission: SubmissionFacts,
        route: RouteDocument,
        person: Person,
        catalogue: Catalogue,
    ) -> None:
        self.submission = submission
        self.route = route
        self.catalogue = catalogue
        self.labels = input_names(route.form)
        self.tags = set(person.tags)
        self.memberships = dict(person.memberships)
        self.entered = set(person.entered)
        self.effects: list[Effect] = []
        self.outcomes: list[Outcome] = []
        self.problems: list[Problem] = []

    def keep(self, report: LineReport) -> None:
        target = self.catalogue.fields.get(report.field or "")
        if not target or not report.changes or report.after is None or target.type == "email":
            return
        shown = f"the answer to “{self._label(report.question)}”"
        if not report.question:
            shown = "the line says so for everybody"
        elif report.note == "erased":
            shown = f"the answer to “{self._label(report.question)}” was empty"
        elif report.received is None or not report.received.strip():
            shown = f"the fallback of “{self._label(report.question)}”"
        self.effects.append(
            SetField(
                field=target.id,
                key=target.key,
                label=target.label,
                before=report.before,
                after=report.after,
                shown_before=target.shown(report.before or ""),
                shown=target.shown(report.after),
                because=self._because("read_as", report.line, shown),
            )
        )

    def consent(self, line: ConsentLine) -> None:
        name = self.catalogue.lists.get(line.list or "")
        if name is None or line.list is None:
            return self._say(line.id, "no list chosen", acts=False)
        if line.question:
            ticked = read_yes_no(answer_to(self.submission.answers, line.question) or "no")
            if ticked is not True:
                return self._say(line.id, "not ticked: not subscribed", acts=False)
        stated = self.submission.stated_consent
        if stated is not None and not stated.strip() and not line.question:
            return self._say(
                line.id, "no consent is stated for the file: not subscribed", acts=False
            )
        own_opt_in = self.submission.own and bool(line.question or line.wording.strip())
        before = self.memberships.get(line.list, "none")
        move = membership.subscribe(before, own_opt_in=own_opt_in)
        if move.refused:
            return self._say(line.id, f"stays {before}: {move.refused}", acts=False)
        if move.to == before:
            return self._say(line.id, f"is subscribed to {name} already", acts=False)
        asked = "the form says so"
        if line.question:
            asked = f"“{self._label(line.question)}” was ticked"
        elif stated is not None:
            asked = "the member who put the file in says that they agreed"
        elif not self.submission.own:
            asked = "the source says so"
        self.memberships[line.list] = move.to
        self.effects.append(
            Subscribe(
                list=line.list,
                name=name,
                before=before,
                to=move.to,
                wording=stated or line.wording or self._label(line.question),
                because=self._because("consent", line.id, asked),
            )
        )
        self._say(line.id, f"subscribed to {name}", acts=True)

    def rule(self, rule: Rule, number: int) -> None:
        if not rule.on:
            return self._say(rule.id, "switched off", acts=False)
        match rule.action:
            case AddTags(tags=tags):
                self._tag(rule.id, tags, f"rule {number}: everybody from here")
            case TagByAnswer():
                self._tag_by_answer(rule.id, rule.action, number)
            case StartSequence():
                self._start(rule.id, rule.action, number)

    def _tag_by_answer(self, line: str, action: TagByAnswer, number: int) -> None:
        answer = answer_to(self.submission.answers, action.question)
        if answer is None or not answer.strip():
            return self._say(line, "no answer: no tag", acts=False)
        label = self._label(action.question)
        choices = self._choices(action.question) or _choices_of(action)
        chosen = read_choices(answer, choices)
        if isinstance(chosen, Problem):
            self.problems.append(chosen.model_copy(update={"place": line}))
            return self._say(line, chosen.sentence, acts=False)
        said = [one.label for one in choices if one.key in chosen]
        tags = tuple(tag for row in action.table if row.choice in chosen for tag in row.tags)
        if not tags:
            return self._say(line, f"{', '.join(said)}: no tag", acts=False)
        self._tag(line, tags, f"rule {number}: the answer to “{label}” was {', '.join(said)}")

    def _tag(self, line: str, tags: tuple[str, ...], why: str) -> None:
        said: list[str] = []
        acts = False
        for tag in tags:
            name = self.catalogue.tags.get(tag)
            if name is None:
                self.problems.append(_gone("tag", line))
                said.append("a tag that is gone")
            elif tag in self.tags:
                said.append(f"has {name} already")
            else:
                acts = True
                self.tags.add(tag)
                self.effects.append(
                    AddTag(tag=tag, name=name, because=self._because("then", line, why))
                )
                said.append(f"+ {name}")
        self._say(line, " · ".join(said) or "no tag chosen", acts=acts)

    def _start(self, line: str, action: StartSequence, number: int) -> None:
        sequence = self.catalogue.sequences.get(action.sequence or "")
        if sequence is None:
            if action.sequence:
                self.problems.append(_gone("sequence", line))
            return self._say(line, "no sequence to start", acts=False)
        if sequence.id in self.entered:
            return self._say(line, f"was in {sequence.name} before: once only", acts=False)
        if not sequence.live:
            return self._say(line, f"{sequence.name} is not live: nothing starts", acts=False)
        self.entered.add(sequence.id)
        self.effects.append(
            EnterSequence(
                sequence=sequence.id,
                name=sequence.name,
                lane=action.lane,
                because=self._because("then", line, f"rule {number}: everybody from here"),
            )
        )
        lane = sequence.lanes.get(action.lane or "")
        self._say(line, f"starts {sequence.name}" + (f", lane {lane}" if lane else ""), acts=True)

    def _say(self, line: str, text: str, *, acts: bool) -> None:
        self.outcomes.append(Outcome(line=line, text=text, acts=acts))

    def _question(self, name: str) -> Question | None:
        return next((one for one in self.route.form.questions if one.name == name), None)

    def _label(self, name: str) -> str:
        return CONTEXT.get(name) or self.labels.get(name, name)

    def _choices(self, name: str) -> tuple[Choice, ...]:
        question = self._question(name)
        return question.choices if question else ()

    def _because(self, band: str, line: str, sentence: str) -> Because:
        return Because(
            kind="route",
            sentence=sentence,
            source_id=self.submission.source_id,
            source_name=self.submission.source_name,
            submission_id=self.submission.submission_id,
            revision=self.submission.revision,
            band=band,
            line_id=line,
        )


def _choices_of(action: TagByAnswer) -> tuple[Choice, ...]:
    """Where the source defines no question: the choices that the table itself names."""
    return tuple(Choice(key=row.choice, label=row.choice) for row in action.table)


def _gone(what: str, line: str) -> Problem:
    return Problem(
        code=f"{what}_gone",
        place=line,
        sentence=f"A {what} that this rule uses is gone.",
        fix=f"Choose another {what}, or make it again.",
    )


def next_page(sees: VisitorSees, answers: Answers) -> str | None:
    """The address of the page that the visitor goes to, or None where a text is shown.

    Only the address that the sheet holds is ever gone to; answers become query
    parameters, encoded as application/x-www-form-urlencoded (WHATWG URL).
    """
    if sees.kind != "page" or not is_web_address(sees.address):
        return None
    parts = urlsplit(sees.address.strip())
    query = parse_qsl(parts.query, keep_blank_values=True)
    for passing in sees.passing:
        answer = answer_to(answers, passing.question)
        if passing.parameter and answer:
            query.append((passing.parameter, answer))
    return urlunsplit(parts._replace(query=urlencode(query)))


def is_web_address(address: str) -> bool:
    """Whether `address` is an absolute http or https address that a browser can go to."""
    try:
        parts = urlsplit(address.strip())
        return (
            parts.scheme in ("http", "https")
            and bool(parts.hostname)
            and not any(sign.isspace() or ord(sign) < 32 for sign in address.strip())
        )
    except ValueError:
        return False
