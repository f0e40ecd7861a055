"""Consent and its transitions: none → pending → subscribed → unsubscribed.

Nobody is brought back by a rule. After *unsubscribed* only the person's own new opt-in
subscribes again; after *complained* not even that, without a confirmation by email.
"""

from datetime import datetime, timedelta

from .documents import Frozen
from .people import MembershipState

LINK_LASTS = timedelta(days=14)
"""How long a confirmation link can be used."""
ASKED_AGAIN_AFTER = timedelta(minutes=10)
"""A repeated request sends a fresh link at most so often."""


class Transition(Frozen):
    """Where a membership goes, or the sentence that says why it stays."""

    to: MembershipState
    refused: str = ""


def subscribe(
    state: MembershipState,
    own_opt_in: bool,
    confirm_first: bool = False,
    suppressed: bool = False,
) -> Transition:
    """Subscribe to a list; `suppressed`: the address is on the suppression list.

    `own_opt_in`: the person asked for it just now, shown the wording they agree to.
    `confirm_first`: the list, or the route, asks them to confirm by email before.
    """
    asked: MembershipState = "pending" if confirm_first else "subscribed"
    if suppressed and state != "subscribed" and not (own_opt_in and confirm_first):
        return Transition(
            to=state, refused="the address is suppressed; only a confirmation of theirs subscribes"
        )
    match state:
        case "subscribed":
            return Transition(to="subscribed")
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


def confirm(state: MembershipState, asked_at: datetime, now: datetime) -> Transition:
    """Follow a confirmation link that was made at `asked_at`: once, and within its time."""
    if state == "subscribed":
        return Transition(to=state, refused="it is confirmed already")
    if state != "pending":
        return Transition(to=state, refused="it was withdrawn since; ask for it again")
    if not asked_at <= now <= asked_at + LINK_LASTS:
        return Transition(to=state, refused="the link is older than 14 days; ask for a new one")
    return Transition(to="subscribed")


def unsubscribe(state: MembershipState) -> Transition:
    """Unsubscribe; always allowed. A complaint stays a complaint."""
    return Transition(to=state if state in ("complained", "unsubscribed") else "unsubscribed")


def may_be_sent_marketing(state: MembershipState) -> bool:
    """Whether a marketing email of this list may go to the person."""
    return state == "subscribed"
