"""Writes core/emvar_core/knowledge/solvents.json from the `chemicals` and `thermo` packages.

Run by hand when a solvent is added: `.venv/bin/python tools/make_solvents.py`. The file is small and
committed, so neither package is needed at run time. Each row names where its figures come from; what the
packages lack is given here and marked "from memory".
"""

from __future__ import annotations

import json
import math
import re
from pathlib import Path

import numpy as np
from chemicals import MW, TWA, CAS_from_any, T_flash, Tb, search_chemical
from chemicals.solubility import hansen_delta_d, hansen_delta_h, hansen_delta_p
from thermo import SurfaceTension, VaporPressure, ViscosityLiquid, VolumeLiquid

OUT = Path(__file__).parent.parent / "core/emvar_core/knowledge/solvents.json"

# id, name to look up, class; the classes drive the rule for polystyrene and the hazard words.
SOLVENTS = [
    ("water", "water", "water"),
    ("acetone", "acetone", "ketone"),
    ("butanone", "butanone", "ketone"),
    ("methyl_isobutyl_ketone", "methyl isobutyl ketone", "ketone"),
    ("cyclohexanone", "cyclohexanone", "ketone"),
    ("diacetone_alcohol", "diacetone alcohol", "slow_ketone"),
    ("toluene", "toluene", "aromatic"),
    ("o_xylene", "o-xylene", "aromatic"),
    ("trimethylbenzene", "1,2,4-trimethylbenzene", "aromatic"),
    ("methyl_acetate", "methyl acetate", "fast_ester"),
    ("ethyl_acetate", "ethyl acetate", "fast_ester"),
    ("butyl_acetate", "butyl acetate", "slow_ester"),
    ("isobutyl_acetate", "isobutyl acetate", "slow_ester"),
    ("ethyl_lactate", "ethyl lactate", "slow_ester"),
    ("methoxypropyl_acetate", "propylene glycol methyl ether acetate", "slow_ester"),
    ("methanol", "methanol", "alcohol"),
    ("ethanol", "ethanol", "alcohol"),
    ("isopropanol", "isopropanol", "alcohol"),
    ("n_butanol", "1-butanol", "alcohol"),
    ("isobutanol", "isobutanol", "alcohol"),
    ("butyl_glycol", "2-butoxyethanol", "glycol_ether"),
    ("methoxypropanol", "1-methoxy-2-propanol", "glycol_ether"),
    ("dipropylene_glycol_methyl_ether", "dipropylene glycol methyl ether", "glycol_ether"),
    ("propylene_glycol", "propylene glycol", "glycol"),
    ("n_hexane", "n-hexane", "aliphatic"),
    ("heptane", "heptane", "aliphatic"),
    ("nonane", "nonane", "aliphatic"),
    ("decane", "decane", "aliphatic"),
    ("undecane", "undecane", "aliphatic"),
    ("dodecane", "dodecane", "aliphatic"),
    ("pinene", "alpha-pinene", "terpene"),
    ("limonene", "d-limonene", "terpene"),
    ("dimethyl_ether", "dimethyl ether", "ether"),
    ("acetic_acid", "acetic acid", "acid"),
]

# Vapour pressure at 20 °C in Pa where the packages have none (from memory, makers' general literature).
PSAT20_FROM_MEMORY = {
    "methoxypropyl_acetate": 370.0,
    "dipropylene_glycol_methyl_ether": 40.0,
    "ethyl_lactate": 220.0,
}
DENSITY_FROM_MEMORY = {
    "isobutyl_acetate": 0.871,
    "methyl_acetate": 0.932,
    "pinene": 0.858,
    "limonene": 0.842,
    "dimethyl_ether": 0.668,
    "trimethylbenzene": 0.876,
    "butyl_glycol": 0.902,
    "methoxypropanol": 0.922,
    "cyclohexanone": 0.947,
    "diacetone_alcohol": 0.938,
    "methoxypropyl_acetate": 0.966,
    "ethyl_lactate": 1.03,
    "dipropylene_glycol_methyl_ether": 0.951,
}
VISCOSITY_FROM_MEMORY = {
    "methoxypropanol": 1.9,
    "methoxypropyl_acetate": 1.2,
    "dipropylene_glycol_methyl_ether": 3.7,
    "ethyl_lactate": 2.6,
    "diacetone_alcohol": 3.2,
    "butyl_glycol": 3.3,
    "pinene": 1.4,
    "limonene": 0.95,
    "isobutyl_acetate": 0.7,
    "dimethyl_ether": 0.15,
    "trimethylbenzene": 0.94,
    "methyl_isobutyl_ketone": 0.59,
}
FLASH_FROM_MEMORY = {"methoxypropanol": 31.0 + 273.15}

