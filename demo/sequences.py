"""The sequences: First telescope with three lanes and a long series, Visit follow-up with a goal, a
birthday letter, and a win-back."""

from datetime import time

from core.conditions import FieldTest, Group, HappenedTest, MembershipTest
from core.deciding import AddTags
from core.delivering import Duration, SendingTimes
from core.sequences import (
    ActStep,
    ChanceBranch,
    ChanceStep,
    ConditionDoor,
    DateDoor,
    EventDoor,
    Goal,
    Lane,
    Leaving,
    RouteDoor,
    SendStep,
    SequenceDocument,
    SplitBranch,
    SplitStep,
    TagDoor,
    WaitConditionStep,
    WaitDateStep,
    WaitStep,
    WaitTimeStep,
    Way,
)
from server.mail.files import give_file
from server.sequences.models import Sequence

from . import letters
from .house import House
from .pages import calendar_pages

NEWS = "Open-night news"
OFFERS, SCHOOLS, LETTER = "Shop offers", "School programme", "Members' letter"
_BOUGHT = Group(of=(HappenedTest(what="event", about="bought"),))
_OFFICE = SendingTimes(weekdays=(1, 2, 3, 4, 5), begins=time(9), ends=time(17), holidays_of="GB")
_END = Way(to="end")
_LONG = Way(to="lane", lane="d")


def _days(amount: int) -> Duration:
    return Duration(amount=amount, unit="days")


def _wait(step: str, amount: int) -> WaitStep:
    return WaitStep(id=step, duration=_days(amount))


def make_telescope_sequence(house: House) -> Sequence:
    """Three guides, a lane for each, joined into one long series; who bought is out."""
    guide = house.message(
        "Your guide",
        "Your first telescope: the guide",
        "Twelve pages, and one thing to do tonight",
        *letters.guide(house),
    )
    fits = house.message(
        "Which one fits",
        "Which telescope fits you{% if first_name %}, {{ first_name }}{% endif %}?",
        "Three questions that settle it",
        *letters.which_fits(house),
    )
    night = house.message(
        "Open night",
        "Look through ours on Friday",
        "The dome opens at dusk",
        *letters.open_night(house),
    )
    calendar = _promised(
        house, "Your calendar", "Your night-sky calendar", "Twelve months of dark nights", True
    )
    look_for = _letter(
        house, "What to look for", "Three things up there this week", "No telescope needed"
    )
    starter = _promised(
        house,
        "Your starter sheet",
        "Star photos: your starter sheet",
        "One sheet for your first night with a camera",
        False,
    )
    photo = _letter(
        house, "Your first photo", "Point, hold still, count to ten", "A phone is enough tonight"
    )
    lens = _letter(house, "Beginner’s lens", "The one lens we would buy first", "And what to skip")
    phone = _letter(house, "Phone on a fence", "Stars with your phone on a fence", "It works")
    moon = _letter(house, "Moon phases", "When the Moon leaves you alone", "Dark nights ahead")
    dome = _letter(house, "How we built the dome", "Forty tonnes on eight wheels", "And a rope")
    british = Group(
        of=(FieldTest(field=house.fields["country"], op="one_of", values=("GB", "IE")),)
    )
    document = SequenceDocument(
        list=str(house.list(NEWS).pk),
        again="start_over",
        times=_OFFICE,
        doors=(
            RouteDoor(id="da", lane="a"),
            RouteDoor(id="db", lane="b"),
            RouteDoor(id="dc", lane="c", again="once_only"),
            TagDoor(id="dt", lane="c", tag=house.tag("looks at aurora"), open=False),
        ),
        goals=(Goal(id="g", name="bought a telescope", event="bought", within_days=90),),
        lanes=(
            Lane(
                id="a",
                name="A · Telescopes",
                then=_LONG,
                steps=(
                    SendStep(id="s1", message=str(guide.pk), at_once=True),
                    _wait("w1", 1),
                    SplitStep(
                        id="a1",
                        of=(SplitBranch(id="y", name="has bought", when=_BOUGHT, way=_END),),
                    ),
                    SendStep(id="s2", message=str(fits.pk)),
                    _wait("w2", 2),
                    SendStep(id="s3", message=str(night.pk)),
                ),
            ),
            Lane(
                id="b",
                name="B · Night sky",
                then=_LONG,
                steps=(
                    SendStep(id="b1", message=calendar, at_once=True),
                    _wait("b2", 1),
                    SendStep(id="b3", message=look_for),
                    _wait("b4", 2),
                    SplitStep(
                        id="b5",
                        of=(SplitBranch(id="near", name="Britain", when=british, way=_LONG),),
                    ),
                    ActStep(id="b6", action=AddTags(tags=(house.tag("watches from afar"),))),
                ),
            ),
            Lane(
                id="c",
                name="C · Star photos",
                then=_LONG,
                steps=(
                    SendStep(id="c1", message=starter, at_once=True),
                    _wait("c2", 1),
                    SendStep(id="c3", message=photo),
                    _wait("c4", 2),
                    ChanceStep(
                        id="c5",
                        of=(
                            ChanceBranch(id="lens", name="Lens"),
                            ChanceBranch(id="phone", name="Phone", way=Way(to="lane", lane="e")),
                        ),
                    ),
                    SendStep(id="c6", message=lens),
                ),
            ),
            Lane(
                id="e",
                name="E · Phone",
                then=_LONG,
                steps=(SendStep(id="e1", message=phone),),
            ),
            Lane(
                id="d",
                name="D · Long series",
                steps=(
                    _wait("d1", 5),
                    WaitTimeStep(id="d2", weekdays=(2,), at=time(10)),
                    SendStep(id="d3", message=moon),
                    _wait("d4", 5),
                    SendStep(id="d5", message=dome),
                    _wait("d6", 7),
                    ActStep(id="d7", action=AddTags(tags=(house.tag("may get broadcasts"),))),
                ),
            ),
        ),
    )
    return house.sequence("First telescope", document, "Three guides, one long series")


