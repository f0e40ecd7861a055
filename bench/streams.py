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
from server.workspaces.models import Member, Role, User, Workspace

PORT = int(os.environ.get("YALLA_PORT", "8400"))
SCREENS, EACH = 1000, 40
"""Screens, and how many of them are of one member."""
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
    workspace = Workspace.objects.get()
    head = f"GET /api/workspaces/{workspace.slug}/stream HTTP/1.1\r\nHost: 127.0.0.1:{PORT}\r\n"
    asked = [
        f"{head}Cookie: sessionid={_session(workspace, number)}\r\n\r\n".encode()
        for number in range(1 + count // EACH)
    ]
    with contextlib.ExitStack() as stack:
        found = []
        for number in range(count):
            one = stack.enter_context(socket.create_connection(("127.0.0.1", PORT), 30))
            one.sendall(asked[number // EACH])
            found.append(one)
        for one in found:
            answer = one.recv(4096)
            if not answer.startswith(b"HTTP/1.1 200"):
                raise SystemExit(f"no stream: {answer[:200]!r}")
            one.setblocking(False)
        time.sleep(2)
        yield found


def _session(workspace: Workspace, number: int) -> str:
    """What lets a member of their own in."""
    user, _ = User.objects.get_or_create(email=f"member{number}@example.com")
    Member.objects.get_or_create(user=user, workspace=workspace, defaults={"role": Role.READER})
    client = Client()
    client.force_login(user)
    return str(client.cookies["sessionid"].value)


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
