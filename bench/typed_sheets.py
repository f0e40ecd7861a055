"""The sheets that the typing bench writes into, as large as a specialist's grow."""

from dataclasses import dataclass

from core.conditions import FieldTest, Group
from core.deciding import AddTags, ChangeScore, MakeTask, RecordEvent, Rule, TagFromAnswer
from core.delivering import Duration
from core.messages import MessageDocument, TextBlock
from core.reading import Question
from core.sequences import ActStep, Lane, SendStep, SequenceDocument, Step, WaitStep
from server.mail.editing import make_message, save_message
from server.people.actions import make_tag
from server.people.models import Field
from server.routes.actions import turn_on
from server.sequences.actions import make_sequence, save_sequence_draft
from server.sources.actions import make_source, route_of_revision, save_route_draft
from server.sources.models import Source
from server.workspaces.models import Workspace


@dataclass(frozen=True)
class TypedSheet:
    """A sheet: its address, what is pressed to open the box, and the box."""

    name: str
    at: str
    opens: str
    """A selector; empty: nothing has to be opened."""
    box: str
    """A selector."""
    ready: str = ""
    """A selector of what is there when the sheet can be used; empty: it is not measured."""


def typed_sheets() -> tuple[TypedSheet, ...]:
    """A form of 40 questions, a route of 21 rules, a sequence of 60 steps, and a letter of 30 texts."""
    workspace = Workspace.objects.get()
    edit = "button[aria-label^='Edit']"
    return (
        TypedSheet(
            "route",
            route_of_rules(21),
            f"[id=t19] {edit}",
            "[id=t19] input[type=text]",
            ready="[id=t20]",
        ),
        TypedSheet(
            "sequence",
            _sequence(workspace, 60),
            "[id=s58]",
            "[role=complementary] input[type=text], aside input[type=text]",
            ready="[id=s58]",
        ),
        TypedSheet(
            "letter",
            _letter(workspace, 30),
            "",
            "[role=textbox][aria-multiline=true]",
            ready="[role=textbox][aria-multiline=true]",
        ),
        TypedSheet("form", _form(workspace, 40), f"[id=q38] {edit}", "[id=q38] input[type=text]"),
    )


def route_of_rules(rules: int) -> str:
    """A live route of so many rules; where its sheet is."""
    workspace, source = Workspace.objects.get(), Source.everywhere.get(key="bench")
    name = str(Field.objects.of(workspace).get(key="first_name").pk)
    made: list[Rule] = []
    for number in range(rules):
        tag = str(make_tag(workspace, f"tag {number}").pk)
        action = (
            AddTags(tags=(tag,)),
            TagFromAnswer(question="look", prefix="looks at "),
            ChangeScore(by=number),
            RecordEvent(name=f"came {number}"),
            MakeTask(title=f"Call them {number}"),
        )[number % 5]
        when = Group(of=(FieldTest(field=name, op="not_empty"),)) if number % 2 else None
        made.append(Rule(id=f"t{number}", action=action, when=when))
    live = route_of_revision(str(source.revisions.get(state="live").pk))
    save_route_draft(source, live.model_copy(update={"then": tuple(made)}), None, None)
    turn_on(source, None)
    return f"/w/{workspace.slug}/sources/{source.pk}"


def _form(workspace: Workspace, questions: int) -> str:
    source = make_source(workspace, "A long form", None)
    draft = route_of_revision(str(source.revisions.get().pk))
    made = tuple(
        Question(id=f"q{n}", name=f"text_{n}", type="text", label=f"Question {n}")
        for n in range(1, questions)
    )
    form = draft.form.model_copy(update={"questions": (*draft.form.questions, *made)})
    save_route_draft(source, draft.model_copy(update={"form": form}), None, None)
    return f"/w/{workspace.slug}/sources/{source.pk}"


def _sequence(workspace: Workspace, steps: int) -> str:
    """Three lanes of as many steps each: emails, waits, and tasks."""
    message = str(make_message(workspace, "Hello").pk)
    made: list[Step] = []
    for number in range(steps):
        step: Step = (
            SendStep(id=f"s{number}", message=message),
            WaitStep(id=f"s{number}", duration=Duration(amount=1, unit="days")),
            ActStep(id=f"s{number}", action=MakeTask(title=f"Call them {number}")),
        )[number % 3 if number != steps - 2 else 2]
        made.append(step)
    third = steps // 3
    lanes = tuple(
        Lane(id=name, name=name.upper(), steps=tuple(made[at * third : (at + 1) * third]))
        for at, name in enumerate("abc")
    )
    row = make_sequence(workspace, "Nurture")
    save_sequence_draft(row, SequenceDocument(lanes=lanes), None, None)
    return f"/w/{workspace.slug}/sequences/{row.pk}"


def _letter(workspace: Workspace, texts: int) -> str:
    row = make_message(workspace, "Long letter")
    words = "<p>The dome is open from dusk, and the moon is half full. Bring a coat.</p>" * 3
    blocks = tuple(TextBlock(id=f"b{n}", html=words) for n in range(texts))
    save_message(row, MessageDocument(subject="Tonight", blocks=blocks), None, None)
    return f"/w/{workspace.slug}/messages/{row.pk}"
