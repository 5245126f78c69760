"""Small plans for tests, built in code."""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import Any

from emvar_core.plan import Plan, parse_plan

ROOT = Path(__file__).resolve().parent.parent
DAY = 1440.0


def tug_json() -> dict[str, Any]:
    data: dict[str, Any] = json.loads((ROOT / "demo" / "harbour-tug.json").read_text(encoding="utf-8"))
    return data


def short_tug_json() -> dict[str, Any]:
    """The tug up to its wash, a matt coat, its dust and bollards: proven in a third of the time."""
    data = tug_json()
    last = [s["id"] for s in data["steps"]].index("wipe")
    rest = [s for s in data["steps"][last:] if s["id"] in ("matt", "dust", "bollards")]
    return data | {"steps": [*data["steps"][: last + 1], *rest]}


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
        "version": 2,
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


BATCH: list[tuple[str, int, dict[str, Any]]] = [
    ("primer", 4, {"material": "lacquer_primer", "method": "spray"}),
    ("base", 5, {"material": "lacquer_colour", "method": "spray", "colour": {"srgb": "#b03a2a"}}),
    ("mask", 8, {"action": "mask", "material": "low_tack_tape"}),
    ("band", 4, {"material": "lacquer_colour", "method": "spray", "colour": {"srgb": "#e8e4d8"}}),
    ("unmask", 2, {"action": "unmask"}),
    ("black", 6, {"material": "waterborne_colour", "method": "brush", "colour": {"srgb": "#222222"}}),
    ("gloss", 4, {"material": "alcohol_acrylic_clear", "method": "spray"}),
    ("decal", 6, {"material": "decal"}),
    ("satin", 4, {"material": "alcohol_acrylic_clear", "method": "spray", "sheen": "satin"}),
    ("wash", 5, {"material": "enamel_wash"}),
    ("wipe", 6, {"action": "wipe", "acts_on": "wash", "carrier": "white_spirit"}),
    ("chips", 6, {"material": "waterborne_colour", "method": "sponge", "colour": {"srgb": "#c8b060"}}),
    ("cores", 8, {"material": "waterborne_colour", "method": "brush", "colour": {"srgb": "#3a2a20"}}),
    ("streaks", 6, {"material": "artists_oil", "method": "brush"}),
    ("drag", 5, {"action": "streak", "acts_on": "streaks", "carrier": "white_spirit"}),
    ("matt", 4, {"material": "waterborne_clear", "method": "spray"}),
    ("dust", 5, {"material": "dry_pigment"}),
    ("weed", 6, {"material": "waterborne_colour", "method": "brush", "colour": {"srgb": "#44552a"}}),
    ("wet", 3, {"material": "waterborne_clear", "method": "brush", "sheen": "gloss"}),
    ("chain", 4, {"action": "fit"}),
]


def batch_json(items: int) -> dict[str, Any]:
    """A batch of like items, each with the same 20 steps of its own."""
    steps = []
    for name, minutes, what in BATCH:
        for i in range(items):
            kind = "coat" if "action" not in what else "working" if "acts_on" in what else "fitting"
            step = {"kind": kind, "id": f"{name}-{i}", "name": f"{name} {i + 1}", "zones": [f"z{i}"]}
            step |= what | {"hands_on_min": minutes}
            if "acts_on" in what:
                step["acts_on"] = f"{what['acts_on']}-{i}"
            if i:
                step["recipe_of"] = f"{name}-0"
            steps.append(step)
    air = {"day": {"temp_c": 20, "rh_pct": 55}, "night": {"temp_c": 16, "rh_pct": 62}}
    data = plan_json(steps, zones=[f"z{i}" for i in range(items)], air=air)
    data["build"] |= {"name": "A batch of buoys", "starts_at": "2026-12-01T19:00:00+00:00", "timezone": "Europe/Lisbon"}
    return data


def jpeg(width: int = 300, height: int = 200, **save: Any) -> bytes:
    """A picture as a camera would send it."""
    from PIL import Image

    image = Image.new("RGB", (width, height), "#7a3b2e")
    for x in range(width // 2):
        image.putpixel((x, 3), (255, 255, 255))
    out = io.BytesIO()
    image.save(out, "JPEG", **save)
    return out.getvalue()
