"""How fast a broadcast goes out: emails spread so that no hour takes more than it may."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import datetime, timedelta

_HOUR = timedelta(hours=1)


def spaced(moments: Sequence[datetime], per_hour: int | None) -> list[datetime]:
    """Moments, in order, moved later where need be so that each is an even part of an hour after the one
    before: never more than `per_hour` within any hour."""
    if per_hour is None:
        return list(moments)
    step = _HOUR / per_hour
    found: list[datetime] = []
    for moment in moments:
        at = moment if not found else max(moment, found[-1] + step)
        found.append(at)
    return found


def by_hour(moments: Iterable[tuple[datetime, int]]) -> dict[datetime, int]:
    """How many go within each hour (by its beginning, UTC), of moments with how many go then."""
    found: dict[datetime, int] = {}
    for moment, count in moments:
        hour = moment.replace(minute=0, second=0, microsecond=0)
        found[hour] = found.get(hour, 0) + count
    return found


def within_limits(
    wanted: Mapping[datetime, int],
    limit: Callable[[datetime], int | None],
    most_hours: int = 24 * 60,
) -> dict[datetime, int]:
    """The same hours where at most `limit` of an hour go in it, and the rest in the next; what is left after
    `most_hours` stands in the last."""
    found: dict[datetime, int] = {}
    if not wanted:
        return found
    hour, last, waits = min(wanted), max(wanted), 0
    for _ in range(most_hours):
        waits += wanted.get(hour, 0)
        most = limit(hour)
        goes = waits if most is None else min(waits, most)
        if goes:
            found[hour] = goes
        waits -= goes
        if hour >= last and not waits:
            return found
        hour += _HOUR
    if waits:
        found[hour] = waits
    return found
