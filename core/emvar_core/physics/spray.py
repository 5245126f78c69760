"""Airbrush, can, brush and sponge: air through the cap, drops, flight, film, and a map over pressure and distance.

Everything is computed over arrays (NumPy), so that a whole map costs as much as a few points. Pressures are gauge, in
kPa, read with the trigger open; distances in mm. Limits: docs/models.md §5.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..errors import OutOfRange
from ..knowledge import Coat, Knowledge
from ..plan import Air
from ..vocabulary import FilmClass, SprayZone, Use
from .blend import Blend
from .cup import Cup
from .evaporation import evaporate
from .flight import loss_rates
from .viscosity import Thickness

Grid = NDArray[np.float64]
SEA_LEVEL_KPA = 101.325
GAMMA, R_AIR = 1.4, 287.05
# Effective open area of the air cap by nozzle, mm² (assumption: about 10 L/min of free air at 1 bar for 0.3 mm).
CAP_MM2 = {0.15: 0.28, 0.2: 0.32, 0.3: 0.42, 0.35: 0.46, 0.4: 0.5, 0.5: 0.6, 0.8: 1.2}
# Liquid at full trigger and 1 bar for thin paint, mL/min (common practice, ×÷2).
FLOW_ML_MIN = {0.15: 0.3, 0.2: 0.5, 0.3: 1.5, 0.35: 2.0, 0.4: 2.7, 0.5: 4.0, 0.8: 9.0}
THIN_MPAS = 5.0
JET_DECAY = 6.2  # centreline velocity of a round jet, U/U0 = K·d/x (turbulent jets; general literature, from memory)
SPREAD = 0.22  # width of the pattern per distance (assumption: a cone of about 12 to 13 degrees)
NARROWEST_MM = 1.2
# Volume shares of the spray in five classes of drop, as multiples of the mean (a distribution, since N–T gives a mean).
CLASSES: tuple[float, ...] = (0.45, 0.7, 0.95, 1.25, 1.75)
FRICTION = 0.006  # of air along the wet film (assumption)
# Where areas of the map begin. One point each was fitted (docs/models.md §5); the others of practice test them.
SPATTER_UM = 75.0
DRY_LOSS = 0.37
SPIDER_MM, RUN_MM, POOL_UM = 0.9, 2.5, 60.0
WETTEST_UM = 26.0
PINNED_UM = 8.0
USUAL_WIDTH_MM = {"small": 4.0, "side": 16.0}  # a pattern narrower than this takes for ever on such a part
SAFE, FINE_UM, USUAL_KPA = 0.3, 20.0, 100.0  # what the recommended point leans to (common practice)
TOLERABLE = 0.25  # of score lost while straying; a film half as much again or a third less (assumption)
SPEEDS_MM_S = (40.0, 60.0, 80.0, 110.0, 150.0)
# Thicker than this at a pressure, it comes in spatter: N–T, which knows no nozzle, misses that. mPa·s per kPa.
SPATTER_MPAS_KPA = 0.45
TARGET_UM = {Use.CLEAR: 15.0, Use.PRIMER: 9.0, Use.COLOUR: 7.0}  # wet film of a pass that is aimed at (common practice)
SETS_S = 8.0
PART_SHARE = {"small": 0.4, "side": 0.6}


ZONES: tuple[SprayZone, ...] = tuple(SprayZone)
LETTER_OF = dict(zip(ZONES, "gdowr", strict=True))  # on a map, one letter a point


@dataclass(frozen=True)
class Gun:
    """An airbrush as it is set. `trigger` 0–1 opens the liquid; `flow_ml_min`: a timed cup wins over the nozzle."""

    nozzle_mm: float = 0.3
    trigger: float = 0.6
    external_mix: bool = False
    flow_ml_min: float | None = None


@dataclass(frozen=True)
class Hand:
    """How the hand moves: mm/s along the part. `part`: small open parts catch less of the spray than large sides."""

    speed_mm_s: float = 80.0
    part: str = "side"


@dataclass(frozen=True)
class Paint:
    """What is in the cup, for spraying: viscosity mPa·s, density g/mL, surface tension mN/m, solids 0–1."""

    carrier: Blend
    mpas: float
    density_g_ml: float
    tension_mn_m: float
    solids: float
    film: FilmClass
    target_um: float = 7.0


@dataclass(frozen=True)
class Field:
    """Everything computed over a grid of pressures (rows) and distances (columns)."""

    pressure_kpa: Grid
    distance_mm: Grid
    flow_ml_min: Grid
    drop_um: Grid
    loss: Grid
    width_mm: Grid
    film_um: Grid
    dry_um: Grid
    push_mm: Grid
    run_mm: Grid
    zone: NDArray[np.int8]
    score: Grid


def nearest(table: dict[float, float], nozzle_mm: float) -> float:
    """A table's value at a nozzle size, by straight lines between its entries.

    >>> round(nearest({0.2: 1.0, 0.4: 3.0}, 0.3), 3)
    2.0
    """
    sizes = sorted(table)
    if not sizes[0] <= nozzle_mm <= sizes[-1]:
        raise OutOfRange(f"nozzle_mm: {nozzle_mm:g} is outside {sizes[0]:g} to {sizes[-1]:g} mm")
    return float(np.interp(nozzle_mm, sizes, [table[s] for s in sizes]))


def ambient_kpa(altitude_m: float) -> float:
    """Pressure of the standard atmosphere, kPa (ISO 2533, from memory): 101.325·(1 − 2.25577e−5·h)^5.25588.

    >>> round(ambient_kpa(1500), 1)
    84.6
    """
    return float(SEA_LEVEL_KPA * (1 - 2.25577e-5 * altitude_m) ** 5.25588)


def air_flow(gauge_kpa: Any, area_mm2: float, temp_c: float = 20.0, altitude_m: float = 0.0) -> tuple[Grid, Grid]:
    """Mass flow, kg/s, and speed at the cap, m/s, of isentropic flow from a tank; speed saturates once choked.

    Shapes follow `gauge_kpa`. Example: choked mass flux at 300 kPa absolute and 15 °C is 0.04042·p0/√T0 = 714 kg/(m²s).

    >>> flow, speed = air_flow(100.0, 1.0)
    >>> round(float(flow) * 1e3, 3), round(float(speed))
    (0.475, 313)
    """
    pa = ambient_kpa(altitude_m) * 1e3
    p0 = np.asarray(gauge_kpa, dtype=float) * 1e3 + pa
    t0 = temp_c + 273.15
    ratio = np.maximum(pa / p0, (2 / (GAMMA + 1)) ** (GAMMA / (GAMMA - 1)))  # at the throat
    speed = np.sqrt(2 * GAMMA / (GAMMA - 1) * R_AIR * t0 * (1 - ratio ** ((GAMMA - 1) / GAMMA)))
    density = p0 / (R_AIR * t0) * ratio ** (1 / GAMMA)
    return density * speed * area_mm2 * 1e-6, speed


def mean_drop_um(speed_m_s: Any, tension_mn_m: float, density_g_ml: float, mpas: float, liquid_to_air: Any) -> Grid:
    """Sauter mean diameter, µm, after Nukiyama and Tanasawa (1939), in Lefebvre & McDonell, *Atomization and Sprays*.

    585/U·√(σ/ρ) + 597·(μ/√(σρ))^0.45·(1000·Ql/Qa)^1.5 with σ dyn/cm, ρ g/cm³, μ poise, U m/s; Ql/Qa by volume.

    >>> round(float(mean_drop_um(200.0, 30.0, 1.0, 5.0, 0.0)), 1)
    16.0
    """
    poise = mpas / 100
    first = 585 / np.maximum(np.asarray(speed_m_s, dtype=float), 1.0) * math.sqrt(tension_mn_m / density_g_ml)
    second = 597 * (poise / math.sqrt(tension_mn_m * density_g_ml)) ** 0.45
    return np.asarray(first + second * (1000 * np.asarray(liquid_to_air, dtype=float)) ** 1.5)


def liquid_ml_min(gun: Gun, mpas: float, gauge_kpa: Any) -> Grid:
    """Liquid through the needle, mL/min: nozzle at full trigger, less for thick paint, more for more suction.

    By the nozzle ×÷2 (common practice); a timed cup (`flow_ml_min`, at 100 kPa and full trigger) wins.

    >>> float(liquid_ml_min(Gun(flow_ml_min=2.0, trigger=0.5), 5.0, 100.0))
    1.0
    """
    full = gun.flow_ml_min if gun.flow_ml_min is not None else nearest(FLOW_ML_MIN, gun.nozzle_mm)
    if gun.flow_ml_min is None:
        full *= min(math.sqrt(THIN_MPAS / max(mpas, 0.3)), 1.6)
    return np.asarray(full * gun.trigger * np.sqrt(np.maximum(np.asarray(gauge_kpa, dtype=float), 1.0) / 100.0))


def paint_of(k: Knowledge, coat: Coat, cup: Cup, thick: Thickness) -> Paint:
    """What is in the cup, for spraying: a coat's mix and how thick it is."""
    known = [(share, k.solvents[s].surface_tension_mn_m) for s, share in cup.carrier.parts]
    tension = sum(share * (t if t is not None else 28.0) for share, t in known) or 30.0
    if cup.carrier.water > 0.5:
        tension = min(tension, 38.0)  # surfactants of water-borne paint (assumption)
    target = TARGET_UM.get(coat.use, 5.0)
    film = k.systems[coat.system].film
    return Paint(cup.carrier, thick.mpas, thick.density_g_ml, tension, cup.volume_solids, film, target)


