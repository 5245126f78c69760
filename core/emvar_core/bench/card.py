"""The bench card of a coat: what to mix, how thick it is, how to put it on, how much, and what the air says tonight.

Computed from the plan's own step, its kit and the air at the instant that is asked about.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ..errors import Impossible, NotThere
from ..judging import Conditions, CupOut, Laid, base_layer, conditions_of, lay
from ..judging.stack import Stack, Times, after
from ..judging.zones import window_of
from ..knowledge import Coat, Knowledge
from ..knowledge.flow_cups import kinematic_mm2_s
from ..physics.blend import blend_of
from ..physics.colour import lightness_of
from ..physics.cup import (
    CUP_ML,
    Cup,
    Fill,
    counted,
    cup_of,
    density_g_ml,
    drop_of_ml,
    is_mixed,
    material_of,
    part_ml,
)
from ..physics.evaporation import evaporate
from ..physics.recipes import FREE_UM, LADDER, Rung, Strength, Wash, corrected, ladder, sections
from ..physics.spray import (
    DISTANCES_MM,
    LETTER_OF,
    PRESSURES_KPA,
    ZONES,
    Gun,
    Hand,
    Laying,
    Paint,
    Point,
    ambient_kpa,
    at_point,
    best_setting,
    field,
    laying,
    one_knob,
    paint_of,
)
from ..physics.viscosity import Thickness, is_paste, like, measured, pigment_share, thickness
from ..plan import (
    Air,
    BenchAir,
    CoatStep,
    GunKit,
    Kit,
    MixPart,
    Plan,
    SprayWith,
    WorkingStep,
    known_to,
    method_of,
    mix_of,
    passes_of,
    ratio_words,
    step_times,
)
from ..remarks import cup_out
from ..remarks.recipe import cup_remarks
from ..seams.registry import REGISTRY
from ..seams.situation import Finding, Layer, Meeting, Reads
from ..seams.windows import OpenWindow, windows_of
from ..vocabulary import (
    AIRBRUSHED,
    COVERS,
    SPRAYED,
    AidKind,
    Contact,
    Edge,
    FilmClass,
    FlowCup,
    Method,
    Model,
    Purpose,
    Role,
    Sheen,
    SprayZone,
    SystemRole,
    ThinnerRole,
    Trait,
    Unit,
    Use,
    WorkAction,
)
from .needs import area_of, poured_for

COVERS_UM = {
    Use.PRIMER: 12.0,
    Use.COLOUR: 8.0,
    Use.CLEAR: 6.0,
}  # dry film that covers (practice)
MOST_UM = {Use.PRIMER: 45.0, Use.COLOUR: 35.0, Use.CLEAR: 40.0}  # above which detail suffers (common practice)
ANY_TIME_MIN = 2 * 1440.0
LADDER_ML = 0.4
LEAST_ADDED_ML = 0.005  # less is not said
SAME_STRENGTH, MOST_RUNGS = 0.02, 14  # of wash in the mix, within which two rungs are one
BLUSHES = "blush"  # the mechanism that a slower thinner ends
HOT_C, DAMP_PCT, WATERY = 28.0, 75.0, 0.5  # when water-borne paint dries at the needle, or hardly (common practice)
SOAKED_PCT = 82.0  # humidity from which lacquers and cans bloom more often than not (common practice)
LITTLE = 0.1  # of retarder to the paint, that does no harm (common practice)
BY_HAND_KPA, CLOSE_MM = 5.0, 30.0  # what a gauge and a hand can keep, and from where on a millimetre counts
FINE, FINE_MPAS = (Purpose.LINE, Purpose.MOTTLE, Purpose.PRESHADE), 10.0  # colour at 1 : 2 has about 5
FLAKE_MM, COARSE_MM = 0.3, 0.4  # nozzles that pass flake, and coarse pigment (common practice)
TIP_UM, TIP_MIN = 15.0, 0.25  # of liquid at the tip, and how soon it dries there to be worth a word (assumption)
TIP_DRIES = (FilmClass.DISPERSION, FilmClass.EVAPORATING)
WET_LINE_PCT = 65.0  # humidity from which hoses spit (common practice)
WETTER = {Method.MIST: 0.45, Method.WET_SPRAY: 1.8}  # films of a stroke, against a usual one
SMALL_CM2 = 15.0
LEAST_COVERAGE = 0.05  # a coat of less is split as if it covered so much
LETTERS = np.array([LETTER_OF[z] for z in ZONES])


class ThicknessOut(Model):
    """How thick the mix is: mPa·s with its range, kinematic mm²/s, what it pours like, and on what basis."""

    mpas: float
    low_mpas: float
    high_mpas: float
    mm2_s: float
    like: str
    basis: str
    ready: str


class MapOut(Model):
    """The map: areas by pressure (rows) and distance (columns), one letter a point: g d o w r."""

    pressures_kpa: list[float]
    distances_mm: list[float]
    rows: list[str]


class Card(Model):
    """Everything for one coat at the bench. Parts that do not apply to its method are None."""

    step_id: str
    name: str
    method: str
    ratio: str
    mixed: bool
    cup: CupOut | None
    cups: int
    thickness: ThicknessOut | None
    gun: GunKit | None
    point: Point | None
    best: Point | None
    purpose: Purpose | None
    wanted_mm: float
    trigger: float
    speed_mm_s: float
    laying: Laying | None
    map: MapOut | None
    knobs: list[tuple[str, str]]
    gun_notes: list[str]
    film_um: float
    film_words: str
    how: str
    correction: str
    ladder: list[Rung]
    split: str
    tonight: list[str]
    tonight_ok: bool


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


def thickness_of(k: Knowledge, plan: Plan, step: CoatStep, temp_c: float) -> Thickness:
    """Viscosity of a step's mix: measured if it was, else computed, as measuring this paint before has taught."""
    cup = cup_of(k, step)
    coat = k.coats[step.material]
    kit = plan.kit or Kit()
    plain = thickness(k, coat, cup, temp_c)
    own = _measured_mpas(step, kit, plain.density_g_ml)
    if own is not None:
        return measured(own, plain.density_g_ml)
    lessons = []
    for other in plan.steps:
        if isinstance(other, CoatStep) and other.material == step.material and other.measured is not None:
            there = thickness(k, coat, cup_of(k, other), temp_c)
            if (thick := _measured_mpas(other, kit, there.density_g_ml)) is not None:
                lessons.append(math.log(thick / there.mpas))
    learned = k.learned_of("viscosity", step.material)
    usual = learned[0] if learned is not None else 1.0
    return thickness(k, coat, cup, temp_c, math.exp(sum(lessons) / len(lessons)) if lessons else usual)


