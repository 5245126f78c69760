"""Writes core/emvar_core/knowledge/activities.json: how solvents hold each other back, or drive each other out.

Run by hand when a solvent is added: `.venv/bin/python tools/make_activities.py`. Activity coefficients of each pair by
modified UNIFAC (Dortmund) of the package `thermo`, put into two Wilson energies a pair (K), fitted between 10 and 60 °C
over the whole range of composition. Pairs that are as good as ideal are left out, and so are those that do not mix
(water
with hydrocarbons), for which Wilson's equation is not made.
"""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
from chemicals import search_chemical
from scipy.optimize import least_squares
from thermo import unifac
from thermo.unifac import DOUFIP2006, DOUFSG, UNIFAC

KNOWLEDGE = Path(__file__).parent.parent / "core/emvar_core/knowledge"
# What the package has no groups for, by hand: subgroups of modified UNIFAC.
BY_HAND = {
    "dipropylene_glycol_methyl_ether": {1: 2, 2: 1, 3: 2, 24: 1, 25: 1, 81: 1},
    "limonene": {1: 2, 7: 1, 8: 1, 78: 3, 79: 1},
}
# Better known from measured equilibria with water: Wilson energies in K, water first (Smith, Van Ness and Abbott,
# Introduction to Chemical Engineering Thermodynamics; Gmehling's collection; both from memory).
MEASURED = {("water", "isopropanol"): (623.0, 220.4), ("water", "ethanol"): (479.8, 163.6)}
XS = (0.03, 0.1, 0.25, 0.5, 0.75, 0.9, 0.97)
TEMPS_K = (283.15, 308.15, 333.15)
BADLY = 1.0  # off in ln γ: two liquids that hardly mix
IDEAL, APART = (
    0.12,
    math.log(60.0),
)  # ln γ: below the first at infinite dilution a pair is ideal, beyond the second apart


def gammas(one: dict[int, int], other: dict[int, int]) -> np.ndarray | None:
    """ln γ of both, shape (temperatures, compositions, 2)."""
    rows = []
    for temp in TEMPS_K:
        for x in XS:
            try:
                model = UNIFAC.from_subgroups(
                    temp, [x, 1 - x], [one, other], subgroups=DOUFSG, interaction_data=DOUFIP2006, version=1
                )
                rows.append([math.log(g) for g in model.gammas()])
            except Exception:  # groups between which the table has nothing
                return None
    return np.array(rows).reshape(len(TEMPS_K), len(XS), 2)


def wilson(a12: float, a21: float, v1: float, v2: float, temp: float, x: float) -> tuple[float, float]:
    l12, l21 = v2 / v1 * math.exp(-a12 / temp), v1 / v2 * math.exp(-a21 / temp)
    s1, s2 = x + l12 * (1 - x), 1 - x + l21 * x
    shared = l12 / s1 - l21 / s2
    return -math.log(s1) + (1 - x) * shared, -math.log(s2) - x * shared


def main() -> None:
    rows = json.loads((KNOWLEDGE / "solvents.json").read_text(encoding="utf-8"))
    unifac.load_group_assignments_DDBST()
    groups = {}
    for row in rows:
        found = unifac.DDBST_MODIFIED_UNIFAC_assignments.get(search_chemical(row["cas"]).InChI_key)
        groups[row["id"]] = BY_HAND.get(row["id"]) or found
    volumes = {row["id"]: row["molar_mass"] / row["density_g_ml"] for row in rows}
    ids = [row["id"] for row in rows if groups[row["id"]]]
    pairs, left, worst = [], [], 0.0
    for i, a in enumerate(ids):
        for b in ids[i + 1 :]:
            if (a, b) in MEASURED:
                pairs.append([a, b, *MEASURED[a, b]])
                continue
            known = gammas(groups[a], groups[b])
            if known is None or np.abs(known).max() < IDEAL or known.max() > APART:
                continue

            def off(e: np.ndarray, a: str = a, b: str = b, known: np.ndarray = known) -> np.ndarray:
                made = [[wilson(e[0], e[1], volumes[a], volumes[b], t, x) for x in XS] for t in TEMPS_K]
                return (np.array(made) - known).ravel()

            fit = least_squares(off, [200.0, 200.0])
            if np.abs(fit.fun).max() > BADLY:
                left.append(f"{a} + {b}")
                continue
            worst = max(worst, float(np.abs(fit.fun).max()))
            pairs.append([a, b, round(float(fit.x[0]), 1), round(float(fit.x[1]), 1)])
    text = ",\n".join(json.dumps(p) for p in pairs)
    (KNOWLEDGE / "activities.json").write_text(f"[\n{text}\n]\n", encoding="utf-8")
    print(f"{len(pairs)} pairs, worst fit {worst:.2f} in ln γ; left out as hardly miscible: {', '.join(left)}")


if __name__ == "__main__":
    main()
