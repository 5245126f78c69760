"""The bench card of a coat: what to mix, how thick it is, how to put it on, how much, and what the air says tonight.

Computed from the plan's own step, its kit and the air at the instant that is asked about.
"""

from __future__ import annotations

import math
from datetime import UTC, datetime

import numpy as np

from .assess import default_knowledge
from .materials import Coat, Knowledge
from .mixing import Cup, blend_of, cup_of, default_mix, method_of, part_ml, ratio_words
from .mixing.recipes import Impossible, corrected, ladder, scaled, sections
from .mixing.viscosity import (
    AIRBRUSH_READY_MM2_S,
    FlowCup,
    OutOfRange,
    Thickness,
    carrier_density_g_ml,
    kinematic_mm2_s,
    like,
    measured,
    pigment_share,
    thickness,
)
from .plan import (
    Air,
    Build,
    CoatStep,
    GunKit,
    Kit,
    Method,
    Mix,
    MixPart,
    Model,
    Plan,
    Role,
    WorkAction,
    WorkingStep,
    Zone,
)
from .spray import (
    DISTANCES_MM,
    PRESSURES_KPA,
    ZONES,
    Gun,
    Hand,
    Laying,
    Point,
    at_point,
    best_setting,
    blush_margin_k,
    field,
    laying,
    one_knob,
    paint_of,
)
from .walk import Walker

SPRAYED = {Method.MIST, Method.SPRAY, Method.WET_SPRAY}
TRIGGER = {Method.MIST: 0.4, Method.SPRAY: 0.6, Method.WET_SPRAY: 1.0}
COVERS_UM = {"primer": 12.0, "colour": 8.0, "clear": 6.0}  # dry film below which it does not cover (common practice)
MOST_UM = {"primer": 45.0, "colour": 35.0, "clear": 40.0}  # above which detail suffers (common practice)
RATES_CM2_MIN = {"wash": (25.0, 15.0), "blend": (12.0, 6.0), "chip": (20.0, 4.0)}  # laid and worked (assumption)
WATER_MOST, BLUSH_HEED_K, BLUSH_STOP_K = 0.5, 2.0, 0.0


class PointOut(Model):
    """One setting of the gun and what happens there. Pressure kPa gauge with the trigger open, distance mm."""

    pressure_kpa: float
    distance_mm: float
    zone: str
    drop_um: float
    loss: float
    film_um: float
    dry_um: float
    width_mm: float
    flow_ml_min: float
    pressure_range_kpa: tuple[float, float]
    distance_range_mm: tuple[float, float]


class Poured(Model):
    """One part of the mix: whole drops, and mL."""

    name: str
    role: str
    drops: int
    ml: float


class LayingOut(Model):
    coats: int
    strokes: int
    pause_min: float
    dry_per_coat_um: float
    spray_min: float
    words: str


class ThicknessOut(Model):
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


class QuantityOut(Model):
    """How much for the step, mL: what lands, what is lost, what stays in the cup; cups of the gun's size."""

    landed_ml: float
    lost_ml: float
    left_ml: float
    paint_ml: float
    thinner_ml: float
    cups: int


class RungOut(Model):
    use: str
    wash_drops: int
    thinner_drops: int
    darkness: float
    darkest: float
    lightest: float
    error_pct: float


class Card(Model):
    """Everything for one coat at the bench. Parts that do not apply to its method are None."""

    step_id: str
    name: str
    method: str
    ratio: str
    pours: list[Poured]
    ratio_error_pct: float
    thickness: ThicknessOut | None
    gun: GunKit | None
    point: PointOut | None
    best: PointOut | None
    speed_mm_s: float
    laying: LayingOut | None
    map: MapOut | None
    knobs: list[tuple[str, str]]
    quantity: QuantityOut
    film_um: float
    film_words: str
    wet_um: float
    how: str
    correction: str
    ladder: list[RungOut]
    split: str
    tonight: list[str]
    spray_now: bool


