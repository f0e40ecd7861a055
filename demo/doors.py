"""The other ways in: news in the footer, the shop's pop-up, visits, a partner, a stand, a sheet,
and the shop's till."""

from core.conditions import AnswerTest, Group, HappenedTest
from core.deciding import (
    AddTags,
    ChangeScore,
    ChangeSubscription,
    ConsentLine,
    MakeTask,
    OwnForm,
    Passing,
    RecordEvent,
    RouteDocument,
    Rule,
    SetOwner,
    StopSequence,
    TagByAnswer,
    TagRow,
    VisitorSees,
)
from core.reading import Form, PopUp, Question, ReadLine
from core.values import Choice
from server.imports import sheets
from server.people.models import MailingList
from server.routes.actions import turn_on
from server.sources.actions import make_source, save_route_draft
from server.sources.models import Source

from .guides import turned_on
from .house import INTERESTS, House
from .people import BOOKING
from .sequences import NEWS, OFFERS, SCHOOLS
from .services import to_the_pipeline

GROUPS = (
    Choice(key="school", label="School"),
    Choice(key="club", label="Club"),
    Choice(key="family", label="Family"),
)
TELESCOPES = (
    Choice(key="none", label="None yet"),
    Choice(key="binoculars", label="Binoculars"),
    Choice(key="small", label="A small one"),
    Choice(key="large", label="A large one"),
)
_EMAIL = Question(id="q1", name="email", type="email", label="Email", required=True)


def make_doors(house: House) -> None:
    """Every other source, turned on."""
    _footer(house)
    _shop(house)
    _visit(house)
    _partner(house)
    _stand(house)
    _till(house)
    _booking(house)
    _no_more(house)


def line(house: House, question: str, key: str, **how: object) -> ReadLine:
    """A line of the map, to the field with this key."""
    return ReadLine.model_validate(
        {"id": f"r-{key}", "question": question, "field": house.fields[key], **how}
    )


def agreed(news: MailingList, question: str = "", wording: str = "") -> tuple[ConsentLine, ...]:
    """Consent to one list: by a question, or by words that everybody saw."""
    return (ConsentLine(id="c1", list=str(news.pk), question=question, wording=wording),)


def everybody(house: House, tag: str) -> Rule:
    """A rule that tags everybody."""
    return Rule(id="t1", action=AddTags(tags=(house.tag(tag),)))


def _footer(house: House) -> None:
    document = RouteDocument(
        form=Form(
            title="Open-night news",
            button="Keep me posted",
            questions=(
                _EMAIL,
                Question(
                    id="q2",
                    name="news",
                    type="consent",
                    required=True,
                    label="Send me Open-night news, about twice a month. "
                    "Every email has a link to leave.",
                ),
            ),
        ),
        read_as=(line(house, "email", "email"),),
        consent=agreed(house.list(NEWS), "news"),
        then=(everybody(house, "from the footer"),),
        visitor_sees=VisitorSees(heading="Thank you", text="The next clear Friday is yours."),
    )
    turned_on(house, "Open-night news", "open-night-news", document)


def _shop(house: House) -> None:
    document = RouteDocument(
        form=Form(
            title="A word before you choose",
            intro="Four times a year we sell what stood in our dome, for less.",
            button="Tell me when",
            pop_up=PopUp(opens="seconds", after=3, not_again=30),
            questions=(
                _EMAIL,
                Question(
                    id="q2",
                    name="owns",
                    type="choice",
                    label="What do you have now?",
                    look="buttons",
                    choices=TELESCOPES,
                ),
            ),
        ),
        read_as=(line(house, "email", "email"), line(house, "owns", "telescope_owned")),
        consent=agreed(
            house.list(OFFERS), wording="You get Shop offers, four times a year, until you leave."
        ),
        then=(everybody(house, "shop pop-up"),),
        visitor_sees=VisitorSees(heading="Thank you", text="We write when the next sale opens."),
    )
    turned_on(house, "Shop pop-up", "shop-offers", document)


