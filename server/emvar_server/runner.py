"""Django's test runner, ending with one plain line: `N passed, N failed`.

Property tests draw the same examples each time, so that a change is told apart from bad luck. `EMVAR_EXPLORE=1 ./emvar
test` draws new ones; what that finds is mended and kept as an example.
"""

import os
import unittest
from typing import Any

from django.test.runner import DiscoverRunner
from emvar_core.memory import MEMORY
from hypothesis import settings

MEMORY.limit_bytes = 1_500_000_000  # this process holds more than the server: room is made in its own tests only
settings.register_profile("same each time", derandomize=True)
if not os.environ.get("EMVAR_EXPLORE"):
    settings.load_profile("same each time")


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