def _measured_mpas(step: CoatStep, kit: Kit, density_g_ml: float) -> float | None:
    m = step.measured
    if m is None:
        return None
    if m.viscosity_mpas is not None or m.flow_cup is None or m.flow_cup_s is None:
        return m.viscosity_mpas
    if m.flow_cup is FlowCup.OWN:
        return kit.drip_cup.cup().kinematic_mm2_s(m.flow_cup_s) * density_g_ml if kit.drip_cup else None
    return kinematic_mm2_s(m.flow_cup, m.flow_cup_s) * density_g_ml


def _thinned(k: Knowledge, step: CoatStep, thinner: float | None) -> CoatStep:
    mix = mix_of(k, step)
    if thinner is None or mix is None:
        return step
    at = next((i for i, p in enumerate(mix.parts) if p.role is Role.THINNER), None)
    paint = next((i for i, p in enumerate(mix.parts) if p.role is Role.PAINT), None)
    if at is None or paint is None:
        return step
    parts = list(mix.parts)
    if parts[at].unit is Unit.PERCENT:  # the paint makes room for it
        rest = parts[paint].amount + parts[at].amount - thinner
        parts[paint] = parts[paint].model_copy(update={"amount": max(rest, 0.01)})
    parts[at] = parts[at].model_copy(update={"amount": thinner})
    return step.model_copy(update={"mix": mix.model_copy(update={"parts": parts})})


def purpose_of(k: Knowledge, step: CoatStep, coat: Coat) -> Purpose:
    """What a coat is sprayed for: as the step says, as its technique is meant, else gloss or an even coat."""
    if step.spray is not None and step.spray.purpose is not None:
        return step.spray.purpose
    technique = k.techniques.get(step.technique or "")
    if technique is not None and technique.purpose is not None and technique.is_main(coat.use):
        return technique.purpose
    shines = (step.sheen or coat.sheen) is Sheen.GLOSS and coat.use is Use.CLEAR
    return Purpose.GLOSS if shines and method_of(k, step) is not Method.MIST else Purpose.EVEN