def field(
    k: Knowledge,
    paint: Paint,
    gun: Gun,
    hand: Hand,
    air: Air,
    pressures_kpa: Grid,
    distances_mm: Grid,
    altitude_m: float = 0.0,
) -> Field:
    """Everything that happens at each pressure and distance. Arrays have the shape (pressures, distances)."""
    if not 0 < gun.trigger <= 1:
        raise OutOfRange(f"trigger: {gun.trigger:g} is not between 0 and 1")
    if not 1 <= hand.speed_mm_s <= 1000:
        raise OutOfRange(f"speed_mm_s: {hand.speed_mm_s:g} is outside 1 to 1000 mm/s")
    p, x = np.meshgrid(np.asarray(pressures_kpa, float), np.asarray(distances_mm, float), indexing="ij")
    area = nearest(CAP_MM2, gun.nozzle_mm) * (1.6 if gun.external_mix else 1.0)
    mass, u0 = air_flow(p, area, air.temp_c, altitude_m)
    rho_air = ambient_kpa(altitude_m) * 1e3 / (R_AIR * (air.temp_c + 273.15))
    flow = liquid_ml_min(gun, paint.mpas, p)
    q_liquid, q_air = flow / 60e6, mass / rho_air
    drop = mean_drop_um(u0, paint.tension_mn_m, paint.density_g_ml, paint.mpas, q_liquid / q_air)
    # The jet: its momentum spreads over a widening cone; speed falls as one over distance past the core.
    d_jet = np.sqrt(4 * mass * u0 / (math.pi * rho_air)) / u0  # of a jet of room air with the same momentum
    metres = x * 1e-3
    core = JET_DECAY * d_jet
    speed = u0 * np.minimum(1.0, core / metres)
    flight = np.where(metres <= core, metres / u0, core / u0 + (metres**2 - core**2) / (2 * u0 * core))
    loss = _loss(k, paint, drop, flight, speed, air)
    width = np.maximum(x * SPREAD, NARROWEST_MM)
    share = PART_SHARE[hand.part] * np.exp(-x / 400.0)
    landed = q_liquid * share * (1 - loss * (1 - paint.solids))
    film = landed / (width * 1e-3 * hand.speed_mm_s * 1e-3) * 1e6
    dry = q_liquid * share * paint.solids / (width * 1e-3 * hand.speed_mm_s * 1e-3) * 1e6
    thick = paint.mpas * 1e-3 * _thickened(paint, loss)
    dwell = width / hand.speed_mm_s
    shear = FRICTION * 0.5 * rho_air * speed**2
    # A film of a few µm sets and wets the ground before it can be pushed far (assumption).
    push = shear * film * 1e-6 / thick * dwell * 1e3 * np.minimum(film / PINNED_UM, 1.0)
    run = paint.density_g_ml * 1e3 * 9.81 * (film * 1e-6) ** 2 / (2 * thick) * SETS_S * 1e3
    zone, score = _zones(paint, p, drop, loss, film, push, run)
    score = score - 0.5 * np.maximum(np.log(USUAL_WIDTH_MM[hand.part] / width), 0)
    return Field(p, x, flow, drop, loss, width, film, dry, push, run, zone, score)


