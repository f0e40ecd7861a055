"""Reads that may take long: bounded in time, and few at once for each workspace, so that nobody's question keeps
others waiting."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, transaction
from django.db.utils import OperationalError

from .errors import Refused
from .models import Workspace

AT_ONCE = 2
"""Expensive reads of one workspace at the same time, in one process."""
_WAITS = 3.0
_LOCK = threading.Lock()
_BUSY: dict[object, threading.BoundedSemaphore] = {}
QUERY_CANCELED = "57014"
"""PostgreSQL's code for a statement that was ended for its time, or by request."""


@contextmanager
def expensive_read(workspace: Workspace, seconds: int = 5) -> Iterator[None]:
    """Read within so many seconds, in a transaction of its own; refused (503), in true words, where too many
    such reads are under way, or it takes longer."""
    with _LOCK:
        turns = _BUSY.setdefault(workspace.pk, threading.BoundedSemaphore(AT_ONCE))
    if not turns.acquire(timeout=_WAITS):
        raise Refused(
            "Other questions of this workspace are being answered. Try again in a moment.",
            status=503,
        )
    try:
        with transaction.atomic():
            with connection.cursor() as cursor:
                cursor.execute("SELECT set_config('statement_timeout', %s, true)", [f"{seconds}s"])
            yield
    except OperationalError as error:
        if not was_too_slow(error):
            raise
        raise too_slow(seconds) from error
    finally:
        turns.release()


def was_too_slow(error: BaseException) -> bool:
    """Whether PostgreSQL ended a statement for its time."""
    return getattr(error.__cause__, "sqlstate", None) == QUERY_CANCELED


def too_slow(seconds: int) -> Refused:
    """What is said then."""
    return Refused(
        f"This took longer than {seconds} seconds, so it was stopped. Ask for less: fewer conditions, or "
        "simpler ones.",
        status=503,
    )
