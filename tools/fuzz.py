"""Hostile plan files and hostile requests. Prints figures; ends with 1 where one was not answered as it should be.

`fuzz.py plans [--count N]`: plan files with fields changed, doubled, dropped and swollen. Each is refused with its
place, or taken and assessed. `fuzz.py api [--count N]`: requests that really edit, and requests that are spoilt in
every way; none is answered with 500, none takes more than five seconds, and the build is whole at the end.
"""

from __future__ import annotations

import argparse
import copy
import json
import os
import random
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
for part in ("core", "server", "."):
    sys.path.insert(0, str(ROOT / part))
SLOW_S = 5.0 * float(os.environ.get("EMVAR_PATIENCE", "1"))  # tests run side by side, on a busy machine
HOSTILE: list[Any] = [
    None, True, -1, 0, 1e-320, 1e308, -1e308, 2**63, 10**400, "", " ", "x" * 5000, "\u202e", "\u2028", "\x00", "\ud800",
    [], {}, [[]], {"a": {}}, "base", "nothing", "9999-12-31T23:59:59Z", "0001-01-01T00:00:00Z", "Z", "1e5", "<b>", "'",
]  # fmt: skip


def spoilt(rng: random.Random, value: Any, depth: int = 0) -> Any:
    """The same with one thing in it changed, somewhere."""
    if isinstance(value, dict) and value and (depth == 0 or rng.random() < 0.85):
        key = rng.choice(list(value))
        how = rng.random()
        if how < 0.1:
            value.pop(key)
        elif how < 0.15:
            value[rng.choice(["unknown", "x" * 300, "\ud800", "id"])] = copy.deepcopy(rng.choice(HOSTILE))
        else:
            value[key] = spoilt(rng, value[key], depth + 1)
        return value
    if isinstance(value, list) and value and rng.random() < 0.85:
        i = rng.randrange(len(value))
        how = rng.random()
        if how < 0.08:
            value.insert(rng.randrange(len(value) + 1), copy.deepcopy(value[i]))
        elif how < 0.14:
            value.pop(i)
        elif how < 0.18:
            j = rng.randrange(len(value))
            value[i], value[j] = value[j], value[i]
        else:
            value[i] = spoilt(rng, value[i], depth + 1)
        return value
    if isinstance(value, int | float) and not isinstance(value, bool) and rng.random() < 0.5:
        return min(value, 10**300) * rng.choice([0.001, 0.5, 2, 1000, -1, 1e9])
    return copy.deepcopy(rng.choice(HOSTILE))


def plans(count: int, seed: int) -> int:
    """Fuzzes plan files."""
    from emvar_core.assess import assess
    from emvar_core.errors import PlanError
    from emvar_core.plan import json_of, parse_plan

    rng, told, wrong, slowest = random.Random(seed), Counter[str](), list[str](), 0.0
    whole = [json.loads(p.read_text(encoding="utf-8")) for p in sorted((ROOT / "demo").glob("*.json"))]
    for small in whole:
        small["steps"] = small["steps"][:12]
        named = {s["id"] for s in small["steps"]}
        small["steps"] = [s for s in small["steps"] if s.get("acts_on", s["id"]) in named]
        small["trials"] = []
    for n in range(count):
        data = copy.deepcopy(rng.choice(whole))
        for _ in range(rng.choice([1, 1, 1, 2, 4])):
            data = spoilt(rng, data)
        began = time.monotonic()
        try:
            text = json.dumps(data)
            assess(parse_plan(json_of(text.encode("utf-8", "surrogatepass"))), opens=False)
            told["taken"] += 1
        except PlanError as error:
            told["refused"] += 1
            if not all(p.where and p.what and len(p.what) < 600 for p in error.problems):
                wrong.append(f"{n}: refused without a place or a reason: {error.problems[:2]}")
        except Exception as error:
            wrong.append(f"{n}: {type(error).__name__}: {str(error)[:200]}")
        slowest = max(slowest, time.monotonic() - began)
        if n % 5000 == 4999 and n + 1 < count:
            print(f"  {n + 1} plan files: {dict(told)}, {len(wrong)} wrong so far", flush=True)
    print(f"{count} plan files: {dict(told)}, {len(wrong)} wrong, the slowest {slowest * 1e3:.0f} ms")
    for words in wrong[:10]:
        print(" ", words)
    return 1 if wrong else 0


