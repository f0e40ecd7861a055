"""The three free guides: the forms that give them away."""

from core.deciding import (
    AddTags,
    ConsentLine,
    Passing,
    RouteDocument,
    Rule,
    StartSequence,
    TagByAnswer,
    TagRow,
    VisitorSees,
)
from core.reading import Form, FormStyle, Question, ReadLine
from server.routes.actions import turn_on
from server.sources.actions import make_source, save_route_draft
from server.sources.models import Source

from .house import INTERESTS, House
from .sequences import NEWS, make_telescope_sequence
from .services import to_the_course, to_the_letters

_WITH_NEWS = (
    "With the guide you get Open-night news, about twice a month. Every email has a link to leave."
)


def make_guides(house: House) -> list[Source]:
    """The guides, each with its lane of one sequence, turned on."""
    sequence = str(make_telescope_sequence(house).pk)
    return [_telescope(house, sequence), _calendar(house, sequence), _photos(house, sequence)]


def _telescope(house: House, sequence: str) -> Source:
    email, first, interest = (house.fields[key] for key in ("email", "first_name", "interest"))
    document = RouteDocument(
        form=Form(
            title="Get the guide",
            intro="Twelve pages for before you buy. It comes by email, at once.",
            button="Send me the guide",
            questions=(
                Question(id="q1", name="email", type="email", label="Email", required=True),
                Question(id="q2", name="first_name", type="name", label="First name"),
                Question(
                    id="q3",
                    name="look",
                    type="choice",
                    label="What do you look at?",
                    choices=INTERESTS,
                ),
                Question(id="q4", name="utm_source", type="hidden", parameter="utm_source"),
            ),
        ),
        read_as=(
            ReadLine(id="r1", question="email", field=email),
            ReadLine(id="r2", question="first_name", field=first, part="first", case_right=True),
            ReadLine(id="r3", question="look", field=interest),
        ),
        consent=(ConsentLine(id="c1", list=str(house.list(NEWS).pk), wording=_WITH_NEWS),),
        then=(
            Rule(id="t1", action=AddTags(tags=(house.tag("guide: telescope"),))),
            Rule(id="t2", action=_by_interest(house, "look")),
            Rule(id="t3", action=StartSequence(sequence=sequence, lane="a")),
            to_the_letters(house),
        ),
        visitor_sees=VisitorSees(
            kind="page",
            address=f"{house.outside}/larkmoor/thanks/",
            passing=(Passing(question="first_name", parameter="name"),),
        ),
    )
    return turned_on(house, "First telescope guide", "first-telescope-guide", document)


def _calendar(house: House, sequence: str) -> Source:
    email, first, country = (house.fields[key] for key in ("email", "first_name", "country"))
    document = RouteDocument(
        form=Form(
            title="Night-sky calendar",
            intro="Say where you watch from, and the calendar fits your sky.",
            button="Send me the calendar",
            style=FormStyle(
                paper="#FFF9E8", ink="#2B2440", accent="#5A3E8E", corners=10, font="serif"
            ),
            questions=(
                Question(id="q1", name="email", type="email", label="Email", required=True),
                Question(id="q2", name="first_name", type="name", label="First name"),
                Question(id="q3", name="country", type="country", label="Country"),
            ),
        ),
        read_as=(
            ReadLine(id="r1", question="email", field=email),
            ReadLine(id="r2", question="first_name", field=first, part="first", case_right=True),
            ReadLine(id="r3", question="country", field=country),
        ),
        consent=(ConsentLine(id="c1", list=str(house.list(NEWS).pk), wording=_WITH_NEWS),),
        then=(
            # Copied from the other sheet, and forgotten; `aftermath` sets it right.
            Rule(id="t1", action=AddTags(tags=(house.tag("guide: telescope"),))),
            Rule(id="t2", action=StartSequence(sequence=sequence, lane="b")),
        ),
        visitor_sees=VisitorSees(heading="Thank you", text="The calendar is in your inbox."),
    )
    return turned_on(house, "Night-sky calendar", "night-sky-calendar", document)


def _photos(house: House, sequence: str) -> Source:
    fields = house.fields
    document = RouteDocument(
        form=Form(
            title="Star photos",
            button="Send me the sheet",
            questions=(
                Question(id="q1", name="email", type="email", label="Email", required=True),
                Question(
                    id="q2", name="name", type="name", label="Your name", boxes=2, required=True
                ),
                Question(
                    id="q3",
                    name="news",
                    type="consent",
                    label="Send me Open-night news, about twice a month",
                ),
            ),
        ),
        read_as=(
            ReadLine(id="r1", question="email", field=fields["email"]),
            ReadLine(id="r2", question="name.first", field=fields["first_name"], case_right=True),
            ReadLine(id="r3", question="name.last", field=fields["last_name"], case_right=True),
        ),
        consent=(ConsentLine(id="c1", list=str(house.list(NEWS).pk), question="news"),),
        then=(
            Rule(id="t1", action=AddTags(tags=(house.tag("guide: star photos"),))),
            Rule(id="t2", action=StartSequence(sequence=sequence, lane="c")),
            to_the_course(house),
        ),
        visitor_sees=VisitorSees(
            kind="page",
            address=f"{house.outside}/larkmoor/sent/",
            passing=(Passing(question="name.first", parameter="name"),),
        ),
    )
    return turned_on(house, "Star photos starter sheet", "star-photos-sheet", document)


def _by_interest(house: House, question: str) -> TagByAnswer:
    return TagByAnswer(
        question=question,
        table=tuple(
            TagRow(choice=one.key, tags=(house.tag(f"looks at {one.label.lower()}"),))
            for one in INTERESTS
        ),
    )


def turned_on(
    house: House,
    name: str,
    key: str,
    document: RouteDocument,
    kind: Source.Kind = Source.Kind.FORM,
) -> Source:
    """Make a source with this sheet, and turn it on."""
    source = make_source(house.workspace, name, house.member, key=key, kind=kind)
    save_route_draft(source, document, 1, house.member)
    turn_on(source, house.member, "First edition")
    return source
