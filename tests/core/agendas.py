"""Plans, benches and schedules that several tests of the sittings share. The schedule of the tug is found once."""

from __future__ import annotations

import json
from datetime import timedelta
from functools import lru_cache
from typing import Any

from emvar_core.plan import Plan, apply, parse_edits, parse_plan
from emvar_core.schedule.agenda import Agenda
from emvar_core.schedule.net import Link, Net, What
from emvar_core.schedule.schedule import Planned, make
from emvar_core.ways.mend import mend

from tests.builders import ROOT, coat, plan_json, tug

SECONDS = 25
THICK_CORES = [
    {"edit": "set_field", "step_id": "dark-cores", "field": field, "value": value}
    for field, value in {"on": None, "place": None, "coverage": 0.3, "dry_film_um": 8}.items()
]


@lru_cache(maxsize=1)
def mended() -> Plan:
    """The tug, mended; with cores so thick and many that the streaks over them need an evening of their own."""
    before, _ = apply(tug(), parse_edits(THICK_CORES))
    return apply(before, parse_edits(mend(before).edits))[0]


@lru_cache(maxsize=1)
def planned() -> tuple[Agenda, Planned]:
    agenda = Agenda(mended())
    return agenda, make(agenda, seconds=SECONDS)


@lru_cache
def demo_planned(name: str) -> tuple[Plan, Planned]:
    plan = demo(name)
    return plan, make(Agenda(plan), seconds=SECONDS)


def demo(name: str) -> Plan:
    return parse_plan(json.loads((ROOT / "demo" / f"{name}.json").read_text(encoding="utf-8")))


def hull() -> Plan:
    """The tug's hull alone, from its colour on: what a schedule of it is to show is found in a second."""
    data = json.loads((ROOT / "demo" / "harbour-tug.json").read_text(encoding="utf-8"))
    steps = ("red-oxide", "gloss", "draught-marks", "pin-wash", "wipe", "streaks", "drag", "matt", "dust")
    data["steps"] = [s | {"zones": ["hull"]} for s in data["steps"] if s["id"] in steps]
    return parse_plan(data | {"build": data["build"] | {"name": "Hull of the tug"}})


def minutes(m: float) -> timedelta:
    return timedelta(minutes=m)


def evenings(*days: str, start: str = "19:30", length: int = 120) -> dict[str, Any]:
    return {"weekly": [{"days": list(days), "start": start, "length_min": length}]}


def wash_json(hours: dict[str, Any] | None = None, **more: Any) -> dict[str, Any]:
    """Gloss, wash, wipe on one zone."""
    wipe = {"kind": "working", "id": "wipe", "name": "Wipe it back", "zones": ["side"], "action": "wipe"}
    steps = [
        coat("gloss", "alcohol_acrylic_clear", hands_on_min=20, sheen="gloss"),
        coat("wash", "enamel_wash", hands_on_min=30, name="Pin wash"),
        wipe | {"acts_on": "wash", "carrier": "white_spirit", "hands_on_min": 40},
    ]
    data = plan_json(steps, **more)
    return data if hours is None else data | {"hours": hours}


def wash_plan(**more: Any) -> Plan:
    return parse_plan(wash_json(**more))


def link(net: Net, before: str, after: str, what: What = What.SEAM) -> Link:
    return next(k for k in net.links if (k.before, k.after, k.what) == (before, after, what))
