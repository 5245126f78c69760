"""What is in the cup: carriers and solids by volume, drops and millilitres.

Volumes are taken as additive; alcohol with water contracts by up to 4 % (docs/models.md).
"""

from __future__ import annotations

from dataclasses import dataclass

from ..knowledge import WATER, Coat, Knowledge
from ..memory import MEMORY
from ..plan import CoatStep, Mix, MixPart, default_mix, method_of, mix_of
from ..vocabulary import AIRBRUSHED, Method, Role, Unit, Use
from .blend import Blend, blend_of
from .drops import Scaled, held, poured

TRANSFER_SPRAY = 0.45
TRANSFER_BRUSH = 0.95
TRANSFER_CAN = 0.35
CUP_RESIDUE_ML = 0.15
_CUPS = MEMORY.door("cup of a mix", 5_000)
_WHOLE = MEMORY.door("cups in whole drops", 10_000)


@dataclass(frozen=True)
class Cup:
    """A mix as it lands: its carrier, its solids by volume, how much of it is thinner."""

    carrier: Blend
    volume_solids: float
    thinner_share: float
    water_share: float


def part_ml(k: Knowledge, part: MixPart) -> float:
    """Volume of one part in mL (or in relative volume for parts and percent)."""
    material = k.coats.get(part.material) or k.thinners[part.material]
    if part.unit is Unit.DROPS:
        return part.amount * material.drop_ml
    if part.unit is Unit.GRAMS:
        return part.amount / density_g_ml(k, part.material)
    return part.amount


def density_g_ml(k: Knowledge, material_id: str) -> float:
    """Density of a paint or a thinner, g/mL."""
    if material_id in k.coats:
        return k.coats[material_id].density_g_ml
    return blend_of(k.thinners[material_id]).density_g_ml(k)


def cup_of(k: Knowledge, step: CoatStep) -> Cup:
    """The mix of a step as it lands. Without a mix, the usual mix of its material."""
    mix = step.mix.model_dump_json() if step.mix else ""
    return _CUPS.once((k.signature, step.material, mix), lambda: _mixed(k, step.material, step.mix))


def _mixed(k: Knowledge, material_id: str, mix: Mix | None) -> Cup:
    mix = mix or default_mix(k, material_id)
    if mix is None:
        coat = k.coats[material_id]
        return Cup(blend_of(coat), coat.volume_solids, 0.0, 0.0)
    carrier: dict[str, float] = {}
    solids = total = thinner_ml = water_ml = 0.0
    for part in mix.parts:
        ml = part_ml(k, part)
        total += ml
        if part.material in k.coats:
            coat = k.coats[part.material]
            solids += ml * coat.volume_solids
            liquid, percent = ml * (1 - coat.volume_solids), coat.percent
        else:
            liquid, percent = ml, k.thinners[part.material].percent
            thinner_ml += ml
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
    """One part of the cup for a step: whole drops where that is how it is poured, and mL."""

    material: str
    name: str
    role: str
    ml: float
    drops: int


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
    """How much to mix for a step. mL of what lands, is lost and stays behind; the cup as it is poured in whole drops.

    The error is that of the ratio in whole drops; `helps` says what would hold it where they do not.
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

    @property
    def needed_ml(self) -> float:
        """What has to be in the cup, mL."""
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
    mix = None if method is Method.CAN else mix_of(k, step)
    parts = mix.parts if mix else [MixPart(material=step.material, role=Role.PAINT, amount=1)]
    materials = [k.coats.get(p.material) or k.thinners[p.material] for p in parts]
    counted = step.measured.drops_per_ml if step.measured is not None else None
    sizes = [
        1 / counted if counted and p.role is Role.PAINT else m.drop_ml for p, m in zip(parts, materials, strict=True)
    ]
    paint = next((i for i, p in enumerate(parts) if p.role is Role.PAINT), 0)
    # A recipe in drops is meant in drops of the size that is counted.
    volumes = [p.amount * d if p.unit is Unit.DROPS else part_ml(k, p) for p, d in zip(parts, sizes, strict=True)]
    key = (tuple(volumes), tuple(sizes), needed, fill, paint, area_cm2 is not None)
    s = _WHOLE.once(key, lambda: _whole(volumes, sizes, needed, fill, paint, area_cm2 is not None))
    return CupFor(
        tuple(
            Pour(p.material, m.name, p.role.value, round(ml, 3), n)
            for p, m, ml, n in zip(parts, materials, s.ml, s.drops, strict=True)
        ),
        round(sum(s.ml), 2),
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
    )


def _whole(volumes: list[float], sizes: list[float], needed: float, fill: Fill, paint: int, known: bool) -> Scaled:
    """Whole drops for what is needed, or within a cup or a number of drops that was asked for."""
    if fill.paint_drops is not None:
        return held(volumes, sizes, paint, fill.paint_drops)
    if fill.most_drops is not None:
        return poured(volumes, sizes, need_ml=needed if known else 0.0, most_drops=fill.most_drops)
    if fill.total_ml is not None:
        return poured(volumes, sizes, most_ml=fill.total_ml)
    return poured(volumes, sizes, need_ml=needed)
