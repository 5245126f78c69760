"""Twelve working days with the times that people keep (`working_days.txt`), each judged as a whole.

`python -m tests.reference.test_working_days` prints what is still told otherwise than at the bench.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.plan import Plan, parse_plan, step_times
from emvar_core.vocabulary import Rescued, Verdict
from emvar_core.ways.rescue import rescue

from tests.builders import plan_json

TABLE = Path(__file__).with_name("working_days.txt")
UNIT = {"m": 1, "h": 60, "d": 1440}
# On the models before places 84 clashes, waits, missed windows and undoings were wrong; now none.
FIELDS = {"film": ("dry_film_um", float), "passes": ("passes", int), "method": ("method", str), "sheen": ("sheen", str)}


@dataclass
class Day:
    number: int
    title: str
    data: dict[str, Any]
    undo: list[tuple[str, float, set[str]]] = field(default_factory=list)

    @property
    def plan(self) -> Plan:
        return parse_plan(self.data)


def minutes(text: str) -> float:
    return float(text[:-1]) * UNIT[text[-1]]


def options(text: str) -> tuple[str, dict[str, str]]:
    match = re.fullmatch(r"([\w-]+)(?:\{([^}]*)\})?", text.strip())
    assert match, text
    return match[1], dict(pair.split("=", 1) for pair in (match[2] or "").split())


def days() -> list[Day]:
    made: list[Day] = []
    for row in TABLE.read_text(encoding="utf-8").splitlines():
        if not row or row.startswith("#"):
            continue
        kind, *cells = (cell.strip() for cell in row.split("|"))
        if kind == "day":
            number, title, base, air = cells
            temp, rh = air.split()
            day = {"temp_c": float(temp), "rh_pct": float(rh), "movement": "still"}
            data = plan_json([], build={"name": title, "base_material": base}, air={"day": day})
            made.append(Day(int(number), title, data))
        elif kind == "undo":
            step, after, means = cells
            made[-1].undo.append((step, minutes(after), set(means.split(","))))
        elif kind == "warm":
            step = next(s for s in made[-1].data["steps"] if s["id"] == cells[0])
            temp, length = cells[1].split()
            step["aids"] = [{"kind": "warm_air", "duration_min": float(length), "temp_c": float(temp)}]
        else:
            made[-1].data["steps"].append(_step(kind, cells))
    return made


def _step(kind: str, cells: list[str]) -> dict[str, Any]:
    base: dict[str, Any] = {"id": cells[0], "name": cells[0], "zones": ["side"]}
    base |= {"wait_min": minutes(cells[-2]), "hands_on_min": float(cells[-1])}
    if kind == "touch":
        action, *more = cells[1].split()
        material = [m for m in more if "=" not in m]
        given = dict(m.split("=") for m in more if "=" in m)
        place = {"place" if k == "where" else k: v for k, v in given.items()}
        return base | {"kind": "fitting", "action": action} | place | ({"material": material[0]} if material else {})
    if kind == "work":
        action, method, *carrier = cells[1].split()
        on, *more = cells[2].split()
        given = dict(pair.split("=") for pair in more)
        return (
            base
            | {"kind": "working", "action": action, "method": method, "acts_on": on}
            | ({"carrier": carrier[0]} if carrier else {})
            | {"leaves": float(given.get("leaves", 0.5))}
            | ({"by_sections": True} if "sections" in given else {})
        )
    material, given = options(cells[1])
    step = base | {"kind": "coat", "material": material, "coverage": float(given.pop("cov", 1))}
    step |= {k: given.pop(k) for k in ("on", "patch") if k in given}
    if "where" in given:
        step["place"] = given.pop("where")
    if "beside" in given:
        step["beside"] = given.pop("beside").split(",")
    for short, (name, as_) in FIELDS.items():
        if short in given:
            step[name] = as_(given.pop(short))
    if "thin" in given:
        thinner, a, b = given.pop("thin").split(":")
        parts = [(material, "paint", a), (thinner, "thinner", b)]
        step["mix"] = {"parts": [{"material": m, "role": r, "amount": float(n)} for m, r, n in parts]}
    return step


def otherwise(day: Day) -> list[str]:
    """What the answers say of a day that differs from the bench."""
    made = day.plan
    told = [
        f"{s.upper_step}: {s.verdict.value} {s.word} ({s.sentence})"
        for s in assess(made).stories
        if s.verdict in (Verdict.CLASH, Verdict.WAIT) or s.missed
    ]
    times = step_times(made)
    for step, after, means in day.undo:
        until = Plan.model_validate(made.model_dump() | {"steps": made.model_dump()["steps"][: _at(made, step) + 1]})
        found = rescue(until, step, "side", times[step].end_min + after)
        clean = {w.carrier for w in found.ways if w.state is Rescued.CLEAN}
        if not clean & means:
            told.append(f"{step}: after {after:g} min not undone by {' or '.join(sorted(means))} ({found.sentence})")
    return told


def _at(made: Plan, step: str) -> int:
    return [s.id for s in made.steps].index(step)


class WorkingDays(TestCase):
    def test_the_days_are_told_as_at_the_bench(self) -> None:
        for day in days():
            with self.subTest(day.number, title=day.title):
                self.assertEqual(otherwise(day), [])


if __name__ == "__main__":
    for each in days():
        found = otherwise(each)
        print(f"{each.number:2} {each.title}: {len(found)} of {len(each.data['steps'])} steps")
        for line in found:
            print("     ", line)