def lifetime_constant_m2_s(k: Knowledge, carrier: Blend, drop_um: float, air: Air) -> float:
    """K of the d²-law, d² = d0² − K·t, m²/s, of a whole drop at rest while it is as it was at first.

    A loss of d(V)/V = r/d²·dt is K = ⅔·r.
    """
    return 2 / 3 * sum(share * rate for share, rate in loss_rates(k, carrier, drop_um, air))


def _loss(k: Knowledge, paint: Paint, drop: Grid, flight: Grid, speed: Grid, air: Air) -> Grid:
    """Share of the carrier lost on the way, over the classes of drop, with the wind of its own flight."""
    rates = loss_rates(k, paint.carrier, float(np.median(drop)), air)
    lost = np.zeros_like(drop)
    for factor in CLASSES:
        d = drop * factor * 1e-6
        slip = 0.15 * speed  # drops follow the jet but for a share of its speed (assumption)
        wind = 1 + 0.3 * np.sqrt(slip * d / 1.5e-5) * 1.1  # Ranz–Marshall, Sc^⅓ of about 1.1 to 1.2 (from memory)
        exposed = wind * flight / np.maximum(d, 1e-7) ** 2
        for share, rate in rates:
            lost += share * (1 - np.exp(-rate * exposed)) / len(CLASSES)
    return np.minimum(lost, 0.999)


