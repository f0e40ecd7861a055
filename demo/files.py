"""People who came by files: the members' club's list, and the ticket desk's sheets."""

import csv
import io
import random
from collections.abc import Callable, Iterable
from datetime import datetime, timedelta

from django.db import connection

from core.deciding import RouteDocument, TagByAnswer, TagRow
from core.deciding import Rule as RouteRule
from server.consent import own
from server.imports import imports
from server.people.models import Subscriber
from server.routes.actions import turn_on
from server.sources.actions import make_source, save_route_draft
from server.sources.models import Source
from server.workspaces import clock

from .doors import agreed, everybody, line
from .house import INTERESTS, House
from .people import DeskVisitor, Member
from .sequences import LETTER, NEWS

_GROWING = (
    "people_subscriber",
    "people_tagging",
    "people_membership",
    "submissions_submission",
    "sequences_run",
    "mail_send",
)
_MONTHS = 3
"""How many of them a sheet of the ticket desk holds."""
_PAPER = "Ticked “Open-night news, about twice a month” on the slip at the ticket desk"


FOUNDERS = 36
"""Who was in the club from its first letter on."""


def begin_club(house: House, members: list[Member]) -> Source:
    """The members' club, with its founders."""
    document = RouteDocument(
        read_as=(
            line(house, "E-mail address", "email"),
            line(house, "Full name", "first_name", part="first", case_right=True),
            line(house, "Full name", "last_name", part="last", case_right=True),
            line(house, "Country", "country"),
            line(house, "Born", "birthday", date_order="day_first"),
            line(house, "Telephone", "phone"),
        ),
        consent=agreed(house.list(LETTER), wording="Joined the members' club"),
        then=(everybody(house, "member"),),
    )
    source = _source(house, "Members' club", "members-club", document)
    put_in_members(house, source, "founding-members.csv", members[:FOUNDERS])
    return source


def put_in_members(house: House, source: Source, name: str, members: list[Member]) -> None:
    """A list of members, as the file that the club's secretary kept."""
    rows = [("Full name", "E-mail address", "Country", "Born", "Telephone")]
    rows += [(one.name, one.address, one.country, one.born, one.phone) for one in members]
    stated = "Joined the members' club, and ticked “Members' letter” on paper"
    _put_in(house, source, name, _csv(rows).encode("windows-1252", "replace"), stated)


def put_in_desk(
    house: House,
    months: list[list[DeskVisitor]],
    chance: random.Random,
    monthly: Callable[[datetime], None],
) -> None:
    """The ticket desk's slips, typed into a sheet for each three months; each on the first of the month
    that follows. Some leave the list some weeks later. `monthly`: what else is done late in each month."""
    look = RouteRule(
        id="t2",
        action=TagByAnswer(
            question="Looks at",
            table=tuple(
                TagRow(choice=one.label, tags=(house.tag(f"looks at {one.key}"),))
                for one in INTERESTS
            ),
        ),
    )
    document = RouteDocument(
        read_as=(
            line(house, "E-mail", "email"),
            line(house, "Name", "first_name", part="first", case_right=True),
            line(house, "Name", "last_name", part="last", case_right=True),
            line(house, "Country", "country"),
            line(house, "Looks at", "interest"),
        ),
        consent=agreed(house.list(NEWS), "News"),
        then=(everybody(house, "ticket desk"), look),
    )
    source = _source(house, "Ticket desk", "ticket-desk", document)
    for number in range(0, len(months), _MONTHS):
        slips = [one for month in months[number : number + _MONTHS] for one in month]
        for month in months[number : number + _MONTHS]:
            monthly(month[-1].at.replace(day=22, hour=10, minute=0))
        last = max(one.at for one in slips)
        begins = (last.replace(day=1) + timedelta(days=32)).replace(day=1)
        clock.set_time(house.workspace, begins.replace(hour=9, minute=20))
        rows = [("Name", "E-mail", "Country", "Looks at", "News")]
        rows += [
            (one.name, one.address, one.country, one.look, "yes" if one.news else "no")
            for one in slips
        ]
        _put_in(house, source, f"desk-{last:%Y-%m}.csv", _csv(rows).encode(), _PAPER)
        if number % (2 * _MONTHS) == 0:
            count_rows()
        _some_leave(house, chance, begins + timedelta(days=18))


def _some_leave(house: House, chance: random.Random, at: datetime) -> None:
    clock.set_time(house.workspace, at)
    news = str(house.list(NEWS).pk)
    there = Subscriber.objects.of(house.workspace).filter(
        memberships__list=news, memberships__state="subscribed"
    )
    for person in chance.sample(list(there.order_by("pk")[:400]), _MONTHS):
        person.workspace = house.workspace
        own.leave(person, [news])


def count_rows() -> None:
    """Let PostgreSQL see how many rows there are: it does so by itself only between transactions."""
    with connection.cursor() as cursor:
        cursor.execute(f"ANALYZE {', '.join(_GROWING)}")


def _source(house: House, name: str, key: str, document: RouteDocument) -> Source:
    source = make_source(house.workspace, name, house.member, key=key, kind=Source.Kind.FILE)
    save_route_draft(source, document, 1, house.member)
    turn_on(source, house.member)
    return source


def _put_in(house: House, source: Source, name: str, content: bytes, stated: str) -> None:
    row = imports.begin_import(source, name, len(content), house.member)
    imports.keep_part(row, 0, content)
    imports.start_counting(row)
    imports.work_on(str(row.pk))
    row.refresh_from_db()
    imports.start_running(row, stated, house.member)
    imports.work_on(str(row.pk))


def _csv(rows: Iterable[tuple[str, ...]]) -> str:
    out = io.StringIO()
    csv.writer(out, delimiter=";").writerows(rows)
    return out.getvalue()
