"""What is built in the checkout: the virtual environment, node modules, the front end.

Each is made anew only when what it is made from has changed.
"""

import contextlib
import hashlib
import shutil
import subprocess
import sys
from collections.abc import Iterable
from importlib import metadata
from pathlib import Path

from .commands import run
from .words import Stop, say

ROOT = Path(__file__).resolve().parent.parent
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
WEB = ROOT / "web"
DEBIANS = Path("/usr/bin/python3")
OLDEST = (3, 11)
_FOR_ANOTHER = 23
"""The first version of pip that Debian has with `--python`."""


def python_environment(*, development: bool) -> None:
    """The virtual environment, with what the pinned requirements name."""
    requirements = ROOT / ("requirements-dev.txt" if development else "requirements.txt")
    mark = VENV / f"made-from-{requirements.stem}"
    digest = _digest([requirements])
    if _is_current(mark, digest):
        return
    say("installing the Python packages (once)")
    if not PYTHON.exists():
        run(
            [interpreter(), "-m", "venv", "--without-pip", VENV],
            "The virtual environment could not be made.",
        )
    # All that is needed is named. It is compiled as it is imported: most of it never is.
    how = ("--quiet", "--no-compile", "--no-deps", "--disable-pip-version-check")
    run(
        [*_pip(), "install", *how, "-r", requirements],
        "The Python packages could not be installed.",
    )
    mark.write_text(digest)


def interpreter() -> str | Path:
    """Debian's Python, where there is one that will do: it is built by a profile of its use, and takes
    a fifth to a third less time than one built from source without. Else the one that runs this."""
    needs = "venv" if _has_pip() else "venv, ensurepip"
    check = f"import sys, {needs}; sys.exit(sys.version_info < {OLDEST})"
    with contextlib.suppress(FileNotFoundError):
        if not subprocess.run([DEBIANS, "-c", check], check=False, capture_output=True).returncode:
            return DEBIANS
    return sys.executable


def _has_pip() -> bool:
    """Whether the Python which runs this has a pip that can install into another."""
    with contextlib.suppress(metadata.PackageNotFoundError):
        return int(metadata.version("pip").split(".")[0]) >= _FOR_ANOTHER
    return False


def _pip() -> list[str | Path]:
    """pip for the environment: that of the Python which runs this, where it can; else one of the
    environment's own, which takes some seconds to make."""
    if _has_pip():
        return [sys.executable, "-m", "pip", "--python", PYTHON]
    run([PYTHON, "-m", "ensurepip"], "pip could not be installed.")
    return [PYTHON, "-m", "pip"]


def node_modules() -> None:
    """The front end's packages, as the lock file names them."""
    mark = WEB / "node_modules" / ".made-from"
    digest = _digest([WEB / "package-lock.json"])
    if _is_current(mark, digest):
        return
    say("installing the front end's packages (once)")
    run(
        ["npm", "ci", "--no-audit", "--no-fund"],
        "The front end's packages could not be installed.",
        cwd=WEB,
    )
    mark.write_text(digest)


def front_end() -> None:
    """The interface, built when its sources changed."""
    mark = WEB / "dist" / ".made-from"
    digest = _digest(
        [
            *(one for one in (WEB / "src").rglob("*") if one.is_file()),
            *WEB.glob("*.json"),
            *WEB.glob("*.ts"),
            WEB / "index.html",
        ]
    )
    if _is_current(mark, digest):
        return
    node_modules()
    say("building the interface (when it changed)")
    shutil.rmtree(WEB / "dist", ignore_errors=True)
    run(["npm", "run", "--silent", "build"], "The interface could not be built.", cwd=WEB)
    mark.write_text(digest)


class Beside:
    """A command of `./run` that runs beside this one, and ends with it."""

    def __init__(self, command: str) -> None:
        self._process = subprocess.Popen(
            [sys.executable, ROOT / "run", command],
            stdin=subprocess.DEVNULL,
            start_new_session=True,
        )

    def wait(self) -> None:
        """Wait until it is done. Where it failed, it has printed why."""
        if self._process.wait():
            raise Stop("The interface could not be built; the reason stands above.")

    def stop(self) -> None:
        """End it, with all that it started."""
        if self._process.poll() is None:
            self._process.terminate()
            self._process.wait()


def _is_current(mark: Path, digest: str) -> bool:
    return mark.is_file() and mark.read_text() == digest


def _digest(files: Iterable[Path]) -> str:
    made = hashlib.sha256()
    for file in sorted(files):
        made.update(str(file.relative_to(ROOT)).encode())
        made.update(file.read_bytes())
    return made.hexdigest()
