"""Faults of the disk and the folder, made for real under a running server. Prints what was said and what was kept.

`faults.py [--edits N] [--spoilt N]`: a disk that fills up, a folder that was moved, a disk that can no longer be
written, data that are damaged, cut short, empty or newer at the start, a backup on a full disk. Each must get one
sentence, and every acknowledged edit must be there afterwards. Ends with 1 where one is not. A full and a read-only
disk need the right to mount a small one; where that is not given, a limit on the size of files stands in for the full
one, and the other is left out, which is said.
"""

from __future__ import annotations

import argparse
import json
import os
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from pathlib import Path
from typing import Any

from served import ROOT, Away, Served, free_port

PORT = free_port()
DISK_MB, FILE_MB = 12, 3
NAME = "emvar.sqlite3"


class Lost(Exception):
    """What must not be: an edit gone, a traceback, no sentence."""


class Workshop:
    """A server with the tug in it, and the last edit of it that was acknowledged."""

    def __init__(self, data: Path, most_file_mb: int | None = None) -> None:
        self.server = Served(data, PORT)
        self.server.start(most_file_mb=most_file_mb)
        tug = json.loads((ROOT / "demo" / "harbour-tug.json").read_text(encoding="utf-8"))
        status, made = self.server.ask("POST", "/api/builds", tug)
        if status != 201:
            raise Lost(f"the tug is refused: {made}")
        self.id, self.revision, self.kept, self.asked = made["id"], made["revision"], 0.0, 0

    def edit(self) -> tuple[int, Any]:
        """One more edit; what was answered."""
        self.asked += 1
        value = float(self.asked)
        edit = {"edit": "set_field", "step_id": "pin-wash", "field": "wait_min", "value": 1000 + value}
        body = {"base_revision": self.revision, "command_id": f"fault-{self.asked:06}", "edits": [edit]}
        status, answer = self.server.ask("POST", f"/api/builds/{self.id}/edits", body)
        if status == 200:
            self.revision, self.kept = answer["revision"], 1000 + value
        return status, answer

    def look(self) -> None:
        """Raises Lost where the last acknowledged edit is not there."""
        status, got = self.server.ask("GET", f"/api/builds/{self.id}")
        waits = [s["wait_min"] for s in got["plan"]["steps"] if s["id"] == "pin-wash"] if status == 200 else got
        if waits != [self.kept] or got["revision"] != self.revision:
            raise Lost(f"{self.kept} was acknowledged at revision {self.revision}, {waits} is there")

    def again(self) -> None:
        """Killed and started again, nothing of what was acknowledged is gone."""
        self.look()
        self.server.kill()
        self.server.start()
        self.look()


def sentence(status: int, answer: Any, *words: str) -> str:
    """What a refusal says. Raises Lost where it is none, or no sentence, or has none of these words."""
    problems = answer.get("problems") if isinstance(answer, dict) else None
    what = problems[0]["what"] if problems else repr(answer)[:200]
    if status != 503 or not problems or "Traceback" in what or not any(w in what for w in words):
        raise Lost(f"{status} {what}")
    return str(what)


@contextmanager
def disk() -> Iterator[Path | None]:
    """A small disk of its own; None where none can be had."""
    with tempfile.TemporaryDirectory() as made:
        mounted = ["mount", "-t", "tmpfs", "-o", f"size={DISK_MB}m", "tmpfs", made]
        if shutil.which("mount") is None or subprocess.run(mounted, capture_output=True, check=False).returncode:
            yield None
            return
        try:
            yield Path(made)
        finally:
            while os.path.ismount(made):
                if subprocess.run(["umount", "-l", made], check=False).returncode:
                    break


def fill(where: Path) -> Path:
    """Takes all the room there is."""
    ballast = where / "ballast"
    with ballast.open("wb", buffering=0) as file:
        for size in (65536, 512):
            with suppress(OSError):
                while file.write(b"\0" * size) == size:
                    pass
    return ballast


def until_refused(workshop: Workshop, edits: int) -> tuple[int, Any]:
    """Edits until one is refused."""
    for _ in range(edits):
        status, answer = workshop.edit()
        if status != 200:
            return status, answer
    raise Lost(f"{edits} edits were taken without room for them")


def a_small_disk(edits: int, spoilt: int) -> Iterator[str]:
    """It fills up, then takes nothing at all; what was acknowledged is there after a new start."""
    with disk() as where:
        if where is None:
            yield f"a disk that fills up: {_files_that_may_not_grow(edits)}"
            yield "a disk that takes nothing: left out: no disk can be mounted here"
            return
        workshop = Workshop(where / "data")
        try:
            yield f"a disk that fills up: {_filled(workshop, where, edits)}"
            # Mounted once more over itself, so that what is open does not keep it from being read-only.
            over = (["mount", "--bind", str(where), str(where)], ["mount", "-o", "remount,bind,ro", str(where)])
            if any(subprocess.run(words, capture_output=True, check=False).returncode for words in over):
                workshop.again()
                yield "a disk that takes nothing: left out: no disk can be mounted read-only here"
                return
            said = sentence(*workshop.edit(), "nothing can be written")
            workshop.look()  # reading goes on
            workshop.server.kill()
            start = command("serve", "--port", str(PORT), data=where / "data")
            at_start = one_line(start)
            subprocess.run(["umount", str(where)], check=True)
            workshop.server.start()
            workshop.look()
            yield f"a disk that takes nothing: {said} | at start: {at_start}"
        finally:
            workshop.server.kill()