def make_other_sequences(house: House) -> None:
    """What follows a visit, a birthday, and a long silence."""
    _visit_follow_up(house)
    _birthday(house)
    _come_back(house)


def _visit_follow_up(house: House) -> None:
    asked = _letter(
        house, "Your visit", "Your visit to Larkmoor: choose a day", "It takes a minute", "visit"
    )
    still = _letter(house, "Still time to choose", "There is still a day for you", "Choose one")
    before = _letter(house, "Before you come", "Before you come to Larkmoor", "Bring a hat")
    booked = Group(of=(HappenedTest(what="event", about="booked"),))
    document = SequenceDocument(
        list=str(house.list(SCHOOLS).pk),
        again="start_over",
        doors=(EventDoor(id="d1", name="asked for a visit", lane="a"),),
        goals=(
            Goal(
                id="g",
                name="booked a day",
                event="booked",
                within_days=60,
                then=Way(to="lane", lane="b"),
            ),
        ),
        lanes=(
            Lane(
                id="a",
                name="A · Asked",
                steps=(
                    WaitStep(id="w1", duration=Duration(amount=3, unit="minutes")),
                    SendStep(id="s1", message=asked, any_hour=True),
                    WaitConditionStep(
                        id="w2", when=booked, at_most=_days(3), held=Way(to="lane", lane="b")
                    ),
                    SendStep(id="s2", message=still),
                    _wait("w3", 21),
                ),
            ),
            Lane(
                id="b",
                name="B · Booked",
                steps=(
                    WaitDateStep(
                        id="w4",
                        field=house.fields["visit_date"],
                        days=-3,
                        at=time(9),
                        otherwise=_END,
                    ),
                    SendStep(id="s3", message=before, any_hour=True),
                ),
            ),
        ),
    )
    house.sequence("Visit follow-up", document, "Asked, booked, before they come")


def _birthday(house: House) -> None:
    wish = _letter(house, "A clear night for you", "A clear night for your birthday", "From Noor")
    on_it = Group(of=(MembershipTest(list=str(house.list(LETTER).pk)),))
    document = SequenceDocument(
        list=str(house.list(LETTER).pk),
        again="start_over",
        doors=(
            DateDoor(
                id="d1",
                field=house.fields["birthday"],
                at=time(8, 30),
                yearly=True,
                only=on_it,
            ),
        ),
        lanes=(Lane(id="a", name="A", steps=(SendStep(id="s1", message=wish, any_hour=True),)),),
    )
    house.sequence("Birthday letter", document, "Half past eight, where they are")


def _come_back(house: House) -> None:
    quiet = Group(
        of=(
            MembershipTest(list=str(house.list(OFFERS).pk)),
            HappenedTest(what="submitted", at_least=1),
            Group(kind="none", of=(HappenedTest(what="submitted", within_hours=24 * 60),)),
        )
    )
    missed = _letter(house, "We kept your place", "The dome is warmer than it was", "Come and see")
    last = _letter(house, "One last word", "Shall we stop writing?", "Say so, or stay")
    document = SequenceDocument(
        list=str(house.list(OFFERS).pk),
        again="once_only",
        times=_OFFICE,
        doors=(ConditionDoor(id="d1", when=quiet),),
        leaving=Leaving(
            when=Group(of=(HappenedTest(what="submitted", within_hours=24 * 14),)),
        ),
        goals=(Goal(id="g", name="bought again", event="bought", within_days=60),),
        lanes=(
            Lane(
                id="a",
                name="A",
                steps=(
                    SendStep(id="s1", message=missed),
                    _wait("w1", 10),
                    SendStep(id="s2", message=last),
                ),
            ),
        ),
    )
    house.sequence("Come back", document, "After two quiet months")


def _letter(house: House, name: str, subject: str, words: str, page: str = "") -> str:
    row = house.message(name, subject, words, *letters.letter(house, subject, words, page))
    return str(row.pk)


def _promised(house: House, name: str, subject: str, words: str, with_file: bool) -> str:
    row = house.message(
        name, subject, words, *letters.promised(house, name, words, with_file=with_file)
    )
    if with_file:
        pages = calendar_pages()
        give_file(
            row, "night-sky-calendar-pages.pdf", "application/pdf", pages, attached=False, days=30
        )
    return str(row.pk)
