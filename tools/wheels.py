"""Asks pip whether every package that the application needs has a wheel for each Python that it accepts.

Nothing is installed. Run by `./emvar test`; the locks are written with `uv pip compile`, as their first lines say.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

LOCK = Path(__file__).resolve().parent.parent / "requirements.lock"
PYTHONS = ("3.11", "3.12", "3.13", "3.14")


def missing(python: str) -> str:
    """What pip says is missing for a Python; nothing where there is a wheel for everything."""
    with tempfile.TemporaryDirectory() as target:
        asked = [
            sys.executable, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--dry-run", "--no-deps",
            "--only-binary=:all:", "--require-hashes", "--target", target, "--python-version", python, "-r", str(LOCK),
        ]  # fmt: skip
        result = subprocess.run(asked, capture_output=True, text=True, check=False)
    return result.stderr.strip() if result.returncode else ""


def main() -> int:
    with ThreadPoolExecutor() as at_once:
        answers = dict(zip(PYTHONS, at_once.map(missing, PYTHONS), strict=True))
    for python, words in answers.items():
        if words:
            print(f"Python {python}: {words.splitlines()[-1]}")
    return 1 if any(answers.values()) else 0


if __name__ == "__main__":
    sys.exit(main())
