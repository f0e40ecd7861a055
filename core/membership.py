"""Consent and its transitions: none → subscribed → unsubscribed.

Nobody is brought back by a rule. After *unsubscribed* only the person's own new opt-in
subscribes again; after *complained* not even that, without a confirmation.
"""

from .documents import Frozen
from .people import MembershipState


class Transition(Frozen):
    """Where a membership goes, or the sentence that says why it stays."""

    to: MembershipState
    refused: str = ""


def subscribe(state: MembershipState, own_opt_in: bool) -> Transition:
    """Subscribe to a single opt-in list.

    `own_opt_in`: the person asked for it just now, shown the wording they agree to.
    """
    match state:
        case "subscribed":
            return Transition(to="subscribed")
        case "complained":
            return Transition(
                to=state, refused="they complained; only a confirmation of theirs subscribes again"
            )
        case "unsubscribed" | "bounced" if not own_opt_in:
            return Transition(
                to=state, refused="they left; only an opt-in of their own subscribes again"
            )
        case _:
            return Transition(to="subscribed")


def unsubscribe(state: MembershipState) -> Transition:
    """Unsubscribe; always allowed. A complaint stays a complaint."""
    return Transition(to=state if state in ("complained", "unsubscribed") else "unsubscribed")


def may_be_sent_marketing(state: MembershipState) -> bool:
    """Whether a marketing email of this list may go to the person."""
    return state == "subscribed"
