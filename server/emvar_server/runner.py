"""Django's test runner, ending with one plain line: `N passed, N failed`."""

import unittest
from typing import Any

from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        self.counts = (result.testsRun - failed - len(result.skipped), failed, len(result.skipped))
        return super().suite_result(suite, result, **kwargs)

    def run_tests(self, test_labels: Any, **kwargs: Any) -> int:
        failures = super().run_tests(test_labels, **kwargs)
        passed, failed, skipped = self.counts
        tail = f", {skipped} skipped" if skipped else ""
        print(f"{passed} passed, {failed} failed{tail}", flush=True)
        return failures or (1 if passed == 0 else 0)
