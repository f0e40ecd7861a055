"""Which version of a broadcast did better, as far as that can be told.

Wilson's interval for a share: E. B. Wilson, Probable inference, the law of succession, and statistical
inference, 1927. The interval of a difference: R. G. Newcombe, Interval estimation for the difference between
independent proportions, 1998, method 10. The size of a sample: J. L. Fleiss, Statistical methods for rates and
proportions, 1981, without the correction for continuity.
"""

from collections.abc import Sequence
from math import ceil, inf, sqrt
from statistics import NormalDist

from ..documents import value
from .document import TrialRule

CONFIDENCE = 0.95
POWER = 0.8
_Z = NormalDist().inv_cdf(0.5 + CONFIDENCE / 2)
_Z_POWER = NormalDist().inv_cdf(POWER)


@value
class Interval:
    """Where a share, or a difference of two, lies in 95 of 100 cases."""

    low: float
    high: float


@value
class Tried:
    """What became of a version: of `sent` who got it, `count` did what is counted."""

    version: str
    sent: int
    count: int

    @property
    def share(self) -> float:
        """Of those who got it; 0 where nobody did."""
        return self.count / self.sent if self.sent else 0.0


@value
class Judged:
    """What a trial says."""

    version: str
    """The version that goes to the rest."""
    clear: bool
    """Whether its interval lies apart from that of every other one; else it is too early to say, and the first
    version goes."""
    intervals: dict[str, Interval]
    needed: int | None
    """How many would have to get each of the two best, for a difference like theirs to show; None: they do
    not differ."""


def wilson(count: int, of: int) -> Interval:
    """The interval of a share of `of`, of whom `count` did something."""
    if of == 0:
        return Interval(low=0.0, high=1.0)
    share, z2 = count / of, _Z * _Z
    middle = share + z2 / (2 * of)
    reach = _Z * sqrt(share * (1 - share) / of + z2 / (4 * of * of))
    scale = 1 + z2 / of
    low = 0.0 if count == 0 else (middle - reach) / scale
    high = 1.0 if count == of else (middle + reach) / scale
    return Interval(low=low, high=high)


def difference(one: Tried, other: Tried) -> Interval:
    """The interval of the share of `one` less that of `other`."""
    first, second = wilson(one.count, one.sent), wilson(other.count, other.sent)
    found = one.share - other.share
    down = sqrt((one.share - first.low) ** 2 + (second.high - other.share) ** 2)
    up = sqrt((first.high - one.share) ** 2 + (other.share - second.low) ** 2)
    return Interval(low=max(-1.0, found - down), high=min(1.0, found + up))


def needed_each(one: float, other: float) -> int | None:
    """How many have to get each of two versions, for a difference between these shares to show in 80 of 100
    trials; None: there is no difference."""
    if one == other:
        return None
    middle = (one + other) / 2
    by_chance = _Z * sqrt(2 * middle * (1 - middle))
    by_itself = _Z_POWER * sqrt(one * (1 - one) + other * (1 - other))
    found = ((by_chance + by_itself) / (one - other)) ** 2
    return None if found == inf else ceil(found)


def judge_trial(tried: Sequence[Tried], by: TrialRule) -> Judged:
    """Which version goes to the rest: the better one where that is clear, else the first.

    `tried`: in the order of the versions, at least one.
    """
    intervals = {one.version: wilson(one.count, one.sent) for one in tried}
    fewest = by == "fewest_left"
    ranked = sorted(tried, key=lambda one: one.share if fewest else -one.share)
    best, *others = ranked

    def apart(one: Tried) -> bool:
        mine, theirs = intervals[best.version], intervals[one.version]
        return mine.high < theirs.low if fewest else mine.low > theirs.high

    clear = all(map(apart, others))
    needed = needed_each(best.share, others[0].share) if others else None
    chosen = best.version if clear else tried[0].version
    return Judged(version=chosen, clear=clear, intervals=intervals, needed=needed)