def _sprayed(
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
    serves = point.zone is SprayZone.GOOD or (point.zone is SprayZone.WET and hand.aim.takes_wet)
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
        "knobs": [] if serves else one_knob(k, paint, gun, hand, air, pressure, distance),
        "gun_notes": _gun_notes(c, step, laid, paint, gun, purpose, point, air, kit),
    }


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
    c: Conditions, step: CoatStep, laid: Laid, paint: Paint, gun: Gun, purpose: Purpose, point: Point, air: Air,
    kit: Kit,
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


def card(plan: Plan, step_id: str, setting: Setting | None = None) -> Card:
    """The bench card of a coat. Raises NotThere where the plan has no such coat, OutOfRange for an absurd setting."""
    step = plan.step(step_id)
    if not isinstance(step, CoatStep):
        raise NotThere("coat", step_id)
    setting = setting or Setting()
    k = known_to(plan)
    times = step_times(plan)
    c = conditions_of(plan, times, knowledge=k)
    air = c.line.at(times[step_id].start_min)
    here = {f: v for f, v in (("temp_c", setting.temp_c), ("rh_pct", setting.rh_pct)) if v is not None}
    if here:
        air = air.model_copy(update=here)
        c = conditions_of(plan.model_copy(update={"air": BenchAir(day=air)}), times, knowledge=k)
    step = _thinned(k, step, setting.thinner)
    laid = lay(c, step, times[step.id])
    coat, cup, method, kit = laid.coat, laid.cup, method_of(k, step), plan.kit or Kit()
    thick = thickness_of(k, plan, step, air.temp_c)
    zones_cm2 = area_of(plan, step)
    area = None if zones_cm2 is None else zones_cm2 * laid.layer.coverage
    sprayed = method in AIRBRUSHED
    gun = next((g for g in kit.guns if g.id == setting.gun), kit.guns[0]) if sprayed else None
    poured = poured_for(k, plan, step, laid, Fill(setting.total_ml, setting.paint_drops, setting.most_drops))
    mixed = poured is not None and is_mixed(coat, method)
    tonight = _tonight(c, plan, times, step, air)
    airbrush = (
        _sprayed(c, step, paint_of(k, coat, cup, thick), kit, gun, setting, laid, area, air) if gun else NOT_SPRAYED
    )
    return Card(
        step_id=step.id,
        name=step.name,
        method=method.value,
        ratio=_ratio(k, step),
        mixed=mixed,
        cup=cup_out(poured) if poured else None,
        cups=poured.cups if poured else 0,
        thickness=_thickness_out(thick, airbrush) if mixed else None,
        gun=gun,
        **airbrush,
        film_um=laid.film_um,
        film_words=_film_words(plan, step, laid),
        how=_how(method),
        correction=_correction(k, step),
        ladder=_ladder(k, plan, step, coat, cup, setting.rungs),
        split=_split(c, plan, times, step, laid, area),
        tonight=tonight[0],
        tonight_ok=tonight[1],
    )


def _thickness_out(t: Thickness, airbrush: dict[str, Any]) -> ThicknessOut:
    """How thick it is. Too thick or too thin is said by what happens at the needle, as the map says it."""
    ready = ""
    if airbrush["point"] is not None:
        ready = "ready"
        if airbrush["best"] is None:
            ready = {SprayZone.GRAINY: "thick", SprayZone.RUNS: "thin"}.get(airbrush["point"].zone, "ready")
    return ThicknessOut(
        mpas=round(t.mpas, 2), low_mpas=round(t.low_mpas, 2), high_mpas=round(t.high_mpas, 2),
        mm2_s=round(t.mm2_s, 2), like=like(t.mpas), basis=t.basis, ready=ready,
    )  # fmt: skip


def _ratio(k: Knowledge, step: CoatStep) -> str:
    mix = mix_of(k, step)
    if mix is None or len(mix.parts) < 2 or method_of(k, step) is Method.CAN:
        return "as it comes"
    names = [(k.coats.get(p.material) or k.thinners[p.material]).name.lower() for p in mix.parts]
    return f"{ratio_words(mix)} · {' : '.join(names)}"


