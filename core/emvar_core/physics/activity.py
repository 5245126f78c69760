"""How the parts of a liquid hold each other back or drive each other out: activity coefficients by Wilson's equation.

The energies of each pair were fitted to modified UNIFAC (`tools/make_activities.py`); pairs that are not there are
taken
as ideal, those that do not mix (water with hydrocarbons) too, which is wrong but seldom in one cup.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..knowledge import Knowledge, Solvent
from ..memory import MEMORY

_TABLES = MEMORY.door("Wilson tables of a liquid", 4_000)
MOST = 60.0  # beyond that two liquids separate
Table = tuple[tuple[float, ...], ...] | None


def table(k: Knowledge, solvents: Sequence[Solvent], temp_c: float) -> Table:
    """Λij of a liquid at a temperature in °C; None where all its pairs are ideal."""
    ids = tuple(s.id for s in solvents)
    return _TABLES.once((k.signature, ids, round(temp_c)), lambda: (_table(k, solvents, round(temp_c)),))[0]


def _table(k: Knowledge, solvents: Sequence[Solvent], temp_c: float) -> Table:
    if not any((a.id, b.id) in k.activities for a in solvents for b in solvents):
        return None
    kelvin = temp_c + 273.15
    volumes = [s.molar_mass / s.density_g_ml for s in solvents]

    def lam(i: int, j: int) -> float:
        a, b = solvents[i].id, solvents[j].id
        if (a, b) not in k.activities:  # alone, or ideal: no heat of mixing, volumes as they are
            return 1.0
        return volumes[j] / volumes[i] * math.exp(-k.activities[a, b] / kelvin)

    n = range(len(solvents))
    return tuple(tuple(lam(i, j) for j in n) for i in n)


def gammas(lam: Table, mole: Sequence[float]) -> list[float]:
    """Activity coefficients by mole fractions; all 1 where `lam` is None.

    >>> from emvar_core.knowledge import knowledge
    >>> k = knowledge()
    >>> lam = table(k, [k.solvents["water"], k.solvents["isopropanol"]], 25)
    >>> [round(g, 1) for g in gammas(lam, [0.9, 0.1])]
    [1.0, 5.0]
    """
    if lam is None:
        return [1.0] * len(mole)
    n = range(len(mole))
    sums = [max(sum(mole[j] * lam[i][j] for j in n), 1e-12) for i in n]
    return [min(math.exp(1 - math.log(sums[i]) - sum(mole[j] * lam[j][i] / sums[j] for j in n)), MOST) for i in n]
