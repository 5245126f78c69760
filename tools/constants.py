"""What a verdict hangs on: each fitted, assumed or remembered constant halved and doubled, and how many
verdicts change.

`.venv/bin/python tools/constants.py` prints the table and puts it into docs/models/seams.md between its marks. It
judges the 347 seams of the case tables (tests/reference) anew for each; it takes some minutes.
"""

from __future__ import annotations

import importlib
import sys
from dataclasses import replace
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
for place in ("core", "server", "."):
    sys.path.insert(0, str(ROOT / place))

from emvar_core.memory import MEMORY  # noqa: E402
from emvar_core.seams.situation import METHODS  # noqa: E402

from tests.reference.test_complaints import SEAMS  # noqa: E402
from tests.reference.test_practice_tables import SICK, SOUND  # noqa: E402
from tests.reference.test_seam_cases import Case, cases, cases_of, told, wrong  # noqa: E402

PAGE = ROOT / "docs/models/seams.md"
FROM, TO = "<!-- constants: made by tools/constants.py -->", "<!-- end of constants -->"
M = "seams.mechanisms."
# Module, name, what it is, and what it rests on.
CONSTANTS = [
    ("physics.evaporation", "DELTA_MM", "boundary layer over a film, mm", "fitted to two points"),
    ("physics.evaporation", "RADIATION", "heat by radiation, W/(m²·K)", "general literature"),
    ("physics.evaporation", "DRY_SHARE", "share of carrier left when a film counts as flashed off", "assumption"),
    ("physics.evaporation", "PART_M", "wall of a kit part, m", "assumption"),
    ("physics.flight", "EXPOSED", "flight of a spray, s/m²", "set by the airbrush model"),
    ("physics.hardening", "OXYGEN_UM", "film that oxygen gets through at the pace of hardening, µm", "assumption"),
    ("physics.hardening", "THIN_GAINS", "what a thin film gains at most", "settled"),
    ("physics.hardening", "TAIL_POWER", "power of the slow tail", "fitted: a fifth of retarder doubles tape"),
    ("physics.hardening", "SOAKED_POWER", "what a soaked primer costs", "assumption"),
    ("physics.hardening", "TACK_DEGREE", "degree up to which tack holds powder", "assumption"),
    ("physics.hansen", "SWELLS", "hot solvent on a hardened alkyd", "fitted: wet on five-week enamel"),
    ("physics.hansen", "LATENT", "alcohol alone on nitrocellulose", "fitted: a scrub is a caution"),
    ("physics.hansen", "WAKES_AT", "true solvents that wake an alcohol", "assumption"),
    ("physics.hansen", "AQUEOUS", "water from which the Hansen mean is not used", "assumption"),
    ("seams.reach", "FRONT_UM_MIN", "front in glassy films, µm/min", "from memory, times six for short resins"),
    ("seams.reach", "CRAZES_S", "wet time until plastic is as crazed as it gets, s", "assumption"),
    ("seams.reach", "CRAZES_UM", "liquid for that, µm", "assumption"),
    ("seams.situation", "MARK_UM", "thickness up to which an effect is a mark, µm", "assumption"),
    ("seams.severity", "CAUTION_FROM", "severity of a caution", "set once"),
    ("seams.severity", "CLASH_FROM", "severity of a clash", "set once"),
    (M + "reopen", "BITE_UM", "depth at which an opened film moves, µm", "fitted: alcohol scrub on lacquer"),
    ("seams.attack", "SOAKS_S", "wet time until a film has swollen, s", "assumption"),
    (M + "reopen", "HARD_BEARS", "how much less a hard film swells", "assumption"),
    (M + "reopen", "LIGHTLY", "swelling by light passes", "assumption"),
    (M + "wrinkle", "THIN_UM", "film under which alkyd smears instead of wrinkling, µm", "assumption"),
    (M + "lift", "OPENS_UM", "depth at which a young alkyd moves, µm", "assumption"),
    (M + "lift", "STARVED_LOOSE", "what never binds of a starved oil", "assumption"),
    (M + "swell", "SOAKS_S", "wet time until a hard alkyd has swollen, s", "assumption"),
    (M + "not_hard", "STAYS_S", "wet time at a deeper alkyd, s", "assumption"),
    (M + "hard_over_soft", "TOLERATED", "difference of hardness that a film bears", "assumption"),
    (M + "blush", "OVER_K", "from the first moisture to the worst bloom, K", "fitted: 70 to 75 % at 20 °C"),
    (M + "stress_crack", "STILL_CREEPS", "spirit at sealed joints", "assumption"),
    (M + "too_early", "THIN_UM", "water-borne film that holds no solvent, µm", "common practice"),
    (M + "too_early", "SPIRIT_STAYS_S", "spirit that stays so long counts, s", "assumption"),
    (M + "ammonia", "ALKALI", "glass cleaner on acrylics", "assumption"),
    (M + "unknown_opened", "WET_S", "wet time until an unknown film is open, s", "assumption"),
    (M + "hard_over_soft", "FULL_UM", "hard film that cracks with all its hardness, µm", "assumption"),
    (M + "hard_over_soft", "GIVES_UM", "soft film that gives way as far as it can, µm", "assumption"),
    (M + "hard_over_soft", "BY_GAP", "severity by hardness that is not borne", "assumption"),
    (M + "lift", "BENEATH", "rub at an alkyd that lies deeper", "assumption"),
    (M + "reopen", "BENEATH", "rub at a film that lies deeper", "assumption"),
    (M + "reopen", "UNDERMINED", "rub where what carries a film lets go", "assumption"),
    (M + "reopen", "OPENED_RED", "how far water opens what it dissolves", "assumption"),
    (M + "sinks", "WETTED", "severity on young putty", "assumption"),
    (M + "sinks", "HOT", "more of it by hot solvent", "assumption"),
    (M + "stress_crack", "HOT_CREEPS", "hot solvent at joints, as so much spirit", "assumption"),
    (M + "stress_crack", "ALCOHOL_CREEPS", "alcohol at joints, as so much spirit", "assumption"),
    (M + "wrinkle", "HOT_WIDENS", "how much longer an alkyd fears hot solvent", "assumption"),
    (M + "heat", "BY_K", "severity by kelvin beyond what plastic bears", "assumption"),
    (M + "peels", "SPIRIT_CLEANS", "share of spirit that cleans metal", "assumption"),
    (M + "stains", "SPIRITED", "share of spirit with which a wash creeps", "assumption"),
    ("seams.attack", "PULLS", "how much of what a rub meets comes along", "assumption"),
    ("judging.laying", "CAN_CHILLS_K", "chill of a can's spray, K", "assumption"),
    ("judging.laying", "LAID_INTO_UM", "liquid that a coat is laid into, µm", "assumption"),
    ("judging.stack", "SOAKS_BELOW", "degree below which a primer soaks up thinner", "assumption"),
]


