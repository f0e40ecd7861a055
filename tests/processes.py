"""Real processes beside a test: workers and the outside world, on the test's database."""

import os
import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from django.db import connection

ROOT = Path(__file__).resolve().parent.parent


def start(*words: str, **settings: str) -> subprocess.Popen[bytes]:
    """Start a process of the project, with Python, on the database of the test."""
    database = connection.settings_dict
    environment = {
        **os.environ,
        "YALLA_DB_NAME": str(database["NAME"]),
        "YALLA_DB_HOST": str(database["HOST"]),
        "YALLA_DB_PORT": str(database["PORT"]),
        **settings,
    }
    return subprocess.Popen([sys.executable, *words], cwd=ROOT, env=environment)


_ends: list[Callable[[], None]] = []


def at_end(ends: Callable[[], None]) -> None:
    """Call `ends` after the last test of the run, while its database is still there."""
    _ends.append(ends)


def end_all() -> None:
    """End what tests share."""
    while _ends:
        _ends.pop()()


def stop(process: subprocess.Popen[bytes]) -> None:
    """Ask it to stop, and wait; insist where that does not help."""
    process.send_signal(signal.SIGTERM)
    try:
        process.wait(timeout=20)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()


def kill(process: subprocess.Popen[bytes]) -> None:
    """kill -9: it has no time to do anything."""
    process.kill()
    process.wait()
