"""Consent and its transitions: none → pending → subscribed → unsubscribed.

Nobody is brought back by a rule. After *unsubscribed* only the person's own new opt-in
subscribes again; after *complained* not even that, without a confirmation by email.
"""

from datetime import datetime, timedelta

from ..documents import value
from .facts import MembershipState

LINK_LASTS = timedelta(days=14)
"""How long a confirmation link can be used."""
ASKED_AGAIN_AFTER = timedelta(minutes=10)
"""A repeated request sends a fresh link at most so often."""
CONFIRMED_ALREADY = "it is confirmed already"
LINK_TOO_OLD = "the link is older than 14 days; ask for a new one"
"""Why a confirmation changes nothing."""

_SECOND = timedelta(seconds=1)


@value
class Left:
    """When a person last left: this list, and all lists at once; None: never."""

    this_list: datetime | None = None
    every_list: datetime | None = None

    def since(self, moment: datetime) -> bool:
        """Whether they left at `moment` or later."""
        return any(one is not None and one >= moment for one in (self.this_list, self.every_list))


@value
class Transition:
    """Where a membership goes, or the sentence that says why it stays."""

    to: MembershipState
    refused: str = ""


def subscribe(
    state: MembershipState,
    own_opt_in: bool,
    confirm_first: bool = False,
    suppressed: bool = False,
    asked_at: datetime | None = None,
    left: Left | None = None,
) -> Transition:
    """Subscribe to a list; `suppressed`: the address is on the suppression list.

    `own_opt_in`: the person asked for it themself, shown the wording they agree to.
    `confirm_first`: the list, or the route, asks them to confirm by email before.
    `asked_at`: when they asked (aware), `left`: when they last left; an opt-in that is older
    than that counts for nothing, whenever it comes to be decided.
    """
    asked: MembershipState = "pending" if confirm_first else "subscribed"
    if left is not None and state != "subscribed":
        if not own_opt_in and left.every_list is not None:
            return Transition(
                to=state,
                refused="they left every list; only an opt-in of their own subscribes again",
            )
        if asked_at is not None and left.since(asked_at):
            return Transition(
                to=state, refused="they left after this was sent; only a later opt-in subscribes"
            )
    if suppressed and state != "subscribed" and not (own_opt_in and confirm_first):
        return Transition(
            to=state, refused="the address is suppressed; only a confirmation of theirs subscribes"
        )
    match state:
        case "subscribed":
            return Transition(to="subscribed")
        case "pending":
            # Only their confirmation makes it more, whatever this route asks for.
            return Transition(to="pending")
        case "complained" if not (own_opt_in and confirm_first):
            return Transition(
                to=state, refused="they complained; only a confirmation of theirs subscribes again"
            )
        case "unsubscribed" | "bounced" if not own_opt_in:
            return Transition(
                to=state, refused="they left; only an opt-in of their own subscribes again"
            )
        case _:
            return Transition(to=asked)


def confirm(
    state: MembershipState, asked_at: datetime, now: datetime, left: Left | None = None
) -> Transition:
    """Follow a confirmation link that was made at `asked_at`: once, within its time, and not
    if the person has `left` since."""
    if state == "subscribed":
        return Transition(to=state, refused=CONFIRMED_ALREADY)
    # A link says its moment in whole seconds.
    if state != "pending" or (left is not None and left.since(asked_at + _SECOND)):
        return Transition(to=state, refused="it was withdrawn since; ask for it again")
    if not asked_at <= now <= asked_at + LINK_LASTS:
        return Transition(to=state, refused=LINK_TOO_OLD)
    return Transition(to="subscribed")


def unsubscribe(state: MembershipState) -> Transition:
    """Unsubscribe; always allowed. A complaint stays a complaint."""
    return Transition(to=state if state in ("complained", "unsubscribed") else "unsubscribed")


_OF_THE_ADDRESS: tuple[MembershipState, ...] = ("bounced", "pending")
"""States that say something of an address, not of the person: nothing arrives there, or nobody has confirmed
from there. They stay with the address."""


def merged(kept: MembershipState, gone: MembershipState) -> MembershipState:
    """The state on one list of two people who are one, whose address is that of `kept`.

    Whoever left or complained under either address has. Else it is the state of the kept address: a
    subscription of the other one moves only to where there is none, and never to one that bounced or that
    has not confirmed.
    """
    for left in ("complained", "unsubscribed"):
        if left in (kept, gone):
            return left
    if kept != "none":
        return kept
    return "none" if gone in _OF_THE_ADDRESS else gone


def bounced(state: MembershipState) -> Transition:
    """The mail server refused the address for good; only a subscription can bounce."""
    return Transition(to="bounced" if state in ("subscribed", "pending") else state)


def complained(state: MembershipState) -> Transition:
    """They said that it is spam: from then on only a confirmation of theirs subscribes."""
    return Transition(to=state if state == "none" else "complained")


def may_be_sent_marketing(state: MembershipState) -> bool:
    """Whether a marketing email of this list may go to the person."""
    return state == "subscribed"