class Setting(Model):
    """What the user holds the gun at; what is left out is as recommended.

    `thinner`: another amount of thinner in the step's mix, for an answer before the edit itself is stored.
    `total_ml` fills a cup instead of serving the area; `paint_drops` scales the recipe to a number of drops of paint.
    """

    thinner: float | None = None
    total_ml: float | None = None
    paint_drops: int | None = None
    gun: str | None = None
    pressure_kpa: float | None = None
    distance_mm: float | None = None
    speed_mm_s: float | None = None
    trigger: float | None = None
    temp_c: float | None = None
    rh_pct: float | None = None


CUP_ML, LEFT_ML, CAN_SHARE, HAND_SHARE, GUN_SHARE = 7.0, 0.15, 0.35, 0.95, 0.45


class Need(Model):
    """What the whole build needs of a material: mL, its range, and for how many coats."""

    material: str
    name: str
    role: str
    ml: float
    low_ml: float
    high_ml: float
    coats: int


NEEDS_UNCERTAIN = 1.5  # transfer and films of a whole build may be off by this factor (assumption)


def _quantity(cup: Cup, area_cm2: float, wet_um: float, share: float) -> QuantityOut:
    """mL for an area at a wet film, of which `share` lands."""
    landed = area_cm2 * wet_um * 1e-4
    lost = landed / share - landed
    total = landed + lost + LEFT_ML
    return QuantityOut(
        landed_ml=round(landed, 3), lost_ml=round(lost, 3), left_ml=LEFT_ML,
        paint_ml=round(total * (1 - cup.thinner_share), 3), thinner_ml=round(total * cup.thinner_share, 3),
        cups=max(math.ceil(total / CUP_ML), 1),
    )  # fmt: skip


def _poured_ml(k: Knowledge, step: CoatStep, cup: Cup, setting: Setting) -> float | None:
    if setting.total_ml is not None:
        return setting.total_ml
    if setting.paint_drops is not None:
        return setting.paint_drops * k.coats[step.material].drop_ml / max(1 - cup.thinner_share, 0.01)
    return None


def needs(plan: Plan) -> list[Need]:
    """Paint and thinner for the whole build, most first. Cans by what leaves them; dry materials are left out."""
    k = default_knowledge().with_own(plan.materials)
    found: dict[str, tuple[str, float, int]] = {}
    areas = {z.id: z.area_cm2 for z in plan.zones}
    for step in plan.steps:
        if not isinstance(step, CoatStep):
            continue
        coat, cup, method = k.coats[step.material], cup_of(k, step), method_of(k, step)
        if not cup.carrier.parts or coat.use in ("marking", "rubbed"):
            continue
        share = CAN_SHARE if method is Method.CAN else GUN_SHARE if method in SPRAYED else HAND_SHARE
        area = sum(areas[z] for z in step.zones) * (step.coverage or coat.coverage)
        q = _quantity(cup, area, (step.dry_film_um or coat.dry_film_um) / max(cup.volume_solids, 0.005), share)
        # A can is bought mixed.
        mix = None if method is Method.CAN else step.mix or default_mix(k, step.material)
        whole = sum(part_ml(k, p) for p in mix.parts) if mix else 1.0
        pours = [(p.material, p.role.value, part_ml(k, p) / whole) for p in mix.parts] if mix else []
        for material, role, part in pours or [(step.material, "paint", 1.0)]:
            old = found.get(material, (role, 0.0, 0))
            found[material] = (role, old[1] + (q.landed_ml + q.lost_ml + q.left_ml) * part, old[2] + 1)
    return [
        Need(
            material=m, name=(k.coats.get(m) or k.thinners[m]).name, role=role, ml=round(ml, 1), coats=n,
            low_ml=round(ml / NEEDS_UNCERTAIN, 1), high_ml=round(ml * NEEDS_UNCERTAIN, 1),
        )
        for m, (role, ml, n) in sorted(found.items(), key=lambda f: -f[1][1])
    ]  # fmt: skip


