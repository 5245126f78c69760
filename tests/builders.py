"""Small plans for tests, built in code."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from emvar_core.plan import Plan, parse_plan

ROOT = Path(__file__).resolve().parent.parent
DAY = 1440.0


def tug_json() -> dict[str, Any]:
    data: dict[str, Any] = json.loads((ROOT / "demo" / "harbour-tug.json").read_text(encoding="utf-8"))
    return data


def tug() -> Plan:
    return parse_plan(tug_json())


def coat(step_id: str, material: str, wait_min: float = 0, **more: Any) -> dict[str, Any]:
    return {
        "kind": "coat",
        "id": step_id,
        "name": more.pop("name", step_id),
        "zones": more.pop("zones", ["side"]),
        "material": material,
        "wait_min": wait_min,
        "hands_on_min": more.pop("hands_on_min", 0),
        **more,
    }


def mix(paint: str, thinner: str, a: float = 1, b: float = 1, unit: str = "parts") -> dict[str, Any]:
    return {
        "parts": [
            {"material": paint, "role": "paint", "amount": a, "unit": unit},
            {"material": thinner, "role": "thinner", "amount": b, "unit": unit},
        ]
    }


def plan_json(steps: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    zones = more.pop("zones", ["side"])
    return {
        "format": "emvar-plan",
        "version": 1,
        "build": {
            "name": "Trial piece",
            "scale": 72,
            "starts_at": "2026-03-02T10:00:00+00:00",
            "timezone": "UTC",
            **more.pop("build", {}),
        },
        "zones": [{"id": z, "name": z.title(), "area_cm2": 50} for z in zones],
        "air": more.pop("air", {"day": {"temp_c": 20, "rh_pct": 50, "movement": "still"}}),
        "steps": steps,
        **more,
    }


def plan(steps: list[dict[str, Any]], **more: Any) -> Plan:
    return parse_plan(plan_json(steps, **more))


def tall_json(steps: int, zones: int = 5) -> dict[str, Any]:
    """A plan of any length whose coats repeat a sensible order; for speed and for crowded drawings."""
    names = [f"z{i}" for i in range(zones)]
    cycle = [
        ("lacquer_primer", 900, {}),
        ("waterborne_colour", 700, {}),
        ("alcohol_acrylic_clear", 1500, {"sheen": "gloss"}),
        ("enamel_wash", 1500, {"method": "wash"}),
        ("artists_oil", 3000, {"method": "brush"}),
        ("waterborne_clear", 6000, {"sheen": "matt"}),
    ]
    made = []
    for i in range(steps):
        material, wait, more = cycle[i % len(cycle)]
        where = names if i % 4 == 0 else [names[i % zones]]
        made.append(coat(f"s{i}", material, wait, zones=where, hands_on_min=10, name=f"Step {i}", **more))
    return plan_json(
        made,
        zones=names,
        air={"day": {"temp_c": 20, "rh_pct": 50}, "night": {"temp_c": 15, "rh_pct": 60}},
    )
