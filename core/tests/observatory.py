"""A small route and its workspace, for the tests of the rules."""

from core.deciding import (
    AddTags,
    ConsentLine,
    RouteDocument,
    Rule,
    StartSequence,
    SubmissionFacts,
    TagByAnswer,
    TagRow,
)
from core.people import Catalogue, FieldFacts, SequenceFacts
from core.reading import Form, Question, ReadLine
from core.values import Choice

LOOKS = (Choice(key="moon", label="Moon"), Choice(key="planets", label="Planets"))

CATALOGUE = Catalogue(
    fields={
        "f-email": FieldFacts(id="f-email", key="email", label="Email", type="email"),
        "f-first": FieldFacts(id="f-first", key="first_name", label="First name", type="text"),
        "f-last": FieldFacts(id="f-last", key="last_name", label="Last name", type="text"),
        "f-look": FieldFacts(
            id="f-look", key="interest", label="Interest", type="choice", choices=LOOKS
        ),
    },
    tags={"t-guide": "guide", "t-moon": "moon", "t-planets": "planets"},
    lists={"l-news": "Open-night news"},
    sequences={
        "s-first": SequenceFacts(
            id="s-first", name="First telescope", live=True, lanes={"a": "A"}, list_id="l-news"
        )
    },
    messages={"m-guide": "Your guide", "m-fits": "Which one fits"},
)

ROUTE = RouteDocument(
    form=Form(
        title="Get the guide",
        questions=(
            Question(id="q1", name="email", type="email", label="Email", required=True),
            Question(id="q2", name="name", type="name", label="Name"),
            Question(
                id="q3", name="look", type="choice", label="What do you look at?", choices=LOOKS
            ),
            Question(id="q4", name="news", type="yes_no", label="Send me the news"),
            Question(id="q5", name="utm_source", type="hidden", parameter="utm_source"),
        ),
    ),
    read_as=(
        ReadLine(id="r1", question="email", field="f-email"),
        ReadLine(id="r2", question="name", field="f-first", part="first", case_right=True),
        ReadLine(id="r3", question="name", field="f-last", part="last", case_right=True),
        ReadLine(id="r4", question="look", field="f-look"),
    ),
    consent=(ConsentLine(id="c1", list="l-news", question="news"),),
    then=(
        Rule(id="t1", action=AddTags(tags=("t-guide",))),
        Rule(
            id="t2",
            action=TagByAnswer(
                question="look",
                table=(
                    TagRow(choice="moon", tags=("t-moon",)),
                    TagRow(choice="planets", tags=("t-planets",)),
                ),
            ),
        ),
        Rule(id="t3", action=StartSequence(sequence="s-first", lane="a")),
    ),
)


def submission(**answers: str) -> SubmissionFacts:
    """A submission of the form, with these answers."""
    return SubmissionFacts(
        source_id="source",
        source_name="Telescope guide",
        submission_id="submission",
        revision=3,
        answers=tuple(answers.items()),
    )
