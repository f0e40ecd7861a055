"""Invented visitors of the observatory, from a fixed seed."""

import random
from dataclasses import dataclass
from datetime import datetime, timedelta

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


@dataclass(frozen=True)
class Visit:
    """One visitor sending the form once."""

    at: datetime
    address: str
    first_name: str
    look: str
    utm_source: str


def visits(today: datetime, count: int, days: int, chance: random.Random) -> list[Visit]:
    """`count` visitors over the `days` before `today`, more as the nights grow longer."""
    made: list[Visit] = []
    used: set[str] = set()
    while len(made) < count:
        first, last = chance.choice(FIRST), chance.choice(LAST)
        address = f"{first}.{last}@{chance.choice(['example.com', 'example.org', 'mail.example'])}"
        if address in used:
            continue
        used.add(address)
        back = days * (1 - chance.random() ** 0.7)
        moment = today - timedelta(days=back)
        # People read in the evening, and at lunch.
        hour = chance.choices([7, 12, 13, 18, 19, 20, 21, 22], [1, 3, 2, 3, 5, 6, 5, 2])[0]
        at = moment.replace(hour=hour, minute=chance.randrange(60), second=chance.randrange(60))
        made.append(
            Visit(
                at=min(at, today - timedelta(minutes=chance.randrange(8, 240))),
                address=_typed(address, chance),
                first_name=_first_name(first, chance),
                look=chance.choices(["", *LOOKS], [14, *WEIGHTS])[0],
                utm_source=chance.choice(CAME_FROM),
            )
        )
    again = [
        Visit(
            at=min(one.at + timedelta(days=chance.randrange(1, 20)), today - timedelta(hours=5)),
            address=one.address.lower(),
            first_name=one.first_name,
            look=chance.choice(LOOKS),
            utm_source="",
        )
        for one in chance.sample(made, count // 16)
    ]
    return sorted([*made, *again], key=lambda one: one.at)


def _typed(address: str, chance: random.Random) -> str:
    return address if chance.random() < 0.15 else address.lower()


def _first_name(name: str, chance: random.Random) -> str:
    """As people type it: some shout, some do not bother with capitals, a few leave it out."""
    drawn = chance.random()
    if drawn < 0.03:
        return ""
    if drawn < 0.10:
        return name.upper()
    return name.lower() if drawn < 0.24 else name
