"""Whether every package that the application needs has a wheel for each Python that it accepts.

`./emvar test` looks whether that was asked for this very lock; the answer stands beside this file. `./emvar test
--long` and `python tools/wheels.py --ask` ask pip, which takes long, and keep the answer. Nothing is installed. The
locks are written with `uv pip compile`, as their first lines say.
"""

from __future__ import annotations

import hashlib
import os
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

LOCK = Path(__file__).resolve().parent.parent / "requirements.lock"
ASKED = Path(__file__).with_suffix(".asked")
PYTHONS = ("3.11", "3.12", "3.13", "3.14")


def asked() -> str:
    """What is kept of an answer: for which Pythons, and for which lock."""
    return f"{' '.join(PYTHONS)} {hashlib.sha256(LOCK.read_bytes()).hexdigest()}\n"


def missing(python: str) -> str:
    """What pip says is missing for a Python; nothing where there is a wheel for everything."""
    with tempfile.TemporaryDirectory() as target:
        words = [
            sys.executable, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--dry-run", "--no-deps",
            "--only-binary=:all:", "--require-hashes", "--target", target, "--python-version", python, "-r", str(LOCK),
        ]  # fmt: skip
        result = subprocess.run(words, capture_output=True, text=True, check=False)
    return result.stderr.strip() if result.returncode else ""


def main() -> int:
    if "--ask" not in sys.argv and not os.environ.get("EMVAR_LONG"):
        if ASKED.exists() and ASKED.read_text() == asked():
            return 0
        print("requirements.lock has changed: run python tools/wheels.py --ask, and commit what it writes")
        return 1
    with ThreadPoolExecutor() as at_once:
        answers = dict(zip(PYTHONS, at_once.map(missing, PYTHONS), strict=True))
    for python, words in answers.items():
        if words:
            print(f"Python {python}: {words.splitlines()[-1]}")
    if any(answers.values()):
        return 1
    ASKED.write_text(asked())
    return 0


if __name__ == "__main__":
    sys.exit(main())