def scaled(value: Any, factor: float) -> Any:
    return {k: v * factor for k, v in value.items()} if isinstance(value, dict) else value * factor


def held_by(name: str, value: Any) -> list[Any]:
    """The modules that hold this constant, its own and those that took it over by name."""
    return [m for key, m in sys.modules.items() if key.startswith("emvar_core") and vars(m).get(name) is value]


def verdicts(all_: list[Case]) -> list[tuple[str, bool]]:
    MEMORY.forget()
    return [(told(c).verdict.value, wrong(c) is not None) for c in all_]


def main() -> None:
    all_ = [*cases(), *(case for table in (SEAMS, SOUND, SICK) for case in cases_of(table))]
    usual = verdicts(all_)
    rows = []

    def line(what: str, basis: str, value: str, changed: list[tuple[int, int]]) -> None:
        (half, half_wrong), (double, double_wrong) = changed
        rows.append(
            (max(half, double), f"| {what} | {value} | {basis} | {half} ({half_wrong}) | {double} ({double_wrong}) |")
        )
        print(rows[-1][1], flush=True)

    def against(now: list[tuple[str, bool]]) -> tuple[int, int]:
        moved = sum(a[0] != b[0] for a, b in zip(usual, now, strict=True))
        return moved, sum(b[1] and not a[1] for a, b in zip(usual, now, strict=True))

    for module, name, what, basis in CONSTANTS:
        value = getattr(importlib.import_module(f"emvar_core.{module}"), name)
        holders, changed = held_by(name, value), []
        for factor in (0.5, 2.0):
            for m in holders:
                setattr(m, name, scaled(value, factor))
            changed.append(against(verdicts(all_)))
            for m in holders:
                setattr(m, name, value)
        line(what, basis, f"{value:g}" if isinstance(value, float | int) else "by kind", changed)
    for field, what in (("rub", "how much a method rubs"), ("arrives", "how wet a method lands")):
        kept, changed = dict(METHODS), []
        for factor in (0.5, 2.0):
            METHODS.update({k: replace(f, **{field: min(getattr(f, field) * factor, 1.0)}) for k, f in kept.items()})
            changed.append(against(verdicts(all_)))
            METHODS.update(kept)
        line(what, "ranking from memory", "by method", changed)
    MEMORY.forget()
    head = "| constant | value | rests on | halved | doubled |\n|---|---|---|---|---|\n"
    table = head + "\n".join(text for _, text in sorted(rows, key=lambda r: -r[0]))
    page = PAGE.read_text(encoding="utf-8")
    before, _, rest = page.partition(FROM)
    _, _, after = rest.partition(TO)
    PAGE.write_text(f"{before}{FROM}\n\n{table}\n\n{TO}{after}", encoding="utf-8")


if __name__ == "__main__":
    main()
