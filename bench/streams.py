"""A thousand open screens: what they cost the server, and how soon each is told of a change."""

import contextlib
import os
import re
import selectors
import socket
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from django.test import Client
from django.utils import timezone

from server.snags.models import Snag
from server.workspaces.models import User, Workspace

PORT = int(os.environ.get("YALLA_PORT", "8400"))
SCREENS = 1000
_LONGEST = 60.0


def streams(fresh: Callable[[], Any]) -> dict[str, Any]:
    """Milliseconds from a change until the last of a thousand open screens is told; the limit is one alone
    in the same run. Beside it what each costs the server in memory, and its processor time while nothing
    happens."""
    fresh()
    with _open(1) as one:
        _told(one)
        alone = min(_told(one) for _ in range(5))
    before = _memory()
    with _open(SCREENS) as many:
        _told(many)
        memory = (_memory() - before) / SCREENS
        last = min(_told(many) for _ in range(5))
        began = _processor()
        time.sleep(20)
        idle = _processor() - began
    return {
        "value": round(1000 * last),
        "unit": "ms",
        "limit": round(1000 * alone),
        "ratio": round(last / alone, 2),
        "kilobytes_each": round(memory / 1024, 1),
        "idle_processor_percent": round(100 * idle / 20, 2),
        "screens": SCREENS,
    }


@contextlib.contextmanager
def _open(count: int) -> Iterator[list[socket.socket]]:
    client = Client()
    client.force_login(User.objects.get(email="bench@example.com"))
    cookie = client.cookies["sessionid"].value
    slug = Workspace.objects.get().slug
    asked = (
        f"GET /api/workspaces/{slug}/stream HTTP/1.1\r\nHost: 127.0.0.1:{PORT}\r\n"
        f"Cookie: sessionid={cookie}\r\n\r\n"
    ).encode()
    with contextlib.ExitStack() as stack:
        found = []
        for _ in range(count):
            one = stack.enter_context(socket.create_connection(("127.0.0.1", PORT), 30))
            one.sendall(asked)
            found.append(one)
        for one in found:
            head = one.recv(4096)
            if not head.startswith(b"HTTP/1.1 200"):
                raise SystemExit(f"no stream: {head[:200]!r}")
            one.setblocking(False)
        # What both processes say when they begin to hear of changes.
        time.sleep(2)
        yield found


def _told(screens: list[socket.socket]) -> float:
    """Seconds from a change to the last screen that was told of it."""
    for one in screens:
        with contextlib.suppress(BlockingIOError):
            one.recv(65536)
    now = timezone.now()
    with selectors.DefaultSelector() as waiting:
        for one in screens:
            waiting.register(one, selectors.EVENT_READ)
        began = time.monotonic()
        Snag.everywhere.create(
            workspace=Workspace.objects.get(),
            about="send",
            cause=str(began),
            first_at=now,
            last_at=now,
        )
        left = set(screens)
        while left:
            ready = waiting.select(_LONGEST)
            if not ready:
                raise SystemExit(f"{len(left)} screens were not told")
            for key, _ in ready:
                screen = key.fileobj
                assert isinstance(screen, socket.socket)
                if b"snags" in screen.recv(65536):
                    waiting.unregister(screen)
                    left.discard(screen)
        took = time.monotonic() - began
    # Past the pause between two events.
    time.sleep(1)
    return took


def _serving() -> list[Path]:
    """The processes that serve."""
    found = []
    for one in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            if b"server.config.serve" in (one / "cmdline").read_bytes():
                found.append(one)
    return found


def _memory() -> int:
    """Bytes that they have for themselves."""
    sums = 0
    for one in _serving():
        said = (one / "smaps_rollup").read_text()
        sums += sum(int(kilobytes) for kilobytes in re.findall(r"Private_\w+:\s+(\d+) kB", said))
    return 1024 * sums


def _processor() -> float:
    """Seconds of processor time that they have used."""
    ticks = 0
    for one in _serving():
        fields = (one / "stat").read_text().rpartition(")")[2].split()
        ticks += int(fields[11]) + int(fields[12])
    return ticks / os.sysconf("SC_CLK_TCK")
