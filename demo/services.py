"""The services that the observatory works with, all of them in the outside world, and who is handed to
which."""

from collections.abc import Iterable
from urllib.parse import parse_qs, urlsplit

import httpx

from core.conditions import AnswerTest, Group
from core.deciding import HandOver, Rule
from core.services import Chosen, FarLine, Handover, HeardRule
from outside.services.lists import KEY as LIST_KEY
from outside.services.shop import KEY as SHOP_KEY
from server.connections.hearing import take_heard
from server.connections.polling import poll
from server.people.models import Subscriber
from server.services.claims import due_services
from server.services.connecting import change, connect, set_secrets, try_it
from server.services.described import shipped
from server.services.handing import hand_over_due
from server.services.models import Service
from server.services.tokens import begin, finish
from server.workspaces.models import Workspace
from server.workspaces.sealing import opened

from .house import House
from .sequences import NEWS

LISTS, PIPELINE, COURSES = "Star letters", "Visits pipeline", "School of the Sky"
SHOP, BOOKING, SHEETS, CONTACTS = "Telescope shop", "Booking page", "Sheets", "Office contacts"


def connect_services(house: House) -> None:
    """Connect all seven, with what each is for."""
    _connect(house, "list-service", LISTS, "The printed letter and its list", key=LIST_KEY)
    change(house.services[LISTS], list=house.list(NEWS))
    _connect(
        house,
        "sales-pipeline",
        PIPELINE,
        "Schools and groups that ask for a visit",
        client_id="larkmoor-pipeline",
        client_secret="demo-pipeline-secret",
    )
    _agree(house.services[PIPELINE])
    _connect(
        house,
        "course-platform",
        COURSES,
        "The course on photographing the sky",
        client_id="larkmoor-courses",
        client_secret="demo-courses-secret",
    )
    _connect(
        house,
        "sheet-host",
        SHEETS,
        "The sheet of orders",
        name="larkmoor",
        password="demo-sheet-password",
    )
    _connect(
        house,
        "address-book",
        CONTACTS,
        "Teachers, for the phone in the office",
        name="larkmoor",
        password="demo-cards-password",
    )
    _connect(house, "telescope-shop", SHOP, "Who bought what", key=SHOP_KEY)
    _connect(house, "booking-page", BOOKING, "Who chose a day")
    hears = HeardRule(
        tags=(house.tag("customer"),),
        rows=(
            Handover(
                service=str(house.services[SHEETS].pk),
                operation="row",
                chosen={"sheet": Chosen(things=("orders",))},
                lines=tuple(
                    FarLine(id=f"o{n}", to=to, take="answer", what=what)
                    for n, (to, what) in enumerate(
                        (
                            ("Date", "date"),
                            ("Email", "email"),
                            ("Product", "product"),
                            ("Amount", "amount"),
                        )
                    )
                ),
            ),
        ),
    )
    change(
        house.services[SHOP],
        hears={"order.paid": hears.model_dump(mode="json")},
        hears_unknown=True,
    )
    booked = HeardRule(fields={"day": house.fields["visit_date"]})
    change(house.services[BOOKING], hears={"visit.booked": booked.model_dump(mode="json")})


def _connect(house: House, kind: str, called: str, purpose: str, **secrets: str) -> None:
    row = connect(house.workspace, called, purpose, shipped()[kind])
    if secrets:
        set_secrets(row, secrets)
    house.services[called] = row


def _agree(row: Service) -> None:
    """Agree over there, as a member does in the browser."""
    at = begin(row, "http://127.0.0.1/agreed")
    back = httpx.post(at, data={"do": "agree"}, timeout=20).headers["Location"]
    said = parse_qs(urlsplit(back).query)
    finish(row, said["code"][0], said["state"][0])
    try_it(row)


