"""Commands that the start script runs: their failure in a sentence, and nothing left behind; and the
Python that it makes the environment of."""

import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from launch import builds
from launch.commands import run
from launch.words import Stop

ROOT = Path(__file__).parents[2]


def alive(pid: int) -> bool:
    """Whether a process is there and no zombie (proc(5))."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except FileNotFoundError:
        return False


class Interpreter(TestCase):
    def chosen(self, debians: Path) -> Path:
        with patch.object(builds, "DEBIANS", debians):
            return Path(builds.interpreter())

    def test_debians_python_is_taken_where_it_will_do(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for outcome, is_taken in (("0", True), ("1", False)):
                with self.subTest(outcome):
                    one = Path(folder) / f"python-{outcome}"
                    one.write_text(f"#!/bin/sh\nexit {outcome}\n")
                    one.chmod(0o755)
                    self.assertEqual(self.chosen(one), one if is_taken else Path(sys.executable))

    def test_without_one_it_is_the_one_that_runs(self) -> None:
        self.assertEqual(self.chosen(Path("/no/such/python3")), Path(sys.executable))

    def test_one_that_is_too_old_is_not_taken(self) -> None:
        one = Path(sys.executable)
        with tempfile.TemporaryDirectory() as folder:
            link = Path(folder) / "python3"
            link.write_text(f'#!/bin/sh\nexec {one} "$@"\n')
            link.chmod(0o755)
            self.assertEqual(self.chosen(link), link)
            with patch.object(builds, "OLDEST", (99, 0)):
                self.assertEqual(self.chosen(link), one)


class Commands(TestCase):
    def test_what_it_printed_comes_back(self) -> None:
        self.assertEqual(run([sys.executable, "-c", "print('well')"], "No."), "well\n")

    def test_a_failure_says_what_failed_and_the_last_lines(self) -> None:
        script = "for n in range(30): print('line', n)\nraise SystemExit(3)"
        with self.assertRaises(Stop) as failed:
            run([sys.executable, "-c", script], "The tables could not be made.")
        said = str(failed.exception)
        self.assertIn("The tables could not be made. It said:", said)
        self.assertIn("line 29", said)
        self.assertNotIn("line 3\n", said)

    def test_a_full_disk_is_said_plainly(self) -> None:
        script = "raise SystemExit('x: No space left on device')"
        with self.assertRaisesRegex(Stop, "The disk is full."):
            run([sys.executable, "-c", script], "No.")

    def test_a_command_that_is_missing_is_named(self) -> None:
        with self.assertRaisesRegex(Stop, "no-such-command"):
            run(["no-such-command"], "It cannot start.")

    def test_interrupted_it_leaves_nothing_behind(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            noted = Path(folder) / "pids"
            shell = f"sleep 120 & echo $$ $! > {noted}; wait"
            code = f"from launch.commands import run; run(['sh', '-c', '{shell}'], 'No.')"
            outer = subprocess.Popen(
                [sys.executable, "-c", code], cwd=ROOT, stderr=subprocess.DEVNULL
            )
            pids: list[int] = []
            for _ in range(200):
                if noted.exists() and len(pids := [*map(int, noted.read_text().split())]) == 2:
                    break
                time.sleep(0.05)
            self.assertTrue(all(alive(pid) for pid in pids))
            os.kill(outer.pid, signal.SIGINT)
            outer.wait(timeout=20)
            for _ in range(100):
                if not any(alive(pid) for pid in pids):
                    break
                time.sleep(0.05)
            self.assertEqual([pid for pid in pids if alive(pid)], [])
