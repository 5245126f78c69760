"""How a wet film loses its volatile part: flux, cooling, and how long it stays wet.

Flux of each component j = k·x·γ·Psat(Ts)·M/(R·T) with k = D/δ; for water the driving force is
x·Psat(Ts) − RH·Psat(Ta). The film's temperature Ts follows from h·(Ta − Ts) = Σ j·ΔHv, with convection from
the same boundary layer (Chilton–Colburn), long-wave radiation, and conduction from the model behind. Ideal
mixture (γ = 1). Sources and limits: docs/models.md §2.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..knowledge import GAS_CONSTANT as R
from ..knowledge import WATER, Knowledge, Solvent
from ..memory import MEMORY
from .blend import Blend

# Boundary layer by air movement, mm. Still air is fitted to one point: 10 µm of white spirit in 8 min at 20 °C
# (common practice); 25 µm of water at 50 % humidity in 5–10 min tests it. Fan and dryer from memory.
DELTA_MM = {"still": 2.8, "draught": 2.0, "fan": 1.3, "warm_air": 1.0, "cabinet": 2.0}
AIR_CONDUCTIVITY = 0.026  # W/(m·K)
RADIATION = 5.5  # W/(m²·K) at room temperature
# The film counts as flashed off, and its hardening clock starts, when this share of its carrier is left: from
# there on the slow tail leaves through a setting film, which belongs to hardening (assumption).
DRY_SHARE = 0.15
LONGEST_MIN = 30 * 24 * 60.0  # water in saturated air never leaves
_UNITS = MEMORY.door("evaporation of a micrometre", 20_000)


@dataclass(frozen=True)
class Evaporated:
    """Result for a wet film: minutes until flashed off, coldest film temperature, what leaves last."""

    minutes: float
    coldest_c: float
    last: str


def dew_point_c(temp_c: float, rh_pct: float) -> float:
    """Dew point in °C by the Magnus formula (constants of WMO Guide No. 8, from memory).

    >>> round(dew_point_c(20, 50), 1)
    9.3
    """
    rh = max(rh_pct, 0.1) / 100
    g = math.log(rh) + 17.62 * temp_c / (243.12 + temp_c)
    return 243.12 * g / (17.62 - g)


def flux_kg_m2_s(solvent: Solvent, film_c: float, delta_mm: float, activity: float = 1.0) -> float:
    """Evaporative flux of a solvent into air that holds none of it, kg/(m²·s).

    >>> from emvar_core.knowledge import knowledge
    >>> round(flux_kg_m2_s(knowledge().solvents["water"], 20, 5.0) * 1e6)
    84
    """
    transfer = solvent.d_air_m2_s / (delta_mm * 1e-3)
    kelvin = film_c + 273.15
    return transfer * activity * solvent.psat_pa(film_c) * solvent.molar_mass * 1e-3 / (R * kelvin)


def _fluxes(
    solvents: list[Solvent], mole: list[float], film_c: float, temp_c: float, rh: float, delta_mm: float
) -> list[float]:
    fluxes = []
    for solvent, x in zip(solvents, mole, strict=True):
        j = flux_kg_m2_s(solvent, film_c, delta_mm, x)
        if solvent.id == WATER:
            j -= flux_kg_m2_s(solvent, temp_c, delta_mm, rh)
        fluxes.append(j if solvent.id == WATER else max(j, 0.0))
    return fluxes


def film_temperature_c(
    solvents: list[Solvent], mole: list[float], temp_c: float, rh: float, delta_mm: float, back: bool = True
) -> float:
    """Temperature of an evaporating film, °C, where heat in equals heat carried off (bisection, 0.02 K).

    >>> from emvar_core.knowledge import knowledge
    >>> round(film_temperature_c([knowledge().solvents["acetone"]], [1.0], 20, 0.5, 5.0))
    2
    """
    convection = AIR_CONDUCTIVITY / (delta_mm * 1e-3)
    heat_in = convection + RADIATION + (convection if back else 0.0)

    def lost(film_c: float) -> float:
        js = _fluxes(solvents, mole, film_c, temp_c, rh, delta_mm)
        return sum(j * 1e3 * s.heat_j_g for j, s in zip(js, solvents, strict=True))

    low, high = temp_c - 45.0, temp_c
    while high - low > 0.02:
        mid = (low + high) / 2
        if lost(mid) > heat_in * (temp_c - mid):
            high = mid
        else:
            low = mid
    return (low + high) / 2


def evaporate(k: Knowledge, blend: Blend, liquid_um: float, temp_c: float, rh_pct: float, movement: str) -> Evaporated:
    """Minutes until a film's carrier of `liquid_um` has left, at constant air.

    `liquid_um` µm of carrier in one pass, `movement` as in `DELTA_MM`. Steps through the loss in equal shares of the
    volume, so that fast parts leave first and the slow tail is seen. Water in saturated air never leaves: capped at
    30 days. Example: 25 µm of water at 20 °C, 50 % and still air leave in 5 to 10 minutes (common practice).
    """
    if not blend.parts or liquid_um <= 0:
        return Evaporated(0.0, temp_c, "")
    air = (round(temp_c, 1), round(rh_pct))
    unit = _UNITS.once((blend, *air, movement), lambda: _evaporate_unit(k, blend, *air, DELTA_MM[movement]))
    return Evaporated(min(unit.minutes * liquid_um, LONGEST_MIN), unit.coldest_c, unit.last)


def _evaporate_unit(k: Knowledge, blend: Blend, temp_c: float, rh_pct: float, delta_mm: float) -> Evaporated:
    """For one µm of liquid; time is proportional to it while the film lets the liquid out."""
    solvents = [k.solvents[s] for s, _ in blend.parts]
    volume = [share for _, share in blend.parts]  # µm
    seconds, coldest, rh = 0.0, temp_c, rh_pct / 100
    for _ in range(60):
        left = sum(volume)
        if left <= DRY_SHARE:
            break
        moles = [v * s.density_g_ml / s.molar_mass for v, s in zip(volume, solvents, strict=True)]
        mole = [m / sum(moles) for m in moles]
        film_c = film_temperature_c(solvents, mole, temp_c, rh, delta_mm)
        coldest = min(coldest, film_c)
        # µm per second for each: kg/(m²·s) over kg/m³
        rates = [
            j / (s.density_g_ml * 1e3) * 1e6
            for j, s in zip(_fluxes(solvents, mole, film_c, temp_c, rh, delta_mm), solvents, strict=True)
        ]
        total = sum(rate for rate in rates if rate > 0)
        if total <= 1e-7:
            return Evaporated(LONGEST_MIN, coldest, WATER)
        step = 0.06 * left / total
        for i, rate in enumerate(rates):
            if rate > 0 and volume[i] > 1e-9:
                step = min(step, max(volume[i] / rate, 1e-6))
        seconds += step
        volume = [max(v - r * step, 0.0) for v, r in zip(volume, rates, strict=True)]
    last = max(range(len(volume)), key=lambda i: volume[i] / max(blend.parts[i][1], 1e-9))
    return Evaporated(seconds / 60, coldest, solvents[last].id)


def relative_rate(solvent: Solvent, reference: Solvent, temp_c: float = 25.0) -> float:
    """Evaporation rate by volume against a reference solvent in dry air, with cooling (after ASTM D3539).

    >>> from emvar_core.knowledge import knowledge
    >>> s = knowledge().solvents
    >>> round(relative_rate(s["acetone"], s["butyl_acetate"]), 1)
    6.5
    """
    rates = []
    for s in (solvent, reference):
        film_c = film_temperature_c([s], [1.0], temp_c, 0.0, DELTA_MM["draught"])
        rates.append(flux_kg_m2_s(s, film_c, DELTA_MM["draught"]) / s.density_g_ml)
    return rates[0] / rates[1]
