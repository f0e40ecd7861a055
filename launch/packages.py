"""What Debian has to provide: PostgreSQL, Chromium, venv; and Node.js 20."""

import os
import shutil
import subprocess
from pathlib import Path

from .commands import run
from .words import Stop, say

_MAIL = {
    "opendkim": "/usr/sbin/opendkim",
    "postfix": "/usr/sbin/postfix",
    "dovecot-imapd": "/usr/lib/dovecot/imap",
}
"""What tests check emails against, and the program that says that it is there."""


def postgres_bin() -> Path | None:
    """The folder of PostgreSQL's server programs, the newest version there is."""
    found = sorted(
        Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda one: int(one.parts[-3])
    )
    return found[-1].parent if found else None


def install_missing(*, browser: bool, mail: bool = False) -> None:
    """Install what is missing, as root or with sudo. `mail`: the servers that tests speak to."""
    wanted = []
    if postgres_bin() is None:
        wanted.append("postgresql")
    if browser and not Path("/usr/bin/chromium-headless-shell").exists():
        wanted.append("chromium-headless-shell")
    if mail:
        wanted += [name for name, program in _MAIL.items() if not Path(program).exists()]
    if subprocess.run(
        ["python3", "-c", "import ensurepip"], check=False, capture_output=True
    ).returncode:
        wanted.append("python3-venv")
    _check_node()
    if not wanted:
        return
    if shutil.which("apt-get") is None:
        raise Stop(f"Install {', '.join(wanted)} first: this is not a Debian with apt-get.")
    rights = [] if os.geteuid() == 0 else ["sudo", "-n"]
    if rights and shutil.which("sudo") is None:
        raise Stop(f"Install {', '.join(wanted)} as root first, or install sudo.")
    say(f"installing {', '.join(wanted)} from Debian's packages (once)")
    # RUNLEVEL keeps what is installed from being started: tests start servers of their own.
    quiet = {"DEBIAN_FRONTEND": "noninteractive", "RUNLEVEL": "1"}
    run([*rights, "apt-get", "update", "-qq"], "Debian's package lists cannot be read.", env=quiet)
    run(
        [*rights, "apt-get", "install", "-y", "-qq", "--no-install-recommends", *wanted],
        f"{', '.join(wanted)} could not be installed.",
        env=quiet,
    )


def _check_node() -> None:
    if shutil.which("node") is None or shutil.which("npm") is None:
        raise Stop("Node.js is missing. Install Node.js 20 or newer with npm, then start again.")
    version = run(["node", "--version"], "Node.js does not answer.").strip().lstrip("v")
    if int(version.split(".")[0]) < 20:
        raise Stop(f"Node.js {version} is too old. Install Node.js 20 or newer.")
