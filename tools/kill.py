"""Kills the server in the middle of its work and compares what it had acknowledged with what is there afterwards.

`kill.py [--kills N] [--restores N] [--seed N]`: each round starts the server on the same folder, sends edits, undos,
records, pins, copies and searches from three threads, kills it after a moment that chance chooses, starts it again and
compares every acknowledged write. Then `restore` and `backup` are killed in the middle, and the folder has to hold
either all of what was there or all of what was to come. Prints figures; ends with 1 where anything was lost.
"""

from __future__ import annotations

import argparse
import hashlib
import io
import json
import os
import random
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import zipfile
from collections import Counter
from contextlib import closing
from pathlib import Path
from typing import Any

from served import ROOT, Away, Served, free_port

KINDS = ["edit"] * 10 + ["record"] * 4 + ["journal"] * 8 + ["pin"] * 3 + ["copy"] * 2 + ["search"] + ["undo"] * 2
STEP_WAIT = 60


class Round:
    """What was sent to one server and acknowledged, by build."""

    def __init__(self, server: Served, builds: list[str], rng: random.Random) -> None:
        self.server, self.builds, self.rng = server, builds, rng
        self.sent, self.acknowledged = Counter[str](), Counter[str]()
        self.wrong: list[str] = []
        self.notes: dict[str, str] = {}  # the note last acknowledged, by build
        self.maybe: dict[str, set[str]] = {b: set() for b in builds}  # sent after that, without an answer
        self.revision: dict[str, int] = {}
        self.records: dict[str, int] = dict.fromkeys(builds, 0)
        self.said: dict[str, set[str]] = {b: set() for b in builds}
        self.ended = False

    def work(self, build: str, seed: int) -> None:
        rng, n = random.Random(seed), 0
        try:
            _, got = self.server.ask("GET", f"/api/builds/{build}")
            base, steps = got["revision"], got["plan"]["steps"]
            places = [(s["id"], s["zones"]) for s in steps if s["kind"] == "coat"]
            self.revision[build] = base
            while not self.ended:
                n += 1
                kind, command = rng.choice(KINDS), f"kill-{seed}-{n:06}"
                self.sent[kind] += 1
                base = self.one(kind, build, base, command, places[n % len(places)])
                self.acknowledged[kind] += 1
        except Away:
            return

    def one(self, kind: str, build: str, base: int, command: str, place: tuple[str, list[str]]) -> int:
        ask, path = self.server.ask, f"/api/builds/{build}"
        if kind == "edit":
            edit = {"edit": "set_field", "step_id": place[0], "field": "note", "value": command}
            self.maybe[build].add(command)
            body = {"base_revision": base, "command_id": command, "label": command, "edits": [edit]}
            status, answer = ask("POST", f"{path}/edits", body)
            self.expect(kind, status, answer, (200, 208))
            self.notes[build], self.maybe[build] = command, set()
            self.revision[build] = answer["revision"]
            return int(answer["revision"])
        if kind == "undo":
            note = self.notes.pop(build, None)
            self.maybe[build].add(note or "")
            status, answer = ask("POST", f"{path}/undo", {"base_revision": base, "command_id": command})
            self.expect(kind, status, answer, (200, 208, 422))
            self.maybe[build] = set()
            self.revision[build] = answer.get("revision", base)
            return int(self.revision[build])
        if kind == "record":
            entries = [
                {"step": place[0], "zone": z, "state": "skipped", "starts_at": "2026-11-26T19:00:00Z",
                 "ends_at": "2026-11-26T19:30:00Z"} for z in place[1]
            ]  # fmt: skip
            status, answer = ask("POST", f"{path}/sittings/record", {"command_id": command, "entries": entries})
            self.expect(kind, status, answer, (200,))
            self.records[build] += 1
        elif kind == "journal":
            at = "2026-11-26T19:00:00Z"
            said = [{"id": f"{command}-{i}", "said": "note", "at": at, "written_at": at, "step": place[0],
                     "zones": place[1], "note": command} for i in range(3)]  # fmt: skip
            status, answer = ask("POST", f"{path}/journal", {"entries": [*said, said[0]]})
            self.expect(kind, status, answer, (200,))
            self.said[build] |= {str(e["id"]) for e in said}
        elif kind == "pin":
            status, answer = ask(
                "POST", f"{path}/sittings/pin", {"command_id": command, "step": place[0], "pinned": True}
            )
            self.expect(kind, status, answer, (200, 422))
        elif kind == "copy":
            status, answer = ask("POST", "/api/copies", {})
            self.expect(kind, status, answer, (200, 422))
        else:
            status, answer = ask("POST", f"{path}/sittings/search", {"kind": "search", "seconds": 5})
            self.expect(kind, status, answer, (200, 422))
        return base

    def expect(self, kind: str, status: int, answer: Any, good: tuple[int, ...]) -> None:
        if status not in good:
            self.wrong.append(f"{kind} was answered {status}: {str(answer)[:200]}")

    def compare(self, before: dict[str, int]) -> list[str]:
        """What is not there any more of what was acknowledged."""
        lost = list(self.wrong)
        for build in self.builds:
            status, got = self.server.ask("GET", f"/api/builds/{build}")
            if status != 200:
                lost.append(f"{build} cannot be read: {got}")
                continue
            notes = {s.get("note") for s in got["plan"]["steps"]}
            last = self.notes.get(build)
            if last is not None and last not in notes and not self.maybe[build]:
                lost.append(f"{build}: the edit {last} is gone")
            if got["revision"] < self.revision.get(build, 0):
                lost.append(f"{build}: revision {got['revision']} after {self.revision[build]} was acknowledged")
            ids = entries_of(self.server, build)
            if len(set(ids)) < len(ids):
                lost.append(f"{build}: {len(ids) - len(set(ids))} entries of the journal are doubled")
            if gone := self.said[build] - set(ids):
                lost.append(f"{build}: {len(gone)} entries of the journal are gone")
            have = count_records(self.server, build)
            if have < before.get(build, 0) + self.records[build]:
                lost.append(f"{build}: {have} records of {before.get(build, 0) + self.records[build]}")
        return lost


