"""Larkmoor Observatory: its ways in, and the people who came through each."""

import random
from datetime import datetime, timedelta
from itertools import groupby

from django.conf import settings
from django.db.models import F
from django.utils import timezone

from server.consent.actions import leave
from server.doors.looking import look
from server.mail.actions import deliver_queued
from server.mail.models import Send
from server.people.actions import furnish
from server.people.models import Subscriber
from server.routing.routing import route_submission
from server.sequences.going_on import advance_due_runs
from server.sequences.moving_time import move_time
from server.sequences.signals import show_signals
from server.sources.models import Source
from server.sources.open_forms import forget, open_form
from server.submissions.models import Submission
from server.submissions.receiving import Arrival, receive
from server.workspaces import clock
from server.workspaces.actions import make_workspace, set_up
from server.workspaces.history import acting
from server.workspaces.models import User, Workspace

from .aftermath import set_right
from .audiences import make_audiences
from .broadcasts import Letters, write_the_next
from .doors import TELESCOPES, make_doors, watch_volunteers
from .files import FOUNDERS, begin_club, count_rows, put_in_desk, put_in_members
from .guides import make_guides
from .house import INTERESTS, House
from .letters import dress
from .people import Crowd, Visit, desk_visitors, members, visits
from .readers import read_some, some_come_back, some_reply
from .sequences import LETTER, NEWS, OFFERS, SCHOOLS, make_other_sequences
from .services import (
    connect_services,
    hand_over_queued,
    listen,
    look_again,
    open_accounts,
    sell_some,
)

DAYS = 100
COUNTS = {
    "first-telescope-guide": 104,
    "night-sky-calendar": 40,
    "star-photos-sheet": 28,
    "open-night-news": 28,
    "shop-offers": 26,
    "plan-a-visit": 18,
    "moorland-walks": 20,
    "event-stand": 30,
    "shop-till-0f5c1d7be2a94f3688d1c9a7b3e0d542": 22,
}
MEMBERS = 420
DESK_DAYS = 760
DESK_EACH_MONTH = 155
_BETWEEN = timedelta(seconds=40)
"""Between the visitors of a day, who come one after the other: the rest follows once for all of them."""
_MOMENT = timedelta(seconds=1)


def make_observatory(address: str, password: str, outside: str, chance: random.Random) -> str:
    """Make everything, and say what was made."""
    user = User.objects.create_user(address, password, name="Noor Halvard")
    workspace = make_workspace("Larkmoor Observatory", user, "Europe/London", slug="larkmoor")
    set_up(
        workspace,
        name=workspace.name,
        time_zone="Europe/London",
        sender_name="Larkmoor Observatory",
        sender_address="hello@larkmoor.example",
        postal_address="1 Dome Road, Larkmoor",
        keeps_ip=False,
        country="GB",
    )
    furnish(workspace)
    house = House(workspace, workspace.members.get(), outside)
    now = timezone.now()
    forms_begin = (now - timedelta(days=DAYS + 2)).replace(hour=10)
    begins = now - timedelta(days=DESK_DAYS)
    clock.set_time(workspace, begins)
    _furnish(house)
    with acting(house.member):
        dress(house)
        connect_services(house)
    letters = Letters(house)
    crowd = Crowd(chance, now, DAYS)
    club, coming = members(crowd, MEMBERS), visits(crowd, COUNTS)
    photos = [dict(one.answers)["email"] for one in coming if one.source == "star-photos-sheet"]
    open_accounts(house, photos[::2])
    desk_chance = random.Random(9)
    desk = desk_visitors(crowd.beside(desk_chance), begins, forms_begin, DESK_EACH_MONTH)
    with acting(house.member):
        members_file = begin_club(house, club)
        put_in_desk(house, desk, desk_chance, letters.before_the_forms)
    clock.set_time(workspace, forms_begin)
    with acting(house.member):
        put_in_members(house, members_file, "members-2026.csv", club[FOUNDERS:])
        make_guides(house)
        make_doors(house)
        make_other_sequences(house)
        watch_volunteers(house)
    _route_what_waits(workspace)
    count_rows()
    _live_through(house, letters, coming, now, chance)
    clock.reset(workspace)
    with acting(house.member):
        set_right(house)
        look_again(house)
        sell_some(house)
        listen(house, settings.PUBLIC_ADDRESS)
        make_audiences(house)
        write_the_next(house)
    deliver_queued(workspace)
    people = Subscriber.objects.of(workspace).count()
    sends = Send.objects.of(workspace).filter(state="sent").count()
    sources = Source.objects.of(workspace).count()
    return f"{people} people came in by {sources} ways, {sends} emails went out"