CHIPS_UNDER_UM = 20.0  # a thicker film over the release layer does not let water through (common practice)


def _film_words(plan: Plan, step: CoatStep, laid: Laid) -> str:
    coat, film, covered = laid.coat, laid.film_um, laid.layer.coverage
    at = [s.id for s in plan.steps].index(step.id) + 1
    before = {s.id for s in plan.steps[:at]}
    chipped = any(
        isinstance(s, WorkingStep)
        and s.action is WorkAction.CHIP
        and s.acts_on in before
        and set(s.zones) & set(step.zones)
        for s in plan.steps[at:]
    )
    if chipped and film > CHIPS_UNDER_UM:
        return f"{film:g} µm is much over a layer that is to be chipped: the chips may not start (up to about 20 µm)."
    least, most = COVERS_UM.get(coat.use), MOST_UM.get(coat.use)
    if least is not None and covered > COVERS and film < least:
        return f"{film:g} µm is little: it may not cover (from about {least:g} µm)."
    if most is not None and film > most:
        return f"{film:g} µm is much: it fills detail and sags (up to about {most:g} µm)."
    return ""


def _how(method: Method) -> str:
    return {
        Method.CAN: "From 25–30 cm in mist passes, starting and ending beside the part; shake two minutes first.",
        Method.BRUSH: "Flat soft brush, loaded a third, laid on in one direction; do not go back over it.",
        Method.SPONGE: "Dab nearly all off on paper, then the part, turning the sponge each time.",
        Method.DRY_BRUSH: "Wipe almost all off on paper; light strokes across the relief.",
        Method.WASH: "Touch it to the detail and let it run; do not paint it on.",
        Method.FLOOD: "Flow it on, tilt, and lift the excess with a dry brush.",
        Method.SPECKLE: "Flick it from a stiff brush over a stick; try it on paper first.",
        Method.DUST: "Dry soft brush, little at a time, worked into corners.",
        Method.PLACE: "Place it, press the water out, leave it alone while it settles.",
    }.get(method, "")


ROLES_WEIGHED = {Role.PAINT: "paint_g", Role.THINNER: "thinner_g", Role.RETARDER: "retarder_g"}


def _correction(k: Knowledge, step: CoatStep) -> str:
    """What to add to the cup as it was weighed, less what was sprayed since, to meet the step's recipe.

    Only where each part was weighed that the recipe has: two colours of paint are one weight, so nothing is said.
    """
    m = step.measured
    mix = mix_of(k, step)
    if m is None or m.paint_g is None or mix is None or len(mix.parts) < 2:
        return ""
    roles = [p.role for p in mix.parts]
    if m.retarder_g and Role.RETARDER not in roles:
        return "There is retarder in the cup that the recipe does not have: put it into the recipe, or begin anew."
    if len(set(roles)) < len(roles) or not set(roles) <= set(ROLES_WEIGHED):
        return ""
    densities = [density_g_ml(k, p.material) for p in mix.parts]
    grams = [getattr(m, ROLES_WEIGHED[role]) or 0.0 for role in roles]
    present = [g / d for g, d in zip(grams, densities, strict=True)]
    try:
        c = corrected(
            present,
            [part_ml(k, p, step.material, counted(step)) for p in mix.parts],
            left=1 - (m.sprayed_g or 0.0) / sum(grams),
            most_ml=CUP_ML,
        )
    except Impossible as error:
        return str(error)
    if c.is_right:
        return "It is right as it is."
    adds = [
        f"{ml:.2f} mL of {material_of(k, p.material).name.lower()} ({ml * d:.2f} g)"
        for ml, d, p in zip(c.adds, densities, mix.parts, strict=True)
        if ml >= LEAST_ADDED_ML
    ]
    paint = next(i for i, role in enumerate(roles) if role is Role.PAINT)
    thick = "Too thin" if c.adds[paint] > 0 else "Too thick"
    first = f"pour off {c.pour_off_ml:.1f} mL, since the cup holds {CUP_ML:g}, then " if c.pour_off_ml > 0 else ""
    return f"{thick}: {first}add {' and '.join(adds)}."