def _thickened(paint: Paint, loss: Grid) -> Grid:
    """How much thicker the paint lands than it was in the cup, its solids raised by what evaporated on the way."""
    landed = paint.solids / (paint.solids + (1 - paint.solids) * (1 - loss))
    return np.exp(np.minimum(14.0 * (landed - paint.solids), 12.0))


def _zones(
    paint: Paint, pressure: Grid, drop: Grid, loss: Grid, film: Grid, push: Grid, run: Grid
) -> tuple[NDArray[np.int8], Grid]:
    """The area of each point, and how well it serves: inside its area, near the film aimed at, fine, as is usual."""
    grainy = np.maximum(drop / SPATTER_UM, paint.mpas / (SPATTER_MPAS_KPA * pressure))
    dry = loss / DRY_LOSS
    runs = np.maximum.reduce([push / SPIDER_MM, run / RUN_MM, film / POOL_UM])
    wet = film / WETTEST_UM
    zone = np.full(drop.shape, ZONES.index(SprayZone.GOOD), dtype=np.int8)
    zone[wet > 1] = ZONES.index(SprayZone.WET)
    zone[dry > 1] = ZONES.index(SprayZone.DRY)
    zone[grainy > 1] = ZONES.index(SprayZone.GRAINY)
    zone[runs > 1] = ZONES.index(SprayZone.RUNS)
    off = np.abs(np.log(np.maximum(film, 1e-3) / paint.target_um)) / 1.6  # too little or too much lands at a pass
    inside = 1 - np.maximum.reduce([grainy, dry, runs, wet])
    # A third inside is safe enough; then the film that is aimed at counts, fine drops, and the pressure people use.
    usual = np.abs(np.log(pressure / USUAL_KPA))
    coarse = np.maximum(drop / FINE_UM - 1, 0)
    return zone, np.minimum(inside, SAFE) / SAFE * 0.5 + (1 - off) - 0.3 * usual - 0.5 * coarse