# Diffusion volumes of Fuller, Ensley and Giddings (1966/1969), from memory.
FULLER = {"C": 15.9, "H": 2.31, "O": 6.11, "N": 4.54}
AIR_VOLUME, AIR_MW, RING = 19.7, 28.97, -18.3


def fuller_d_air(formula: str, molar_mass: float, aromatic: bool) -> float:
    """Diffusion coefficient in air at 20 °C and 1 atm, m²/s (Fuller et al., from memory)."""
    volume = sum(FULLER[element] * int(count or 1) for element, count in re.findall(r"([A-Z])(\d*)", formula))
    volume += RING if aromatic else 0.0
    if formula == "H2O":
        volume = 13.1
    reduced = 2.0 / (1.0 / molar_mass + 1.0 / AIR_MW)
    cm2 = 0.00143 * 293.15**1.75 / (1.01325 * reduced**0.5 * (volume ** (1 / 3) + AIR_VOLUME ** (1 / 3)) ** 2)
    return cm2 * 1e-4


def clausius(cas: str, key: str) -> tuple[float, float, str]:
    """A and B of ln(P/Pa) = A − B/T over 0 to 60 °C."""
    boiling = Tb(cas)
    model = VaporPressure(CASRN=cas, Tb=boiling)
    temps = np.linspace(273.15, 333.15, 25)
    values = [model(t) for t in temps]
    if all(values) and key not in PSAT20_FROM_MEMORY:
        slope, intercept = np.polyfit(1 / temps, np.log(values), 1)
        return float(intercept), float(-slope), f"thermo VaporPressure ({model.method}), fitted 0–60 °C"
    b = math.log(101325 / PSAT20_FROM_MEMORY[key]) / (1 / 293.15 - 1 / boiling)
    a = math.log(101325) + b / boiling
    return a, b, "20 °C figure from memory, through the normal boiling point"


def row(key: str, name: str, family: str) -> dict[str, object]:
    cas = CAS_from_any(name)
    found = search_chemical(cas)
    a, b, psat_source = clausius(cas, key)
    molar_mass = MW(cas)
    volume = VolumeLiquid(CASRN=cas).T_dependent_property(293.15)
    tension = SurfaceTension(CASRN=cas, Tb=Tb(cas))(293.15)
    thick = ViscosityLiquid(CASRN=cas, MW=molar_mass).T_dependent_property(293.15)
    if key in VISCOSITY_FROM_MEMORY:
        thick = VISCOSITY_FROM_MEMORY[key] / 1e3
    flash = T_flash(cas) or FLASH_FROM_MEMORY.get(key)
    limit = TWA(cas)
    density = molar_mass / volume / 1e6 if volume else DENSITY_FROM_MEMORY[key]
    return {
        "id": key,
        "name": name,
        "cas": cas,
        "family": family,
        "delta_d": round(hansen_delta_d(cas) / 1e3, 2),
        "delta_p": round(hansen_delta_p(cas) / 1e3, 2),
        "delta_h": round(hansen_delta_h(cas) / 1e3, 2),
        "molar_mass": round(molar_mass, 3),
        "density_g_ml": round(density, 4),
        "boiling_c": round(Tb(cas) - 273.15, 1),
        "flash_c": None if flash is None or key == "water" else round(flash - 273.15, 1),
        "psat_a": round(a, 5),
        "psat_b": round(b, 2),
        "d_air_m2_s": float(f"{fuller_d_air(found.formula, molar_mass, family == 'aromatic'):.4g}"),
        "surface_tension_mn_m": None if tension is None else round(tension * 1e3, 2),
        "viscosity_mpas": round(thick * 1e3, 3),
        "limit_ppm": limit[0] if limit and limit[1] == "ppm" else None,
        "source": f"chemicals {cas}: Hansen, boiling and flash point, exposure limit; {psat_source}; "
        "diffusion in air by Fuller's method (from memory); viscosity "
        + ("from memory" if key in VISCOSITY_FROM_MEMORY else "thermo ViscosityLiquid, 20 °C"),
    }


if __name__ == "__main__":
    rows = [row(*entry) for entry in SOLVENTS]
    OUT.write_text(json.dumps(rows, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
    print(f"{len(rows)} solvents written")
