"""The settings that are recommended for every sprayed step of every technique, as a table to be read by eye.

`.venv/bin/python tools/settings.py` prints the table and puts it into docs/models/airbrush.md between its marks.
"""

from __future__ import annotations

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
for place in ("core", "server", "."):
    sys.path.insert(0, str(ROOT / place))

from emvar_core.knowledge import knowledge  # noqa: E402
from emvar_core.mix_and_spray.card import card  # noqa: E402
from emvar_core.plan import CoatStep, Plan, apply, parse_plan, put, ratio_words  # noqa: E402
from emvar_core.plan.mixes import mix_of  # noqa: E402

PAGE = ROOT / "docs/models/airbrush.md"
FROM, TO = "<!-- settings: made by tools/settings.py -->", "<!-- end of settings -->"
AREA_CM2 = 150.0


def bare(nozzle_mm: float) -> Plan:
    return parse_plan(
        {
            "format": "emvar-plan", "version": 2,
            "build": {"name": "Side", "scale": 72, "starts_at": "2026-01-05T18:00:00Z", "timezone": "UTC"},
            "zones": [{"id": "side", "name": "Side", "area_cm2": AREA_CM2}], "steps": [],
            "kit": {"guns": [{"id": "g", "name": "Airbrush", "nozzle_mm": nozzle_mm}]},
        }
    )  # fmt: skip


def rows() -> list[str]:
    """A row for each sprayed step: what it is, the mix, what for, and what is recommended at 20 °C and 50 %."""
    k = knowledge()
    found = []
    for technique in k.techniques.values():
        nozzle = 0.4 if technique.stage == 3 else 0.3
        plan, _ = apply(bare(nozzle), put(bare(nozzle), technique.id, ["side"], 0))
        for step in plan.steps:
            if not isinstance(step, CoatStep):
                continue
            c = card(plan, step.id)
            if c.point is None or c.laying is None or c.purpose is None:
                continue
            mix = mix_of(k, step)
            ratio = ratio_words(mix) if mix is not None and len(mix.parts) > 1 else "neat"
            pressures = "–".join(f"{p / 100:.1f}" for p in c.best.pressure_range_kpa) if c.best else ""
            found.append(
                f"| {technique.name}: {step.name.lower()} | {k.coats[step.material].name.lower()} {ratio} | "
                f"{c.purpose.value} | {nozzle:g} | {c.point.pressure_kpa / 100:.2f} ({pressures}) | "
                f"{c.point.distance_mm / 10:.0f} | {c.trigger:.0%} | {c.laying.coats} × {c.laying.strokes} | "
                f"{c.film_um:g} |"
            )
    return found


def main() -> None:
    head = [
        "| step | mix | for | nozzle, mm | bar | cm | trigger | coats × strokes | dry, µm |",
        "|---|---|---|---|---|---|---|---|---|",
    ]
    table = "\n".join([*head, *rows()])
    print(table)
    page = PAGE.read_text(encoding="utf-8")
    before, rest = page.split(FROM)
    _, after = rest.split(TO)
    PAGE.write_text(f"{before}{FROM}\n{table}\n{TO}{after}", encoding="utf-8")


if __name__ == "__main__":
    main()