PRESSURES_KPA = np.linspace(20, 280, 60)
DISTANCES_MM = np.linspace(10, 300, 80)


@dataclass(frozen=True)
class Point:
    """One setting, and what happens there. `tolerance`: how far pressure and distance may stray and stay good."""

    pressure_kpa: float
    distance_mm: float
    zone: SprayZone
    drop_um: float
    loss: float
    film_um: float
    dry_um: float
    width_mm: float
    flow_ml_min: float
    pressure_range_kpa: tuple[float, float]
    distance_range_mm: tuple[float, float]


def at_point(
    k: Knowledge, paint: Paint, gun: Gun, hand: Hand, air: Air, pressure_kpa: float, distance_mm: float,
    altitude_m: float = 0.0,
) -> Point:  # fmt: skip
    """What happens at one pressure and distance."""
    f = field(k, paint, gun, hand, air, np.array([pressure_kpa]), np.array([distance_mm]), altitude_m)
    return _point(f, 0, 0, (pressure_kpa, pressure_kpa), (distance_mm, distance_mm))


def _point(f: Field, i: int, j: int, pressures: tuple[float, float], distances: tuple[float, float]) -> Point:
    return Point(
        float(f.pressure_kpa[i, j]), float(f.distance_mm[i, j]), ZONES[int(f.zone[i, j])], float(f.drop_um[i, j]),
        float(f.loss[i, j]), float(f.film_um[i, j]), float(f.dry_um[i, j]), float(f.width_mm[i, j]),
        float(f.flow_ml_min[i, j]), pressures, distances,
    )  # fmt: skip


def recommended(f: Field, most_kpa: float = 1e9) -> Point | None:
    """The good point that serves best, and how far one may stray from it; None where nothing is good.

    `most_kpa`: what the compressor reaches.
    """
    good = (f.zone == ZONES.index(SprayZone.GOOD)) & (f.pressure_kpa <= most_kpa)
    if not good.any():
        return None
    score = np.where(good, f.score, -np.inf)
    i, j = np.unravel_index(int(np.argmax(score)), score.shape)
    near = good & (score >= score[i, j] - TOLERABLE)
    rows, columns = _run(near[:, j], int(i)), _run(near[i, :], int(j))
    return _point(
        f, int(i), int(j),
        (float(f.pressure_kpa[rows[0], j]), float(f.pressure_kpa[rows[1], j])),
        (float(f.distance_mm[i, columns[0]]), float(f.distance_mm[i, columns[1]])),
    )  # fmt: skip


def _run(line: NDArray[np.bool_], at: int) -> tuple[int, int]:
    low = high = at
    while low > 0 and line[low - 1]:
        low -= 1
    while high + 1 < len(line) and line[high + 1]:
        high += 1
    return low, high


@dataclass(frozen=True)
class Laying:
    """How to lay a wanted film: coats with pauses between, strokes in each, minutes at the gun for an area.

    A stroke overlaps the last by half, so that every place is met twice.
    """

    coats: int
    strokes: int
    pause_min: float
    dry_per_coat_um: float
    spray_min: float | None
    words: str


WETTEST_COAT_UM = 40.0


def laying(
    k: Knowledge, paint: Paint, point: Point, hand: Hand, air: Air, dry_film_um: float, area_cm2: float | None
) -> Laying:
    """Coats, strokes, pauses and time at a point for a dry film over an area; no time where the area is not given.

    A coat is as wet as does not sag on an upright face while it sets, at most 40 µm; the pause lets most of it leave.
    """
    thick = paint.mpas * 1e-3
    sags = math.sqrt(RUN_MM * 1e-3 * 2 * thick / (paint.density_g_ml * 1e3 * 9.81 * SETS_S)) * 1e6 * 1.5
    wet_coat = min(max(sags, 12.0), WETTEST_COAT_UM)
    per_stroke = max(point.film_um * 2, 1e-3)
    strokes = max(round(wet_coat / per_stroke), 1)
    per_coat = point.dry_um * 2 * strokes
    coats = max(math.ceil(dry_film_um / max(per_coat, 1e-3) - 0.1), 1)
    liquid = per_stroke * strokes * (1 - paint.solids)
    pause = min(max(evaporate(k, paint.carrier, liquid, air.temp_c, air.rh_pct, air.movement.value).minutes, 0.5), 60)
    stroke_cm2_min = point.width_mm / 2 * hand.speed_mm_s * 60 / 100
    minutes = None if area_cm2 is None else area_cm2 / stroke_cm2_min * strokes * coats + pause * (coats - 1)
    said = f"{coats} {'coat' if coats == 1 else 'coats'} of {strokes} {'stroke' if strokes == 1 else 'strokes'}"
    if coats > 1:
        said += f", {pause:.0f} min apart" if pause >= 1 else ", a moment apart"
    return Laying(coats, strokes, pause, per_coat, minutes, said + ".")


