"""Django's test runner, leaving its counts for ./run test."""

import json
import logging
import os
import unittest
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db.backends.postgresql.operations import DatabaseOperations
from django.test.runner import DiscoverRunner
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


class Runner(DiscoverRunner):
    """Writes how many tests passed, failed and were skipped to the file YALLA_COUNTS."""

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
