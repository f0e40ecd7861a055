"""The life of an email: its states, and who may move it from which to which.

`server/mail/life.py` carries these transitions out, and nothing else writes a state; a trigger of the
database refuses any other.
"""

from collections.abc import Mapping
from typing import Literal

EmailState = Literal["queued", "handing_over", "sent", "unknown", "held", "refused", "withdrawn"]
"""`handing_over`: the mail server is being spoken to. `unknown`: it may have gone out. `held`: it cannot go
as it is. `refused`: the mail server does not take it. `withdrawn`: it is not to go any more."""
Mover = Literal["worker", "mail server", "member", "rules"]
"""Who moves an email: the worker that has it in hand; what the mail server answered; a member; what became
of the person or of the run it belongs to."""

TRANSITIONS: Mapping[tuple[EmailState, EmailState], frozenset[Mover]] = {
    ("queued", "handing_over"): frozenset({"worker"}),
    ("queued", "held"): frozenset({"worker"}),
    ("queued", "withdrawn"): frozenset({"worker", "rules"}),
    ("handing_over", "sent"): frozenset({"mail server"}),
    # Not taken for now, or what was known a moment before no longer holds: nothing has gone out.
    ("handing_over", "queued"): frozenset({"mail server", "worker"}),
    ("handing_over", "withdrawn"): frozenset({"worker"}),
    ("handing_over", "held"): frozenset({"mail server", "worker"}),
    ("handing_over", "refused"): frozenset({"mail server"}),
    ("handing_over", "unknown"): frozenset({"mail server", "worker"}),
    ("unknown", "sent"): frozenset({"member"}),
    ("unknown", "queued"): frozenset({"member"}),
    ("held", "queued"): frozenset({"member", "worker"}),
    ("held", "withdrawn"): frozenset({"rules"}),
    ("refused", "queued"): frozenset({"member"}),
    # The merge or the replay that withdrew it is undone.
    ("withdrawn", "queued"): frozenset({"rules"}),
}


def sources_of(to: EmailState, by: Mover) -> tuple[EmailState, ...]:
    """The states from which `by` may move an email to `to`."""
    return tuple(
        before for (before, after), who in TRANSITIONS.items() if after == to and by in who
    )
