"""May this person get this email now, and if not: when, or why not at all?

The one answer to that question. `advance` asks it for the step that a run comes to, the mail room asks
it when it takes an email in hand and once more right before SMTP. Nothing else decides it.
"""

from datetime import datetime
from typing import Literal
from zoneinfo import ZoneInfo

from ..documents import value
from ..people import MembershipState, may_be_sent_marketing
from .sending_times import Bound, Move, MovedBy, NoTimeFits, SendingTimes, longer_gap, settle
from .timing import Duration

Barrier = Literal["no_list", "unsubscribed", "not_on_list", "suppressed"]
"""Why somebody may not get an email at all."""
_THEIRS: tuple[MovedBy, ...] = ("gap", "quiet_date", "hours")
"""What moves an email for the person's sake."""
_LEFT: tuple[MembershipState, ...] = ("unsubscribed", "bounced", "complained")


@value
class Email:
    """An email that waits, as far as the decision depends on it."""

    promised: bool
    """Whether it answers an act of the person just now: it goes at once, whatever the list."""
    list: str | None
    """The list that it belongs to."""
    confirms: bool = False
    """Whether it asks somebody to confirm a subscription: no marketing, but paced where no act of theirs
    asks for it (a file, for one)."""
    any_hour: bool = False
    """Whether sending hours and quiet dates do not count for it; gaps and limits do."""
    waits: bool = True
    """Whether it may move to a later time where the person's times or the gap ask for it; else it does not
    go at all then."""
    retry_at: datetime | None = None
    """After a try that failed for now: when it is tried again (aware)."""
    probes: bool = False
    """Whether it is sent to find out if the reason of a hold is gone."""


@value
class Recipient:
    """The person that an email goes to, as far as the decision depends on them."""

    membership: MembershipState = "none"
    """On the list of the email."""
    suppressed: bool = False
    zone: str = "UTC"
    """Their time zone (IANA), or the workspace's where theirs is not known."""
    gap_days: int = 0
    """At most one marketing email in so many days, as they asked; 0: they did not."""
    last_marketing_at: datetime | None = None
    """When the last marketing email left for them (aware), by any sequence or broadcast."""


@value
class Sending:
    """How the workspace sends at the moment: its times and limits."""

    times: SendingTimes
    """The sequence's where it has its own, else the workspace's."""
    gap: Duration | None = None
    """What has to lie between two marketing emails to one person."""
    full_until: datetime | None = None
    """The limit of the hour is reached: when there is room again (aware)."""
    full_why: str = ""
    on_hold: str = ""
    """Why nothing is handed over now; empty: nothing stands in the way."""


@value
class Now:
    """It may go now."""


@value
class NotBefore:
    """It waits until `at` (aware), moved there by `moves`."""

    at: datetime
    moves: tuple[Move, ...]

    @property
    def because(self) -> str:
        """What moved it, the last reason first in line."""
        return ", ".join(dict.fromkeys(one.why for one in self.moves))


@value
class Withdrawn:
    """It never goes: the person may not get it."""

    barrier: Barrier | Literal["would_wait"]
    because: str


@value
class Held:
    """It cannot go until somebody, or something, changes what stands in the way."""

    because: str
    code: Literal["on_hold", "no_time"]


Verdict = Now | NotBefore | Withdrawn | Held
_NOW = Now()


def barrier(
    promised: bool, list_id: str | None, membership: MembershipState, suppressed: bool
) -> Barrier | None:
    """Why a person may not get an email of a list (None: of no list) at all; None: they may.

    What they asked for just now reaches them whatever the list says. Marketing belongs to a list, and
    goes to its subscribers alone.
    """
    if promised:
        return None
    if list_id is None:
        return "no_list"
    if has_left(membership):
        return "unsubscribed"
    if suppressed:
        return "suppressed"
    return None if may_be_sent_marketing(membership) else "not_on_list"


def has_left(membership: MembershipState) -> bool:
    """Whether somebody was on the list and left, by whatever way."""
    return membership in _LEFT


def decide_email(email: Email, to: Recipient, sending: Sending, now: datetime) -> Verdict:
    """Whether `email` goes to this person at `now` (aware); if not, until when it waits, or why it is
    withdrawn or held."""
    barred = (
        _barrier_of_confirming(to)
        if email.confirms and not email.promised
        else barrier(email.promised, email.list, to.membership, to.suppressed)
    )
    if barred is not None:
        return Withdrawn(barrier=barred, because=_in_words(barred, to.membership))
    if sending.on_hold and not email.probes:
        return Held(because=sending.on_hold, code="on_hold")
    bounds = []
    if email.retry_at is not None:
        why = "the mail server did not take it yet"
        bounds.append(Bound(by="retry", why=why, until=email.retry_at))
    if email.promised:
        if not bounds or bounds[0].until <= now:
            return _NOW
        move = Move(by="retry", why=bounds[0].why, wanted=now, to=bounds[0].until)
        return NotBefore(at=bounds[0].until, moves=(move,))
    if sending.full_until is not None:
        bounds.append(Bound(by="limit", why=sending.full_why, until=sending.full_until))
    try:
        found = settle(
            now,
            ALWAYS if email.any_hour else sending.times,
            ZoneInfo(to.zone),
            last=to.last_marketing_at,
            gap=None if email.confirms else longer_gap(sending.gap, to.gap_days),
            bounds=bounds,
        )
    except NoTimeFits as error:
        return Held(because=str(error), code="no_time")
    if found.at <= now:
        return _NOW
    if not email.waits and (by := [one.why for one in found.moves if one.by in _THEIRS]):
        because = f"left out, since it would have had to wait: {', '.join(dict.fromkeys(by))}"
        return Withdrawn(barrier="would_wait", because=because)
    return NotBefore(at=found.at, moves=found.moves)


def _barrier_of_confirming(to: Recipient) -> Barrier | None:
    """Whoever is no longer pending is not asked any more."""
    if to.suppressed:
        return "suppressed"
    if to.membership == "pending":
        return None
    return "unsubscribed" if has_left(to.membership) else "not_on_list"


ALWAYS = SendingTimes()
"""No hours and no quiet dates."""


def _in_words(barred: Barrier, membership: MembershipState) -> str:
    match barred:
        case "no_list":
            return "it is marketing and belongs to no list"
        case "suppressed":
            return "on the suppression list when it was due"
        case _:
            return f"{membership} when it was due"
