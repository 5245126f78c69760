"""How a wet film loses its volatile part: flux, cooling, and how long it stays wet.

Flux of each component j = k·x·γ·Psat(Ts)·M/(R·T); for water the driving force is x·γ·Psat(Ts) − RH·Psat(Ta). On a
film heat and vapour share a boundary layer (Chilton–Colburn: h/(k·ρ·cp) = Le^⅔, so k = a^⅓·D^⅔/δ with a the thermal
diffusivity of air); at a drop they diffuse (k = D/δ). The film's temperature Ts follows from h·(Ta − Ts) = Σ j·ΔHv,
with convection, long-wave radiation and conduction from the model behind, but a thin film is gone before the plastic
under it gets that cold. Activity coefficients: `activity.py`. Sources and limits: docs/models/drying.md.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..knowledge import GAS_CONSTANT as R
from ..knowledge import WATER, Knowledge, Solvent
from ..memory import MEMORY
from .activity import gammas, table
from .blend import Blend

# Boundary layer by air movement, mm. Still air is fitted to two points that pull apart (common practice): 10 µm of
# white spirit gone in about 8 min, 25 µm of water at 50 % humidity in 5 to 10. Fan and dryer from memory.
DELTA_MM = {"still": 3.3, "draught": 2.4, "fan": 1.5, "warm_air": 1.2, "cabinet": 2.4}
AIR_CONDUCTIVITY = 0.026  # W/(m·K)
AIR_DIFFUSIVITY = 2.1e-5  # thermal, m²/s, at 20 °C
# Polystyrene: W/(m·K), J/(m³·K), and from both the effusivity, W·√s/(m²·K) (general literature). A kit's wall is 1.2 mm
# (assumption), and after half of d²/a the cold has got through it.
CONDUCTS, HEAT_J_M3K, PART_M = 0.13, 1050 * 1400.0, 1.2e-3
EFFUSIVITY = math.sqrt(CONDUCTS * HEAT_J_M3K)
THROUGH_S = 0.5 * PART_M**2 * HEAT_J_M3K / CONDUCTS
RADIATION = 5.5  # W/(m²·K) at room temperature
# The film counts as flashed off, and its hardening clock starts, when this share of its carrier is left: from
# there on the slow tail leaves through a setting film, which belongs to hardening (assumption).
DRY_SHARE = 0.15
PIECES = 6  # of the heat that a film takes, in which its cooling is worked out
LONGEST_MIN = 30 * 24 * 60.0  # water in saturated air never leaves
_UNITS = MEMORY.door("evaporation of a micrometre", 20_000)


@dataclass(frozen=True)
class Evaporated:
    """Result for a wet film: minutes until flashed off, coldest film temperature, what leaves last.

    `residue`: what is left then, as shares by volume of it, in the order of the blend's parts. `heats`: what heat a
    film of a micrometre takes, W/m², each until so many seconds. `steady_c`: what a film is cooled to that never ends.
    """

    minutes: float
    coldest_c: float
    last: str
    residue: tuple[float, ...] = ()
    heats: tuple[tuple[float, float], ...] = ()
    steady_c: float = 0.0


def dew_point_c(temp_c: float, rh_pct: float) -> float:
    """Dew point in °C by the Magnus formula (constants of WMO Guide No. 8, from memory).

    >>> round(dew_point_c(20, 50), 1)
    9.3
    """
    rh = max(rh_pct, 0.1) / 100
    g = math.log(rh) + 17.62 * temp_c / (243.12 + temp_c)
    return 243.12 * g / (17.62 - g)


def transfer_m_s(solvent: Solvent, delta_mm: float, drop: bool = False) -> float:
    """How fast vapour leaves, m/s: through the layer over a film (Chilton–Colburn), or away from a drop (diffusion).

    >>> from emvar_core.knowledge import knowledge
    >>> toluene = knowledge().solvents["toluene"]
    >>> heat = AIR_DIFFUSIVITY / 5e-3  # h/(ρ·cp) through the same layer; their ratio is the psychrometric one
    >>> round(heat / transfer_m_s(toluene, 5.0), 2)
    1.93
    """
    if drop:
        return solvent.d_air_m2_s / (delta_mm * 1e-3)
    return float(AIR_DIFFUSIVITY ** (1 / 3) * solvent.d_air_m2_s ** (2 / 3) / (delta_mm * 1e-3))


def flux_kg_m2_s(
    solvent: Solvent, film_c: float, delta_mm: float, activity: float = 1.0, *, drop: bool = False
) -> float:
    """Evaporative flux of a solvent into air that holds none of it, kg/(m²·s).

    >>> from emvar_core.knowledge import knowledge
    >>> round(flux_kg_m2_s(knowledge().solvents["water"], 20, 5.0) * 1e6)
    80
    """
    return leaving([solvent], film_c, 0.0, delta_mm, drop)[0].net(film_c, activity)


@dataclass(frozen=True)
class Leaving:
    """A solvent on its way into the air. `flux`: what vapour pressure over temperature carries, kg·K/(m²·s·Pa)."""

    solvent: Solvent
    flux: float
    heat_j_kg: float
    from_air: float  # what of it comes back from the air, kg/(m²·s)

    def net(self, film_c: float, activity: float) -> float:
        """Net flux at a film's temperature, kg/(m²·s); water may come out of the air instead."""
        return self.flux * activity * self.solvent.psat_pa(film_c) / (film_c + 273.15) - self.from_air