def best_setting(
    k: Knowledge,
    paint: Paint,
    gun: Gun,
    part: str,
    air: Air,
    most_kpa: float = 1e9,
    altitude_m: float = 0.0,
    pressures_kpa: Grid | None = None,
) -> tuple[Point, Hand] | None:
    """The best pressure, distance and speed of hand for a gun as it is; None where nothing is good.

    `pressures_kpa`: those there are, if not all.
    """
    pressures_kpa = PRESSURES_KPA if pressures_kpa is None else pressures_kpa
    best: tuple[float, Point, Hand] | None = None
    for speed in SPEEDS_MM_S:
        hand = Hand(speed, part)
        f = field(k, paint, gun, hand, air, pressures_kpa, DISTANCES_MM, altitude_m)
        point = recommended(f, most_kpa)
        if point is None:
            continue
        good = (f.zone == ZONES.index(SprayZone.GOOD)) & (f.pressure_kpa <= most_kpa)
        score = float(np.where(good, f.score, -np.inf).max())
        if best is None or score > best[0]:
            best = (score, point, hand)
    return None if best is None else (best[1], best[2])


def one_knob(
    k: Knowledge, paint: Paint, gun: Gun, hand: Hand, air: Air, pressure_kpa: float, distance_mm: float
) -> list[tuple[str, str]]:
    """What to turn if all but one thing stays: (knob, what to do), those that lead to good, nearest change first."""
    knobs: list[tuple[float, str, str]] = []

    def try_(knob: str, value: float, now: float, words: str, **change: Any) -> None:
        g = replace(gun, **{f: v for f, v in change.items() if f in ("trigger", "nozzle_mm")})
        h = replace(hand, **{f: v for f, v in change.items() if f == "speed_mm_s"})
        p = replace(paint, **{f: v for f, v in change.items() if f in ("mpas", "solids")})
        at = at_point(k, p, g, h, air, change.get("pressure_kpa", pressure_kpa), change.get("distance_mm", distance_mm))
        if at.zone is SprayZone.GOOD:
            knobs.append((abs(math.log(value / now)), knob, words))

    # Tried as they are said, rounded: what is told has to be what was found good.
    for v in sorted({round(v, -1) for v in np.geomspace(25, 260, 20)}):
        try_("pressure", v, pressure_kpa, f"set {v / 100:.1f} bar", pressure_kpa=float(v))
    for v in sorted({round(v, -1) for v in np.geomspace(15, 280, 20)}):
        try_("distance", v, distance_mm, f"hold it {v / 10:.0f} cm away", distance_mm=float(v))
    for v in (0.15, 0.25, 0.4, 0.6, 0.8, 1.0):
        try_("trigger", v, gun.trigger, f"open the trigger to {v:.0%}", trigger=v)
    for v in sorted({round(v, -1) for v in np.geomspace(20, 400, 14)}):
        try_("speed", v, hand.speed_mm_s, f"move at {v / 10:.0f} cm a second", speed_mm_s=float(v))
    best: dict[str, tuple[float, str]] = {}
    for change_, knob, words in sorted(knobs):
        best.setdefault(knob, (change_, words))
    return [(knob, words) for knob, (_, words) in sorted(best.items(), key=lambda b: b[1][0])]
