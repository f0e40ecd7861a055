"""The people that Larkmoor keeps an eye on: audiences, as its specialist would name them."""

from core.audiences import AudienceDocument
from core.conditions import (
    Condition,
    FieldTest,
    Group,
    HappenedTest,
    MembershipTest,
    RunTest,
    TagTest,
)
from server.audiences.actions import make_audience
from server.audiences.groups import freeze
from server.sequences.models import Sequence

from .house import House
from .sequences import LETTER, NEWS, OFFERS, SCHOOLS

_MONTH = 24 * 30
AURORA = "Came to the aurora evening in October"
"""A frozen group."""


def make_audiences(house: House) -> None:
    """Make them all, live at once."""
    news, offers, letter, schools = (
        MembershipTest(list=str(house.list(name).pk)) for name in (NEWS, OFFERS, LETTER, SCHOOLS)
    )
    bought = HappenedTest(what="event", about="bought")
    planned = TagTest(tag=house.tag("planned a visit"))
    audiences: dict[str, tuple[Condition, ...]] = {
        "Planned a visit, not booked yet": (
            planned,
            TagTest(tag=house.tag("booked a visit"), has=False),
        ),
        "Bought in the last three months": (
            bought.model_copy(update={"within_hours": 3 * _MONTH}),
        ),
        "Spent more than 300": (
            bought.model_copy(update={"total_of": "amount", "total_at_least": 300}),
        ),
        "On the news, and quiet": (
            news,
            HappenedTest(what="sent"),
            Group(kind="none", of=(HappenedTest(what="opened"), HappenedTest(what="clicked"))),
        ),
        "Has the telescope guide, bought nothing": (
            TagTest(tag=house.tag("guide: telescope")),
            bought.model_copy(update={"at_least": 0, "at_most": 0}),
        ),
        "Club members on no offers": (letter, offers.model_copy(update={"holds": False})),
        "Schools that planned a visit": (schools, planned),
        "Austria, Germany and Switzerland, on no news": (
            news.model_copy(update={"holds": False}),
            FieldTest(field=house.fields["country"], op="one_of", values=("AT", "DE", "CH")),
        ),
        "In the telescope course now": (RunTest(sequence=_course(house), state="under_way"),),
    }
    for name, parts in audiences.items():
        make_audience(house.workspace, name, AudienceDocument(who=Group(of=parts)), house.member)
    evening = (news, TagTest(tag=house.tag("looks at aurora")))
    freeze(house.workspace, AURORA, Group(of=evening), house.member)


def _course(house: House) -> str:
    return str(Sequence.objects.of(house.workspace).get(name="First telescope").pk)