def leaving(solvents: list[Solvent], temp_c: float, rh: float, delta_mm: float, drop: bool) -> list[Leaving]:
    """Solvents on their way out of a film or a drop, into air of this temperature, °C, and humidity, 0–1."""
    found = []
    for s in solvents:
        flux = transfer_m_s(s, delta_mm, drop) * s.molar_mass * 1e-3 / R
        back = flux * rh * s.psat_pa(temp_c) / (temp_c + 273.15) if s.id == WATER else 0.0
        found.append(Leaving(s, flux, s.heat_j_g * 1e3, back))
    return found


NEAR_K, MOST_COLDER_K, ROUNDS = 1e-3, 45.0, 50  # how near, how far below the air, and how long it is looked for


def _balance_c(gone: list[Leaving], active: list[float], temp_c: float, heat_in: float, start_c: float) -> float:
    """Where heat in equals heat carried off, °C, by Newton's steps.

    What is carried off bends upwards with temperature, so they close in from the warm side.
    """
    parts = [
        (o.flux * a, o.solvent.psat_a, o.solvent.psat_b, o.heat_j_kg, o.from_air)
        for o, a in zip(gone, active, strict=True)
    ]
    film_c = start_c
    for _ in range(ROUNDS):
        kelvin = film_c + 273.15
        off, slope = heat_in * (film_c - temp_c), heat_in
        for flux, psat_a, psat_b, heat, from_air in parts:
            gross = flux * math.exp(psat_a - psat_b / kelvin) / kelvin
            off += (gross - from_air) * heat
            slope += gross * (psat_b / kelvin - 1) / kelvin * heat
        new_c = min(max(film_c - off / slope, temp_c - MOST_COLDER_K), temp_c)
        if abs(new_c - film_c) < NEAR_K:
            return new_c
        film_c = new_c
    return film_c


def _heat_in(delta_mm: float, drop: bool) -> float:
    """W/(m²·K) that come to a film that is cooler than the air; a drop has nothing behind it that warms it."""
    convection = AIR_CONDUCTIVITY / (delta_mm * 1e-3)
    return convection + RADIATION + (0.0 if drop else convection)


def film_temperature_c(
    solvents: list[Solvent], active: list[float], temp_c: float, rh: float, delta_mm: float, drop: bool = False
) -> float:
    """Temperature of an evaporating film, °C, where heat in equals heat carried off.

    `active`: the activity of each part, mole fraction × γ. `rh` 0–1.

    >>> from emvar_core.knowledge import knowledge
    >>> round(film_temperature_c([knowledge().solvents["acetone"]], [1.0], 20, 0.5, 5.0))
    -1
    """
    return _balance_c(leaving(solvents, temp_c, rh, delta_mm, drop), active, temp_c, _heat_in(delta_mm, drop), temp_c)


def evaporate(
    k: Knowledge, blend: Blend, liquid_um: float, temp_c: float, rh_pct: float, movement: str, *, cooled: bool = True
) -> Evaporated:
    """Minutes until a film's carrier of `liquid_um` has left, at constant air.

    `liquid_um` µm of carrier in one pass, `movement` as in `DELTA_MM`. Steps through the loss in equal shares of the
    volume, so that fast parts leave first and the slow tail is seen. Water in saturated air never leaves: capped at
    30 days. Example: 25 µm of water at 20 °C, 50 % and still air leave in 5 to 10 minutes (common practice).
    """
    if not blend.parts or liquid_um <= 0:
        return Evaporated(0.0, temp_c, "")
    air = (round(temp_c, 1), round(rh_pct))
    unit = _UNITS.once(
        (k.signature, blend, *air, movement), lambda: _evaporate_unit(k, blend, *air, DELTA_MM[movement])
    )
    if not cooled:
        return replace(unit, minutes=min(unit.minutes * liquid_um, LONGEST_MIN))
    steady = max(air[0] - unit.steady_c, 1e-6)
    # As it cools it gains more from the air: it closes in on the steady temperature instead of running past it.
    coldest = temp_c - steady * (1 - math.exp(-chilled_k(unit.heats, liquid_um) / steady))
    return replace(unit, minutes=min(unit.minutes * liquid_um, LONGEST_MIN), coldest_c=coldest)


