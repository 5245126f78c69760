"""The card at the airbrush: what it is sprayed for, the point, the map, and what no map shows."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ..judging import Conditions, Laid
from ..knowledge import Coat, Knowledge
from ..physics.evaporation import evaporate
from ..physics.spray import (
    DISTANCES_MM,
    LETTER_OF,
    PRESSURES_KPA,
    ZONES,
    Gun,
    Hand,
    Paint,
    Point,
    ambient_kpa,
    at_point,
    best_setting,
    field,
    laying,
    one_knob,
)
from ..plan import (
    Air,
    CoatStep,
    GunKit,
    Kit,
    SprayWith,
    method_of,
    passes_of,
)
from ..vocabulary import (
    AidKind,
    FilmClass,
    Method,
    Model,
    Purpose,
    Sheen,
    SprayZone,
    SystemRole,
    Trait,
    Use,
)

BY_HAND_KPA, CLOSE_MM = 5.0, 30.0  # what a gauge and a hand can keep, and from where on a millimetre counts
FINE, FINE_MPAS = (Purpose.LINE, Purpose.MOTTLE, Purpose.PRESHADE), 10.0  # colour at 1 : 2 has about 5
FLAKE_MM, COARSE_MM = 0.3, 0.4  # nozzles that pass flake, and coarse pigment (common practice)
TIP_UM, TIP_MIN = 15.0, 0.25  # of liquid at the tip, and how soon it dries there to be worth a word (assumption)
TIP_DRIES = (FilmClass.DISPERSION, FilmClass.EVAPORATING)
WET_LINE_PCT = 65.0  # humidity from which hoses spit (common practice)
WETTER = {Method.MIST: 0.45, Method.WET_SPRAY: 1.8}  # films of a stroke, against a usual one
SMALL_CM2 = 15.0
LETTERS = np.array([LETTER_OF[z] for z in ZONES])


OUTCOMES = {
    SprayZone.GRAINY: "the drops are too coarse, it spits.",
    SprayZone.DRY: "it lands dry and dusty.",
    SprayZone.WET: "it lands too wet for this.",
    SprayZone.RUNS: "it runs.",
}


class MapOut(Model):
    """The map: areas by pressure (rows) and distance (columns), one letter a point: g d o w r."""

    pressures_kpa: list[float]
    distances_mm: list[float]
    rows: list[str]


class Setting(Model):
    """What the user holds the gun at; what is left out is as recommended.

    `thinner`: another amount of thinner in the step's mix, for an answer before the edit itself is stored.
    `total_ml` fills a cup instead of serving the area; `paint_drops` scales the recipe to a number of drops of paint,
    `most_drops` keeps it within so many in all.
    `rungs`: further strengths of a wash, as parts of thinner to one of it.
    `only_kpa`: the one pressure that there is; the best distance, trigger and speed are sought for it.
    `purpose`: what it is sprayed for, `width_mm`: how wide a pattern is wanted.
    """

    thinner: Annotated[float, Field(gt=0, le=1e6)] | None = None
    total_ml: Annotated[float, Field(gt=0, le=1000)] | None = None
    paint_drops: Annotated[int, Field(ge=1, le=10_000)] | None = None
    most_drops: Annotated[int, Field(ge=1, le=10_000)] | None = None
    gun: Annotated[str, Field(max_length=80)] | None = None
    only_kpa: Annotated[float, Field(ge=5, le=400)] | None = None
    pressure_kpa: Annotated[float, Field(ge=5, le=400)] | None = None
    distance_mm: Annotated[float, Field(ge=5, le=600)] | None = None
    speed_mm_s: Annotated[float, Field(ge=1, le=1000)] | None = None
    trigger: Annotated[float, Field(gt=0, le=1)] | None = None
    purpose: Purpose | None = None
    width_mm: Annotated[float, Field(ge=0.5, le=100)] | None = None
    temp_c: Annotated[float, Field(ge=-10, le=60)] | None = None
    rh_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    rungs: Annotated[list[Annotated[float, Field(gt=0, le=1000)]], Field(max_length=6)] = []


def purpose_of(k: Knowledge, step: CoatStep, coat: Coat) -> Purpose:
    """What a coat is sprayed for: as the step says, as its technique is meant, else gloss or an even coat."""
    if step.spray is not None and step.spray.purpose is not None:
        return step.spray.purpose
    technique = k.techniques.get(step.technique or "")
    if technique is not None and technique.purpose is not None and technique.is_main(coat.use):
        return technique.purpose
    shines = (step.sheen or coat.sheen) is Sheen.GLOSS and coat.use is Use.CLEAR
    return Purpose.GLOSS if shines and method_of(k, step) is not Method.MIST else Purpose.EVEN


def sprayed(
    c: Conditions, step: CoatStep, paint: Paint, kit: Kit, gun_kit: GunKit, setting: Setting, laid: Laid,
    area: float | None, air: Air,
) -> dict[str, Any]:  # fmt: skip
    """What the card says of the airbrush: the point, the best one, the map, the laying, what to turn."""
    k, kept = c.k, step.spray or SprayWith()
    method = method_of(k, step)
    purpose = setting.purpose or purpose_of(k, step, laid.coat)
    part = "small" if area is not None and area < SMALL_CM2 else "side"
    width = setting.width_mm or (kept.width_mm if purpose is (kept.purpose or purpose) else None)
    hand = Hand(part=part, purpose=purpose, width_mm=width)
    gun = Gun(gun_kit.nozzle_mm, 0.5, gun_kit.external_mix, gun_kit.flow_ml_min)
    paint = replace(paint, target_um=paint.target_um * WETTER.get(method, 1.0))
    most = kit.most_kpa - kit.hose_loss_kpa
    only = None if setting.only_kpa is None else np.array([setting.only_kpa])
    speed = setting.speed_mm_s or kept.speed_mm_s
    found = best_setting(
        k, paint, gun, hand, air, most, kit.altitude_m, only, trigger=setting.trigger, speed_mm_s=speed
    )
    best = found.point if found else None
    if found:
        hand, gun = found.hand, replace(gun, trigger=found.trigger)
        best = _by_hand(k, paint, gun, hand, air, found.point, most if only is None else None, kit.altitude_m)
    else:
        hand = replace(hand, speed_mm_s=speed or hand.aim.usual_pace)
        gun = replace(gun, trigger=setting.trigger or hand.aim.usual_trigger)
    pressure = setting.pressure_kpa or setting.only_kpa or (best.pressure_kpa if best else 100.0)
    distance = setting.distance_mm or (best.distance_mm if best else 100.0)
    point = at_point(k, paint, gun, hand, air, pressure, distance, kit.altitude_m)
    f = field(k, paint, gun, hand, air, PRESSURES_KPA, DISTANCES_MM, kit.altitude_m)
    return {
        "point": point,
        "best": best,
        "purpose": purpose,
        "wanted_mm": hand.aim.width_mm,
        "trigger": gun.trigger,
        "speed_mm_s": hand.speed_mm_s,
        "laying": laying(k, paint, point, hand, air, laid.film_um, area, passes_of(k, step)),
        "map": MapOut(
            pressures_kpa=[round(float(p), 1) for p in PRESSURES_KPA],
            distances_mm=[round(float(d), 1) for d in DISTANCES_MM],
            rows=["".join(row) for row in LETTERS[f.zone]],
        ),
        "knobs": [] if _serves(point, hand) else one_knob(k, paint, gun, hand, air, pressure, distance),
        "gun_notes": [
            *_kept_far_off(k, paint, gun, hand, air, kept, best, kit.altitude_m),
            *_gun_notes(c, laid, paint, gun, purpose, point, air, kit),
        ],
    }


def _serves(point: Point, hand: Hand) -> bool:
    """Whether what comes out there is what is wanted of it."""
    return point.zone is SprayZone.GOOD or (point.zone is SprayZone.WET and hand.aim.takes_wet)


def _kept_far_off(
    k: Knowledge, paint: Paint, gun: Gun, hand: Hand, air: Air, kept: SprayWith, best: Point | None, altitude_m: float
) -> list[str]:  # fmt: skip
    """What comes out at the pressure and distance that the step keeps, where that is not what is wanted of it."""
    if best is None or (kept.pressure_kpa is None and kept.distance_mm is None):
        return []
    kpa, mm = kept.pressure_kpa or best.pressure_kpa, kept.distance_mm or best.distance_mm
    there = at_point(k, paint, gun, hand, air, kpa, mm, altitude_m)
    if _serves(there, hand):
        return []
    return [
        f"The step keeps {kpa / 100:.2g} bar at {mm / 10:.2g} cm: {OUTCOMES[there.zone]} With this mix "
        f"{best.pressure_kpa / 100:.2g} bar at {best.distance_mm / 10:.2g} cm does it."
    ]


def _by_hand(
    k: Knowledge, paint: Paint, gun: Gun, hand: Hand, air: Air, best: Point, most_kpa: float | None, altitude_m: float
) -> Point:  # fmt: skip
    """A point as a hand can set it: to the twentieth of a bar, and half a centimetre, close by to the millimetre.

    `most_kpa`: what the compressor reaches; None where the pressure is given.
    """
    step_mm = 1.0 if best.distance_mm < CLOSE_MM else 5.0
    mm = round(best.distance_mm / step_mm) * step_mm
    kpa = best.pressure_kpa
    if most_kpa is not None:
        kpa = round(kpa / BY_HAND_KPA) * BY_HAND_KPA
        kpa = kpa if kpa <= most_kpa else best.pressure_kpa
    there = at_point(k, paint, gun, hand, air, kpa, mm, altitude_m)
    if there.zone is not best.zone:
        return best
    return replace(there, pressure_range_kpa=best.pressure_range_kpa, distance_range_mm=best.distance_range_mm)


def _gun_notes(
    c: Conditions, laid: Laid, paint: Paint, gun: Gun, purpose: Purpose, point: Point, air: Air, kit: Kit,
) -> list[str]:  # fmt: skip
    """What the needle, the paint and the hose do that no map shows. Common practice, but for what is computed."""
    k, coat, said = c.k, laid.coat, []
    if coat.has(Trait.METALLIC) and gun.nozzle_mm < FLAKE_MM:
        said.append(f"Flake clogs a {gun.nozzle_mm:g} mm needle: {FLAKE_MM:g} mm or more, and stir the cup often.")
    elif k.systems[coat.system].is_a(SystemRole.COARSE) and gun.nozzle_mm < COARSE_MM:
        said.append(f"Its pigment is coarse for {gun.nozzle_mm:g} mm: {COARSE_MM:g} mm or more, and strain it.")
    dries = evaporate(k, laid.cup.carrier, TIP_UM, air.temp_c, air.rh_pct, AidKind.WARM_AIR.value).minutes
    if laid.layer.film in TIP_DRIES and dries < TIP_MIN:
        said.append(
            f"It dries on the needle in about {max(dries, 0.1) * 60:.0f} s: wipe the tip with a wet bud when it spits."
        )
    if purpose in FINE and paint.mpas > FINE_MPAS:
        said.append("Thick for fine work: thinned further, it is sprayed softer and goes where it is meant to.")
    if purpose in (Purpose.LINE, Purpose.MOTTLE):
        said.append("Air before paint, and paint off before the air: what stands at the tip spatters.")
    pressed = (point.pressure_kpa + ambient_kpa(kit.altitude_m)) / ambient_kpa(kit.altitude_m)
    if air.rh_pct >= WET_LINE_PCT and air.rh_pct * pressed > 100:
        said.append(f"Air of {air.rh_pct:.0f} % gives its water off under pressure: empty the trap before and between.")
    return said


NOT_SPRAYED: dict[str, Any] = {
    "point": None, "best": None, "purpose": None, "wanted_mm": 0.0, "trigger": 0.0, "speed_mm_s": 0.0,
    "laying": None, "map": None, "knobs": [], "gun_notes": [],
}  # fmt: skip
