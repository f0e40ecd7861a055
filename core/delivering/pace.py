"""How many emails a sender hands over within an hour, while receivers get to know it."""

from datetime import date

FIRST_DAY = 200
"""Emails within an hour on the first day of a new sender; common practice: begin with few hundreds,
and double each day."""
FIRST_DAY_OF_DOMAIN = 50
"""The same for one receiving domain."""
_DAYS = 14


def allowed_within_hour(
    limit: int | None, first: date | None, today: date, *, each_domain: bool
) -> int | None:
    """The most emails within an hour; None: no limit.

    `first`: the first day of a new sender, None for one that is known already.
    """
    if first is None or (today - first).days >= _DAYS:
        return limit
    begins = FIRST_DAY_OF_DOMAIN if each_domain else FIRST_DAY
    grown = begins << max(0, (today - first).days)
    return grown if limit is None else min(limit, grown)
