"""Running a command, its output kept for when it fails."""

import os
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
    """Run `command` quietly; if it fails, stop with `failure` and the last lines it printed."""
    try:
        done = subprocess.run(
            [str(part) for part in command],
            cwd=cwd,
            env={**os.environ, **(env or {})},
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            errors="replace",
            check=False,
        )
    except FileNotFoundError as error:
        raise Stop(f"{failure} The command {command[0]} is missing.") from error
    if done.returncode:
        last = "\n".join(done.stdout.strip().splitlines()[-12:])
        if "No space left on device" in done.stdout:
            raise Stop("The disk is full. Free some space, then start again.")
        raise Stop(f"{failure} It said:\n{last}")
    return done.stdout
