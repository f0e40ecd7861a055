"""The letters that Larkmoor sends to all at one time: the club's every month, and one that is being written."""

from datetime import datetime, time, timedelta

from core.broadcasts import BroadcastDocument, To, Trial, Version, When
from server.broadcasts.actions import make_broadcast, set_off
from server.broadcasts.going import look
from server.workspaces import clock

from .guides import NEWS
from .house import House
from .letters import letter
from .sequences import LETTER

_MONTHS = (
    (
        "What we saw through the clouds",
        "Six clear nights, and what the dome brought home from them.",
    ),
    ("The comet that was not one", "How a smudge on a plate kept four of us awake until three"),
    ("A new mirror for the old dome", "It weighs as much as a pony, and it arrives on a Tuesday"),
    ("Long nights, short words", "Everything that is on before the year ends, on one page"),
)
_OTHER = "Four of us, one plate, three in the morning"


class Letters:
    """Sends the club's letter as the first visitor of a month comes by."""

    def __init__(self, house: House) -> None:
        self._house, self._sent, self._month = house, 0, 0

    def go_on(self) -> None:
        """What is due by now; and once a month another letter."""
        workspace = self._house.workspace
        workspace.refresh_from_db()
        look(workspace)
        now = clock.now(workspace)
        if now.month == self._month:
            return
        self._month = now.month
        # Not in the month of the first visitors, who only begin to come.
        if self._sent < len(_MONTHS):
            self._send(now)
            self._sent += 1

    def _send(self, now: datetime) -> None:
        house, (subject, words) = self._house, _MONTHS[self._sent]
        name = f"The club's letter, {now:%B}"
        message = str(house.message(name, subject, words, *letter(house, subject, words)).pk)
        versions = [Version(id="a", message=message)]
        # One of them is tried with two subjects.
        if self._sent == 1:
            versions.append(Version(id="b", message=message, subject=_OTHER))
        document = BroadcastDocument(
            to=To(list=str(house.list(LETTER).pk)),
            versions=tuple(versions),
            trial=Trial(share=40, hours=20),
            when=When(delay_minutes=0),
        )
        row = make_broadcast(house.workspace, name, document, house.member)
        set_off(row, house.member)
        look(house.workspace)


def write_the_next(house: House) -> None:
    """One in preparation: to everybody who gets the news, at six in the evening where they are."""
    now = clock.now(house.workspace)
    subject, words = (
        "Three clear Fridays, if the sky allows",
        "The Moon stays away, and the dome stays open",
    )
    message = house.message("Three clear Fridays", subject, words, *letter(house, subject, words))
    day = now.date() + timedelta(days=3)
    document = BroadcastDocument(
        to=To(list=str(house.list(NEWS).pk), less_recent_days=2),
        versions=(
            Version(id="a", message=str(message.pk)),
            Version(id="b", message=str(message.pk), subject="Come and look: three open nights"),
        ),
        trial=Trial(share=30),
        when=When(kind="local", at=datetime.combine(day, time(18)), per_hour=600, delay_minutes=10),
    )
    make_broadcast(house.workspace, "Open nights before the year ends", document, house.member)
