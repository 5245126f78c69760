"""Django's test runner, ending with one plain line: `N passed, N failed`.

Property tests draw the same examples each time, so that a change is told apart from bad luck. `EMVAR_EXPLORE=1 ./emvar
test` draws new ones; what that finds is mended and kept as an example.
"""

import os
import time
import unittest
from typing import Any

from django.test.runner import DiscoverRunner
from emvar_core.memory import MEMORY
from hypothesis import HealthCheck, settings

SLOWEST = 10  # tests that are named at the end
MEMORY.limit_bytes = 1_500_000_000  # this process holds more than the server: room is made in its own tests only
# How long an example takes is no property: nothing fails on a busy machine for being slow.
PATIENT: dict[str, Any] = {"deadline": None, "suppress_health_check": [HealthCheck.too_slow]}
settings.register_profile("same each time", derandomize=True, **PATIENT)
settings.register_profile("new ones", **PATIENT)
settings.load_profile("new ones" if os.environ.get("EMVAR_EXPLORE") else "same each time")


class Timed(unittest.TextTestResult):
    """Knows how long each test took."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.took: list[tuple[float, str]] = []

    def startTest(self, test: unittest.TestCase) -> None:
        self._began = time.perf_counter()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:
        super().stopTest(test)
        self.took.append((time.perf_counter() - self._began, f"{type(test).__qualname__}.{test._testMethodName}"))


class Runner(DiscoverRunner):
    def get_resultclass(self) -> type[Timed]:
        return Timed

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        for seconds, name in sorted(result.took, reverse=True)[:SLOWEST]:
            print(f"  {seconds:6.1f} s  {name}")
        self.counts = (result.testsRun - failed - len(result.skipped), failed, len(result.skipped))
        return super().suite_result(suite, result, **kwargs)

    def run_tests(self, test_labels: Any, **kwargs: Any) -> int:
        failures = super().run_tests(test_labels, **kwargs)
        passed, failed, skipped = self.counts
        tail = f", {skipped} skipped" if skipped else ""
        print(f"{passed} passed, {failed} failed{tail}", flush=True)
        return failures or (1 if passed == 0 else 0)