def _visit(house: House) -> None:
    document = RouteDocument(
        form=Form(
            title="Plan a visit",
            button="Go on to choose a day",
            questions=(
                _EMAIL,
                Question(id="q2", name="name", type="name", label="Your name", required=True),
                Question(
                    id="q3",
                    name="group",
                    type="choice",
                    label="Who comes?",
                    look="drop_down",
                    required=True,
                    choices=GROUPS,
                ),
                Question(id="q4", name="people", type="number", label="How many?", required=True),
                Question(id="q5", name="on", type="date", label="On which day?"),
                Question(
                    id="q6",
                    name="phone",
                    type="phone",
                    label="Phone",
                    help="For the day itself, if clouds come",
                ),
                Question(id="q7", name="school", type="address", label="Address of the school"),
                Question(
                    id="q8",
                    name="programme",
                    type="consent",
                    label="Send us the School programme, once a term",
                ),
                Question(id="q9", name="wishes", type="long_text", label="Anything else?"),
            ),
        ),
        read_as=(
            line(house, "email", "email"),
            line(house, "name", "first_name", part="first", case_right=True),
            line(house, "name", "last_name", part="last", case_right=True),
            line(house, "people", "group_size"),
            line(house, "on", "visit_date"),
            line(house, "phone", "phone"),
            line(house, "school.street", "school_street"),
            line(house, "school.city", "school_city"),
            line(house, "school.postal_code", "school_postal_code"),
            line(house, "school.country", "country", overwrite="if_empty"),
        ),
        consent=agreed(house.list(SCHOOLS), "programme"),
        then=(
            everybody(house, "planned a visit"),
            Rule(
                id="t2",
                action=TagByAnswer(
                    question="group",
                    table=tuple(
                        TagRow(choice=one.key, tags=(house.tag(f"group: {one.key}"),))
                        for one in GROUPS
                    ),
                ),
            ),
            Rule(
                id="t3",
                when=Group(of=(AnswerTest(question="group", value="school"),)),
                action=SetOwner(members=(str(house.member.pk),)),
            ),
            Rule(
                id="t4",
                when=Group(of=(AnswerTest(question="group", value="school"),)),
                action=MakeTask(title="Call the school about its visit", days=2),
            ),
            Rule(id="t5", action=ChangeScore(by=5)),
            Rule(id="t7", action=RecordEvent(name="asked for a visit")),
            Rule(
                id="t6",
                when=Group(of=(HappenedTest(about="", at_least=2),)),
                action=RecordEvent(name="came back"),
            ),
            *to_the_pipeline(house),
        ),
        visitor_sees=VisitorSees(
            kind="page",
            address=f"{house.outside}/larkmoor/choose-a-day/",
            passing=(Passing(question="people", parameter="people"),),
        ),
    )
    turned_on(house, "Plan a visit", "plan-a-visit", document)


def _partner(house: House) -> None:
    document = RouteDocument(
        read_as=(
            line(house, "E-mail", "email"),
            line(house, "Name", "first_name", part="first", case_right=True),
            line(house, "Name", "last_name", part="last", case_right=True),
        ),
        consent=agreed(house.list(NEWS), "agreed", "Tell me about open nights"),
        then=(everybody(house, "moorland walks"),),
        visitor_sees=VisitorSees(kind="page", address=f"{house.outside}/larkmoor/sent/"),
        own_form=OwnForm(sites=(house.outside,)),
    )
    kind = Source.Kind.POSTED
    turned_on(house, "Moorland walks (partner)", "moorland-walks", document, kind)


def _stand(house: House) -> None:
    document = RouteDocument(
        form=Form(
            title="Open-night news",
            intro="From the stand: when the dome is open, twice a month.",
            button="Sign me up",
            shared_screen=True,
            questions=(
                _EMAIL,
                Question(id="q2", name="first_name", type="name", label="First name"),
                Question(
                    id="q3",
                    name="looks",
                    type="choices",
                    label="What would you look at?",
                    look="buttons",
                    choices=INTERESTS,
                ),
            ),
        ),
        read_as=(
            line(house, "email", "email"),
            line(house, "first_name", "first_name", part="first", case_right=True),
            line(house, "looks", "would_look_at"),
        ),
        consent=agreed(
            house.list(NEWS),
            wording="You get Open-night news, about twice a month. Every email has a link to leave.",
        ),
        then=(everybody(house, "event stand"),),
        visitor_sees=VisitorSees(heading="Thank you", text="See you at the dome."),
    )
    turned_on(house, "Event stand", "event-stand", document)


