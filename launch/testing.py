"""./run test: the tests by Django's runner and vitest, the linters, types and import rules."""

import json
import os
import shutil
import signal
import subprocess
import tempfile
import time
from pathlib import Path

from .builds import PYTHON, ROOT, VENV, WEB
from .postgres import Cluster
from .words import say

CODE = ["core", "server", "outside", "demo", "launch", "bench", "tests"]
SUITES = {"core": ["core"], "server": ["tests.server"], "browser": ["tests.browser"]}
COPIES = ("server", "browser")
"""The large suites, on copies of tables that are made once. Much of their time is waiting, for
workers, mail servers and pages, so they begin first, and the rest runs beside them."""
PROCESSES = {"server": 2}
"""How many share a suite."""


def run_tests(parts: list[str]) -> int:
    """Run the parts (all where none is named); close with one line of counts."""
    unknown = set(parts) - {*SUITES, "checks"}
    if unknown:
        say(f"there is no part {', '.join(sorted(unknown))}: core, server, browser, checks")
        return 2
    folder = Path(tempfile.mkdtemp(prefix="yalla-test-"))
    folder.chmod(0o755)
    (folder / "static").mkdir()
    cluster = Cluster(folder / "postgres", durable=False)
    counts = _Counts(folder)
    try:
        cluster.start()
        environment = settings_for(cluster, folder)
        suites = [one for one in SUITES if not parts or one in parts]
        checks = _checks() if not parts or "checks" in parts else []
        if not parts or "browser" in parts:
            checks.append(("vitest", ["npm", "run", "--silent", "test"], WEB))
        counts.run(suites, checks, environment)
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)
        if cluster.folder != folder / "postgres":
            shutil.rmtree(cluster.folder, ignore_errors=True)
    print(f"{counts.passed} passed, {counts.failed} failed, {counts.skipped} skipped", flush=True)
    return 1 if counts.failed else 0


class _Counts:
    """How many tests and checks passed, failed and were skipped."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.passed = self.failed = self.skipped = 0

    def add_check(self, name: str, ok: bool) -> None:
        self.passed += ok
        self.failed += not ok
        say(f"{name}: {'ok' if ok else 'FAILED'}")

    def run(
        self,
        suites: list[str],
        checks: list[tuple[str, list[str], Path]],
        environment: dict[str, str],
    ) -> None:
        """Run the checks, and the suites by Django's runner, on databases of their own.

        What a suite says is shown when it is over.
        """
        tables = [str(PYTHON), "manage.py", "migrate", "--verbosity", "0"]
        if any(one in COPIES for one in suites):
            self.add_check("tables", _run(tables, ROOT, environment))
        running = [_Suite(one, self.folder, environment) for one in suites if one in COPIES]
        try:
            for name, command, where in checks:
                self.add_check(name, _run(command, where, environment))
            for name in (one for one in suites if one not in COPIES):
                running.insert(0, _Suite(name, self.folder, environment))
            for suite in running:
                self._add(suite)
        finally:
            for suite in running:
                suite.stop()

    def _add(self, suite: "_Suite") -> None:
        ok, found = suite.wait()
        self.passed += found.get("passed", 0)
        self.skipped += found.get("skipped", 0)
        self.failed += found.get("failed", 0) or (0 if ok else 1)
        for line in suite.slowest():
            print(f"  {line} s")
        say(f"{suite.name}: {'ok' if ok else 'FAILED'} in {suite.seconds:.0f} s")


class _Suite:
    """One run of Django's runner, which leaves its counts in a file."""

    def __init__(self, name: str, folder: Path, environment: dict[str, str]) -> None:
        self.name = name
        self.counts = folder / f"{name}-counts.json"
        self.times = folder / f"{name}-times.txt"
        self.output = (folder / f"{name}.txt").open("w+")
        self.started = time.monotonic()
        self.process = subprocess.Popen(
            [str(PYTHON), "manage.py", "test", "--noinput", *self._shared(), *SUITES[name]],
            cwd=ROOT,
            env={
                **environment,
                "YALLA_COUNTS": str(self.counts),
                "YALLA_TIMES": str(self.times),
                "YALLA_DB_NAME": name,
                "YALLA_DB_TEMPLATE": environment["YALLA_DB_NAME"],
            },
            stdin=subprocess.DEVNULL,
            stdout=self.output,
            stderr=subprocess.STDOUT,
        )

    def _shared(self) -> list[str]:
        count = PROCESSES.get(self.name, 1)
        return ["--parallel", str(count)] if count > 1 else []

    def stop(self) -> None:
        """End it, where it still runs: its browsers and servers end with it."""
        if self.process.poll() is None:
            self.process.send_signal(signal.SIGINT)
            self.process.wait()

    @property
    def seconds(self) -> float:
        """Since it began."""
        return time.monotonic() - self.started

    def slowest(self, count: int = 10) -> list[str]:
        """The tests that took longest, each with its seconds."""
        if not self.times.exists():
            return []
        taken = (line.split() for line in self.times.read_text().splitlines())
        slow = sorted(((float(seconds), test) for seconds, test in taken), reverse=True)[:count]
        return [f"{test}: {seconds:.0f}" for seconds, test in slow]

    def wait(self) -> tuple[bool, dict[str, int]]:
        """Wait for its end and show what it said; whether it passed, and its counts."""
        ok = self.process.wait() == 0
        self.output.seek(0)
        print(self.output.read(), end="", flush=True)
        self.output.close()
        return ok, json.loads(self.counts.read_text()) if self.counts.exists() else {}


def _checks() -> list[tuple[str, list[str], Path]]:
    tool = str(VENV / "bin")
    return [
        ("eslint", ["npm", "run", "--silent", "lint"], WEB),
        ("mypy", [f"{tool}/mypy", *CODE], ROOT),
        ("tsc", ["npm", "run", "--silent", "types"], WEB),
        ("ruff", [f"{tool}/ruff", "check", "."], ROOT),
        ("ruff format", [f"{tool}/ruff", "format", "--check", "."], ROOT),
        ("import rules", [f"{tool}/lint-imports"], ROOT),
        ("migrations", [str(PYTHON), "manage.py", "makemigrations", "--check"], ROOT),
        ("tables as migrated", [str(PYTHON), "-m", "launch.tables", "--check", "--here"], ROOT),
        ("API types", [str(PYTHON), "-m", "launch.api_types", "--check"], ROOT),
        ("prettier", ["npm", "run", "--silent", "format"], WEB),
    ]


def settings_for(cluster: Cluster, folder: Path) -> dict[str, str]:
    """The environment of what runs on a cluster of tests."""
    return {
        **os.environ,
        **cluster.environment(),
        "PATH": f"{VENV / 'bin'}:{os.environ.get('PATH', '')}",
        "DJANGO_SETTINGS_MODULE": "server.config.settings",
        "YALLA_DATA": str(folder),
        "YALLA_SECRET_KEY": "only-for-tests",
        "YALLA_CLOCK_MOVABLE": "1",
        "YALLA_OUTSIDE_TOKEN": "only-for-tests",
        "YALLA_LOG_LEVEL": "ERROR",
    }


def _run(command: list[str], where: Path, environment: dict[str, str]) -> bool:
    done = subprocess.run(
        command, cwd=where, env=environment, stdin=subprocess.DEVNULL, check=False
    )
    return done.returncode == 0