def in_hand(
    material: str, thinner: float | None, area_cm2: float, film_um: float | None, method: Method | None, kit: Kit | None
) -> Plan:
    """A plan of one coat on one side, for a paint in hand without any plan. Raises KeyError for an unknown material.

    `thinner` to one part of paint replaces the usual mix's. The side is 1:1, bare, in air of 20 °C and 50 %.
    """
    k = default_knowledge()
    coat = k.coats[material]
    mix = default_mix(k, material)
    if thinner is not None:
        with_ = next((p.material for p in mix.parts if p.role is Role.THINNER), None) if mix else coat.thin_with
        parts = [MixPart(material=material, role=Role.PAINT, amount=1.0)]
        if thinner > 0 and with_:
            parts.append(MixPart(material=with_, role=Role.THINNER, amount=thinner))
        mix = Mix(parts=parts)
    step = CoatStep(
        kind="coat", id="coat", name=coat.name, zones=["side"], material=material, mix=mix, method=method,
        dry_film_um=film_um,
    )  # fmt: skip
    build = Build(name="In hand", scale=1, starts_at=datetime(2026, 1, 1, tzinfo=UTC))
    zone = Zone(id="side", name="Side", area_cm2=area_cm2)
    return Plan(format="emvar-plan", version=1, build=build, zones=[zone], steps=[step], kit=kit)


def thickness_of(k: Knowledge, plan: Plan, step: CoatStep, temp_c: float) -> Thickness:
    """Viscosity of a step's mix: measured if it was, else computed, as measuring this paint before has taught."""
    cup = cup_of(k, step)
    coat = k.coats[step.material]
    plain = thickness(k, coat, cup, temp_c)
    own = _measured_mpas(step, plain.density_g_ml)
    if own is not None:
        return measured(own, plain.density_g_ml)
    lessons = []
    for other in plan.steps:
        if isinstance(other, CoatStep) and other.material == step.material and other.measured is not None:
            there = thickness(k, coat, cup_of(k, other), temp_c)
            if (found := _measured_mpas(other, there.density_g_ml)) is not None:
                lessons.append(math.log(found / there.mpas))
    return thickness(k, coat, cup, temp_c, math.exp(sum(lessons) / len(lessons)) if lessons else 1.0)


def _measured_mpas(step: CoatStep, density_g_ml: float) -> float | None:
    m = step.measured
    if m is None:
        return None
    if m.viscosity_mpas is not None:
        return m.viscosity_mpas
    if m.flow_cup is not None and m.flow_cup_s is not None and m.flow_cup in set(FlowCup):
        try:
            return kinematic_mm2_s(FlowCup(m.flow_cup), m.flow_cup_s) * density_g_ml
        except OutOfRange:
            return None
    return None


def _thinned(k: Knowledge, step: CoatStep, thinner: float | None) -> CoatStep:
    mix = step.mix or default_mix(k, step.material)
    if thinner is None or mix is None:
        return step
    parts = [p.model_copy(update={"amount": thinner}) if p.role is Role.THINNER else p for p in mix.parts]
    return step.model_copy(update={"mix": mix.model_copy(update={"parts": parts})})


