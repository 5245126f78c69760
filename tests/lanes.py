"""All checks and tests of `./emvar test`, side by side on this machine's cores, each in a process of its own.

What takes longest begins first. What a piece says is shown whole when it ends, and again at the end where it failed;
the last line counts all tests together.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
WEB = ROOT / "web"
COUNT = re.compile(r"^(\d+) passed, (\d+) failed(?:, (\d+) skipped)?$", re.MULTILINE)
PYTHON = sys.executable


@dataclass(frozen=True)
class Piece:
    """Something that runs by itself. `weight`: about how many seconds it takes; what is heavy begins first."""

    name: str
    command: tuple[str, ...]
    weight: float
    where: Path = ROOT


def plain(name: str, weight: float, *modules: str) -> Piece:
    return Piece(name, (PYTHON, "-m", "tests.running", *modules), weight)


def django(name: str, weight: float, *modules: str) -> Piece:
    return Piece(name, (PYTHON, "-m", "django", "test", "--noinput", *modules), weight)


def modules(package: str, *without: str) -> tuple[str, ...]:
    """The test modules of a package but those that stand elsewhere: what is new is run by itself."""
    names = sorted(p.stem for p in (ROOT / package.replace(".", "/")).glob("test_*.py"))
    return tuple(m for n in names if (m := f"{package}.{n}") not in without)


OF_SCHEDULES = (
    "calendar", "changes", "dry_run", "replanning", "second_checker", "shift", "sittings", "solve", "timetable",
)  # fmt: skip
SCHEDULES = tuple(f"tests.core.test_{n}" for n in OF_SCHEDULES)
# Each process has to be set up, so there are few; what is new is in the piece of all else.
BROWSER = {
    "sittings and the bench": (180, "sittings_view", "at_the_bench"),
    "every size": (100, "every_size"),
    "hands, trust, paper": (150, "by_hand", "offline", "paper", "plan_view", "trust", "whole_face"),
}
PIECES = (
    *(django(f"browser: {n}", weight, *(f"tests.e2e.test_{m}" for m in of)) for n, (weight, *of) in BROWSER.items()),
    django(
        "browser: all else",
        130,
        *modules("tests.e2e", *(f"tests.e2e.test_{m}" for of in BROWSER.values() for m in of[1:])),
    ),
    plain("core: schedules", 80, *SCHEDULES),
    plain("core: all else", 120, *modules("tests.core", *SCHEDULES)),
    django("server", 200, "tests.server"),
    django("killing and fuzzing", 140, "tests.tools"),
    plain("reference", 30, "tests.reference"),
    Piece("types", (PYTHON, "-m", "mypy", "core/emvar_core", "server", "commands"), 30),
    Piece("interface lint", ("npm", "run", "--silent", "lint"), 8, WEB),
    Piece("interface parts", ("npm", "run", "--silent", "test"), 15, WEB),
    Piece("interface format", ("npm", "run", "--silent", "format"), 10, WEB),
    Piece("schemas", (PYTHON, "-m", "commands.schema", "--check"), 10),
    Piece("wheels", (PYTHON, "tools/wheels.py"), 1),
    Piece("migrations", (PYTHON, "-m", "django", "makemigrations", "--check", "--dry-run", "-v", "0"), 3),
    Piece("lint", (PYTHON, "-m", "ruff", "check", "--quiet", "."), 1),
    Piece("format", (PYTHON, "-m", "ruff", "format", "--check", "--quiet", "."), 1),
)


def run(piece: Piece) -> tuple[Piece, int, str]:
    began = time.monotonic()
    # Each has data of its own: no test touches the user's, nor another's.
    with tempfile.TemporaryDirectory(prefix="emvar-test-") as data:
        env = {**os.environ, "EMVAR_DATA": data, "EMVAR_PATIENCE": "5"}
        done = subprocess.run(
            piece.command, cwd=piece.where, env=env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True,
            stdin=subprocess.DEVNULL, errors="replace", check=False,
        )  # fmt: skip
    word = "well" if done.returncode == 0 else "FAILED"
    print(f"emvar: {piece.name}: {word}, {time.monotonic() - began:.0f} s\n{done.stdout}", flush=True)
    return piece, done.returncode, done.stdout


def main() -> None:
    began = time.monotonic()
    heavy_first = sorted(PIECES, key=lambda p: -p.weight)
    # One more than there are cores: a browser's test waits now and then.
    with ThreadPoolExecutor(min((os.cpu_count() or 2) + 1, len(PIECES))) as lanes:
        done = list(lanes.map(run, heavy_first))
    bad = [(piece, told) for piece, code, told in done if code]
    for piece, told in bad:
        print(f"emvar: {piece.name} failed:\n{told[-6000:]}")
    counts = [tuple(int(n or 0) for n in found) for _, _, told in done for found in COUNT.findall(told)]
    passed, failed, skipped = (sum(c[i] for c in counts) for i in range(3))
    failed += sum(1 for _, told in bad if not COUNT.search(told))  # a check that failed counts as one
    tail = f", {skipped} skipped" if skipped else ""
    print(f"emvar: all in {time.monotonic() - began:.0f} s")
    print(f"{passed} passed, {failed} failed{tail}", flush=True)
    sys.exit(1 if bad or not passed else 0)


if __name__ == "__main__":
    main()
