"""The tools that kill and fuzz the application, in their short form; the long form is run by hand."""

import os
import subprocess
import sys
from pathlib import Path
from unittest import TestCase

from tests.lengths import at_length

ROOT = Path(__file__).resolve().parent.parent.parent


class Short(TestCase):
    def runs(self, *words: str) -> str:
        env = {k: v for k, v in os.environ.items() if k != "EMVAR_DATA"}
        tool = str(ROOT / "tools" / words[0])
        done = subprocess.run([sys.executable, tool, *words[1:]], capture_output=True, text=True, env=env, check=False)
        self.assertEqual(done.returncode, 0, done.stdout[-2000:] + done.stderr[-2000:])
        return done.stdout

    def test_a_killed_server_has_lost_nothing_that_it_acknowledged(self) -> None:
        told = self.runs("kill.py", "--kills", at_length("2", "20"), "--restores", at_length("1", "10"))
        self.assertIn("0 lost or wrong", told)
        self.assertRegex(told, r"acknowledged \{.*'edit': [1-9]")

    def test_hostile_plan_files_are_refused_or_assessed(self) -> None:
        told = self.runs("fuzz.py", "plans", "--count", "250")
        self.assertIn("0 wrong", told)
        self.assertIn("'taken'", told)

    def test_hostile_requests_are_answered(self) -> None:
        told = self.runs("fuzz.py", "api", "--count", "250")
        self.assertIn("0 wrong", told)
        self.assertNotIn(" 0 edits made", told)

    def test_faults_of_disk_and_folder_are_told_in_a_sentence_and_cost_nothing(self) -> None:
        told = self.runs("faults.py", "--spoilt", at_length("1", "4"))
        self.assertIn("4 faults, 0 not as they should be", told)
        self.assertRegex(told, "disk is full|by a limit on the size of files")  # by who runs it
