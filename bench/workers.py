"""Real workers, and how fast they get through something."""

import subprocess
import sys
import time
from typing import Any

_MOST_SECONDS = 300


def done_per_second(done: Any, count: int, workers: int) -> float:
    """Rows of the query `done` per second, from the first to the last of `count`, by so many workers."""
    running = [
        subprocess.Popen([sys.executable, "manage.py", "worker", "live"]) for _ in range(workers)
    ]
    try:
        deadline = time.monotonic() + _MOST_SECONDS
        while not (before := done.count()):
            time.sleep(0.02)
        started = time.monotonic()
        while (now := done.count()) < count and time.monotonic() < deadline:
            time.sleep(0.05)
        return float((now - before) / (time.monotonic() - started))
    finally:
        for one in running:
            one.terminate()
        for one in running:
            one.wait()
