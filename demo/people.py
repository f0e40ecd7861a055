"""Invented visitors of the observatory, from a fixed seed."""

import random
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

FIRST = [
    "Ines",
    "Tomas",
    "Amara",
    "Bjorn",
    "Chiara",
    "Dilan",
    "Eszter",
    "Farid",
    "Greta",
    "Hamid",
    "Ilse",
    "Jarek",
    "Kaia",
    "Leandro",
    "Mirela",
    "Nuno",
    "Oona",
    "Pavel",
    "Quirin",
    "Rosalie",
    "Sanjay",
    "Tove",
    "Ulf",
    "Vesna",
    "Wanda",
    "Xenia",
    "Yusuf",
    "Zofia",
    "Aroha",
    "Bence",
    "Celeste",
    "Doru",
    "Elif",
    "Fiona",
    "Goran",
    "Hana",
    "Imani",
    "Jonas",
    "Katja",
    "Liam",
    "Maren",
    "Nadia",
    "Otto",
    "Priya",
    "Ravi",
    "Selma",
    "Tariq",
    "Una",
    "Viggo",
    "Yara",
]
LAST = [
    "Almeida",
    "Berg",
    "Castellan",
    "Dvorak",
    "Eklund",
    "Farrow",
    "Grahn",
    "Halvorsen",
    "Ivanic",
    "Jansson",
    "Kaplan",
    "Lindqvist",
    "Marsh",
    "Novak",
    "Okafor",
    "Petrov",
    "Quill",
    "Rask",
    "Sorensen",
    "Tamm",
    "Ullman",
    "Varga",
    "Whitlock",
    "Yilmaz",
    "Zeman",
    "Ashdown",
    "Brandt",
    "Corvin",
    "Delgado",
    "Esposito",
]
LOOKS = ["moon", "planets", "deep-sky", "aurora"]
WEIGHTS = [30, 38, 20, 12]
CAME_FROM = ["", "", "newsletter", "open-night", "school-visit", "partner-site"]


COUNTRIES = ["United Kingdom", "Ireland", "Portugal", "Deutschland", "Nederland", "Norge", "Polska"]
MORE_COUNTRIES = [
    "France",
    "España",
    "Italia",
    "Sverige",
    "Danmark",
    "Česko",
    "Austria",
    "Suisse",
    "Belgique",
    "Suomi",
    "Ísland",
    "Hungary",
    "USA",
    "Canada",
    "New Zealand",
    "Australia",
    "India",
    "Japan",
]


@dataclass(frozen=True)
class Visit:
    """One visitor sending one form once."""

    at: datetime
    source: str
    answers: tuple[tuple[str, str], ...]
    parameters: tuple[tuple[str, str], ...] = ()
    honeypot: str = ""


@dataclass(frozen=True)
class Member:
    """A row of the members' club's file."""

    name: str
    address: str
    country: str
    born: str
    phone: str


@dataclass(frozen=True)
class DeskVisitor:
    """A slip that a visitor filled in at the ticket desk."""

    at: datetime
    name: str
    address: str
    country: str
    look: str
    news: bool


class Crowd:
    """Invents people, from a fixed seed; no address twice."""

    def __init__(self, chance: random.Random, today: datetime, days: int) -> None:
        self.chance = chance
        self.today = today
        self.days = days
        self._used: set[str] = set()

    def beside(self, chance: random.Random) -> "Crowd":
        """Others, of a seed of their own, with none of these addresses."""
        other = Crowd(chance, self.today, self.days)
        other._used = self._used
        return other

    def person(self) -> tuple[str, str, str]:
        """First name, last name and address of somebody new."""
        while True:
            first, last = self.chance.choice(FIRST), self.chance.choice(LAST)
            host = self.chance.choice(["example.com", "example.org", "mail.example"])
            number = "" if len(self._used) < 900 else str(self.chance.randrange(2, 99))
            address = f"{first}.{last}{number}@{host}"
            if address not in self._used:
                self._used.add(address)
                return first, last, address

    def moment(self) -> datetime:
        """A moment of the last days, more of them as the nights grow longer."""
        back = self.days * (1 - self.chance.random() ** 0.7)
        # People read in the evening, and at lunch.
        hour = self.chance.choices([7, 12, 13, 18, 19, 20, 21, 22], [1, 3, 2, 3, 5, 6, 5, 2])[0]
        at = (self.today - timedelta(days=back)).replace(
            hour=hour, minute=self.chance.randrange(60), second=self.chance.randrange(60)
        )
        return min(at, self.today - timedelta(minutes=self.chance.randrange(8, 240)))

    def typed(self, address: str) -> str:
        """An address as it is typed."""
        return address if self.chance.random() < 0.15 else address.lower()

    def named(self, name: str) -> str:
        """A first name as people type it: some shout, some skip capitals, a few leave it out."""
        drawn = self.chance.random()
        if drawn < 0.03:
            return ""
        if drawn < 0.10:
            return name.upper()
        return name.lower() if drawn < 0.24 else name

    def country(self) -> str:
        """A country, as people write it."""
        return self.chance.choice(COUNTRIES if self.chance.random() < 0.7 else MORE_COUNTRIES)