def _ladder(k: Knowledge, plan: Plan, step: CoatStep, coat: Coat, cup: Cup, free: list[float]) -> list[Rung]:
    """A wash or an oil at several strengths, from the bottle: the step's own mix and weaker ones, those of other steps
    with the same paint, and those that were asked for (`free`, parts of thinner to one of paint).
    """
    is_wash = k.systems[coat.system].is_a(SystemRole.WASH) or is_paste(k, coat)
    if coat.use is not Use.EFFECT or not is_wash or (thins := coat.thin_with or coat.let_down_with) is None:
        return []
    thin = k.thinners[thins]
    own = 1 - cup.thinner_share
    asked = [Strength(s.use, s.share * own, s.wet_um) for s in LADDER]
    for other in plan.steps:
        if isinstance(other, CoatStep) and other.material == step.material and other.id != step.id:
            share = 1 - cup_of(k, other).thinner_share
            if all(abs(share - s.share) > SAME_STRENGTH for s in asked if s.step_id or s.share == own):
                asked.append(Strength(other.name, share, FREE_UM, other.id))
    asked += [Strength(f"1 : {parts:g}", 1 / (1 + parts), FREE_UM) for parts in free]
    colour = step.colour.srgb if step.colour is not None else coat.colour
    wash = Wash(
        coat.volume_solids, pigment_share(coat), lightness_of(colour), coat.density_g_ml,
        drop_of_ml(k, step.material, step.material, counted(step)), is_paste(k, coat),
    )  # fmt: skip
    thinner_drop = drop_of_ml(k, thin.id, step.material, counted(step))
    return sorted(ladder(wash, thinner_drop, LADDER_ML, tuple(asked[:MOST_RUNGS])), key=lambda r: -r.strength)


def _split(c: Conditions, plan: Plan, times: Times, step: CoatStep, laid: Laid, area: float | None) -> str:
    """How to split the surface so that each part can be worked before it closes."""
    found = _work_on(c, plan, times, step) or _own_window(laid)
    if found is None or area is None:
        return ""
    action, window = found
    opens, closes = window.opens.best - laid.drying.end_min, window.closes.early - laid.drying.end_min
    work = c.k.work[action]
    try:
        s = sections(
            area / max(laid.layer.coverage, LEAST_COVERAGE), opens, closes, work.lay_cm2_min, work.work_cm2_min
        )
    except Impossible:
        return ""
    if closes > ANY_TIME_MIN:
        return f"{s.sentence} It can be worked at any time."
    return f"{s.sentence} To {action.value} by {closes / 60:.1f} h after laying (careful edge)."


def _own_window(laid: Laid) -> tuple[WorkAction, OpenWindow] | None:
    """The first window that the coat's own system gives it."""
    windows = windows_of(laid.layer)
    return (windows[0].action, windows[0]) if windows else None


def _work_on(c: Conditions, plan: Plan, times: Times, step: CoatStep) -> tuple[WorkAction, OpenWindow] | None:
    """The first work that the plan does to a coat, and its window there: chipping looks down to the medium."""
    work = next((s for s in plan.steps if isinstance(s, WorkingStep) and s.acts_on == step.id), None)
    if work is None:
        return None
    stack: Stack = ()
    for below in plan.steps:
        if below.id == work.id:
            break
        if work.zones[0] in below.zones:
            stack = after(c, below, work.zones[0], stack, times)
    found = window_of(c, work, stack)
    if found is None or found[1].never is not None:
        return None
    return work.action, found[1]


def _air_says(c: Conditions, times: Times, step: CoatStep, base: Layer) -> list[Finding]:
    """What the seams would say of this air, whatever lies below: all that looks at nothing but the air."""
    m = Meeting(c.k, lay(c, step, times[step.id]).landing, (base,), 0)
    return [
        f
        for mechanism in REGISTRY
        if mechanism.reads == Reads.AIR and Contact.LAY in mechanism.on
        for f in mechanism.judge(m.view(mechanism.reads), 0.0, Edge.LATE)
    ]


