"""Airbrush, can, brush and sponge: air through the cap, drops, flight, film, and a map over pressure and distance.

Everything is computed over arrays (NumPy), so that a whole map costs as much as a few points. Pressures are gauge, in
kPa, read with the trigger open; distances in mm. Limits: docs/models/airbrush.md.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..errors import OutOfRange
from ..keys import content
from ..knowledge import Coat, Knowledge
from ..memory import MEMORY
from ..plan import Air
from ..vocabulary import FilmClass, Purpose, SprayZone, Use
from .blend import Blend, Cup
from .evaporation import evaporate
from .flight import loss_rates, water_rates
from .viscosity import Thickness

Grid = NDArray[np.float64]
_FIELDS = MEMORY.door("spray over pressures and distances", 600)
SEA_LEVEL_KPA = 101.325
GAMMA, R_AIR = 1.4, 287.05
# Effective open area of the air cap by nozzle, mm² (assumption: about 10 L/min of free air at 1 bar for 0.3 mm).
CAP_MM2 = {0.15: 0.28, 0.2: 0.32, 0.3: 0.42, 0.35: 0.46, 0.4: 0.5, 0.5: 0.6, 0.8: 1.2}
# Liquid at full trigger and 1 bar for thin paint, mL/min (common practice, ×÷2).
FLOW_ML_MIN = {0.15: 0.3, 0.2: 0.5, 0.3: 1.5, 0.35: 2.0, 0.4: 2.7, 0.5: 4.0, 0.8: 9.0}
THIN_MPAS = 5.0
JET_DECAY = 6.2  # centreline velocity of a round jet, U/U0 = K·d/x (turbulent jets; general literature, from memory)
SPREAD = 0.22  # width of the pattern per distance with the trigger open (assumption: a cone of about 12 to 13 degrees)
HARDLY_OPEN = 0.45  # of that width, where the trigger is hardly open (assumption)
NARROWEST = 4.0  # times the nozzle, as narrow as a pattern gets (assumption)
# Volume shares of the spray in five classes of drop, as multiples of the mean (a distribution, since the formula gives
# a mean).
CLASSES: tuple[float, ...] = (0.45, 0.7, 0.95, 1.25, 1.75)
EXTERNAL_COARSER = 1.6  # paint met by the air outside the cap is torn less finely (assumption)
JET_OPENS = 0.25  # how the jet of liquid widens as the needle is drawn back, as a power of the trigger (assumption)
FRICTION = 0.006  # of air along the wet film (assumption)
AIR_PA_S = 1.8e-5
# What of the drops that fly at a part hits it: Stk²/(Stk + ¼)², an impactor (Hinds, Aerosol Technology; from memory).
IMPACT = 0.25
# Of a spray that is aimed at it, what a part meets at most: small open parts are missed by much (assumption).
PART_MEETS = {"small": 0.45, "side": 0.75}
# Where areas of the map begin. One point each was fitted (docs/models/airbrush.md); the others of practice test them.
SPATTER_UM = 75.0
# Of the carrier, of a dispersion of its water, lost in flight, from which it lands as grit: a lacquer still melts
# together, a dispersion no more; alcohol that was put in to thin it may go.
DRY_LOSS = {FilmClass.DISPERSION: 0.12, FilmClass.OXIDISING: 0.15}
DRY_LOSS_ELSE = 0.42
SPIDER_MM, RUN_MM, POOL_UM = 1.3, 2.5, 60.0
WETTEST_UM = 26.0
PINNED_UM = 8.0
# Thicker than this at a pressure, it comes in spatter, mPa·s per kPa through 0.3 mm; a wider nozzle bears more.
SPATTER_MPAS_KPA = 0.45
DRAWS_KPA = 30.0
TARGET_UM = {Use.CLEAR: 9.0, Use.PRIMER: 7.0, Use.COLOUR: 5.0}  # wet film of a stroke that is aimed at (practice)
SETS_S = 8.0
SMALL = 0.35  # of the width of a pattern on a side, that suits a small part (common practice)


@dataclass(frozen=True)
class Aim:
    """What spraying is for: the width of the pattern, the wet film of a stroke (None: as its use), how fine the drops,
    between which speeds of the hand and openings of the trigger, and how much drier than an even coat it may land.
    """

    width_mm: float
    film_um: float | None
    drop_um: float
    speeds_mm_s: tuple[float, float]
    triggers: tuple[float, float]
    drier: float = 1.0
    air: float = 1.0  # how little the air may stir the part
    takes_wet: bool = False  # whether a stroke may lie so wet that it flows out
    most_kpa: float = 250.0  # harder, nobody does it: the paint wants to be thinner (common practice)

    @property
    def usual_trigger(self) -> float:
        return math.sqrt(self.triggers[0] * self.triggers[1])

    @property
    def usual_pace(self) -> float:
        return math.sqrt(self.speeds_mm_s[0] * self.speeds_mm_s[1])


# Common practice but for the drops, which are an assumption.
AIMS = {
    Purpose.EVEN: Aim(20.0, None, 17.0, (50.0, 160.0), (0.35, 0.8)),
    Purpose.GLOSS: Aim(12.0, 15.0, 28.0, (60.0, 140.0), (0.6, 1.0), air=1.5, takes_wet=True),
    Purpose.LINE: Aim(2.0, 4.0, 11.5, (15.0, 90.0), (0.04, 0.25), most_kpa=130.0),
    Purpose.MOTTLE: Aim(6.0, 4.0, 13.5, (30.0, 130.0), (0.08, 0.3), most_kpa=150.0),
    Purpose.PRESHADE: Aim(8.0, 5.0, 14.5, (40.0, 150.0), (0.12, 0.4), most_kpa=160.0),
    Purpose.DUST: Aim(32.0, 2.0, 14.5, (60.0, 200.0), (0.15, 0.6), drier=1.7),
}


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
    """How the hand moves: mm/s along the part. `part`: small open parts catch less of the spray than large sides.

    `purpose`: what it is for; a pattern of `width_mm`, where somebody wants another one than is usual for it.
    """

    speed_mm_s: float = 80.0
    part: str = "side"
    purpose: Purpose = Purpose.EVEN
    width_mm: float | None = None

    @property
    def aim(self) -> Aim:
        aim = AIMS[self.purpose]
        usual = aim.width_mm * (SMALL if self.part == "small" and self.purpose in WIDE else 1.0)
        return replace(aim, width_mm=self.width_mm or usual)


WIDE = (Purpose.EVEN, Purpose.GLOSS, Purpose.DUST)  # what is narrower on a small part


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
    speed_mm_s: Grid
    share: Grid
    edge: Grid  # how near spatter, dust or runs are: 1 is their edge


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


def mean_drop_um(
    nozzle_mm: float, speed_m_s: Any, air_kg_m3: Any, tension_mn_m: float, density_g_ml: float, mpas: float,
    air_to_liquid: Any,
) -> Grid:  # fmt: skip
    """Sauter mean diameter, µm, after Rizk and Lefebvre (1984), plain-jet airblast, in Lefebvre & McDonell,
    *Atomization and Sprays* (from memory).

    d·[0.48·(σ/(ρA·U²·d))^0.4·(1 + 1/ALR)^0.4 + 0.15·(μ²/(σ·ρL·d))^0.5·(1 + 1/ALR)] in SI units, d the jet of liquid,
    ALR by mass. Made for jets of about half a millimetre; an airbrush lies at its lower end.

    >>> round(float(mean_drop_um(0.3, 250.0, 1.2, 30.0, 1.0, 10.0, 12.0)), 1)
    15.7
    """
    d, sigma, mu, rho = nozzle_mm * 1e-3, tension_mn_m * 1e-3, mpas * 1e-3, density_g_ml * 1e3
    speed = np.maximum(np.asarray(speed_m_s, dtype=float), 1.0)
    loaded = 1 + 1 / np.maximum(np.asarray(air_to_liquid, dtype=float), 1e-3)
    inertia = 0.48 * (sigma / (np.asarray(air_kg_m3, dtype=float) * speed**2 * d)) ** 0.4 * loaded**0.4
    viscous = 0.15 * math.sqrt(mu**2 / (sigma * rho * d)) * loaded
    return np.asarray(d * 1e6 * (inertia + viscous))


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
    *,
    paced: bool = False,
) -> Field:
    """Everything that happens at each pressure and distance. Arrays have the shape (pressures, distances).

    `paced`: the hand moves as fast as lays the film that is aimed at, within what hands do, at each point for itself.
    """
    over = (tuple(map(float, pressures_kpa)), tuple(map(float, distances_mm)))
    key = content((k.signature, paint, gun, hand, air, altitude_m, paced, over))
    made: Field = _FIELDS.once(
        key, lambda: _field(k, paint, gun, hand, air, pressures_kpa, distances_mm, altitude_m, paced)
    )
    return made


def _field(
    k: Knowledge, paint: Paint, gun: Gun, hand: Hand, air: Air, pressures_kpa: Grid, distances_mm: Grid,
    altitude_m: float, paced: bool,
) -> Field:  # fmt: skip
    if not 0 < gun.trigger <= 1:
        raise OutOfRange(f"trigger: {gun.trigger:g} is not between 0 and 1")
    if not 1 <= hand.speed_mm_s <= 1000:
        raise OutOfRange(f"speed_mm_s: {hand.speed_mm_s:g} is outside 1 to 1000 mm/s")
    p, x = np.meshgrid(np.asarray(pressures_kpa, float), np.asarray(distances_mm, float), indexing="ij")
    aim = hand.aim
    area = nearest(CAP_MM2, gun.nozzle_mm) * (1.6 if gun.external_mix else 1.0)
    mass, u0 = air_flow(p, area, air.temp_c, altitude_m)
    rho_air = ambient_kpa(altitude_m) * 1e3 / (R_AIR * (air.temp_c + 273.15))
    flow = liquid_ml_min(gun, paint.mpas, p)
    q_liquid = flow / 60e6
    jet = gun.nozzle_mm * gun.trigger**JET_OPENS
    drop = mean_drop_um(
        jet, u0, mass / (area * 1e-6 * u0), paint.tension_mn_m, paint.density_g_ml, paint.mpas,
        mass / (q_liquid * paint.density_g_ml * 1e3),
    ) * (EXTERNAL_COARSER if gun.external_mix else 1.0)  # fmt: skip
    # The jet: its momentum spreads over a widening cone; speed falls as one over distance past the core.
    d_jet = np.sqrt(4 * mass * u0 / (math.pi * rho_air)) / u0  # of a jet of room air with the same momentum
    metres = x * 1e-3
    core = JET_DECAY * d_jet
    speed = u0 * np.minimum(1.0, core / metres)
    flight = np.where(metres <= core, metres / u0, core / u0 + (metres**2 - core**2) / (2 * u0 * core))
    loss, dries = _loss(k, paint, drop, flight, speed, air)
    opened = HARDLY_OPEN + (1 - HARDLY_OPEN) * math.sqrt(gun.trigger)
    width = np.maximum(x * SPREAD * opened, NARROWEST * gun.nozzle_mm)
    share = PART_MEETS[hand.part] * _hits(paint, drop, speed, width)
    landed = q_liquid * share * (1 - loss * (1 - paint.solids))  # m³/s
    target = aim.film_um or paint.target_um
    pace: Any = hand.speed_mm_s
    if paced:
        pace = np.clip(landed / (width * 1e-3 * target * 1e-6) * 1e3, *aim.speeds_mm_s)
    swept = width * 1e-3 * pace * 1e-3
    film = landed / swept * 1e6
    dry = q_liquid * share * paint.solids / swept * 1e6
    thick = paint.mpas * 1e-3 * _thickened(paint, loss)
    shear = FRICTION * 0.5 * rho_air * speed**2
    # A film of a few µm sets and wets the ground before it can be pushed far (assumption).
    push = shear * film * 1e-6 / thick * (width / pace) * 1e3 * np.minimum(film / PINNED_UM, 1.0)
    run = paint.density_g_ml * 1e3 * 9.81 * (film * 1e-6) ** 2 / (2 * thick) * SETS_S * 1e3
    zone, how_near = _zones(paint, gun, aim, p, drop, dries, film, push, run)
    score = _score(aim, target, gun, how_near, drop, film, width, speed, np.asarray(pace), share)
    speeds = np.broadcast_to(np.asarray(pace, dtype=float), p.shape)
    edge = np.maximum.reduce(how_near)
    return Field(p, x, flow, drop, loss, width, film, dry, push, run, zone, score, speeds, share, edge)


def _hits(paint: Paint, drop: Grid, speed: Grid, width: Grid) -> Grid:
    """Share of the drops that hit what they fly at; the finest go round it with the air, which is overspray."""
    hit = np.zeros_like(drop)
    for factor in CLASSES:
        d = drop * factor * 1e-6
        stokes = paint.density_g_ml * 1e3 * d**2 * speed / (18 * AIR_PA_S * width * 1e-3 / 2)
        hit += (stokes / (stokes + IMPACT)) ** 2 / len(CLASSES)
    return hit


def lifetime_constant_m2_s(k: Knowledge, carrier: Blend, drop_um: float, air: Air) -> float:
    """K of the d²-law, d² = d0² − K·t, m²/s, of a whole drop at rest while it is as it was at first.

    A loss of d(V)/V = r/d²·dt is K = ⅔·r.
    """
    return 2 / 3 * sum(share * rate for share, rate in loss_rates(k, carrier, drop_um, air))


def _loss(k: Knowledge, paint: Paint, drop: Grid, flight: Grid, speed: Grid, air: Air) -> tuple[Grid, Grid]:
    """Share of the carrier lost on the way, over the classes of drop, with the wind of its own flight; and of what it
    lands dry without, which for a dispersion is its water.
    """
    typical = float(np.median(drop))
    rates = loss_rates(k, paint.carrier, typical, air)
    lost, water = np.zeros_like(drop), np.zeros_like(drop)
    by_water = water_rates(k, paint.carrier, typical, air) if paint.film is FilmClass.DISPERSION else None
    for factor in CLASSES:
        d = drop * factor * 1e-6
        slip = 0.15 * speed  # drops follow the jet but for a share of its speed (assumption)
        wind = 1 + 0.3 * np.sqrt(slip * d / 1.5e-5) * 1.1  # Ranz–Marshall, Sc^⅓ of about 1.1 to 1.2 (from memory)
        exposed = wind * flight / np.maximum(d, 1e-7) ** 2
        for share, rate in rates:
            lost += share * (1 - np.exp(-rate * exposed)) / len(CLASSES)
        if by_water is not None:
            water += by_water.lost(exposed) / len(CLASSES)
    lost = np.minimum(lost, 0.999)
    return lost, water if by_water is not None else lost


def _thickened(paint: Paint, loss: Grid) -> Grid:
    """How much thicker the paint lands than it was in the cup, its solids raised by what evaporated on the way."""
    landed = paint.solids / (paint.solids + (1 - paint.solids) * (1 - loss))
    return np.exp(np.minimum(14.0 * (landed - paint.solids), 12.0))


def _zones(
    paint: Paint, gun: Gun, aim: Aim, pressure: Grid, drop: Grid, dries: Grid, film: Grid, push: Grid, run: Grid
) -> tuple[NDArray[np.int8], tuple[Grid, Grid, Grid]]:
    """The area of each point, and how near it lies to spatter, to dust and to runs: 1 is their edge."""
    bears = SPATTER_MPAS_KPA * pressure * gun.nozzle_mm / 0.3
    grainy = np.maximum(drop / SPATTER_UM, paint.mpas / bears)
    grainy = np.maximum(grainy, DRAWS_KPA / pressure)  # less air than that draws the paint in gulps
    dry = dries / (DRY_LOSS.get(paint.film, DRY_LOSS_ELSE) * aim.drier)
    runs = np.maximum.reduce([push / SPIDER_MM, run / RUN_MM, film / POOL_UM])
    zone = np.full(drop.shape, ZONES.index(SprayZone.GOOD), dtype=np.int8)
    zone[film > WETTEST_UM] = ZONES.index(SprayZone.WET)
    zone[dry > 1] = ZONES.index(SprayZone.DRY)
    zone[grainy > 1] = ZONES.index(SprayZone.GRAINY)
    zone[runs > 1] = ZONES.index(SprayZone.RUNS)
    return zone, (grainy, dry, runs)


# What the point is chosen by; the weights are assumptions, tuned on half of twenty craft ranges
# (docs/models/airbrush.md).
COARSE, STIRS, LANDS, STIRRED_M_S, OFF_WIDTH, OFF_FILM, NEAR_EDGE, OFF_TRIGGER, OFF_PACE = (
    1.16, 1.05, 0.6, 80.0, 2.2, 0.04, 25.0, 1.3, 0.1
)  # fmt: skip
SOFT = 0.24  # over which drops go from fine enough to coarse, of ln
SAFE = 0.5  # of the way to an edge, up to which nothing is minded


def _score(
    aim: Aim, target: float, gun: Gun, near: tuple[Grid, Grid, Grid], drop: Grid, film: Grid, width: Grid,
    speed: Grid, pace: Grid, share: Grid,
) -> Grid:  # fmt: skip
    """How well each point serves: drops fine enough, the part not stirred by the air, the width and the film that are
    aimed at, away from every edge. Smooth in all that it is made of, so that the point moves as the air does.
    """
    coarse = SOFT * np.logaddexp(0, np.log(drop / aim.drop_um) / SOFT)
    edges = sum(np.maximum(each - SAFE, 0) ** 2 for each in near)
    return np.asarray(
        -COARSE * coarse
        - STIRS * aim.air * np.log1p(speed / STIRRED_M_S)
        + LANDS * np.log(share)
        - OFF_WIDTH * np.log(width / aim.width_mm) ** 2
        - OFF_FILM * np.log(np.maximum(film, 1e-3) / target) ** 2
        - NEAR_EDGE * edges
        - OFF_TRIGGER * math.log(gun.trigger / aim.usual_trigger) ** 2
        - OFF_PACE * np.log(pace / aim.usual_pace) ** 2
    )


PRESSURES_KPA = np.linspace(20, 280, 60)
DISTANCES_MM = np.linspace(5, 300, 80)
# Where the point is sought: evenly by ratio, since a kilopascal counts more where there are few; up to the hardest that
# people spray models with (common practice).
SOUGHT_KPA = np.geomspace(20, 250, 34)
SOUGHT_MM = np.geomspace(6, 300, 44)
TRIGGERS = 6
LEVEL = 0.04  # of score, within which points count as alike: their middle is taken, so that no tie is broken
TOLERABLE = (0.02, 0.2)  # of score lost while pressure, or distance, strays (assumption)
STRAYS_AT_MOST = (1.35, 1.6)  # times: no wider range is shown than the craft's own, in the middle of twenty-two


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
    lands: float
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
        float(f.flow_ml_min[i, j]), float(f.share[i, j]), pressures, distances,
    )  # fmt: skip


@dataclass(frozen=True)
class Best:
    """The best setting: its point, and how the hand moves and the trigger is opened there."""

    point: Point
    hand: Hand
    trigger: float


def best_setting(
    k: Knowledge,
    paint: Paint,
    gun: Gun,
    hand: Hand,
    air: Air,
    most_kpa: float = 1e9,
    altitude_m: float = 0.0,
    pressures_kpa: Grid | None = None,
    *,
    trigger: float | None = None,
    speed_mm_s: float | None = None,
) -> Best | None:
    """The best pressure, distance, trigger and speed of hand for a purpose; None where nothing is good.

    `trigger` and `speed_mm_s` hold what somebody set; `pressures_kpa`: those there are, if not all. The point is the
    middle of all that serve about as well, so it moves smoothly with the air and the mix.
    """
    aim = hand.aim
    pressures = SOUGHT_KPA if pressures_kpa is None else pressures_kpa
    if pressures_kpa is None:
        most_kpa = min(most_kpa, aim.most_kpa)
    if most_kpa < pressures[-1]:
        pressures = np.append(pressures[pressures < most_kpa], most_kpa if pressures_kpa is None else [])
    if not len(pressures):
        return None
    triggers = [trigger] if trigger is not None else [float(t) for t in np.geomspace(*aim.triggers, TRIGGERS)]
    held = replace(hand, speed_mm_s=speed_mm_s) if speed_mm_s is not None else hand
    fields = [
        field(k, paint, replace(gun, trigger=t), held, air, pressures, SOUGHT_MM, altitude_m, paced=speed_mm_s is None)
        for t in triggers
    ]
    score = np.stack([np.where(_serves(f, aim), f.score, -np.inf) for f in fields])
    top = float(score.max())
    if not math.isfinite(top):
        return None
    weight = np.exp((score - top) / LEVEL)
    weight /= weight.sum()
    best_kpa = min(math.exp(float((weight * np.log(pressures)[None, :, None]).sum())), float(pressures[-1]))
    best_mm = math.exp(float((weight * np.log(SOUGHT_MM)[None, None, :]).sum()))
    best_trigger = round(math.exp(float((weight * np.log(triggers)[:, None, None]).sum())), 3)

    def at(kpa: Grid, mm: Grid) -> Field:
        g = replace(gun, trigger=best_trigger)
        return field(k, paint, g, held, air, kpa, mm, altitude_m, paced=speed_mm_s is None)

    here = at(np.array([best_kpa]), np.array([best_mm]))
    if not _serves(here, aim)[0, 0]:  # the middle of two good areas lies in neither: the better one counts
        t, i, j = np.unravel_index(int(np.argmax(score)), score.shape)
        best_kpa, best_mm, best_trigger = float(pressures[i]), float(SOUGHT_MM[j]), triggers[int(t)]
        here = at(np.array([best_kpa]), np.array([best_mm]))
    moves = replace(held, speed_mm_s=round(float(here.speed_mm_s[0, 0]), 1))
    # How far one may stray: the hand and the trigger stay as they are.
    top = float(here.score[0, 0])
    g = replace(gun, trigger=best_trigger)
    along = field(k, paint, g, moves, air, SOUGHT_KPA, np.array([best_mm]), altitude_m)
    away = field(k, paint, g, moves, air, np.array([best_kpa]), SOUGHT_MM, altitude_m)
    rows = _stray(
        along.pressure_kpa[:, 0], _serves(along, aim)[:, 0] & (along.score[:, 0] >= top - TOLERABLE[0]), best_kpa,
        STRAYS_AT_MOST[0],
    )  # fmt: skip
    serves = _serves(away, aim)[0] & (away.score[0] >= top - TOLERABLE[1])
    columns = _stray(away.distance_mm[0], serves, best_mm, STRAYS_AT_MOST[1])
    return Best(_point(here, 0, 0, rows, columns), moves, best_trigger)


def _serves(f: Field, aim: Aim) -> NDArray[np.bool_]:
    """Where a point may be recommended: good, and for gloss wet as well."""
    good = f.zone == ZONES.index(SprayZone.GOOD)
    return np.asarray(good | (f.zone == ZONES.index(SprayZone.WET)) if aim.takes_wet else good)


def _stray(values: Grid, serves: NDArray[np.bool_], at: float, most: float) -> tuple[float, float]:
    """From where to where values serve round a place, at `most` times as far; the place itself where its neighbours do
    not.
    """
    i = int(np.argmin(np.abs(np.log(values / at))))
    if not serves[i]:
        return at, at
    low, high = _run(serves, i)
    return max(min(float(values[low]), at), at / most), min(max(float(values[high]), at), at * most)


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


WETTEST_COAT_UM = 50.0  # of one coat, that stands on an upright face while it flashes off (common practice)
LEAST_COAT_UM = 12.0
WHOLE_COAT = 1.8  # how much more a coat of several strokes bears than one stroke, since it sets meanwhile (assumption)
LENIENT = 0.2  # of a coat, that is no reason for another one


def bears_um(paint: Paint, loss: float = 0.0) -> float:
    """How wet one coat may be on an upright face, µm: what does not sag while it sets, and no more than people lay.

    `loss`: how much of the carrier has left on the way; what is left is thicker.
    """
    thick = paint.mpas * 1e-3 * float(_thickened(paint, np.asarray(loss)))
    sags = math.sqrt(RUN_MM * 1e-3 * 2 * thick / (paint.density_g_ml * 1e3 * 9.81 * SETS_S)) * 1e6 * WHOLE_COAT
    return min(max(sags, LEAST_COAT_UM), WETTEST_COAT_UM)


def laying(
    k: Knowledge, paint: Paint, point: Point, hand: Hand, air: Air, dry_film_um: float, area_cm2: float | None,
    planned: int = 1,
) -> Laying:  # fmt: skip
    """Coats, strokes, pauses and time at a point for a dry film over an area; no time where the area is not given.

    As many coats as are `planned`; more only where one of them would be wetter than it bears, which is said.
    The pause lets most of a coat leave.
    """
    wet_coat = bears_um(paint, point.loss)
    needed = max(math.ceil(dry_film_um / max(wet_coat * paint.solids, 1e-3) - LENIENT), 1)
    coats = max(needed, planned)
    per_stroke = max(point.dry_um * 2, 1e-3)
    strokes = max(round(dry_film_um / coats / per_stroke), 1)
    per_coat = dry_film_um / coats
    liquid = per_coat / max(paint.solids, 1e-3) * (1 - paint.solids)
    pause = min(max(evaporate(k, paint.carrier, liquid, air.temp_c, air.rh_pct, air.movement.value).minutes, 0.5), 60)
    stroke_cm2_min = point.width_mm / 2 * hand.speed_mm_s * 60 / 100
    minutes = None if area_cm2 is None else area_cm2 / stroke_cm2_min * strokes * coats + pause * (coats - 1)
    said = f"{coats} {'coat' if coats == 1 else 'coats'} of {strokes} {'stroke' if strokes == 1 else 'strokes'}"
    if coats > 1:
        said += f", {pause:.0f} min apart" if pause >= 1 else ", a moment apart"
    said += "."
    if needed > planned:
        wet = dry_film_um / planned / max(paint.solids, 1e-3)
        count = "it" if planned == 1 else f"each of the {planned} planned"
        said += f" In fewer, {count} would lie {wet:.0f} µm wet, and run: {needed} coats, less thinner, or less film."
    return Laying(coats, strokes, pause, per_coat, minutes, said)


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

    # Tried rounded, as they are shown: what is shown has to be what was found good.
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