def _evaporate_unit(k: Knowledge, blend: Blend, temp_c: float, rh_pct: float, delta_mm: float) -> Evaporated:
    """For one µm of liquid; time is proportional to it while the film lets the liquid out."""
    solvents = [k.solvents[s] for s, _ in blend.parts]
    volume = [share for _, share in blend.parts]  # µm
    seconds, coldest, rh = 0.0, temp_c, rh_pct / 100
    lam = table(k, solvents, temp_c)
    gone, heat_in, film_c = leaving(solvents, temp_c, rh, delta_mm, False), _heat_in(delta_mm, False), temp_c
    heats: list[tuple[float, float]] = []  # W/m² until so many seconds
    for _ in range(60):
        left = sum(volume)
        if left <= DRY_SHARE:
            break
        moles = [v * s.density_g_ml / s.molar_mass for v, s in zip(volume, solvents, strict=True)]
        mole = [m / sum(moles) for m in moles]
        active = [x * g for x, g in zip(mole, gammas(lam, mole), strict=True)]
        film_c = _balance_c(gone, active, temp_c, heat_in, film_c)
        coldest = min(coldest, film_c)
        fluxes = [o.net(film_c, a) for o, a in zip(gone, active, strict=True)]
        # µm per second for each: kg/(m²·s) over kg/m³
        rates = [j / (s.density_g_ml * 1e3) * 1e6 for j, s in zip(fluxes, solvents, strict=True)]
        total = sum(rate for rate in rates if rate > 0)
        if total <= 1e-7:
            return Evaporated(LONGEST_MIN, coldest, WATER, _shares(volume), _fewer(heats), coldest)
        step = 0.06 * left / total
        for i, rate in enumerate(rates):
            if rate > 0 and volume[i] > 1e-9:
                step = min(step, max(volume[i] / rate, 1e-6))
        seconds += step
        heats.append((seconds, sum(j * o.heat_j_kg for j, o in zip(fluxes, gone, strict=True))))
        volume = [max(v - r * step, 0.0) for v, r in zip(volume, rates, strict=True)]
    last = max(range(len(volume)), key=lambda i: volume[i] / max(blend.parts[i][1], 1e-9))
    return Evaporated(seconds / 60, coldest, solvents[last].id, _shares(volume), _fewer(heats), coldest)


def _shares(volume: list[float]) -> tuple[float, ...]:
    whole = sum(volume) or 1.0
    return tuple(v / whole for v in volume)


def _fewer(heats: list[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
    """The same heat in a few pieces: each as long as several, with their mean."""
    size, pieces, since = max(math.ceil(len(heats) / PIECES), 1), [], 0.0
    for i in range(0, len(heats), size):
        begun, heat = since, 0.0
        for until, watts in heats[i : i + size]:
            heat += watts * (until - since)
            since = until
        pieces.append((since, heat / max(since - begun, 1e-12)))
    return tuple(pieces)


def cooled_by(seconds: float) -> float:
    """How much the face of a part is cooled by 1 W/m² taken from it for so long, K: 2√(t/π)/e while the cold has not
    got through to its back, t/(ρ·c·d) + d/(3λ) from then on (Carslaw and Jaeger, *Conduction of Heat in Solids*, from
    memory).

    >>> round(EFFUSIVITY * cooled_by(math.pi), 6)
    2.0
    """
    if seconds < THROUGH_S:
        return 2 * math.sqrt(seconds / math.pi) / EFFUSIVITY
    return seconds / (HEAT_J_M3K * PART_M) + PART_M / (3 * CONDUCTS)


def chilled_k(heats: tuple[tuple[float, float], ...], liquid_um: float) -> float:
    """How much a film of so many µm cools a part of plastic at most before it is gone, K; times go with its
    thickness.
    """
    most, ends = 0.0, [until * liquid_um for until, _ in heats]
    for now in ends:
        cooled, since = 0.0, 0.0
        for end, (_, watts) in zip(ends, heats, strict=True):
            if since >= now:
                break
            cooled += watts * (cooled_by(now - since) - cooled_by(max(now - end, 0.0)))
            since = end
        most = max(most, cooled)
    return most


def relative_rate(solvent: Solvent, reference: Solvent, temp_c: float = 25.0) -> float:
    """Evaporation rate by volume against a reference solvent in dry air, with cooling (after ASTM D3539).

    >>> from emvar_core.knowledge import knowledge
    >>> s = knowledge().solvents
    >>> round(relative_rate(s["acetone"], s["butyl_acetate"]), 1)
    5.3
    """
    rates = []
    for s in (solvent, reference):
        film_c = film_temperature_c([s], [1.0], temp_c, 0.0, DELTA_MM["draught"])
        rates.append(flux_kg_m2_s(s, film_c, DELTA_MM["draught"]) / s.density_g_ml)
    return rates[0] / rates[1]
