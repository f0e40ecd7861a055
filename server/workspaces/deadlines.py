"""Requests that wait for the database longer than they may: a thread of each process watches over them.

A statement has a time limit of its own in PostgreSQL (`statement_timeout`). That helps nobody where PostgreSQL
does not run at all, frozen or behind a dead network: then no answer comes, and nothing ends the waiting. So a
connection that a request waits on past its deadline is shut down, and the request is answered as when the
database is away. What only reads for somebody who has gone is cancelled.
"""

import contextlib
import os
import socket
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field

from django.db import DEFAULT_DB_ALIAS, connections
from django.db.backends.base.base import BaseDatabaseWrapper
from django.http import HttpRequest, HttpResponse

PUBLIC_SECONDS = 2.5
"""For visitors: what cannot be answered by then is answered with 503 within 3 seconds."""
MEMBER_SECONDS = 30.0
"""For members: longer than any statement of the API may take."""
_EACH = 0.25
PUBLIC = ("/f/", "/hook/", "/hear/", "/u/", "/c/", "/p/", "/q/", "/d/", "/l/", "/o/", "/i/")
"""What anybody may ask for."""


@dataclass
class _Watched:
    """A request that a thread works on, and the connection that it may wait for."""

    database: BaseDatabaseWrapper
    ends: float
    gone: Callable[[], bool] | None = None
    """Whether the client has gone; None: what it asked for is done all the same."""
    cancelled: bool = field(default=False)


class _Watch:
    """The requests of this process, looked at four times a second."""

    def __init__(self) -> None:
        self._requests: dict[int, _Watched] = {}
        self._lock = threading.Lock()
        self._pid = 0

    def begin(self, watched: _Watched) -> None:
        """Watch over the request of this thread."""
        if self._pid != os.getpid():
            # Threads do not come along when a process is forked.
            with self._lock:
                if self._pid != os.getpid():
                    self._requests, self._pid = {}, os.getpid()
                    threading.Thread(target=self._run, daemon=True, name="deadlines").start()
        self._requests[threading.get_ident()] = watched

    def end(self) -> None:
        """The request of this thread is over."""
        self._requests.pop(threading.get_ident(), None)

    def current(self) -> _Watched | None:
        """The request of this thread."""
        return self._requests.get(threading.get_ident())

    def _run(self) -> None:
        while True:
            time.sleep(_EACH)
            now = time.monotonic()
            for thread, one in list(self._requests.items()):
                if now > one.ends:
                    # Once: the answer that follows has its own connection.
                    if self._requests.get(thread) is one:
                        one.ends = now + MEMBER_SECONDS
                    _shut(one.database)
                elif one.gone is not None and not one.cancelled and one.gone():
                    one.cancelled = True
                    _cancel(one.database)


_WATCH = _Watch()


class Deadlines:
    """Middleware: watches over each request."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        seconds = PUBLIC_SECONDS if request.path.startswith(PUBLIC) else MEMBER_SECONDS
        gone = request.META.get("waitress.client_disconnected") if request.method == "GET" else None
        database = connections[DEFAULT_DB_ALIAS]
        _WATCH.begin(_Watched(database, time.monotonic() + seconds, gone))
        try:
            return self.get_response(request)
        finally:
            _WATCH.end()


def only_reads(request: HttpRequest) -> None:
    """This request changes nothing, whatever its method: it is cancelled once its client has gone."""
    watched = _WATCH.current()
    if watched is not None:
        watched.gone = request.META.get("waitress.client_disconnected")


def _shut(database: BaseDatabaseWrapper) -> None:
    """End the connection under whoever waits on it."""
    raw = database.connection
    with contextlib.suppress(Exception):
        number = os.dup(raw.pgconn.socket)
        with socket.socket(fileno=number) as own:
            own.shutdown(socket.SHUT_RDWR)


def _cancel(database: BaseDatabaseWrapper) -> None:
    raw = database.connection
    with contextlib.suppress(Exception):
        raw.cancel_safe(timeout=1.0)