def _filled(workshop: Workshop, where: Path, edits: int) -> str:
    workshop.edit()
    ballast = fill(where)
    said = sentence(*until_refused(workshop, edits), "disk is full")
    workshop.look()
    workshop.edit()  # refused again, and nothing half written
    copy = command("backup", str(where / "copy.zip"), data=where / "data")
    if copy.returncode == 0 or (where / "copy.zip").exists():
        raise Lost("a backup on a full disk has its name")
    ballast.unlink()
    status, answer = workshop.edit()
    if status != 200:
        raise Lost(f"there is room again, yet {status} {answer}")
    workshop.look()
    return f"{said} | backup there: {one_line(copy)}"


def _files_that_may_not_grow(edits: int) -> str:
    with tempfile.TemporaryDirectory() as made:
        workshop = Workshop(Path(made), most_file_mb=FILE_MB)
        try:
            said = sentence(*until_refused(workshop, edits), "disk is full", "disk I/O error")
            workshop.again()
            return said + " | by a limit on the size of files"
        finally:
            workshop.server.kill()


def a_folder(edits: int, spoilt: int) -> Iterator[str]:
    """It is moved and comes back; then what lies in it is spoilt."""
    with tempfile.TemporaryDirectory() as made:
        workshop = Workshop(Path(made) / "data")
        try:
            yield f"a folder that was moved: {_moved(workshop, Path(made))}"
            told = [
                f"{word}: {_spoilt(workshop, spoil, Path(made) / f'{word}.zip')}"
                for word, spoil in list(WAYS.items())[:spoilt]
            ]
            yield f"data that cannot be used: {' | '.join(told)}"
        finally:
            workshop.server.kill()


def _moved(workshop: Workshop, made: Path) -> str:
    data, away = workshop.server.data, made / "elsewhere"
    workshop.edit()
    data.rename(away)
    said = sentence(*workshop.edit(), "is gone or was moved")
    sentence(*workshop.server.ask("GET", "/api/builds"), "is gone or was moved")
    if data.exists():
        raise Lost("the folder was made anew")
    away.rename(data)
    if workshop.edit()[0] != 200:
        raise Lost("the folder is back, yet an edit is refused")
    (data / NAME).rename(made / NAME)  # the file alone
    sentence(*workshop.edit(), "is gone or was moved")
    if (data / NAME).exists():
        raise Lost("the database was made anew")
    (made / NAME).rename(data / NAME)
    if workshop.edit()[0] != 200:
        raise Lost("the file is back, yet an edit is refused")
    workshop.look()
    return said


def _newer(path: Path) -> None:
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("INSERT INTO django_migrations (app, name, applied) VALUES ('builds', '0999_later', '')")


def _damaged(path: Path) -> None:
    size = path.stat().st_size
    with path.open("r+b") as file:
        file.seek(size // 3)
        file.write(os.urandom(size // 3))


WAYS: dict[str, Callable[[Path], Any]] = {
    "damaged": _damaged,
    "empty": lambda path: path.write_bytes(b""),
    "cut short": lambda path: os.truncate(path, path.stat().st_size // 2),
    "newer": _newer,
}


def _spoilt(workshop: Workshop, spoil: Callable[[Path], Any], copy: Path) -> str:
    """What is said at the start with data that were spoilt, and that a copy brings back what was acknowledged."""
    workshop.edit()
    data = workshop.server.data
    if command("backup", str(copy), data=data).returncode:
        raise Lost("no backup")
    workshop.server.kill()
    with closing(sqlite3.connect(data / NAME)) as db:
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    spoil(data / NAME)
    was = (data / NAME).read_bytes()
    said = one_line(command("serve", "--port", str(PORT), data=data))
    if (data / NAME).read_bytes() != was:
        raise Lost("the data were touched")
    if (back := command("restore", str(copy), data=data)).returncode:
        raise Lost(f"not replaced by a copy: {back.stderr}")
    workshop.server.start()
    workshop.look()
    return said


def command(*words: str, data: Path) -> subprocess.CompletedProcess[str]:
    env = {**os.environ, "EMVAR_DATA": str(data), "DJANGO_SETTINGS_MODULE": "emvar_server.settings"}
    env["PYTHONPATH"] = os.pathsep.join(str(ROOT / p) for p in ("core", "server", "."))
    run = [sys.executable, "-m", "django", *words]
    return subprocess.run(run, check=False, env=env, cwd=ROOT, capture_output=True, text=True, timeout=120)


def one_line(done: subprocess.CompletedProcess[str]) -> str:
    """What a command that was refused said. Raises Lost where it was not, or said more than a line."""
    said = done.stderr.strip()
    if done.returncode == 0 or not said or "\n" in said or "Traceback" in said:
        raise Lost(f"ended with {done.returncode}: {said[-400:]}")
    return said


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--edits", type=int, default=3000, help="made at most until a full disk refuses one")
    parser.add_argument("--spoilt", type=int, default=4, help="ways in which data are spoilt, of four")
    asked = parser.parse_args()
    faults = lost = 0
    for place in (a_small_disk, a_folder):
        try:
            for told in place(asked.edits, asked.spoilt):
                faults += 1
                print(told, flush=True)
        except (Lost, Away) as error:
            faults, lost = faults + 1, lost + 1
            print(f"{place.__name__.replace('_', ' ')}: LOST {error}", flush=True)
    print(f"{faults} faults, {lost} not as they should be")
    return 1 if lost else 0


if __name__ == "__main__":
    raise SystemExit(main())
