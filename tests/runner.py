"""Django's test runner, leaving its counts for ./run test."""

import json
import logging
import os
import pickle
import time
import traceback
import unittest
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db.backends.postgresql.operations import DatabaseOperations
from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner
from hypothesis import settings as hypothesis_settings

import core.tests
from tests.processes import end_all

hypothesis_settings.load_profile(core.tests.PROFILE)


_sql_flush = DatabaseOperations.sql_flush


def _flush_evidence_too(operations: Any, style: Any, tables: Any, **how: Any) -> list[str]:
    """Tests that commit empty all tables afterwards; the database refuses that for evidence, but to a
    superuser who switches its triggers off."""
    statements = _sql_flush(operations, style, tables, **how)
    return ["SET LOCAL session_replication_role = replica", *statements] if statements else []


DatabaseOperations.sql_flush = _flush_evidence_too  # type: ignore[method-assign,assignment]


def _carried(what: Any) -> bool:
    """True where another process can read this."""
    try:
        pickle.loads(pickle.dumps(what))
    except Exception:
        return False
    return True


class _Timed:
    """Adds a line with the seconds that each test took, with the start of its class, to the file YALLA_TIMES."""

    since: float | None = None

    def startTest(self, test: Any) -> None:
        self.since = self.since or time.monotonic()
        super().startTest(test)  # type: ignore[misc]

    def stopTest(self, test: Any) -> None:
        super().stopTest(test)  # type: ignore[misc]
        now = time.monotonic()
        if file := os.environ.get("YALLA_TIMES"):
            with Path(file).open("a") as lines:
                lines.write(f"{now - (self.since or now):.1f} {test.id()}\n")
        self.since = now


class _Shown(_Timed, unittest.TextTestResult):
    pass


class _Reported(_Timed, RemoteTestResult):
    """What failed in a process of its own, told in words where its exception itself cannot be carried over:
    one such failure would end the whole run, and name no test."""

    def check_picklable(self, test: Any, err: Any) -> None:
        """Nothing to refuse: errors are made portable before they are kept."""

    def _portable(self, test: Any, err: Any) -> Any:
        if _carried(err):
            return err
        told = AssertionError(f"{test}\n" + "".join(traceback.format_exception(*err)))
        return AssertionError, told, None

    def addError(self, test: Any, err: Any) -> None:
        super().addError(test, self._portable(test, err))

    def addFailure(self, test: Any, err: Any) -> None:
        super().addFailure(test, self._portable(test, err))

    def addSubTest(self, test: Any, subtest: Any, err: Any) -> None:
        if err is not None and not _carried(subtest):
            self.addFailure(subtest, err)
        else:
            super().addSubTest(test, subtest, err and self._portable(subtest, err))


class _Reporting(RemoteTestRunner):
    resultclass = _Reported


class _Suite(ParallelTestSuite):
    runner_class = _Reporting


class Runner(DiscoverRunner):
    """Writes how many tests passed, failed and were skipped to the file YALLA_COUNTS."""

    parallel_test_suite = _Suite

    def get_resultclass(self) -> type[unittest.TextTestResult]:
        return _Shown

    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        logging.disable(logging.CRITICAL)
        # Hashing that is slow on purpose would only slow the tests.
        settings.CHECKS_HISTORY = True
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

    def run_suite(self, suite: unittest.TestSuite, **kwargs: Any) -> Any:
        try:
            return super().run_suite(suite, **kwargs)
        finally:
            end_all()

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        file = os.environ.get("YALLA_COUNTS")
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        if file:
            passed = max(result.testsRun - failed - skipped, 0)
            counts = {"passed": passed, "failed": failed, "skipped": skipped}
            Path(file).write_text(json.dumps(counts))
        return super().suite_result(suite, result, **kwargs)
