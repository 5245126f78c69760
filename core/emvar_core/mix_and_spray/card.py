"""The bench card of a coat: what to mix, how thick it is, how to put it on, how much, and what the air says tonight.

Computed from the plan's own step, its kit and the air at the instant that is asked about.
"""

from __future__ import annotations

import math
from typing import Any

from ..errors import Impossible, NotThere
from ..judging import Conditions, CupOut, Laid, conditions_of, lay
from ..judging.stack import Stack, Times, after
from ..judging.zones import window_of
from ..knowledge import Coat, Knowledge
from ..knowledge.flow_cups import kinematic_mm2_s
from ..physics.blend import Cup
from ..physics.colour import lightness_of
from ..physics.cup import (
    CUP_ML,
    Fill,
    counted,
    cup_of,
    density_g_ml,
    drop_of_ml,
    is_mixed,
    material_of,
    part_ml,
)
from ..physics.recipes import FREE_UM, LADDER, Rung, Strength, Wash, corrected, ladder, sections
from ..physics.spray import (
    Laying,
    Point,
    paint_of,
)
from ..physics.viscosity import Thickness, is_paste, like, measured, pigment_share, thickness
from ..plan import (
    BenchAir,
    CoatStep,
    GunKit,
    Kit,
    Plan,
    WorkingStep,
    known_to,
    method_of,
    mix_of,
    ratio_words,
    step_times,
)
from ..remarks import cup_out, pot_life_words
from ..seams.windows import OpenWindow, windows_of
from ..vocabulary import (
    AIRBRUSHED,
    COVERS,
    FlowCup,
    Method,
    Model,
    Purpose,
    Role,
    SprayZone,
    SystemRole,
    Unit,
    Use,
    WorkAction,
)
from .evening_air import tonight_of
from .gun_card import NOT_SPRAYED, MapOut, Setting, sprayed
from .hand_card import Hand, by_hand
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
LEAST_COVERAGE = 0.05  # a coat of less is split as if it covered so much


class ThicknessOut(Model):
    """How thick the mix is: mPa·s with its range, kinematic mm²/s, what it pours like, and on what basis."""

    mpas: float
    low_mpas: float
    high_mpas: float
    mm2_s: float
    like: str
    basis: str
    ready: str


class Card(Model):
    """Everything for one coat at the bench. Parts that do not apply to its method are None."""

    step_id: str
    name: str
    method: str
    ratio: str
    pot_life: str
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
    hand: Hand | None
    how: str
    correction: str
    ladder: list[Rung]
    split: str
    tonight: list[str]
    tonight_ok: bool


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
    by_air = method in AIRBRUSHED
    gun = next((g for g in kit.guns if g.id == setting.gun), kit.guns[0]) if by_air else None
    poured = poured_for(k, plan, step, laid, Fill(setting.total_ml, setting.paint_drops, setting.most_drops))
    mixed = poured is not None and is_mixed(coat, method)
    hand = by_hand(k, step, laid, area)
    tonight = tonight_of(c, plan, times, step, air)
    airbrush = (
        sprayed(c, step, paint_of(k, coat, cup, thick), kit, gun, setting, laid, area, air) if gun else NOT_SPRAYED
    )
    return Card(
        step_id=step.id,
        name=step.name,
        method=method.value,
        ratio=_ratio(k, step),
        pot_life=pot_life_words(coat, air.temp_c) if mixed else "",
        mixed=mixed,
        cup=cup_out(poured) if poured else None,
        cups=poured.cups if poured else 0,
        thickness=_thickness_out(thick, airbrush) if mixed else None,
        gun=gun,
        **airbrush,
        film_um=laid.film_um,
        film_words=_film_words(plan, step, laid),
        hand=hand,
        how=hand.sentences if hand is not None else "",
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