def _till(house: House) -> None:
    document = RouteDocument(
        read_as=(
            line(house, "buyer.email", "email"),
            line(house, "buyer.name", "first_name", part="first", case_right=True),
            line(house, "buyer.name", "last_name", part="last", case_right=True),
            line(house, "buyer.country", "country"),
        ),
        consent=agreed(house.list(OFFERS), "offers", "Ticked “Shop offers” at the till"),
        then=(
            everybody(house, "bought in the shop"),
            Rule(id="t2", action=RecordEvent(name="bought")),
        ),
    )
    kind = Source.Kind.WEBHOOK
    turned_on(house, "Shop till", "shop-till-0f5c1d7be2a94f3688d1c9a7b3e0d542", document, kind)


def _booking(house: House) -> None:
    document = RouteDocument(
        read_as=(
            line(house, "guest.email", "email"),
            line(house, "day", "visit_date"),
        ),
        then=(
            everybody(house, "booked a visit"),
            Rule(id="t2", action=RecordEvent(name="booked")),
        ),
    )
    kind = Source.Kind.WEBHOOK
    turned_on(house, "Booking page", BOOKING, document, kind)


def _no_more(house: House) -> None:
    words = (
        Choice(key="stop", label="No more emails at all"),
        Choice(key="yes", label="Keep Open-night news"),
    )
    document = RouteDocument(
        form=Form(
            title="No more mail",
            intro="Say which, and it is in force at once.",
            button="Do so",
            questions=(
                _EMAIL,
                Question(
                    id="q2",
                    name="wish",
                    type="choice",
                    label="I wish",
                    required=True,
                    choices=words,
                ),
            ),
        ),
        read_as=(line(house, "email", "email"),),
        then=(
            Rule(
                id="t1",
                when=Group(of=(AnswerTest(question="wish", value="stop"),)),
                action=ChangeSubscription(direction="unsubscribe"),
            ),
            Rule(
                id="t2",
                when=Group(of=(AnswerTest(question="wish", value="stop"),)),
                action=StopSequence(),
            ),
            Rule(
                id="t3",
                action=ChangeSubscription(
                    direction="by_answer",
                    question="wish",
                    list=str(house.list(NEWS).pk),
                    subscribe_words=("yes",),
                    unsubscribe_words=("stop",),
                ),
            ),
        ),
        visitor_sees=VisitorSees(heading="Done", text="It is in force now."),
    )
    turned_on(house, "No more mail", "no-more-mail", document)


def watch_volunteers(house: House) -> None:
    """The volunteers' sheet, at the sheet host, looked at once."""
    source = make_source(
        house.workspace, "Volunteers' sheet", house.member, key="volunteers", kind=Source.Kind.SHEET
    )
    document = RouteDocument(
        read_as=(
            line(house, "Email", "email"),
            line(house, "Name", "first_name", part="first", case_right=True),
            line(house, "Name", "last_name", part="last", case_right=True),
        ),
        then=(
            everybody(house, "volunteer"),
            Rule(
                id="t2",
                action=TagByAnswer(
                    question="Can help with",
                    table=(
                        TagRow(choice="Tea", tags=(house.tag("helps with tea"),)),
                        TagRow(choice="Telescopes", tags=(house.tag("helps with telescopes"),)),
                        TagRow(choice="Car park", tags=(house.tag("helps with cars"),)),
                    ),
                ),
            ),
        ),
    )
    save_route_draft(source, document, 1, house.member)
    turn_on(source, house.member, "First edition")
    sheets.set_watch(source.watch, f"{house.outside}/sheets/volunteers.csv", 15, "Email")
    sheets.look(str(source.watch.pk))