def card(plan: Plan, step_id: str, setting: Setting | None = None) -> Card:
    """The bench card of a coat. Raises KeyError where the plan has no such coat; ValueError for an absurd setting."""
    step = plan.step(step_id)
    if not isinstance(step, CoatStep):
        raise KeyError(step_id)
    setting = setting or Setting()
    k = default_knowledge().with_own(plan.materials)
    walker = Walker(plan, k, opens=False)
    step = _thinned(k, step, setting.thinner)
    plan_air = walker.line.at(walker.times[step_id].start_min)
    air = plan_air.model_copy(
        update={f: v for f, v in (("temp_c", setting.temp_c), ("rh_pct", setting.rh_pct)) if v is not None}
    )
    coat, cup = k.coats[step.material], cup_of(k, step)
    method = method_of(k, step)
    thick = thickness_of(k, plan, step, air.temp_c)
    film = step.dry_film_um or coat.dry_film_um
    covered = step.coverage or coat.coverage
    area = sum(z.area_cm2 for z in plan.zones if z.id in step.zones) * covered
    sprayed = method in SPRAYED
    kit = plan.kit or Kit()
    gun_kit = next((g for g in kit.guns if g.id == setting.gun), kit.guns[0]) if sprayed else None
    point = best = None
    lay: Laying | None = None
    map_out: MapOut | None = None
    knobs: list[tuple[str, str]] = []
    speed, share = 80.0, HAND_SHARE
    if gun_kit is not None:
        trigger = setting.trigger if setting.trigger is not None else TRIGGER[method]
        gun = Gun(gun_kit.nozzle_mm, trigger, gun_kit.external_mix, gun_kit.flow_ml_min)
        paint = paint_of(k, coat, cup, thick)
        part = "small" if area < 15 else "side"
        most = kit.most_kpa - kit.hose_loss_kpa
        found = best_setting(k, paint, gun, part, air, most, kit.altitude_m)
        best = found[0] if found else None
        speed = setting.speed_mm_s or (found[1].speed_mm_s if found else 80.0)
        hand = Hand(speed, part)
        pressure = setting.pressure_kpa or (best.pressure_kpa if best else 100.0)
        distance = setting.distance_mm or (best.distance_mm if best else 100.0)
        point = at_point(k, paint, gun, hand, air, pressure, distance, kit.altitude_m)
        lay = laying(k, paint, point, hand, air, film, area)
        f = field(k, paint, gun, hand, air, PRESSURES_KPA, DISTANCES_MM, kit.altitude_m)
        letters = np.array(["g", "d", "o", "w", "r"])[f.zone]
        map_out = MapOut(
            pressures_kpa=[round(float(p), 1) for p in PRESSURES_KPA],
            distances_mm=[round(float(d), 1) for d in DISTANCES_MM],
            rows=["".join(row) for row in letters],
        )
        if point.zone is not ZONES[2]:
            knobs = one_knob(k, paint, gun, hand, air, pressure, distance)
        share = (0.4 if part == "small" else 0.6) * math.exp(-distance / 400)
    elif method is Method.CAN:
        share = CAN_SHARE
    poured = bool(cup.carrier.parts) and coat.use not in ("marking", "rubbed") and method is not Method.CAN
    wet = film / max(cup.volume_solids, 0.005)
    q = _quantity(cup, area, wet, share)
    total = _poured_ml(k, step, cup, setting) or q.landed_ml + q.lost_ml + q.left_ml
    return Card(
        step_id=step.id,
        name=step.name,
        method=method.value,
        ratio=_ratio(k, step),
        pours=(pours := _pours(k, step, total, setting) if poured else ([], 0.0))[0],
        ratio_error_pct=pours[1],
        thickness=_thickness_out(thick, sprayed) if poured else None,
        gun=gun_kit,
        point=_point_out(point),
        best=_point_out(best),
        speed_mm_s=speed,
        laying=LayingOut(**lay.__dict__) if lay is not None else None,
        map=map_out,
        knobs=knobs,
        quantity=q,
        film_um=film,
        film_words=_film_words(plan, step, coat, film, covered),
        wet_um=round(wet, 1),
        how=_how(method, coat, cup),
        correction=_correction(k, step),
        ladder=_ladder(k, step, coat),
        split=_split(k, walker, step, coat, area),
        tonight=_tonight(k, plan, step, coat, cup, air, sprayed),
        spray_now=_may_spray(k, coat, cup, air),
    )  # fmt: skip


def _point_out(p: Point | None) -> PointOut | None:
    if p is None:
        return None
    plain = {f: round(v, 3) if isinstance(v, float) else v for f, v in p.__dict__.items()}
    return PointOut(**plain | {"zone": p.zone.value})


def _thickness_out(t: Thickness, sprayed: bool) -> ThicknessOut:
    low, high = AIRBRUSH_READY_MM2_S
    ready = "thick" if t.mm2_s > high else "thin" if t.mm2_s < low else "ready"
    return ThicknessOut(
        mpas=round(t.mpas, 2), low_mpas=round(t.low_mpas, 2), high_mpas=round(t.high_mpas, 2),
        mm2_s=round(t.mm2_s, 2), like=like(t.mpas), basis=t.basis, ready=ready if sprayed else "",
    )  # fmt: skip


def _ratio(k: Knowledge, step: CoatStep) -> str:
    mix = step.mix or default_mix(k, step.material)
    if mix is None or len(mix.parts) < 2 or method_of(k, step) is Method.CAN:
        return "as it comes"
    names = [(k.coats.get(p.material) or k.thinners[p.material]).name.lower() for p in mix.parts]
    return f"{ratio_words(mix)} · {' : '.join(names)}"


