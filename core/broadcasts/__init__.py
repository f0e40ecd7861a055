"""Broadcasts: one letter, at one time, to exactly those who may get it."""

from .check import Around, check_broadcast
from .difference import broadcast_differences
from .document import MOST_VERSIONS, BroadcastDocument, To, Trial, TrialRule, Version, When
from .life import (
    EDITABLE,
    OVER,
    PAUSED,
    TRANSITIONS,
    Act,
    BroadcastState,
    acts_in,
    sources_of_act,
)
from .pacing import by_hour, spaced, within_limits
from .recipients import (
    Goes,
    Known,
    LeftOut,
    Place,
    Plan,
    Why,
    falls_to,
    first_moment,
    place_of,
    wanted_at,
)
from .trials import Interval, Judged, Tried, difference, judge_trial, needed_each, wilson
from .words import (
    REASONS,
    clock_in_words,
    to_in_words,
    trial_in_words,
    version_in_words,
    when_in_words,
)

__all__ = [
    "EDITABLE",
    "MOST_VERSIONS",
    "OVER",
    "PAUSED",
    "REASONS",
    "TRANSITIONS",
    "Act",
    "Around",
    "BroadcastDocument",
    "BroadcastState",
    "Goes",
    "Interval",
    "Judged",
    "Known",
    "LeftOut",
    "Place",
    "Plan",
    "To",
    "Trial",
    "TrialRule",
    "Tried",
    "Version",
    "When",
    "Why",
    "acts_in",
    "broadcast_differences",
    "by_hour",
    "check_broadcast",
    "clock_in_words",
    "difference",
    "falls_to",
    "first_moment",
    "judge_trial",
    "needed_each",
    "place_of",
    "sources_of_act",
    "spaced",
    "to_in_words",
    "trial_in_words",
    "version_in_words",
    "wanted_at",
    "when_in_words",
    "wilson",
    "within_limits",
]
