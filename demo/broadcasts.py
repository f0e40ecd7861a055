"""The letters that Larkmoor sends to all at one time: the club's every month, and one that is being written."""

from datetime import datetime, time, timedelta

from core.broadcasts import BroadcastDocument, To, Trial, Version, When
from core.conditions import FrozenTest, Group
from server.broadcasts.actions import make_broadcast, set_off
from server.broadcasts.going import look
from server.broadcasts.models import Broadcast
from server.mail.actions import deliver_queued
from server.people.models import FrozenGroup
from server.workspaces import clock

from .audiences import AURORA
from .guides import NEWS
from .house import House
from .letters import letter
from .readers import KEEN, read_some
from .sequences import LETTER

_SUBJECTS = (
    ("Twelve of us, one telescope", "The first letter of the club, and how it came about"),
    ("Frost on the finder", "What to do when the night is better than your gloves"),
    ("The Moon does not wait", "An eclipse at breakfast, and where to stand for it"),
    ("A lamp that spoils the valley", "What the council said, and what we asked for instead"),
    ("Who drew the first map?", "A notebook from the attic, and the hand that wrote in it"),
    ("Short nights, long talks", "Nothing to see before midnight, so we have asked three speakers"),
    ("Noctilucent, and other long words", "Clouds that shine at one in the morning"),
    ("Shooting stars, and a blanket", "The Perseids over the moor, on the second weekend"),
    ("Back to the dark", "The season begins; the dome has a new coat of paint"),
    ("Ring seen edge-on", "Saturn without its ring, for once, and why"),
    ("A school on the hill", "Thirty children, four telescopes, one cloud"),
    ("The longest night", "Soup at six, Orion at eight, home at midnight"),
    ("Half a million stars", "The cluster that everybody finds, and the one beside it"),
    ("Our clock was wrong", "Four seconds, and how a listener noticed"),
    ("Spring galaxies", "Leo, Virgo, and a chart for the back of your hand"),
    ("The key is with Ada", "New hours of the dome, and who opens it"),
    ("Sun day, Sunday", "Filters on: a day for spots and flares"),
    ("Swifts in the slit", "The dome has tenants until August"),
    ("Two rockets and a kettle", "What crossed our field in July"),
    ("A tent in the heather", "The camp under the stars, and who brings the tea"),
    ("Dust on the mirror", "How one cleans two metres of glass without touching it"),
    ("Heather and Hercules", "August evenings, and the best of the globular clusters"),
)
_RECENT = (
    (
        "What we saw through the clouds",
        "Six clear nights, and what the dome brought home from them.",
    ),
    ("The comet that was not one", "How a smudge on a plate kept four of us awake until three"),
    ("A new mirror for the old dome", "It weighs as much as a pony, and it arrives on a Tuesday"),
    ("Long nights, short words", "Everything that is on before the year ends, on one page"),
)
"""Since the whole club gets it."""
_TRIED = {
    "The Moon does not wait": ("It goes dark at seven, bring toast", 60),
    "The comet that was not one": (KEEN, 50),
}
"""The other subject of two of them, and the share that it was tried on: among few people, which was too
early to say, and among many."""


class Letters:
    """Sends the club's letter, once a month."""

    def __init__(self, house: House) -> None:
        self._house, self._month = house, ""
        self._early, self._recent = iter(_SUBJECTS), iter(_RECENT)

    def before_the_forms(self, at: datetime) -> None:
        """The letter of a month when the club was small, and what became of it in the days after."""
        workspace = self._house.workspace
        clock.set_time(workspace, at)
        if (words := next(self._early, None)) is None:
            return
        self._send(at, *words)
        for hours in (1, 24, 25):
            clock.set_time(workspace, at + timedelta(hours=hours))
            look(workspace)
            deliver_queued(workspace)
            read_some(workspace)

    def go_on(self) -> None:
        """What is due by now; and as the first visitor of a month comes by, another letter."""
        workspace = self._house.workspace
        workspace.refresh_from_db()
        if Broadcast.objects.of(workspace).filter(state=Broadcast.State.TRYING).exists():
            read_some(workspace)
        look(workspace)
        now = clock.now(workspace)
        month = f"{now:%Y-%m}"
        if month == self._month:
            return
        self._month = month
        if words := next(self._recent, None):
            self._send(now, *words)

    def _send(self, now: datetime, subject: str, words: str) -> None:
        house = self._house
        name = f"The club's letter, {now:%B %Y}"
        message = str(house.message(name, subject, words, *letter(house, subject, words)).pk)
        versions = [Version(id="a", message=message)]
        other, share = _TRIED.get(subject, ("", 20))
        if other:
            versions.append(Version(id="b", message=message, subject=other))
        document = BroadcastDocument(
            to=To(list=str(house.list(LETTER).pk)),
            versions=tuple(versions),
            trial=Trial(share=share, by="opened", hours=20),
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
    had_it = FrozenGroup.objects.of(house.workspace).get(name=AURORA)
    document = BroadcastDocument(
        to=To(
            list=str(house.list(NEWS).pk),
            less=Group(kind="any", of=(FrozenTest(group=str(had_it.pk)),)),
            less_recent_days=2,
        ),
        versions=(
            Version(id="a", message=str(message.pk)),
            Version(id="b", message=str(message.pk), subject="Come and look: three open nights"),
        ),
        trial=Trial(share=30),
        when=When(kind="local", at=datetime.combine(day, time(18)), per_hour=600, delay_minutes=10),
    )
    make_broadcast(house.workspace, "Open nights before the year ends", document, house.member)
