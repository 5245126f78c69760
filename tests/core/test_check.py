"""`./emvar check`: exit status and words, without a server or a database."""

import contextlib
import io
import json
import tempfile
from pathlib import Path
from unittest import TestCase

from commands.check import main
from tests.builders import ROOT, coat, plan_json


def run(*argv: str) -> tuple[int, str, str]:
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        status = main(list(argv))
    return status, out.getvalue(), err.getvalue()


class Check(TestCase):
    def file(self, text: str) -> str:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "plan.json"
        path.write_text(text, encoding="utf-8")
        return str(path)

    def test_a_plan_that_clashes(self) -> None:
        status, out, _ = run(str(ROOT / "demo" / "harbour-tug.json"))
        self.assertEqual(status, 1)
        self.assertIn("✗ clash", out)

    def test_a_plan_that_does_not(self) -> None:
        self.assertEqual(run(self.file(json.dumps(plan_json([coat("a", "lacquer_primer")]))))[0], 0)

    def test_json_is_the_whole_assessment(self) -> None:
        _, out, _ = run(str(ROOT / "demo" / "harbour-tug.json"), "--json")
        self.assertEqual(json.loads(out)["score"]["clashes"] > 0, True)

    def test_what_is_no_plan(self) -> None:
        for text, word in [("{", "not JSON"), ("[" * 100_000, "not JSON"), ("{}", "not a plan file")]:
            status, _, err = run(self.file(text))
            self.assertEqual(status, 2)
            self.assertIn(word, err)
        self.assertEqual(run("/nowhere/plan.json")[0], 2)
