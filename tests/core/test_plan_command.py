"""`./emvar plan`: a schedule in the terminal, its files, and its refusals."""

import csv
import json
import tempfile
from contextlib import redirect_stderr, redirect_stdout
from io import StringIO
from pathlib import Path
from typing import Any
from unittest import TestCase

from icalendar import Calendar

from commands.plan import main
from tests.core.agendas import evenings, wash_json


class PlanCommand(TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def run_on(self, data: Any, *words: str) -> tuple[int, str, str]:
        path = self.folder / "plan.json"
        path.write_text(data if isinstance(data, str) else json.dumps(data), encoding="utf-8")
        out, err = StringIO(), StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            status = main([str(path), *words])
        return status, out.getvalue(), err.getvalue()

    def test_a_plan_that_fits(self) -> None:
        ics, table = self.folder / "out.ics", self.folder / "out.csv"
        data = wash_json(evenings("tue", "thu", "sun"))
        status, said, _ = self.run_on(data, "--ics", str(ics), "--csv", str(table))
        self.assertEqual(status, 0)
        self.assertIn("proven best", said)
        self.assertEqual(len(list(csv.DictReader(StringIO(table.read_text(encoding="utf-8"))))), 3)
        self.assertTrue(list(Calendar.from_ical(ics.read_bytes()).walk("VEVENT")))

    def test_what_does_not_fit_is_said_and_told_by_the_exit_status(self) -> None:
        status, said, _ = self.run_on(wash_json(evenings("tue", length=30)))
        self.assertEqual(status, 1)
        self.assertIn("the longest sitting is 30 min", said)

    def test_no_hours_and_no_plan(self) -> None:
        status, _, said = self.run_on(wash_json({"weekly": []}))
        self.assertEqual((status, "no sitting" in said), (2, True))
        status, _, said = self.run_on("{]")
        self.assertEqual((status, "not JSON" in said), (2, True))
        data = wash_json({"weekly": [{"days": ["tue"], "start": "19:30", "length_min": 900000}]})
        status, _, said = self.run_on(data)
        self.assertEqual((status, "hours.weekly[0].length_min" in said), (2, True), said)