def _tonight(c: Conditions, plan: Plan, times: Times, step: CoatStep, air: Air) -> tuple[list[str], bool]:
    """With this air: put it on or not, with which thinner, or what else of the plan is better done; and whether."""
    k, laid = c.k, lay(c, step, times[step.id])
    base = base_layer(k, plan, next(z for z in plan.zones if z.id in step.zones))
    against = _air_says(c, times, step, base)
    said = [f"{f.sentence} {f.advice}" for f in against]
    if any(f.mechanism == BLUSHES for f in against):
        slower = k.thinners_that(ThinnerRole.SLOWS)
        clear = [t.name.lower() for t in slower if _stays_clear(c, times, step, t.id, base)]
        if clear:
            said.append(f"With {' or '.join(clear)} it stays clear.")
    sprays = method_of(k, step) in SPRAYED
    film = laid.layer.film
    dries = film in TIP_DRIES
    ok = not against
    if air.temp_c > HOT_C and dries:
        where = "at the needle" if sprays else "in the brush"
        said.append(f"At {air.temp_c:g} °C it dries {where}: {_retarded(k, step)}work in the cool of the day.")
    if air.rh_pct > DAMP_PCT and laid.cup.carrier.water > WATERY:
        said.append(f"At {air.rh_pct:g} % humidity water leaves slowly: double the waits, or a fan.")
    elif air.rh_pct > SOAKED_PCT and sprays and film is FilmClass.EVAPORATING and not against:
        ok = False
        said.append(
            f"At {air.rh_pct:g} % humidity lacquers and cans easily bloom and the hose spits water: wait for a drier "
            "hour if you can, and try it on scrap first."
        )
    elif air.rh_pct > SOAKED_PCT and film is FilmClass.OXIDISING:
        said.append(f"At {air.rh_pct:g} % humidity alkyds and oils harden more slowly.")
    if said and method_of(k, step) in AIRBRUSHED and (other := _dry_job(k, plan, step)):
        said.append(f"A dry job instead: “{other}”.")
    return said or ["Nothing in this air speaks against it."], ok


def _retarded(k: Knowledge, step: CoatStep) -> str:
    """A retarder to add, where the cup bears it and has none yet."""
    mix = mix_of(k, step)
    if mix is None or any(p.role is Role.RETARDER for p in mix.parts):
        return ""
    system = k.systems[k.coats[step.material].system]
    least = min(p.amount for p in mix.parts if p.role is Role.PAINT)
    if any(p.unit is not mix.parts[0].unit for p in mix.parts):
        return ""
    for thinner in k.thinners_that(ThinnerRole.RETARDS):
        part = MixPart(material=thinner.id, role=Role.RETARDER, amount=least * LITTLE, unit=mix.parts[0].unit)
        other = step.model_copy(update={"mix": mix.model_copy(update={"parts": [*mix.parts, part]})})
        alike = (blend_of(thinner).water > 0) == (system.film is FilmClass.DISPERSION)
        if alike and not _more_said(k, step, other):
            return f"up to {LITTLE:.0%} of {thinner.name.lower()}, or "
    return ""


def _stays_clear(c: Conditions, times: Times, step: CoatStep, thinner: str, base: Layer) -> bool:
    """Whether another thinner ends the blush, and the cup bears it."""
    mix = mix_of(c.k, step)
    if mix is None:
        return False
    parts = [p.model_copy(update={"material": thinner}) if p.role is Role.THINNER else p for p in mix.parts]
    other = step.model_copy(update={"mix": mix.model_copy(update={"parts": parts})})
    if _air_says(c, times, other, base):
        return False
    return not _more_said(c.k, step, other)


def _more_said(k: Knowledge, step: CoatStep, other: CoatStep) -> bool:
    """Whether another mix of a step is objected to where its own is not."""
    coat = k.coats[step.material]
    known = {s.code for s in cup_remarks(k, step, coat, cup_of(k, step))}
    return any(s.code not in known for s in cup_remarks(k, other, coat, cup_of(k, other)))


def _dry_job(k: Knowledge, plan: Plan, step: CoatStep) -> str | None:
    """Another step of the plan that needs no spraying, not yet done by then."""
    ids = [s.id for s in plan.steps]
    for other in plan.steps[ids.index(step.id) + 1 :]:
        if isinstance(other, CoatStep):
            if method_of(k, other) not in SPRAYED and not set(other.zones) & set(step.zones):
                return other.name
        elif not set(other.zones) & set(step.zones):
            return other.name
    return None