TILL = "shop-till-0f5c1d7be2a94f3688d1c9a7b3e0d542"
BOOKING = "booking-page-7c41b2d9e85f4a0f9d63aa18c5e2f740"
GUIDES = ("first-telescope-guide", "night-sky-calendar", "star-photos-sheet")


def visits(crowd: Crowd, counts: dict[str, int]) -> list[Visit]:
    """So many visitors of each source, in the order in which they come; some come again."""
    makers = {
        "first-telescope-guide": _telescope,
        "night-sky-calendar": _calendar,
        "star-photos-sheet": _photos,
        "open-night-news": _footer,
        "shop-offers": _shop,
        "plan-a-visit": _visit,
        "moorland-walks": _partner,
        "event-stand": _stand,
        "shop-till-0f5c1d7be2a94f3688d1c9a7b3e0d542": _till,
    }
    made = [makers[source](crowd, source) for source, count in counts.items() for _ in range(count)]
    again = [
        Visit(
            at=min(
                one.at + timedelta(days=crowd.chance.randrange(1, 20)),
                crowd.today - timedelta(hours=5),
            ),
            source=one.source,
            answers=one.answers,
        )
        for one in crowd.chance.sample(made, len(made) // 16)
    ]
    guided = [one for one in made if one.source in GUIDES]
    bought = [
        _soon(crowd, _bought(crowd, one), 1, 30)
        for one in crowd.chance.sample(guided, len(guided) // 9)
    ]
    asked = [one for one in made if one.source == "plan-a-visit"]
    booked = [
        _soon(crowd, _booked(crowd, one), 0, 5)
        for one in crowd.chance.sample(asked, len(asked) // 2)
    ]
    bots = [
        Visit(
            at=crowd.moment(),
            source="open-night-news",
            answers=(("email", f"win{number}@example.net"), ("news", "yes")),
            honeypot="https://example.net/win",
        )
        for number in range(4)
    ]
    leaving = [
        Visit(
            at=min(one.at + timedelta(days=30), crowd.today - timedelta(hours=2)),
            source="no-more-mail",
            answers=(one.answers[0], ("wish", crowd.chance.choice(["stop", "stop", "yes"]))),
        )
        for one in crowd.chance.sample(
            [one for one in made if one.answers[0][0] == "email"], len(made) // 40
        )
    ]
    return sorted([*made, *again, *bought, *booked, *bots, *leaving], key=lambda one: one.at)


def members(crowd: Crowd, count: int) -> list[Member]:
    """Rows of the members' club's file, with the mistakes that such files have."""
    found = []
    for number in range(count):
        first, last, address = crowd.person()
        born = date(
            1940 + crowd.chance.randrange(65), 1 + crowd.chance.randrange(12), 1 + number % 28
        )
        found.append(
            Member(
                name=f"{first} {last}".upper() if number % 9 == 0 else f"{first} {last}",
                address=address.replace("@", " at ") if number in (17, 203) else address.lower(),
                country=crowd.country(),
                born="" if number % 4 == 0 else f"{born:%d/%m/%Y}",
                # Of the range that Ofcom keeps for drama (020 7946 0xxx).
                phone=f"020 7946 0{crowd.chance.randrange(1000):03}" if number % 3 == 0 else "",
            )
        )
    return found


SEASON = (1.6, 1.4, 1.2, 0.8, 0.5, 0.4, 0.5, 0.8, 1.0, 1.3, 1.6, 1.6)
"""How many come in each month, from January, beside the month's average: nights are long in winter."""


def desk_visitors(
    crowd: Crowd, first: datetime, last: datetime, each_month: int
) -> list[list[DeskVisitor]]:
    """Slips of the ticket desk, month by month from `first` to the one before `last`. Some come
    again, and some write an address that is none."""
    months: list[list[DeskVisitor]] = []
    seen: list[DeskVisitor] = []
    begins = first.replace(day=1, hour=0, minute=0, second=0, microsecond=0)
    while (ends := (begins + timedelta(days=32)).replace(day=1)) <= last:
        slips = []
        for _ in range(round(each_month * SEASON[begins.month - 1])):
            at = begins + crowd.chance.random() * (ends - begins)
            if seen and crowd.chance.random() < 0.04:
                slips.append(replace(crowd.chance.choice(seen), at=at, news=False))
                continue
            name, surname, address = crowd.person()
            drawn = crowd.chance.random()
            slip = DeskVisitor(
                at=at,
                name=f"{name} {surname}".upper() if drawn < 0.2 else f"{name} {surname}",
                address=address.replace("@", ",") if drawn > 0.985 else address.lower(),
                country=crowd.country(),
                look=crowd.chance.choices(["", "Moon", "Planets", "Deep sky", "Aurora"])[0],
                news=crowd.chance.random() < 0.7,
            )
            slips.append(slip)
            seen.append(slip)
        months.append(sorted(slips, key=lambda one: one.at))
        begins = ends
    return months


def _telescope(crowd: Crowd, source: str) -> Visit:
    first, _, address = crowd.person()
    look = crowd.chance.choices(["", *LOOKS], [14, *WEIGHTS])[0]
    came = crowd.chance.choice(CAME_FROM)
    answers = [("email", crowd.typed(address)), ("first_name", crowd.named(first))]
    answers += [("look", look)] if look else []
    return Visit(crowd.moment(), source, (*answers, ("utm_source", came)), (("utm_source", came),))


def _calendar(crowd: Crowd, source: str) -> Visit:
    first, _, address = crowd.person()
    answers = (
        ("email", crowd.typed(address)),
        ("first_name", crowd.named(first)),
        ("country", crowd.country()),
    )
    return Visit(crowd.moment(), source, answers)


def _photos(crowd: Crowd, source: str) -> Visit:
    first, last, address = crowd.person()
    answers = [("email", address.lower()), ("name.first", first), ("name.last", last)]
    answers += [("news", "yes")] if crowd.chance.random() < 0.6 else []
    return Visit(crowd.moment(), source, tuple(answers))


def _footer(crowd: Crowd, source: str) -> Visit:
    return Visit(
        crowd.moment(), source, (("email", crowd.typed(crowd.person()[2])), ("news", "yes"))
    )


def _shop(crowd: Crowd, source: str) -> Visit:
    owns = crowd.chance.choice(["none", "none", "binoculars", "small", "large"])
    return Visit(
        crowd.moment(), source, (("email", crowd.typed(crowd.person()[2])), ("owns", owns))
    )


def _visit(crowd: Crowd, source: str) -> Visit:
    first, last, address = crowd.person()
    group = crowd.chance.choice(["school", "school", "club", "family"])
    at = crowd.moment()
    answers = [
        ("email", address.lower()),
        ("name", f"{first} {last}"),
        ("group", group),
        ("people", str(crowd.chance.randrange(4, 34))),
        ("on", (at + timedelta(days=crowd.chance.randrange(10, 90))).date().isoformat()),
    ]
    if group == "school":
        answers += [
            ("phone", f"020 7946 0{crowd.chance.randrange(1000):03}"),
            ("school.street", f"{crowd.chance.randrange(1, 90)} School Lane"),
            ("school.city", crowd.chance.choice(["Larkmoor", "Heathby", "Tarnside"])),
            ("school.postal_code", f"LM{crowd.chance.randrange(1, 9)} 4AB"),
            ("school.country", "GB"),
            ("programme", "yes"),
        ]
    return Visit(at, source, tuple(answers))


def _soon(crowd: Crowd, visit: Visit, first: int, last: int) -> Visit:
    """So many days after, and before today."""
    later = visit.at + timedelta(days=crowd.chance.randrange(first, last), hours=3)
    return replace(visit, at=min(later, crowd.today - timedelta(hours=1)))


def _bought(crowd: Crowd, guided: Visit) -> Visit:
    """Somebody who had a guide buys a telescope."""
    answers = (
        ("order", str(5000 + crowd.chance.randrange(900))),
        ("buyer.email", guided.answers[0][1].strip()),
        ("items[0].name", "Dobson 150"),
        ("offers", "false"),
    )
    return Visit(guided.at, TILL, answers)


def _booked(crowd: Crowd, asked: Visit) -> Visit:
    """Somebody who asked for a visit chooses the day."""
    answers = dict(asked.answers)
    return Visit(asked.at, BOOKING, (("guest.email", answers["email"]), ("day", answers["on"])))


def _partner(crowd: Crowd, source: str) -> Visit:
    first, last, address = crowd.person()
    answers = [("Name", f"{first} {last}"), ("E-mail", address.lower())]
    answers += [("walk", crowd.chance.choice(["Ridge at dusk", "Bog and stars"]))]
    answers += [("agreed", "yes")] if crowd.chance.random() < 0.8 else []
    return Visit(crowd.moment(), source, tuple(answers))


def _stand(crowd: Crowd, source: str) -> Visit:
    first, _, address = crowd.person()
    looks = crowd.chance.sample(LOOKS, crowd.chance.randrange(0, 4))
    answers = [("email", address.lower()), ("first_name", crowd.named(first))]
    # One evening in the autumn, one visitor after the other.
    at = crowd.today - timedelta(days=19, hours=2, minutes=crowd.chance.randrange(180))
    return Visit(at, source, (*answers, *(("looks", one) for one in looks)))


def _till(crowd: Crowd, source: str) -> Visit:
    first, last, address = crowd.person()
    answers = (
        ("order", str(4000 + crowd.chance.randrange(900))),
        ("buyer.email", address.lower()),
        ("buyer.name", f"{first} {last}"),
        ("buyer.country", crowd.country()),
        ("items[0].name", crowd.chance.choice(["Dobson 150", "Red torch", "Binoculars 10x50"])),
        ("offers", "true" if crowd.chance.random() < 0.5 else "false"),
    )
    return Visit(crowd.moment(), source, answers)
