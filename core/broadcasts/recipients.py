"""Who gets a broadcast, when, and who is left out because of what.

The one answer, for one person and for everybody: the server reads what is known of each (`Known`), and asks
`place_of`. Whether an email may go at a moment at all is `core.delivering.decide_email`'s to say.
"""

from datetime import datetime, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from ..delivering import (
    Duration,
    Email,
    Held,
    Move,
    NotBefore,
    Recipient,
    Sending,
    SendingTimes,
    Withdrawn,
    at_wall,
    decide_email,
    next_clock_time,
)
from ..documents import value
from ..people import MembershipState
from ..sequences import share_of
from .document import BroadcastDocument, When

Why = Literal[
    "got_it",
    "left",
    "bounced",
    "complained",
    "unconfirmed",
    "not_on_list",
    "suppressed",
    "not_meant",
    "less",
    "busy",
    "recent",
    "no_zone",
    "hole",
    "would_wait",
    "no_time",
]
"""Why somebody is left out."""


@value
class LeftOut:
    """Somebody does not get it."""

    why: Why
    about: str = ""
    """Which one: the part of the condition or the audience by its place, or the field by its key."""
    because: str = ""


@value
class Goes:
    """Somebody gets it at `at` (aware), moved there by `moves`."""

    at: datetime
    wanted: datetime
    """When it would have gone but for `moves`."""
    moves: tuple[Move, ...] = ()
    next_day: bool = False
    """Whether the time had passed already where they are."""


Place = Goes | LeftOut


@value
class Known:
    """What is known of a person, as far as a broadcast depends on it."""

    membership: MembershipState = "none"
    suppressed: bool = False
    lacks: str = ""
    """The first part of the condition that does not hold for them, by its place; empty: all hold."""
    less: str = ""
    """The first thing for which they are left out: an audience by its id, or "less"; empty: none."""
    busy: bool = False
    """Under way in a sequence that wants its people left alone."""
    recent: bool = False
    got_it: bool = False
    hole: str = ""
    """The first field that the letter needs and they do not have, by its key; empty: none."""
    zone: str = ""
    """Their own (IANA); empty: it is not known."""
    gap_days: int = 0
    last_marketing_at: datetime | None = None


@value
class Plan:
    """What a broadcast depends on besides the person."""

    when: When
    list: str | None
    start: datetime
    """Before this moment nothing goes (aware)."""
    zone: str
    """The workspace's."""
    times: SendingTimes
    gap: Duration | None = None


_BY_STATE: dict[MembershipState, Why] = {
    "unsubscribed": "left",
    "bounced": "bounced",
    "complained": "complained",
    "pending": "unconfirmed",
    "none": "not_on_list",
}


def place_of(known: Known, plan: Plan) -> Place:
    """Whether somebody gets a broadcast and when, or why they are left out."""
    if known.got_it:
        return LeftOut(why="got_it")
    if known.suppressed and known.membership == "subscribed":
        return LeftOut(why="suppressed")
    if known.membership != "subscribed":
        return LeftOut(why=_BY_STATE[known.membership])
    if known.lacks:
        return LeftOut(why="not_meant", about=known.lacks)
    if known.less:
        return LeftOut(why="less", about=known.less)
    if known.busy:
        return LeftOut(why="busy")
    if known.recent:
        return LeftOut(why="recent")
    by_their_clock = plan.when.kind == "local"
    if by_their_clock and not known.zone and plan.when.without_zone == "leave_out":
        return LeftOut(why="no_zone")
    if known.hole:
        return LeftOut(why="hole", about=known.hole)
    zone = known.zone or plan.zone
    return _timed(known, plan, wanted_at(plan, zone), zone)


def _timed(known: Known, plan: Plan, wanted: datetime, zone: str) -> Place:
    email = Email(promised=False, list=plan.list, waits=plan.when.outside == "move")
    recipient = Recipient(
        membership=known.membership,
        suppressed=known.suppressed,
        zone=zone,
        gap_days=known.gap_days,
        last_marketing_at=known.last_marketing_at,
    )
    verdict = decide_email(email, recipient, Sending(times=plan.times, gap=plan.gap), wanted)
    match verdict:
        case Withdrawn(barrier="would_wait"):
            return LeftOut(why="would_wait", because=verdict.because)
        case Withdrawn():
            return LeftOut(why="not_on_list", because=verdict.because)
        case Held():
            return LeftOut(why="no_time", because=verdict.because)
        case _:
            later = verdict if isinstance(verdict, NotBefore) else NotBefore(at=wanted, moves=())
            passed = _passed(plan, zone)
            return Goes(at=later.at, wanted=wanted, moves=later.moves, next_day=passed)


def wanted_at(plan: Plan, zone: str) -> datetime:
    """When it is to go to somebody in a zone (aware): at the moment, or the first time from the start on
    at which their clock shows the time."""
    when = plan.when
    if when.kind == "at_once" or when.at is None:
        return plan.start
    moment = at_wall(when.at, ZoneInfo(zone if when.kind == "local" else plan.zone))
    if moment >= plan.start:
        return moment
    if when.kind == "at":
        return plan.start
    return next_clock_time(plan.start, (), when.at.time(), ZoneInfo(zone))


def _passed(plan: Plan, zone: str) -> bool:
    when = plan.when
    if when.kind != "local" or when.at is None:
        return False
    return at_wall(when.at, ZoneInfo(zone)) < plan.start


def first_moment(when: When, now: datetime, zone: str) -> datetime:
    """The first moment at which anybody may get it, if it is set off at `now` (both aware): not before it can
    no longer be called back, and not before the first clock shows the time."""
    earliest = now + timedelta(minutes=when.delay_minutes)
    if when.kind == "at_once" or when.at is None:
        return earliest
    # No clock is further ahead than 14 hours.
    moment = at_wall(when.at, ZoneInfo("Etc/GMT-14" if when.kind == "local" else zone))
    return max(earliest, moment)


def falls_to(document: BroadcastDocument, broadcast: str, person: str) -> str | None:
    """The version that somebody gets in the trial; None: they are of the rest. By chance, and the same
    each time."""
    if not document.is_tried:
        return None
    share = share_of(broadcast, "trial", person) / (document.trial.share / 100)
    return document.versions[int(share * len(document.versions))].id if share < 1 else None