def _pours(k: Knowledge, step: CoatStep, total_ml: float, setting: Setting) -> tuple[list[Poured], float]:
    """What to pour for a total, and by how many percent whole drops miss the ratio."""
    mix = step.mix or default_mix(k, step.material)
    if mix is None:
        coat = k.coats[step.material]
        drops = max(round(total_ml / coat.drop_ml), 1)
        return [Poured(name=coat.name, role="paint", drops=drops, ml=round(total_ml, 3))], 0.0
    materials = [k.coats.get(p.material) or k.thinners[p.material] for p in mix.parts]
    sizes = [m.drop_ml for m in materials]
    if step.measured is not None and step.measured.drops_per_ml is not None:
        sizes[0] = 1 / step.measured.drops_per_ml
    grow = 1.0 if setting.total_ml is not None else 1.5
    s = scaled([part_ml(k, p) for p in mix.parts], sizes, total_ml, grow, setting.paint_drops)
    pours = [
        Poured(name=m.name, role=p.role.value, drops=n, ml=ml)
        for m, p, n, ml in zip(materials, mix.parts, s.drops, s.ml, strict=True)
    ]
    return pours, s.error_pct


CHIPS_UNDER_UM = 20.0  # a thicker film over the release layer does not let water through (common practice)


def _film_words(plan: Plan, step: CoatStep, coat: Coat, film: float, covered: float) -> str:
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
    if least is not None and covered > 0.9 and film < least:
        return f"{film:g} µm is little: it may not cover (from about {least:g} µm)."
    if most is not None and film > most:
        return f"{film:g} µm is much: it fills detail and sags (up to about {most:g} µm)."
    return ""


def _how(method: Method, coat: Coat, cup: Cup) -> str:
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


def _correction(k: Knowledge, step: CoatStep) -> str:
    """What to add to the cup as it was weighed, to meet the step's ratio."""
    m = step.measured
    mix = step.mix or default_mix(k, step.material)
    if m is None or m.paint_g is None or mix is None or len(mix.parts) < 2:
        return ""
    paint = next(p for p in mix.parts if p.role is Role.PAINT)
    thinner = next((p for p in mix.parts if p.role is not Role.PAINT), None)
    if thinner is None or thinner.material not in k.thinners:
        return ""
    density = k.coats[step.material].density_g_ml
    thin_density = carrier_density_g_ml(k, blend_of(k.thinners[thinner.material]))
    try:
        c = corrected(m.paint_g / density, (m.thinner_g or 0.0) / thin_density, part_ml(k, paint), part_ml(k, thinner))
    except Impossible as error:
        return str(error)
    grams = c.ml * (density if c.add == "paint" else thin_density)
    return c.sentence if not c.add else f"{c.sentence} That is {grams:.2f} g."


def _ladder(k: Knowledge, step: CoatStep, coat: Coat) -> list[RungOut]:
    """One bottle at several strengths, for washes."""
    if coat.use != "effect" or coat.system not in ("enamel_effect", "clay", "shade_ink", "oil", "alkyd_oil"):
        return []
    thin = k.thinners[coat.thin_with or ("white_spirit" if coat.system == "enamel_effect" else "water")]
    return [
        RungOut(
            use=r.use, wash_drops=r.wash_drops, thinner_drops=r.thinner_drops, darkness=r.darkness,
            lightest=r.range[0], darkest=r.range[1], error_pct=r.error_pct,
        )
        for r in ladder(coat.volume_solids, pigment_share(coat), coat.drop_ml, thin.drop_ml, 0.4)
    ]  # fmt: skip


def _split(k: Knowledge, walker: Walker, step: CoatStep, coat: Coat, area: float) -> str:
    """How to split the surface so that each part can be worked before it closes."""
    windows = walker.lay(step).layer.system.windows  # type: ignore[union-attr]
    if not windows:
        return ""
    action, window = next(iter(windows.items()))
    drying = walker.lay(step).drying
    opens = drying.when(window.opens[1]) - drying.end_min
    closes = drying.when(window.closes[0]) - drying.end_min
    rates = RATES_CM2_MIN["wash" if action.value == "wipe" else "blend"]
    covered = step.coverage or coat.coverage
    try:
        s = sections(area / max(covered, 0.05), opens, closes, *rates)
    except Impossible:
        return ""
    if closes > 2880:
        return f"{s.sentence} It can be worked at any time."
    return f"{s.sentence} To {action.value} by {closes / 60:.1f} h after laying (careful edge)."


