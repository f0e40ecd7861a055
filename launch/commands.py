"""Running a command, its output kept for when it fails."""

import contextlib
import os
import signal
import subprocess
from collections.abc import Mapping, Sequence
from pathlib import Path

from .words import Stop


def run(
    command: Sequence[str | Path],
    failure: str,
    *,
    cwd: Path | None = None,
    env: Mapping[str, str] | None = None,
) -> str:
    """Run `command` quietly; if it fails, stop with `failure` and the last lines it printed.

    Interrupted, it ends with everything that it started.
    """
    try:
        process = subprocess.Popen(
            [str(part) for part in command],
            cwd=cwd,
            env={**os.environ, **(env or {})},
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            errors="replace",
            start_new_session=True,
        )
    except FileNotFoundError as error:
        raise Stop(f"{failure} The command {command[0]} is missing.") from error
    try:
        printed, _ = process.communicate()
    except BaseException:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(process.pid, signal.SIGTERM)
        process.wait()
        raise
    if process.returncode:
        last = "\n".join(printed.strip().splitlines()[-12:])
        if "No space left on device" in printed:
            raise Stop("The disk is full. Free some space, then start again.")
        raise Stop(f"{failure} It said:\n{last}")
    return printed