def _furnish(house: House) -> None:
    house.know_fields()
    house.list(NEWS, "When the dome is open, about twice a month")
    house.list(OFFERS, "What stood in our dome, for less, four times a year")
    house.list(SCHOOLS, "For teachers, once a term")
    house.list(LETTER, "The club's own letter, every month")
    house.field("Interest", "choice", INTERESTS)
    house.field("Would look at", "choices", INTERESTS)
    house.field("Telescope owned", "choice", TELESCOPES)
    house.field("Country", "country")
    house.field("Phone", "phone")
    house.field("Birthday", "date")
    house.field("Group size", "number")
    house.field("Visit date", "date")
    house.field("School street", "text")
    house.field("School city", "text")
    house.field("School postal code", "text")


def _live_through(
    house: House, letters: Letters, coming: list[Visit], now: datetime, chance: random.Random
) -> None:
    """Let the visitors come, day by day, and time go by between them."""
    workspace = house.workspace
    refused = [number for number, one in enumerate(coming) if one.source == "first-telescope-guide"]
    unknown = ("email", "no-such-person@example.net")
    counted = 0
    days = groupby(enumerate(coming), key=lambda one: one[1].at.date())
    for count, (_, day) in enumerate(days):
        visits = list(day)
        # Around the one in the middle, so that it is day where most of them are.
        begins = min(visits[len(visits) // 2][1].at, now - len(visits) * _BETWEEN)
        # Those of one source after each other, which are routed together.
        visits.sort(key=lambda one: one[1].source)
        clock.set_time(workspace, max(begins, clock.now(workspace) + _MOMENT))
        advance_due_runs(str(workspace.pk))
        other = count % 2 == 1
        if other:
            look(workspace)
        for _, those in groupby(visits, key=lambda one: one[1].source):
            came = []
            for number, visit in those:
                answers = visit.answers
                if number == refused[-40]:
                    answers = (unknown, *answers[1:])
                clock.set_time(workspace, clock.now(workspace) + _BETWEEN)
                came.append(_come(workspace, visit, answers, f"demo-{number}:{number}"))
            # The first takes the others along; whoever came twice has their second one routed after it.
            for pk in came:
                route_submission(pk)
        show_signals(workspace)
        letters.go_on()
        deliver_queued(workspace)
        if other:
            hand_over_queued(workspace)
            read_some(workspace)
        if number // 200 > counted:
            counted = number // 200
            count_rows()
        if chance.random() < 0.25:
            _somebody_leaves(workspace, chance)
    _as_routed_one_by_one(workspace)
    move_time(workspace, max(now, clock.now(workspace) + _MOMENT))
    some_come_back(workspace)
    some_reply(workspace)


def _as_routed_one_by_one(workspace: Workspace) -> None:
    """Visitors who came before the last of their group were routed with it: live, each is by itself."""
    rows = Submission.objects.of(workspace).filter(file_import=None)
    together = rows.filter(routed_at__lte=F("received_at") + 20 * _BETWEEN)
    together.update(routed_at=F("received_at") + timedelta(seconds=0.2))


def _come(
    workspace: Workspace, visit: Visit, answers: tuple[tuple[str, str], ...], name: str
) -> str:
    source = Source.objects.of(workspace).get(key=visit.source)
    forget(source)
    form = open_form(source.key)
    assert form is not None
    context = {"page": f"/f/{source.key}", "from": "the website"}
    if visit.parameters:
        context["parameters"] = dict(visit.parameters)  # type: ignore[assignment]
    signs = {"honeypot": visit.honeypot, "seconds": 20.0} if source.kind == "form" else {}
    arrival = Arrival(form.revision_id, answers, name, context, signs)
    submission = receive(form, arrival)
    assert submission is not None
    return str(submission)


def _route_what_waits(workspace: Workspace) -> None:
    """Route what the watched sheet brought."""
    waiting = Submission.objects.of(workspace).filter(state="received")
    for pk in list(waiting.values_list("pk", flat=True)):
        route_submission(str(pk))


def _somebody_leaves(workspace: Workspace, chance: random.Random) -> None:
    sent = list(
        Send.objects.of(workspace)
        .select_related("workspace", "subscriber__workspace", "list")
        .filter(state="sent")
        .order_by("-sent_at")[:40]
    )
    if sent:
        send = chance.choice(sent)
        send.workspace = workspace
        send.subscriber.workspace = workspace
        one_click = chance.random() < 0.5
        by = "with one click in their mail program" if one_click else "on the page behind the link"
        leave(send, everything=False, by=by)