def entries_of(server: Served, build: str) -> list[str]:
    """The ids of the journal of a build, as they stand in its file."""
    status, body = server.ask("GET", f"/api/builds/{build}/build.zip")
    if status != 200:
        raise Away(f"{build} cannot be saved: {body}")
    with zipfile.ZipFile(io.BytesIO(body)) as whole:
        name = f"builds/{build}/journal.json"
        if name not in whole.namelist():
            return []
        return [e["id"] for e in json.loads(whole.read(name))["entries"]]


def count_records(server: Served, build: str) -> int:
    """How many records of a build were written and carried out, by the journal in its file."""
    ids = {i.rsplit("-", 1)[0] for i in entries_of(server, build)}
    return sum(1 for i in ids if i.count("-") == 2)  # kill-SEED-NUMBER; entries of the journal have one more


def cut_short(data: Path, rng: random.Random, times: int) -> list[str]:
    """Kills `restore` and `backup` in the middle; gives what was half done."""
    env = {**os.environ, "EMVAR_DATA": str(data), "DJANGO_SETTINGS_MODULE": "emvar_server.settings"}
    env["PYTHONPATH"] = os.pathsep.join(str(ROOT / p) for p in ("core", "server", "."))
    run = [sys.executable, "-m", "django"]
    other = data / "other.zip"
    subprocess.run([*run, "backup", str(other)], env=env, check=True, stdout=subprocess.DEVNULL)
    with closing(sqlite3.connect(data / "emvar.sqlite3")) as db, db:
        db.execute("UPDATE builds_build SET name = 'Changed'")
    wrong, states = [], (names(data, restored=other), names(data))
    for n in range(times):
        target = data / f"cut-{n}.zip"
        command = ["restore", str(other)] if n % 2 else ["backup", str(target)]
        process = subprocess.Popen([*run, *command], env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        time.sleep(rng.uniform(0.3, 2.5))
        process.kill()
        process.wait()
        if names(data) not in states:
            wrong.append(f"{command[0]} {n}: {names(data)} is neither {states[0]} nor {states[1]}")
        if target.exists() and not whole(target):
            wrong.append(f"backup {n}: a file that is not whole has the final name")
    return wrong


def names(data: Path, restored: Path | None = None) -> list[str]:
    """The names of the builds in a folder, or in an archive; the database has to be sound."""
    if restored is not None:
        with zipfile.ZipFile(restored) as archive:
            plans = [n for n in archive.namelist() if n.endswith("/plan.json")]
            return sorted(json.loads(archive.read(n))["build"]["name"] for n in plans)
    with closing(sqlite3.connect(data / "emvar.sqlite3", timeout=20)) as db:
        if db.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
            return ["damaged"]
        return sorted(row[0] for row in db.execute("SELECT name FROM builds_build"))


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kills", type=int, default=200)
    parser.add_argument("--restores", type=int, default=40)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--port", type=int, default=free_port())
    asked = parser.parse_args()
    rng = random.Random(asked.seed)
    tug = json.loads((ROOT / "demo" / "harbour-tug.json").read_text(encoding="utf-8"))
    sent, acknowledged, lost, copies = Counter[str](), Counter[str](), list[str](), 0
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder)
        server = Served(data, asked.port)
        server.start()
        builds = [server.ask("POST", "/api/builds", tug)[1]["id"] for _ in range(3)]
        before: dict[str, int] = {}
        for n in range(asked.kills):
            this = Round(server, builds, rng)
            threads = [threading.Thread(target=this.work, args=(b, n * 10 + i)) for i, b in enumerate(builds)]
            for thread in threads:
                thread.start()
            time.sleep(rng.uniform(0.3, 3.0))
            server.kill()
            this.ended = True
            for thread in threads:
                thread.join()
            server.start()
            lost += [f"round {n}: {words}" for words in this.compare(before)]
            before = {b: count_records(server, b) for b in builds}
            sent += this.sent
            acknowledged += this.acknowledged
            bad = (
                [p.name for p in (data / "copies").glob("*.zip") if not whole(p)] if (data / "copies").exists() else []
            )
            lost += [f"round {n}: the copy {name} is broken" for name in bad]
            copies += len(list((data / "copies").glob("*.zip"))) if (data / "copies").exists() else 0
            if n % 10 == 9:
                print(f"{n + 1} kills, {sum(acknowledged.values())} acknowledged, {len(lost)} lost", flush=True)
        server.kill()
        lost += cut_short(data, rng, asked.restores)
    print(f"{asked.kills} kills; sent {dict(sent)}; acknowledged {dict(acknowledged)}")
    print(f"{copies} copies looked at; {asked.restores} restores and backups killed; {len(lost)} lost or wrong")
    for words in lost[:20]:
        print(" ", words)
    return 1 if lost else 0


def whole(path: Path) -> bool:
    """Whether a copy can be read and is what was written."""
    try:
        with zipfile.ZipFile(path) as archive:
            manifest = json.loads(archive.read("manifest.json"))
            return all(
                hashlib.sha256(archive.read(name)).hexdigest() == facts["sha256"]
                for name, facts in manifest["files"].items()
            )
    except (OSError, zipfile.BadZipFile, KeyError, ValueError):
        return False


if __name__ == "__main__":
    raise SystemExit(main())
