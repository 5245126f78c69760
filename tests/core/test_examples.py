"""The worked examples in the core's docstrings are true: each runs as a test."""

import doctest
import importlib
import pkgutil
from unittest import TestCase

import emvar_core


class Examples(TestCase):
    def test_each_example_gives_what_it_says(self) -> None:
        tried = 0
        for module in pkgutil.walk_packages(emvar_core.__path__, "emvar_core."):
            found = doctest.testmod(importlib.import_module(module.name))
            self.assertEqual(found.failed, 0, module.name)
            tried += found.attempted
        self.assertGreater(tried, 40)