def api(count: int, seed: int) -> int:
    """Fuzzes the API, in this process, against a database of its own."""
    folder = tempfile.mkdtemp()
    os.environ |= {"EMVAR_DATA": folder, "DJANGO_SETTINGS_MODULE": "emvar_server.settings"}
    import logging

    import django

    django.setup()
    from django.core.management import call_command
    from django.test import Client

    logging.disable(logging.CRITICAL)
    call_command("migrate", verbosity=0)
    rng, told, wrong, slowest = random.Random(seed), Counter[int](), list[str](), 0.0
    link = Client(SERVER_NAME="127.0.0.1", raise_request_exception=False)
    tug = json.loads((ROOT / "demo" / "harbour-tug.json").read_text(encoding="utf-8"))

    def send(method: str, path: str, body: Any) -> Any:
        raw = body if isinstance(body, bytes) else json.dumps(body).encode("utf-8", "surrogatepass")
        return link.generic(method, path, raw, content_type="application/json")

    build = send("POST", "/api/builds", tug).json()["id"]
    steps, zones = [s["id"] for s in tug["steps"]], [z["id"] for z in tug["zones"]]
    revision, taken = 1, 0
    for n in range(count):
        method, path, body, honest = request_of(rng, build, steps, zones, revision, n)
        if not honest:
            body = spoilt(rng, copy.deepcopy(body)) if rng.random() < 0.9 else rng.choice([b"", b"{", b"\xff", b"[1]"])
        began = time.monotonic()
        answer = send(method, path, body)
        took = time.monotonic() - began
        slowest = max(slowest, took)
        told[answer.status_code] += 1
        if answer.status_code >= 500 and answer.status_code != 503:
            wrong.append(f"{n}: {method} {path} {str(body)[:300]} was answered {answer.status_code}")
        if took > SLOW_S:
            wrong.append(f"{n}: {method} {path} took {took:.1f} s")
        if answer.status_code >= 400 and answer.status_code != 409 and b"problems" not in answer.content:
            wrong.append(f"{n}: {method} {path} was refused in another form: {answer.content[:100]!r}")
        if answer.status_code in (200, 208, 409) and path.endswith(("edits", "undo", "redo")):
            taken += answer.status_code == 200
            revision = answer.json()["revision"]
        if n % 2500 == 2499 and n + 1 < count:
            print(f"  {n + 1} requests: {dict(sorted(told.items()))}, {len(wrong)} wrong so far", flush=True)
        if n % 400 == 399:  # so that it does not grow without end
            build = send("POST", "/api/builds", tug).json()["id"]
            revision = 1
    if link.get(f"/api/builds/{build}").status_code != 200:
        wrong.append("the build cannot be read at the end")
    answered = dict(sorted(told.items()))
    print(f"{count} requests: {answered}, {taken} edits made, {len(wrong)} wrong, slowest {slowest:.1f} s")
    for words in wrong[:10]:
        print(" ", words)
    return 1 if wrong else 0


FIELDS = [
    "wait_min", "hands_on_min", "dry_film_um", "passes", "method", "note", "name", "coverage", "material", "sheen",
]  # fmt: skip
VALUES: dict[str, list[Any]] = {
    "wait_min": [0, 30, 900, 4000], "hands_on_min": [5, 60], "dry_film_um": [2, 12, 40], "passes": [1, 4],
    "method": ["spray", "brush", "mist", "wash"], "note": ["a note"], "name": ["Another name"], "coverage": [0.1, 1],
    "material": ["lacquer_primer", "enamel_colour", "pigment"], "sheen": ["gloss", "matt"],
}  # fmt: skip


def request_of(
    rng: random.Random, build: str, steps: list[str], zones: list[str], revision: int, n: int
) -> tuple[str, str, Any, bool]:
    """A request: method, path, body, and whether it is meant as it is."""
    honest, path, command = rng.random() < 0.5, f"/api/builds/{build}", f"fuzz-{n:08}"
    kind = rng.random()
    if kind < 0.55:
        field = rng.choice(FIELDS)
        step = rng.choice(steps)
        edits: list[dict[str, Any]] = [
            rng.choice([
                {"edit": "set_field", "step_id": step, "field": field, "value": rng.choice(VALUES[field])},
                {"edit": "move_step", "step_id": step, "index": rng.randrange(len(steps))},
                {"edit": "remove_step", "step_id": step},
                {"edit": "split_step", "step_id": step, "zones": [rng.choice(zones)], "new_id": f"split-{n}"},
                {"edit": "set_air", "air": {"day": {"temp_c": rng.choice([15, 22, 31]), "rh_pct": 60}}},
            ])
        ]  # fmt: skip
        body: dict[str, Any] = {"base_revision": revision, "command_id": command, "edits": edits}
        if rng.random() < 0.2:
            body |= {"dry_run": True}
        return "POST", f"{path}/edits", body, honest
    if kind < 0.7:
        way = rng.choice(["undo", "redo"])
        return "POST", f"{path}/{way}", {"base_revision": revision, "command_id": command}, honest
    if kind < 0.85:
        way, more = rng.choice([
            ("record", {"entries": [{"step": rng.choice(steps), "zone": rng.choice(zones), "state": "done",
                                     "starts_at": "2026-11-26T19:00:00Z", "ends_at": "2026-11-26T20:00:00Z"}]}),
            ("pin", {"step": rng.choice(steps), "pinned": True}), ("unrecord", {}), ("back", {}),
            ("move", {"step": rng.choice(steps), "start_min": rng.uniform(-1e4, 1e6)}),
        ])  # fmt: skip
        return "POST", f"{path}/sittings/{way}", {"command_id": command, **more}, honest
    places = ["/api/builds", "/api/trash", "/api/data", path, f"{path}/mended", f"{path}/reach?at=100"]
    places += [f"{path}/seams/{rng.choice(steps)}~{rng.choice(zones)}~base", f"{path}/sittings", f"{path}/plan.json"]
    place = rng.choice(places) if rng.random() < 0.6 else f"{path}/{rng.choice(['seams', 'rescue/x'])}/%00{n}"
    return "GET", place, {}, True


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("what", choices=["plans", "api"])
    parser.add_argument("--count", type=int, default=50_000)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    return (plans if asked.what == "plans" else api)(asked.count, asked.seed)


if __name__ == "__main__":
    raise SystemExit(main())
