"""What is in the cup: carriers and solids by volume, drops and millilitres.

Volumes are taken as additive; alcohol with water contracts by up to 4 % (docs/models/mixing.md).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..knowledge import WATER, Coat, Knowledge, Thinner
from ..memory import MEMORY
from ..plan import CoatStep, Mix, MixPart, default_mix, method_of, mix_of
from ..vocabulary import AIRBRUSHED, Method, Role, ThinnerRole, Unit, Use
from .blend import Blend, Cup, blend_of
from .drops import Scaled, held, poured
from .viscosity import is_paste

TRANSFER_SPRAY = 0.45
TRANSFER_BRUSH = 0.95
TRANSFER_CAN = 0.35
CUP_RESIDUE_ML = 0.15
POUR_ML = 80.0  # what one cup of what is poured holds: under 100 g
CUP_ML = 7.0  # what the cup of an airbrush holds (common practice)
LEAST_WEIGHED_G = 0.2  # of a hardener: a scale for hundredths of a gram is out by 5 % at most
LEFT_FREE = 0.97  # of a cup, that what is needed fills at most: rounding to whole drops takes the rest
_CUPS = MEMORY.door("cup of a mix", 5_000)
_WHOLE = MEMORY.door("cups in whole drops", 10_000)


# Drops of paint and of thinner in a millilitre, None where they were not counted.
Counted = tuple[float | None, float | None]


def part_ml(k: Knowledge, part: MixPart, paint_id: str, counts: Counted = (None, None)) -> float:
    """Volume of one part of a mix of a paint in mL (or in relative volume for parts and percent)."""
    if part.unit is Unit.DROPS:
        return part.amount * drop_of_ml(k, part.material, paint_id, counts)
    if part.unit is Unit.GRAMS:
        return part.amount / density_g_ml(k, part.material)
    return part.amount


def density_g_ml(k: Knowledge, material_id: str) -> float:
    """Density of a paint or a thinner, g/mL."""
    if material_id in k.coats:
        return k.coats[material_id].density_g_ml
    thinner = k.thinners[material_id]
    return thinner.density_g_ml or blend_of(thinner).density_g_ml(k)


def counted(step: CoatStep) -> Counted:
    """How many drops of paint and of thinner make a millilitre, where somebody counted them."""
    m = step.measured
    return (None, None) if m is None else (m.drops_per_ml, m.thinner_drops_per_ml)


def drop_of_ml(k: Knowledge, material_id: str, paint_id: str, counts: Counted) -> float:
    """Size of a drop of a part, mL, as counted.

    What was counted of one liquid tells of the others too: one pipette for all is the usual case, and from the same tip
    drops keep their ratio (Tate's law). Who uses another dropper for the thinner counts that as well.
    """
    own = material_of(k, material_id).drop_ml
    paint, thinner = counts
    if material_id == paint_id or material_id in k.coats:
        here, told = paint, k.coats[paint_id].drop_ml
        if paint is None and thinner is not None:
            return own  # the paint comes from its own bottle
    else:
        here, told = (thinner, own) if thinner is not None else (paint, k.coats[paint_id].drop_ml)
    return own if here is None else own / told / here


def material_of(k: Knowledge, material_id: str) -> Coat | Thinner:
    """A paint or a thinner by its id."""
    return k.coats.get(material_id) or k.thinners[material_id]


def cup_of(k: Knowledge, step: CoatStep) -> Cup:
    """The mix of a step as it lands. Without a mix, the usual mix of its material."""
    mix = step.mix.model_dump_json() if step.mix else ""
    # Only a recipe in drops hangs on how large they are.
    counts = counted(step) if step.mix and any(p.unit is Unit.DROPS for p in step.mix.parts) else (None, None)
    key = (k.signature, step.material, mix, counts)
    return _CUPS.once(key, lambda: _mixed(k, step.material, step.mix, counts))


def _mixed(k: Knowledge, material_id: str, mix: Mix | None, counts: Counted) -> Cup:
    mix = mix or default_mix(k, material_id)
    if mix is None:
        coat = k.coats[material_id]
        return Cup(blend_of(coat), coat.volume_solids, 0.0, 0.0)
    carrier: dict[str, float] = {}
    solids = total = thinner_ml = water_ml = 0.0
    for part in mix.parts:
        ml = part_ml(k, part, material_id, counts)
        total += ml
        if part.material in k.coats:
            coat = k.coats[part.material]
            solids += ml * coat.volume_solids
            liquid, percent = ml * (1 - coat.volume_solids), coat.percent
        else:
            thinner = k.thinners[part.material]
            solids += ml * thinner.volume_solids
            liquid, percent = ml * (1 - thinner.volume_solids), thinner.percent
            thinner_ml += 0.0 if thinner.is_a(ThinnerRole.HARDENS) else ml
            if not thinner.volume_solids:  # a medium brings its own binder along
                water_ml += ml * percent.get(WATER, 0.0) / 100
        whole = sum(percent.values())
        for solvent, share in percent.items():
            carrier[solvent] = carrier.get(solvent, 0.0) + liquid * share / whole
    return Cup(Blend.of(carrier), solids / total, thinner_ml / total, water_ml / total)


def transfer_of(method: Method) -> float:
    """How much of what leaves the cup lands, 0–1 (common practice; an airbrush 0.3 to 0.6).

    >>> transfer_of(Method.BRUSH)
    0.95
    """
    if method is Method.CAN:
        return TRANSFER_CAN
    return TRANSFER_SPRAY if method in AIRBRUSHED else TRANSFER_BRUSH


def is_mixed(coat: Coat, method: Method) -> bool:
    """Whether a coat is poured at all: neither dry, a marking nor out of a can."""
    return coat.use not in (Use.MARKING, Use.RUBBED) and method not in (Method.CAN, Method.DUST)


@dataclass(frozen=True)
class Pour:
    """One part of a cup for a step: whole drops, none of a paste; mL; and grams for who has a scale.

    The grams are what the recipe asks, not what the whole drops weigh.
    """

    material: str
    name: str
    role: str
    ml: float
    drops: int | None
    grams: float


@dataclass(frozen=True)
class Fill:
    """What to fill the cup for, other than the step's area: a total in mL, a number of drops of paint, or drops
    at most.
    """

    total_ml: float | None = None
    paint_drops: int | None = None
    most_drops: int | None = None


RATIO_DROPS = 10  # of paint, where no area is given


@dataclass(frozen=True)
class CupFor:
    """How much to mix for a step. mL of what lands, is lost and stays behind; one cup as it is poured in whole drops.

    `cups`: how many such cups it takes. The error is that of the ratio in whole drops; `helps` says what would hold it
    where they do not.
    """

    pours: tuple[Pour, ...]
    total_ml: float
    ratio_error_pct: float
    wet_film_um: float
    landed_ml: float
    lost_ml: float
    left_ml: float
    basis: str
    helps: str = ""
    cups: int = 1

    @property
    def needed_ml(self) -> float:
        """What has to be mixed in all, mL."""
        return self.landed_ml + self.lost_ml + self.left_ml


def cup_for_area(
    k: Knowledge, step: CoatStep, film_um: float, area_cm2: float | None, coverage: float, fill: Fill | None = None
) -> CupFor:
    """Paint and thinner for an area: area × wet film / transfer efficiency, and what stays in the cup.

    `film_um` dry film of the whole coat, `area_cm2` of all its zones, `coverage` 0–1. A can is bought mixed. Without
    an area nothing is known of what lands: the cup is the ratio, for ten drops of paint.
    """
    method, cup = method_of(k, step), cup_of(k, step)
    fill = fill or Fill()
    if area_cm2 is None and fill == Fill():
        fill = Fill(paint_drops=RATIO_DROPS)
    wet_um = film_um / max(cup.volume_solids, 0.005)
    transfer = transfer_of(method)
    landed = (area_cm2 or 0) * coverage * wet_um * 1e-4
    needed = landed / transfer + CUP_RESIDUE_ML
    poured_out = k.coats[step.material].is_poured
    holds = POUR_ML if poured_out else CUP_ML
    cups = max(math.ceil(needed / (holds * LEFT_FREE) - 1e-9), 1) if fill == Fill() else 1
    mix = None if method is Method.CAN else mix_of(k, step)
    parts = mix.parts if mix else [MixPart(material=step.material, role=Role.PAINT, amount=1)]
    counts = counted(step)
    sizes = [drop_of_ml(k, p.material, step.material, counts) for p in parts]
    paint = next((i for i, p in enumerate(parts) if p.role is Role.PAINT), 0)
    # A recipe in drops is meant in drops of the size that is counted.
    volumes = [part_ml(k, p, step.material, counts) for p in parts]
    two_pack = any(p.role is Role.HARDENER for p in parts)
    weighed = two_pack or poured_out
    pastes = tuple(weighed or (p.material in k.coats and is_paste(k, k.coats[p.material])) for p in parts)
    each, known = needed / cups, area_cm2 is not None
    if two_pack and fill == Fill():
        hardens = [(v, p.material) for v, p in zip(volumes, parts, strict=True) if p.role is Role.HARDENER]
        each = max(each, *(LEAST_WEIGHED_G / density_g_ml(k, m) * sum(volumes) / v for v, m in hardens))
    key = (tuple(volumes), tuple(sizes), each, fill, paint, known, pastes)
    s = _WHOLE.once(key, lambda: _whole(volumes, sizes, each, fill, paint, known, pastes))
    total = sum(s.ml)
    if known and fill != Fill():
        cups = max(math.ceil(needed / total - 1e-9), 1)
    return CupFor(
        tuple(
            Pour(
                p.material,
                material_of(k, p.material).name,
                p.role.value,
                round(ml, 3),
                None if paste else n,
                round(total * v / sum(volumes) * density_g_ml(k, p.material), 2),
            )
            for p, ml, n, v, paste in zip(parts, s.ml, s.drops, volumes, pastes, strict=True)
        ),
        round(total, 2),
        s.error_pct,
        round(wet_um, 1),
        round(landed, 3),
        round(landed / transfer - landed, 3),
        CUP_RESIDUE_ML,
        "the area is not given, so this is the ratio only"
        if area_cm2 is None
        else f"{area_cm2 * coverage:.0f} cm² at {wet_um:.0f} µm wet, {transfer:.0%} of it landing, "
        f"{CUP_RESIDUE_ML:g} mL left in the cup (common practice)",
        s.helps,
        cups,
    )


def _whole(
    volumes: list[float], sizes: list[float], needed: float, fill: Fill, paint: int, known: bool,
    pastes: tuple[bool, ...],
) -> Scaled:  # fmt: skip
    """Whole drops for what is needed, or within a cup or a number of drops that was asked for."""
    if any(pastes):
        return _beside_paste(volumes, sizes, needed, pastes, fill)
    if fill.paint_drops is not None:
        return held(volumes, sizes, paint, fill.paint_drops)
    if fill.most_drops is not None:
        need = needed if known else 0.0
        return poured(volumes, sizes, need_ml=need, most_ml=fill.total_ml, most_drops=fill.most_drops)
    if fill.total_ml is not None:
        return poured(volumes, sizes, most_ml=fill.total_ml)
    return poured(volumes, sizes, need_ml=needed, cup_ml=CUP_ML)


def _beside_paste(
    volumes: list[float], sizes: list[float], needed: float, pastes: tuple[bool, ...], fill: Fill
) -> Scaled:
    """Paste is weighed, so it follows the drops of what is thinned with: those are whole, and the ratio holds.

    A cup and a number of drops that was asked for are never passed; drops of paste there are none.
    """
    whole, asked = sum(volumes), fill.total_ml or needed
    drops = [0 if paste else asked * v / whole / d for v, d, paste in zip(volumes, sizes, pastes, strict=True)]
    lead = max(range(len(drops)), key=lambda i: drops[i])
    most = fill.most_drops * drops[lead] / sum(drops) if fill.most_drops and sum(drops) > 0 else math.inf
    capped = fill.total_ml is not None or fill.most_drops is not None
    wanted = math.floor(min(drops[lead], most) + 1e-9) if capped else math.ceil(drops[lead] - 1e-9)
    grown = max(wanted, 1) / drops[lead] if drops[lead] > 0 else 1.0
    counts = [0 if paste else max((math.floor if capped else round)(n * grown + 1e-9), 1) for n, paste in zip(
        drops, pastes, strict=True
    )]  # fmt: skip
    ml = [asked * v / whole * grown if p else n * d for v, d, p, n in zip(volumes, sizes, pastes, counts, strict=True)]
    shares = [v / whole for v in volumes]
    error = max(abs(m / sum(ml) - s) / s for m, s in zip(ml, shares, strict=True))
    helps = "It is weighed, not dropped: this is for the area." if fill.paint_drops is not None else ""
    return Scaled(tuple(round(m, 4) for m in ml), tuple(counts), round(error * 100, 2), helps)