def _may_spray(k: Knowledge, coat: Coat, cup: Cup, air: Air) -> bool:
    system = k.systems[coat.system]
    if system.mfft_c is not None and air.temp_c < 15:
        return False
    if cup.carrier.water < 0.2 and system.film.value == "evaporating":
        return blush_margin_k(k, cup.carrier, 20.0, air) >= BLUSH_STOP_K
    return True


def _tonight(k: Knowledge, plan: Plan, step: CoatStep, coat: Coat, cup: Cup, air: Air, sprayed: bool) -> list[str]:
    """With this air: spray or not, with which thinner, or what else of the plan is better done."""
    said: list[str] = []
    system = k.systems[coat.system]
    if cup.carrier.parts and cup.carrier.water < 0.2 and system.film.value == "evaporating":
        margin = blush_margin_k(k, cup.carrier, 20.0, air)
        if margin < BLUSH_HEED_K:
            better = [
                t.name.lower()
                for t in k.thinners.values()
                if _thins(k, step, t.id)
                and (c := _cup_with(k, step, t.id)) is not None
                and blush_margin_k(k, c.carrier, 20.0, air) >= BLUSH_HEED_K
            ]
            word = "It would blush tonight" if margin < 0 else "It comes close to blushing tonight"
            said.append(
                f"{word}: the film cools to {abs(margin):.0f} K {'below' if margin < 0 else 'above'} the dew point. "
                + (f"With {' or '.join(better[:2])} it stays clear." if better else "Wait for drier air.")
            )
    if system.mfft_c is not None and air.temp_c < 15:
        said.append(f"At {air.temp_c:g} °C a water-borne film may not fuse: warm the bench to 15 °C or more.")
    if air.temp_c > 28 and cup.carrier.water > 0.5:
        said.append(f"At {air.temp_c:g} °C it dries in the brush and at the needle: retarder up to 10 %, or an enamel.")
    if air.rh_pct > 75 and cup.carrier.water > 0.5:
        said.append(f"At {air.rh_pct:g} % humidity water leaves slowly: double the waits, or a fan.")
    if system.film.value == "oxidising" and air.temp_c < 12:
        said.append(f"At {air.temp_c:g} °C alkyd and oil harden very slowly.")
    if said and sprayed and (other := _dry_job(k, plan, step)):
        said.append(f"A dry job instead: “{other}”.")
    return said or ["Nothing in this air speaks against it."]


def _thins(k: Knowledge, step: CoatStep, thinner: str) -> bool:
    return k.systems[k.coats[step.material].system].film.value == "evaporating" and thinner in (
        "mild_thinner", "lacquer_retarder", "alcohol_acrylic_thinner",
    )  # fmt: skip


def _cup_with(k: Knowledge, step: CoatStep, thinner: str) -> Cup | None:
    mix = step.mix or default_mix(k, step.material)
    if mix is None:
        return None
    parts = [p.model_copy(update={"material": thinner}) if p.role is Role.THINNER else p for p in mix.parts]
    return cup_of(k, step.model_copy(update={"mix": mix.model_copy(update={"parts": parts})}))


def _dry_job(k: Knowledge, plan: Plan, step: CoatStep) -> str | None:
    """Another step of the plan that needs no spraying, not yet done by then."""
    ids = [s.id for s in plan.steps]
    for other in plan.steps[ids.index(step.id) + 1 :]:
        if isinstance(other, CoatStep):
            if method_of(k, other) not in SPRAYED | {Method.CAN} and not set(other.zones) & set(step.zones):
                return other.name
        elif not set(other.zones) & set(step.zones):
            return other.name
    return None


__all__ = ["Card", "Need", "Setting", "card", "in_hand", "needs", "thickness_of"]
