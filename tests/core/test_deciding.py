"""Each constant that is tried decides something: where it changes no seam of the case tables, a case here that it does.

The cases were drawn at random, or from a row of waits, until a verdict turned on the constant, and then cut down; they
say nothing of what is right, only that the figure matters. What is right is in the tables of tests/reference.
"""

import json
import re
from importlib import import_module
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.memory import MEMORY
from emvar_core.plan import parse_plan

from tests.builders import ROOT
from tools.constants import CONSTANTS, PAGE, held_by, scaled

CASES: list[dict[str, Any]] = json.loads((ROOT / "tests/core/deciding.json").read_text(encoding="utf-8"))


def verdict(case: dict[str, Any]) -> str:
    """Of the case's seam, else the gravest at its last step."""
    MEMORY.forget()
    plan = parse_plan(case["plan"])
    seams = assess(plan, opens=False).seams
    at = [seams[case["seam"]]] if "seam" in case else [s for s in seams.values() if s.upper_step == plan.steps[-1].id]
    return max((s.verdict for s in at), key=lambda v: v.grave, default="sound")


class Deciding(TestCase):
    def tearDown(self) -> None:
        MEMORY.forget()

    def test_a_verdict_turns_on_each(self) -> None:
        for case in CASES:
            module, _, name = case["constant"].rpartition(".")
            value = getattr(import_module(f"emvar_core.{module}"), name)
            holders = held_by(name, value)
            with self.subTest(case["constant"]):
                self.assertEqual(verdict(case), case["usually"])
                for m in holders:
                    setattr(m, name, scaled(value, case["times"]))
                try:
                    self.assertEqual(verdict(case), case["then"])
                finally:
                    for m in holders:
                        setattr(m, name, value)
                self.assertNotEqual(case["usually"], case["then"])

    def test_there_is_none_that_decides_nothing(self) -> None:
        table = PAGE.read_text(encoding="utf-8")
        rows = re.findall(r"^\| (.+?) \| .+? \| .+? \| (\d+) \(\d+\) \| (\d+) \(\d+\) \|$", table, re.MULTILINE)
        moved = {what for what, half, double in rows if int(half) or int(double)}
        here = {case["constant"] for case in CASES}
        self.assertFalse(
            [name for module, name, what, _ in CONSTANTS if what not in moved and f"{module}.{name}" not in here]
        )
