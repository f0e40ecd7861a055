"""What many requests need and few change: looked up once a second in each process."""

import time
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from threading import Lock
from typing import Generic, TypeVar

SECONDS = 1.0
_MOST = 10_000

Value = TypeVar("Value")


@dataclass(frozen=True)
class _Known(Generic[Value]):
    value: Value
    since: float
    looking: Lock = field(default_factory=Lock)
    """Held by the thread that looks again."""


class Briefly(Generic[Value]):
    """Values that are looked up again after a second. While one thread looks, the others go on with the
    value so far, which is never older than two seconds."""

    def __init__(self) -> None:
        self._known: dict[Hashable, _Known[Value]] = {}
        self._forgot = -1.0

    def get(self, key: Hashable, look: Callable[[], Value | None]) -> Value | None:
        """The value; None, which is not kept, where there is none."""
        known = self._known.get(key)
        if known is None:
            return self._look(key, look)
        age = time.monotonic() - known.since
        if age >= 2 * SECONDS:
            return self._look(key, look)
        if age < SECONDS or not known.looking.acquire(blocking=False):
            return known.value
        try:
            return self._look(key, look)
        finally:
            known.looking.release()

    def forget(self, key: Hashable) -> None:
        """Look it up at the next request; what is being looked up right now is not kept."""
        self._forgot = time.monotonic()
        self._known.pop(key, None)

    def _look(self, key: Hashable, look: Callable[[], Value | None]) -> Value | None:
        since = time.monotonic()
        value = look()
        if value is None:
            self._known.pop(key, None)
        elif self._forgot < since:
            if len(self._known) >= _MOST:
                self._known.clear()
            known = self._known.get(key)
            if known is None or known.since <= since:
                self._known[key] = _Known(value, since)
        return value
