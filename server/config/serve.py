"""The web server: waitress, some processes of it on one socket.

One loop of each process reads every request whole before a thread takes it, so a client that
sends slowly, or never ends, holds a socket and no thread. A request has to arrive within
`DEADLINE` seconds, and a public one is small.
"""

import copy
import gc
import os
import resource
import signal
import socket
import time
from typing import Any

from django.core.handlers.wsgi import WSGIHandler
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer, create_server
from waitress.task import ThreadedTaskDispatcher, WSGITask

DEADLINE = float(os.environ.get("YALLA_REQUEST_SECONDS", "30"))
"""Seconds from the first byte of a request to its last."""
LARGEST = 32 * 2**20
LARGEST_PUBLIC = 2 * 2**20
"""Bytes of a body; what a form takes is bounded more closely by the view, with a page that says so."""
PUBLIC = ("/f/", "/hook/", "/hear/", "/u/", "/c/", "/p/", "/q/")
ANYBODY = (*PUBLIC, "/d/", "/l/", "/o/", "/i/", "/pictures/", "/health", "/.well-known/")
THREADS = 8
"""For members."""
PUBLIC_THREADS = 6
"""For visitors: no member's request can fill them."""


class _Parser(HTTPRequestParser):
    """Bounds the bodies of what anybody may send."""

    adj: Adjustments

    def parse_header(self, header_plus: bytes) -> None:
        """As waitress does; a public address takes less."""
        super().parse_header(header_plus)
        if self.path.startswith(PUBLIC):
            own = copy.copy(self.adj)
            own.max_request_body_size = LARGEST_PUBLIC
            self.adj = own


class _Task(WSGITask):
    """A request whose view may take its connection over (`yalla.take_socket`)."""

    channel: "_Channel"

    def get_environment(self) -> dict[str, Any]:
        """As waitress does, with the way to take the connection over."""
        environ: dict[str, Any] = super().get_environment()
        environ["yalla.take_socket"] = self.channel.take_socket
        return environ

    def finish(self) -> None:
        """As waitress does; a connection that was taken over is let go."""
        super().finish()
        if self.channel.taken:
            self.close_on_finish = True


class _Channel(HTTPChannel):
    """A connection that knows since when it is sending a request, and that can be taken over."""

    parser_class = _Parser
    task_class = _Task
    began: float | None = None
    taken = False

    def take_socket(self) -> socket.socket:
        """The connection, for whoever answers on it from now on: what the request itself answers is not sent."""
        taken = socket.socket(fileno=os.dup(self.socket.fileno()))
        self.taken = True
        return taken

    def write_soon(self, data: bytes) -> int:
        """As waitress does, as long as it is its connection."""
        return len(data) if self.taken else int(super().write_soon(data))

    def received(self, data: bytes) -> bool:
        """As waitress does, with the time of the first byte kept."""
        if self.began is None:
            self.began = time.time()
        taken = super().received(data)
        if self.request is None:
            self.began = None
        return bool(taken)


class _Threads:
    """Threads for visitors, and others for members."""

    def __init__(self) -> None:
        self._members, self._visitors = ThreadedTaskDispatcher(), ThreadedTaskDispatcher()

    def set_thread_count(self, count: int) -> None:
        """So many for members; visitors have their own."""
        self._members.set_thread_count(count)
        self._visitors.set_thread_count(PUBLIC_THREADS if count else 0)

    def add_task(self, task: HTTPChannel) -> None:
        """A request waits for a thread of its kind."""
        request = task.requests[0] if task.requests else None
        public = request is not None and request.path.startswith(ANYBODY)
        (self._visitors if public else self._members).add_task(task)

    def shutdown(self, cancel_pending: bool = True, timeout: int = 5) -> bool:
        """End the threads."""
        ends = [one.shutdown(cancel_pending, timeout) for one in (self._visitors, self._members)]
        return all(ends)


class _Server(TcpWSGIServer):
    """Ends connections whose request does not arrive."""

    channel_class = _Channel

    def maintenance(self, now: float) -> None:
        """Run every few seconds: idle connections go, and those that send too slowly."""
        super().maintenance(now)
        for channel in self.active_channels.values():
            if channel.began is not None and channel.began < now - DEADLINE:
                channel.will_close = True


def load() -> WSGIHandler:
    """The application with all of its code imported, so that no visitor waits for that."""
    from django.urls import get_resolver

    from .wsgi import application

    list(get_resolver().url_patterns)
    return application


def serve(application: WSGIHandler, sock: socket.socket) -> None:
    """Serve on a bound socket, until the process is told to stop."""
    threads = _Threads()
    threads.set_thread_count(THREADS)
    server = create_server(
        application,
        sockets=[sock],
        _start=False,
        _dispatcher=threads,
        # Whether a client has gone is known while its request is worked on.
        channel_request_lookahead=1,
        connection_limit=1000,
        channel_timeout=int(DEADLINE),
        cleanup_interval=5,
        max_request_body_size=LARGEST,
        asyncore_use_poll=True,
        # Proxies are counted by the application (YALLA_PROXIES).
        clear_untrusted_proxy_headers=False,
        ident=None,
    )
    server.__class__ = _Server
    server.accept_connections()
    server.run()


def main() -> None:
    """Bind, and keep as many processes as `YALLA_WEB_PROCESSES` says (2).

    The code is loaded first, once for all processes: a socket that takes connections belongs to a
    server that answers them, also where a process has to be started anew.
    """
    os.environ.setdefault("YALLA_STATEMENT_SECONDS", "10")
    application = load()
    gc.freeze()
    address = os.environ.get("YALLA_BIND", "127.0.0.1"), int(os.environ.get("YALLA_PORT", "8400"))
    # An open screen is an open file.
    files, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (max(files, min(most, 8192)), most))
    sock = socket.create_server(address, backlog=1024)
    sock.setblocking(False)
    children: set[int] = set()

    def stop(*_: object) -> None:
        for pid in children:
            os.kill(pid, signal.SIGTERM)
        raise SystemExit(0)

    signal.signal(signal.SIGTERM, stop)
    signal.signal(signal.SIGINT, stop)
    while True:
        while len(children) < int(os.environ.get("YALLA_WEB_PROCESSES", "2")):
            pid = os.fork()
            if pid == 0:
                signal.signal(signal.SIGTERM, _end)
                signal.signal(signal.SIGINT, signal.SIG_IGN)
                serve(application, sock)
                os._exit(0)
            children.add(pid)
        pid, _ = os.wait()
        children.discard(pid)
        # One that ends at once is not started again in a hurry.
        time.sleep(0.5)


def _end(*_: object) -> None:
    raise SystemExit(0)


if __name__ == "__main__":
    main()
