"""How tests are run and told, with Django or without: patient, the same each time, closing with one plain line.

Property tests draw the same examples each time, so that a failure means a change, not bad luck. `EMVAR_EXPLORE=1
./emvar test` draws new ones; what that finds is mended and kept as an example. Speed is no property:
nothing fails on a busy machine for being slow.

`python -m tests.running tests.core` runs tests that need no Django.
"""

import gc
import os
import sys
import time
import unittest
from typing import Any

from emvar_core.memory import MEMORY
from hypothesis import HealthCheck, settings

TOLD = 10  # of the slowest tests
PATIENT: dict[str, Any] = {"deadline": None, "suppress_health_check": [HealthCheck.too_slow]}


def patient() -> None:
    """Sets up what every run of tests goes by."""
    gc.freeze()
    gc.set_threshold(50_000, 20, 100)  # what is remembered is not walked again and again for garbage
    MEMORY.limit_bytes = 1_500_000_000  # this process holds more than the server: room is made in its own tests only
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


def closing(result: Any) -> bool:
    """Tells the slowest tests and, last, one plain line; gives whether all went well and something was run."""
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = result.testsRun - failed - len(result.skipped)
    for seconds, name in sorted(result.took, reverse=True)[:TOLD]:
        print(f"  {seconds:6.1f} s  {name}")
    tail = f", {len(result.skipped)} skipped" if result.skipped else ""
    print(f"{passed} passed, {failed} failed{tail}", flush=True)
    return not failed and passed > 0


def main(names: list[str]) -> None:
    patient()
    suite = unittest.TestSuite()
    for name in names:
        path = name.replace(".", os.sep)
        found = unittest.defaultTestLoader
        suite.addTest(found.discover(path, top_level_dir=".") if os.path.isdir(path) else found.loadTestsFromName(name))
    result = unittest.TextTestRunner(resultclass=Timed).run(suite)
    sys.exit(0 if closing(result) else 1)


if __name__ == "__main__":
    main(sys.argv[1:])