def to_the_letters(house: House) -> Rule:
    """Readers of the guide are on the list service too."""
    chosen = {"list": Chosen(things=("news",))}
    fields = {"email": "email", "first_name": "first_name", "interest": "interest"}
    return _rule(house, LISTS, "subscribe", chosen, fields, confirm=False)


def to_the_course(house: House) -> Rule:
    """Who wants to photograph the sky is enrolled, as far as they have an account there."""
    chosen = {"course": Chosen(things=("star-photos",))}
    return _rule(house, COURSES, "enrol", chosen, {"email": "email"})


def to_the_pipeline(house: House) -> tuple[Rule, ...]:
    """A deal for each enquiry, in the first stage; teachers go to the office's address book too."""
    chosen = {"stage": Chosen(things=("new",))}
    deal = _rule(house, PIPELINE, "deal", chosen, {"email": "email", "phone": "phone"})
    assert isinstance(deal.action, HandOver)
    more = (
        FarLine(id="m-name", to="name", take="answer", what="name"),
        FarLine(id="m-kind", to="kind", take="fixed", what="Prospect"),
    )
    handover = deal.action.handover
    handover = handover.model_copy(update={"lines": handover.lines + more})
    card = _rule(
        house,
        CONTACTS,
        "save",
        {},
        {
            "email": "email",
            "given": "first_name",
            "family": "last_name",
            "tel": "phone",
            "address.street": "school_street",
            "address.city": "school_city",
            "address.code": "school_postal_code",
            "address.country": "country",
        },
    )
    school = Group(of=(AnswerTest(question="group", value="school"),))
    return (
        deal.model_copy(update={"action": HandOver(handover=handover)}),
        card.model_copy(update={"when": school}),
    )


def _rule(
    house: House,
    service: str,
    operation: str,
    chosen: dict[str, Chosen],
    fields: dict[str, str],
    *,
    confirm: bool = True,
) -> Rule:
    handover = Handover(
        service=str(house.services[service].pk),
        operation=operation,
        chosen=chosen,
        lines=tuple(
            FarLine(id=f"m-{ours}", to=far, what=house.fields[ours]) for far, ours in fields.items()
        ),
        confirm=confirm,
    )
    return Rule(id=f"s-{operation}", action=HandOver(handover=handover))


def hand_over_queued(workspace: Workspace) -> None:
    """Hand over what waits, as a worker does."""
    for pk in due_services(workspace):
        hand_over_due(pk)


def sell_some(house: House) -> None:
    """Some of the readers buy in the shop these days; it is asked for its orders."""
    people = Subscriber.objects.of(house.workspace).filter(memberships__state="subscribed")
    goods = ("torch", "binoculars", "dobson-150", "torch", "dobson-200", "binoculars", "torch")
    for product, person in zip(goods, people.order_by("-added_at")[6:20:2], strict=False):
        _press(house, "/larkmoor/buy/", product=product, email=person.address)
    _press(house, "/larkmoor/buy/", product="torch", email="walk-in@example.net")
    poll(str(house.services[SHOP].pk))
    take_heard(house.workspace.pk)
    hand_over_queued(house.workspace)


def look_again(house: House) -> None:
    """Try every connection, as it is by now."""
    for row in house.services.values():
        row.refresh_from_db()
        row.workspace = house.workspace
        try_it(row)


def listen(house: House, yalla: str) -> None:
    """The shop and the booking page tell this server, from now on."""
    for name, page in ((SHOP, "shop"), (BOOKING, "booking"), (LISTS, "lists")):
        row = house.services[name]
        address = f"{yalla}/hear/{row.hear_key}"
        _press(
            house, f"/services/{page}/", do="hook", address=address, secret=opened(row.hear_secret)
        )


def open_accounts(house: House, addresses: Iterable[str]) -> None:
    """Accounts at the course platform."""
    for address in addresses:
        _press(house, "/services/courses/", do="account", email=address)


def _press(house: House, at: str, **what: str) -> None:
    httpx.post(f"{house.outside}{at}", data=what, timeout=20)
