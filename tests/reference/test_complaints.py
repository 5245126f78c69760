"""Two tables of forty, practice read backwards from what people complain of, committed before the causes were mended.

`complaints_seams.txt`: what lands on what. `complaints_times.txt`: when it is ready, how cold it gets, what still
comes off.
Common practice, no published source. `python -m tests.reference.test_complaints` prints the score of both and what is
told otherwise.

At the first run, on the core as it was, 29 and 23 of the forty came out as practice says.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.judging import conditions_of
from emvar_core.judging.laying import lay
from emvar_core.plan import CoatStep, Plan, step_times
from emvar_core.ways.rescue import rescue

from tests.builders import plan
from tests.reference.test_seam_cases import UNIT, Case, _after, _options, cases_of, wrong

SEAMS = Path(__file__).with_name("complaints_seams.txt")
TIMES = Path(__file__).with_name("complaints_times.txt")


@dataclass(frozen=True)
class Ask:
    name: str
    base: str
    stack: str
    question: str
    answer: str
    reason: str


def asks() -> list[Ask]:
    rows = [r for r in TIMES.read_text(encoding="utf-8").splitlines() if r and not r.startswith("#")]
    return [Ask(*(part.strip() for part in row.split("|"))) for row in rows]


def _plan(ask: Ask, stack: str, temp_c: float = 20.0) -> tuple[Plan, float]:
    """The plan of a stack, and the instant at which its last wait is over."""
    steps: list[dict[str, Any]] = []
    wait = at = 0.0
    for i, part in enumerate(stack.split(";")):
        what, after = part.rsplit("@", 1)
        steps.append(_options(what, f"c{i}", wait))
        wait = _after(after.strip())
        at += wait
    air = {"day": {"temp_c": temp_c, "rh_pct": 50}}
    return plan(steps, build={"base_material": ask.base}, air=air), at


def _ready(ask: Ask, stack: str, event: str, temp_c: float = 20.0) -> float:
    made, _ = _plan(ask, stack, temp_c)
    coats = assess(made).coats
    last = made.steps[-1].id
    told = next(c for c in coats.values() if c.step_id == last)
    if event.startswith("closes "):
        window = next(w for w in told.windows if w.action == event.split()[1])
        best = window.closes.best
    else:
        best = told.events[event].best
    assert best is not None
    return float(best) - float(told.end_min)


def _span(text: str, number: Any) -> tuple[float, float]:
    low, high = text.split("..")
    return number(low), number(high)


def answered(ask: Ask) -> str:
    """The answer: a figure, or a state."""
    q = ask.question
    if q.startswith("undo "):
        _, material, *by = q.split()
        made, at = _plan(ask, ask.stack)
        step = next(s for s in made.steps if getattr(s, "material", None) == material)
        told = rescue(made, step.id, "side", at)
        if not by:
            return str(told.state.value)
        way = next((w for w in told.ways if w.means == by[1]), None)
        return "none" if way is None else str(way.state.value)
    if q == "cooling":
        made, _ = _plan(ask, ask.stack)
        times = step_times(made)
        step = made.steps[-1]
        assert isinstance(step, CoatStep)
        coldest = lay(conditions_of(made, times), step, times[step.id]).landing.air.coldest_c
        assert coldest is not None
        return f"{20 - coldest:.2f}"
    event, _, other = q.partition(" as ")
    if " at " in event:
        event, temp = event.split(" at ")
        return f"{_ready(ask, ask.stack, event, float(temp[:-1])) / _ready(ask, ask.stack, event):.3f}"
    first = _ready(ask, ask.stack, event)
    if not other:
        return f"{first:.1f}"
    below, _, last = ask.stack.rpartition(";")
    after = last.rsplit("@", 1)[1]
    if other.startswith("alone "):
        alone = other.removeprefix("alone ")
        return f"{first / _ready(ask, f'{alone}@{after}', event):.3f}"
    in_place = f"{below};{other}@{after}" if below else f"{other}@{after}"
    if ask.base != "resin" and not below:  # the same on a base that takes nothing up
        resin = Ask(ask.name, "resin", ask.stack, ask.question, ask.answer, ask.reason)
        return f"{first / _ready(resin, in_place, event):.3f}"
    return f"{first / _ready(ask, in_place, event):.3f}"


STATES = {"clean": "clean", "care": "care", "no": "none"}


def told_otherwise(ask: Ask) -> str | None:
    got = answered(ask)
    if ask.question.startswith("undo "):
        wanted = {STATES[a] for a in ask.answer.split(",")}
        return None if got in wanted else f"{got}, not {ask.answer}"
    if re.fullmatch(r"[\d.]+[mhd]\.\.[\d.]+[mhd]", ask.answer):
        low, high = _span(ask.answer, lambda s: float(s[:-1]) * UNIT[s[-1]])
        return None if low <= float(got) <= high else f"{float(got) / 60:.2f} h, not {ask.answer}"
    low, high = _span(ask.answer, float)
    return None if low <= float(got) <= high else f"{got}, not {ask.answer}"


class Complaints(TestCase):
    def test_there_are_forty_of_each_with_a_reason(self) -> None:
        for found in (cases_of(SEAMS), asks()):
            self.assertEqual(len(found), 40)
            self.assertEqual(len({c.name for c in found}), 40)
            self.assertTrue(all(c.reason for c in found))

    def test_the_seams_are_as_practice_says(self) -> None:
        bad = {c.name: w for c in cases_of(SEAMS) if (w := wrong(c))}
        self.assertEqual(bad, {})

    def test_the_times_are_as_practice_says(self) -> None:
        bad = {a.name: w for a in asks() if (w := told_otherwise(a))}
        self.assertEqual(bad, {})


def score() -> None:
    seams: list[Case] = cases_of(SEAMS)
    for title, bad, whole in (
        ("seams", {c.name: w for c in seams if (w := wrong(c))}, len(seams)),
        ("times", {a.name: w for a in asks() if (w := told_otherwise(a))}, len(asks())),
    ):
        print(f"{title}: {whole - len(bad)} of {whole} as practice says")
        for name, what in bad.items():
            print(f"  {name}: {what}")


if __name__ == "__main__":
    score()
