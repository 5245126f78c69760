"""Django's test runner, told as all tests are."""

import unittest
from typing import Any

from django.db import connection
from django.test.runner import DiscoverRunner

from tests.running import Timed, closing, patient


class Runner(DiscoverRunner):
    def __init__(self, *args: Any, **kwargs: Any) -> None:
        patient()
        super().__init__(*args, **kwargs)

    def get_resultclass(self) -> type[Timed]:
        return Timed

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        self.well, failures = False, super().suite_result(suite, result, **kwargs)
        self.result = result
        return failures

    def run_tests(self, test_labels: Any, **kwargs: Any) -> int:
        # Only the server's tests go through the migrations; for pages the tables are made straight from the models.
        pages = bool(test_labels) and all(label.startswith("tests.e2e") for label in test_labels)
        connection.settings_dict["TEST"]["MIGRATE"] = not pages
        failures = super().run_tests(test_labels, **kwargs)
        return 0 if closing(self.result) else failures or 1
