"""A PostgreSQL of our own on loopback: its own folder, its own port, no other cluster touched."""

import hashlib
import os
import pwd
import secrets
import shutil
import socket
import subprocess
from pathlib import Path

from .commands import run
from .packages import postgres_bin
from .words import Stop, say


class Cluster:
    """A cluster in a folder. One that is not `durable` skips fsync: for tests alone."""

    def __init__(self, folder: Path, *, durable: bool = True) -> None:
        self.folder = _reachable(folder)
        self.durable = durable
        self.port = 0
        self.password = ""
        self._started = False

    def start(self) -> None:
        """Make it if it is not there, and start it on a free port."""
        if not (self.folder / "PG_VERSION").exists():
            self._make()
        self.password = (self.folder / "yalla-password").read_text()
        running = self._running_port()
        if running:
            self.port = running
            return
        self.port = free_port()
        options = f"-p {self.port} -h 127.0.0.1 -c unix_socket_directories=''"
        if not self.durable:
            options += " -c fsync=off -c synchronous_commit=off -c full_page_writes=off"
        self._as_owner(
            [
                "pg_ctl",
                "-D",
                self.folder,
                "-w",
                "-t",
                "60",
                "-l",
                self.folder / "server.log",
                "-o",
                options,
                "start",
            ],
            f"PostgreSQL does not start; its log is {self.folder / 'server.log'}.",
        )
        self._started = True

    def stop(self) -> None:
        """Stop it, if it was started here."""
        if self._started:
            self._as_owner(
                ["pg_ctl", "-D", self.folder, "-m", "fast", "-w", "stop"],
                "PostgreSQL does not stop.",
            )
            self._started = False

    def stop_left_behind(self) -> bool:
        """Stop one that an earlier start left running; whether there was one."""
        self._started = bool((self.folder / "PG_VERSION").exists() and self._running_port())
        was = self._started
        self.stop()
        return was

    def environment(self) -> dict[str, str]:
        """What the server needs to reach it."""
        return {
            "YALLA_DB_HOST": "127.0.0.1",
            "YALLA_DB_PORT": str(self.port),
            "YALLA_DB_USER": "yalla",
            "YALLA_DB_PASSWORD": self.password,
            "YALLA_DB_NAME": "yalla",
        }

    def _make(self) -> None:
        say("making a PostgreSQL cluster of its own")
        self.folder.mkdir(parents=True, exist_ok=True)
        if any(self.folder.iterdir()):
            raise Stop(f"{self.folder} is not empty and holds no database. Move it away first.")
        password = secrets.token_urlsafe(24)
        _give_away(self.folder)
        file = self.folder.parent / f".{self.folder.name}-password"
        file.write_text(password)
        file.chmod(0o600)
        _give_away(file)
        self._as_owner(
            [
                "initdb",
                "-D",
                self.folder,
                "-U",
                "yalla",
                "-E",
                "UTF8",
                "--locale=C.UTF-8",
                "--auth=scram-sha-256",
                f"--pwfile={file}",
            ],
            "The database cluster could not be made.",
        )
        kept = self.folder / "yalla-password"
        shutil.move(file, kept)
        with (self.folder / "postgresql.conf").open("a") as conf:
            conf.write("max_connections = 300\nshared_buffers = 256MB\n")
        self._sql("postgres", "CREATE DATABASE yalla", password)

    def _sql(self, database: str, statement: str, password: str) -> None:
        """One statement in single-user mode, while the server does not run."""
        program = postgres_bin() or Path()
        done = subprocess.run(
            self._owned([program / "postgres", "--single", "-D", self.folder, database]),
            input=statement + "\n",
            text=True,
            capture_output=True,
            check=False,
        )
        if done.returncode:
            raise Stop(f"The database could not be made: {done.stderr.strip()[-300:]}")

    def _running_port(self) -> int:
        """The port of a server that runs in the folder, or 0."""
        file = self.folder / "postmaster.pid"
        if not file.exists():
            return 0
        lines = file.read_text().splitlines()
        try:
            os.kill(int(lines[0]), 0)
            return int(lines[3])
        except (ProcessLookupError, ValueError, IndexError):
            return 0
        except PermissionError:
            return int(lines[3])

    def _as_owner(self, command: list[str | Path], failure: str) -> None:
        program = postgres_bin()
        if program is None:
            raise Stop("PostgreSQL is missing. Install Debian's package postgresql.")
        run(self._owned([program / str(command[0]), *command[1:]]), failure, cwd=Path("/"))

    def _owned(self, command: list[str | Path]) -> list[str]:
        """PostgreSQL refuses to run as root, so there it runs as the user postgres."""
        words = [str(part) for part in command]
        return ["runuser", "-u", "postgres", "--", *words] if os.geteuid() == 0 else words


def _give_away(path: Path) -> None:
    if os.geteuid() == 0:
        owner = pwd.getpwnam("postgres")
        os.chown(path, owner.pw_uid, owner.pw_gid)


def _reachable(folder: Path) -> Path:
    """The folder; or one under /var/lib where the user postgres cannot get to it."""
    if os.geteuid() != 0:
        return folder
    parent = folder.parent
    parent.mkdir(parents=True, exist_ok=True)
    reached = subprocess.run(
        ["runuser", "-u", "postgres", "--", "test", "-x", str(parent)],
        check=False,
        capture_output=True,
    )
    if reached.returncode == 0:
        return folder
    name = hashlib.sha256(str(folder).encode()).hexdigest()[:12]
    elsewhere = Path("/var/lib/yalla") / name / folder.name
    elsewhere.parent.mkdir(parents=True, exist_ok=True)
    return elsewhere


def free_port() -> int:
    """A port on loopback that nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
