"""What a heavy build costs the others, and what many edits cost in memory. Prints figures.

`load.py [--seconds N] [--edits N] [--steps N]`: while a plan of so many steps is mended and edited over and over, and
110 idle and slow connections stand open, the tug is edited and each answer is timed; then so many edits are made of the
tug alone, and the size of the server.
"""

from __future__ import annotations

import argparse
import json
import multiprocessing
import socket
import tempfile
import time
from pathlib import Path
from typing import Any

from served import ROOT, Served, free_port, spread

IDLE = 110


def edit_of(step: str, value: float, base: int, n: int) -> dict[str, Any]:
    edit = {"edit": "set_field", "step_id": step, "field": "dry_film_um", "value": value}
    return {"base_revision": base, "command_id": f"load-{n:08}-{step}"[:60], "label": "film", "edits": [edit]}


def edits(server: Served, build: str, steps: list[str], until: float, most: int, times: list[float]) -> int:
    """Edits of a build, one after the other, each timed. Gives how many were refused or failed."""
    _, got = server.ask("GET", f"/api/builds/{build}", timeout=120)
    base, bad = got["revision"], 0
    for n in range(most):
        if time.monotonic() > until:
            break
        body = edit_of(steps[n % len(steps)], 5 + (n * 0.0137) % 20, base, n + base)
        began = time.monotonic()
        status, answer = server.ask("POST", f"/api/builds/{build}/edits", body, timeout=120)
        times.append(time.monotonic() - began)
        bad += status != 200
        base = answer.get("revision", base) if isinstance(answer, dict) else base
    return bad


def _elsewhere(port: int, token: str) -> Served:
    server = Served(Path("."), port)
    server.token = token
    return server


def heavy_edits(port: int, token: str, build: str, steps: list[str], seconds: float) -> list[float]:
    """Edits of the heavy build from a process of its own; gives their times."""
    times: list[float] = []
    edits(_elsewhere(port, token), build, steps, time.monotonic() + seconds, 10**6, times)
    return times


def mends_of(port: int, token: str, build: str, seconds: float) -> int:
    """Asks for the heavy build mended, again and again; gives how often there was an answer."""
    server, until, done = _elsewhere(port, token), time.monotonic() + seconds, 0
    while time.monotonic() < until:
        status, _ = server.ask("GET", f"/api/builds/{build}/mended", timeout=200)
        done += status == 200
        if status != 200:
            time.sleep(1.5)  # as the interface does
    return done


def main() -> int:
    from tests.builders import tall_json

    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seconds", type=float, default=40)
    parser.add_argument("--edits", type=int, default=5000)
    parser.add_argument("--steps", type=int, default=2000)
    asked = parser.parse_args()
    tug = json.loads((ROOT / "demo" / "harbour-tug.json").read_text(encoding="utf-8"))
    coats = [s["id"] for s in tug["steps"] if s["kind"] == "coat"]
    with tempfile.TemporaryDirectory() as folder:
        server = Served(Path(folder), free_port())
        server.start()
        try:
            print(f"server at start: {server.resident_mb():.0f} MB")
            _, made = server.ask("POST", "/api/builds", tug)
            _, tall = server.ask("POST", "/api/builds", tall_json(asked.steps), timeout=300)
            alone: list[float] = []
            edits(server, made["id"], coats, time.monotonic() + 8, 200, alone)
            print(f"tug alone: {spread(alone)}")
            until = time.monotonic() + asked.seconds
            # The heavy askers are processes of their own, so that they do not slow what is timed here.
            ids = [s["id"] for s in tall_json(asked.steps)["steps"] if s["kind"] == "coat"][:40]
            askers = multiprocessing.get_context("spawn").Pool(4)
            heavy = askers.apply_async(heavy_edits, (server.port, server.token, tall["id"], ids, asked.seconds))
            mends = [
                askers.apply_async(mends_of, (server.port, server.token, tall["id"], asked.seconds)) for _ in range(3)
            ]
            idle = []
            for n in range(IDLE):
                link = socket.create_connection(("127.0.0.1", server.port))
                if n % 2:
                    link.sendall(b"POST /api/builds HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Le")  # and never more
                idle.append(link)
            beside: list[float] = []
            bad = edits(server, made["id"], coats, until, 10**6, beside)
            times_of_heavy = heavy.get()
            mended = sum(m.get() for m in mends)
            askers.close()
            for link in idle:
                link.close()
            print(f"tug beside a heavy build and {IDLE} idle connections: {spread(beside)}, {bad} failed")
            print(
                f"edits of the plan of {asked.steps} steps meanwhile: {spread(times_of_heavy)}; mended {mended} times"
            )
            print(f"server then: {server.resident_mb():.0f} MB")
            most, times = 0.0, list[float]()
            for _ in range(max(asked.edits // 250, 1)):
                edits(server, made["id"], coats, time.monotonic() + 600, 250, times)
                most = max(most, server.resident_mb())
            print(f"{asked.edits} edits of the tug: {spread(times)}; at most {most:.0f} MB")
        finally:
            server.kill()
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
