"""The real web server on the database of a test, and a way to PostgreSQL that can be cut."""

import contextlib
import http.client
import socket
import subprocess
import threading
import time
from collections.abc import Iterator
from urllib.parse import urlencode

from django.test import TransactionTestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from launch.postgres import free_port
from server.sources.tokens import new_rendering
from tests.processes import start, stop
from tests.world import World, make_world

PATIENCE = 60.0
"""Seconds after which something that should answer counts as hanging; no measure of speed."""
FORM = {"Content-Type": "application/x-www-form-urlencoded"}


class Wire(threading.Thread):
    """A way to PostgreSQL that can be cut."""

    def __init__(self, port: int) -> None:
        super().__init__(daemon=True)
        self.to = port
        self.server = socket.create_server(("127.0.0.1", 0))
        self.port = self.server.getsockname()[1]
        self.open: list[socket.socket] = []
        self.cut = threading.Event()
        self.moves = threading.Event()
        self.moves.set()

    def run(self) -> None:
        while True:
            with contextlib.suppress(OSError):
                peer, _ = self.server.accept()
                if self.cut.is_set():
                    peer.close()
                    continue
                far = socket.create_connection(("127.0.0.1", self.to))
                self.open += [peer, far]
                for one, other in ((peer, far), (far, peer)):
                    threading.Thread(target=self._pass, args=(one, other), daemon=True).start()

    def _pass(self, one: socket.socket, other: socket.socket) -> None:
        with contextlib.suppress(OSError):
            while data := one.recv(65_536):
                self.moves.wait()
                other.sendall(data)
        for end in (one, other):
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)

    def away(self) -> None:
        """Lose every connection, and take no new one."""
        self.cut.set()
        for one in self.open:
            with contextlib.suppress(OSError):
                one.shutdown(socket.SHUT_RDWR)

    def freeze(self) -> None:
        """Keep every connection, take new ones, and let nothing through: as where PostgreSQL is stopped by a
        signal, and not ended."""
        self.moves.clear()

    def thaw(self) -> None:
        self.moves.set()

    def back(self) -> None:
        self.open = []
        self.cut.clear()


class Running(TransactionTestCase):
    world: World
    server: subprocess.Popen[bytes]
    visitors = 0

    def setUp(self) -> None:
        ProcrastinateJob.objects.all()._raw_delete("default")
        self.world = make_world()

    @contextlib.contextmanager
    def served(self, **settings: str) -> Iterator[int]:
        port = free_port()
        process = start("-m", "server.config.serve", YALLA_PORT=str(port), **settings)
        self.server = process
        try:
            deadline = time.monotonic() + PATIENCE
            while True:
                with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", port), 1):
                    break
                self.assertLess(time.monotonic(), deadline)
                time.sleep(0.1)
            yield port
        finally:
            stop(process)

    def ask(self, port: int, method: str, path: str, **fields: str) -> tuple[int, str]:
        peer = http.client.HTTPConnection("127.0.0.1", port, timeout=PATIENCE)
        peer.request(method, path, urlencode(fields), {**FORM, "X-Forwarded-For": self.visitor()})
        answer = peer.getresponse()
        body = answer.read().decode()
        peer.close()
        return answer.status, body

    def visitor(self) -> str:
        """Another network address each time, for what counts posts by their network."""
        self.visitors += 1
        return f"192.0.{self.visitors // 250}.{self.visitors % 250}"

    def form(self) -> str:
        return f"/f/{self.world.source.key}"

    def rendering(self) -> str:
        live = self.world.source.revisions.get(state="live")
        return new_rendering(str(live.pk), time.time() - 30)
