"""What is in the cup: carriers and solids by volume, drops and millilitres.

Volumes are taken as additive; alcohol with water contracts by up to 4 % (docs/models.md).
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

from ..materials import Coat, Knowledge, Thinner
from ..plan import CoatStep, Method, Mix, MixPart, Role, Unit

TRANSFER_SPRAY = 0.45
TRANSFER_BRUSH = 0.95
CUP_RESIDUE_ML = 0.15


@dataclass(frozen=True)
class Blend:
    """A liquid by volume fractions of solvents; sorted, so that equal blends are equal keys."""

    parts: tuple[tuple[str, float], ...]

    @staticmethod
    def of(fractions: dict[str, float]) -> Blend:
        total = sum(fractions.values())
        if total <= 0:
            return Blend(())
        return Blend(tuple(sorted((k, round(v / total, 6)) for k, v in fractions.items() if v > 0)))

    def family_shares(self, k: Knowledge) -> dict[str, float]:
        """Volume share by solvent family."""
        shares: dict[str, float] = {}
        for solvent, share in self.parts:
            family = k.solvents[solvent].family
            shares[family] = shares.get(family, 0.0) + share
        return shares

    @property
    def water(self) -> float:
        return dict(self.parts).get("water", 0.0)


@dataclass(frozen=True)
class Cup:
    """A mix as it lands: its carrier, its solids by volume, how much of it is thinner."""

    carrier: Blend
    volume_solids: float
    thinner_share: float
    water_share: float


def blend_of(material: Thinner | Coat) -> Blend:
    return Blend.of(dict(material.percent))


def part_ml(k: Knowledge, part: MixPart) -> float:
    """Volume of one part in mL (or in relative volume for parts and percent)."""
    material = k.coats.get(part.material) or k.thinners[part.material]
    if part.unit is Unit.DROPS:
        return part.amount * material.drop_ml
    if part.unit is Unit.GRAMS:
        return part.amount / density_g_ml(k, part.material)
    return part.amount


def density_g_ml(k: Knowledge, material_id: str) -> float:
    if material_id in k.coats:
        return k.coats[material_id].density_g_ml
    thinner = k.thinners[material_id]
    total = sum(thinner.percent.values())
    return sum(k.solvents[s].density_g_ml * p / total for s, p in thinner.percent.items())


def default_mix(k: Knowledge, material_id: str) -> Mix | None:
    """The usual mix of a material by common practice, or None where it is used as it comes."""
    coat = k.coats[material_id]
    if coat.thin_with is None or coat.thin_ratio is None:
        return None
    paint, thinner = coat.thin_ratio
    return Mix(
        parts=[
            MixPart(material=material_id, role=Role.PAINT, amount=paint),
            MixPart(material=coat.thin_with, role=Role.THINNER, amount=thinner),
        ]
    )


def method_of(k: Knowledge, step: CoatStep) -> Method:
    """How a coat is put on: the step's own way, or its material's usual."""
    return step.method or k.coats[step.material].method


def passes_of(k: Knowledge, step: CoatStep) -> int:
    return step.passes or k.coats[step.material].passes


def cup_of(k: Knowledge, step: CoatStep) -> Cup:
    """The mix of a step as it lands. Without a mix, the usual mix of its material."""
    return _cup(k, step.material, step.mix)


_CUPS: dict[tuple[str, str, str], Cup] = {}


def _cup(k: Knowledge, material_id: str, mix: Mix | None) -> Cup:
    key = (k.signature, material_id, mix.model_dump_json() if mix else "")
    if key not in _CUPS:
        if len(_CUPS) > 5000:
            _CUPS.clear()
        _CUPS[key] = _mixed(k, material_id, mix)
    return _CUPS[key]


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
            water_ml += ml * percent.get("water", 0.0) / 100
        whole = sum(percent.values())
        for solvent, share in percent.items():
            carrier[solvent] = carrier.get(solvent, 0.0) + liquid * share / whole
    return Cup(Blend.of(carrier), solids / total, thinner_ml / total, water_ml / total)


@dataclass(frozen=True)
class Pour:
    """One part of the cup for a step: whole drops where that is how it is poured, and mL."""

    material: str
    name: str
    role: str
    ml: float
    drops: int


@dataclass(frozen=True)
class CupFor:
    """How much to mix for a step, in mL and whole drops; the error is that of the ratio in whole drops."""

    pours: tuple[Pour, ...]
    total_ml: float
    ratio_error_pct: float
    wet_film_um: float
    basis: str


def cup_for_area(k: Knowledge, step: CoatStep, film_um: float, area_cm2: float, coverage: float) -> CupFor:
    """Paint and thinner for an area: area × wet film / transfer efficiency, and what stays in the cup.

    `film_um` dry film of the whole coat, `area_cm2` of all its zones, `coverage` 0–1. Transfer efficiency
    0.3–0.6 for an airbrush (0.45 used), 0.95 for a brush; common practice.
    """
    mix = step.mix or default_mix(k, step.material)
    cup = cup_of(k, step)
    wet_um = film_um / max(cup.volume_solids, 0.005)
    sprayed = method_of(k, step) in {Method.MIST, Method.SPRAY, Method.WET_SPRAY, Method.CAN}
    transfer = TRANSFER_SPRAY if sprayed else TRANSFER_BRUSH
    needed = area_cm2 * coverage * wet_um * 1e-4 / transfer + CUP_RESIDUE_ML
    parts = mix.parts if mix else [MixPart(material=step.material, role=Role.PAINT, amount=1)]
    ratio = [part_ml(k, p) for p in parts]
    drops = whole_drops([needed * r / sum(ratio) / _drop(k, p.material) for r, p in zip(ratio, parts, strict=True)])
    pours = []
    for part, count in zip(parts, drops, strict=True):
        material = k.coats.get(part.material) or k.thinners[part.material]
        ml = count * material.drop_ml
        pours.append(Pour(part.material, material.name, part.role.value, round(ml, 3), count))
    total = sum(p.ml for p in pours)
    error = max(abs(p.ml / total - r / sum(ratio)) / (r / sum(ratio)) for p, r in zip(pours, ratio, strict=True))
    return CupFor(
        tuple(pours),
        round(total, 2),
        round(error * 100, 1),
        round(wet_um, 1),
        f"{area_cm2 * coverage:.0f} cm² at {wet_um:.0f} µm wet, {transfer:.0%} of it landing, "
        f"{CUP_RESIDUE_ML:g} mL left in the cup (common practice)",
    )


def _drop(k: Knowledge, material_id: str) -> float:
    return (k.coats.get(material_id) or k.thinners[material_id]).drop_ml


MOST_SCALE_UP = 3.0
MOST_TRIED = 60
LEAST_OF_CUP = 0.9  # of what is wanted, where that meets the ratio better
MOST_ROUNDED_BOTH_WAYS = 4


def _roundings(wanted: list[float]) -> list[list[int]]:
    """Whole drops near wanted ones: the nearest first, then, for a few parts, each up and down."""
    nearest = [max(1, round(w)) for w in wanted]
    if len(wanted) > MOST_ROUNDED_BOTH_WAYS:
        return [nearest]
    both = itertools.product(*({max(1, math.floor(w)), max(1, math.ceil(w))} for w in wanted))
    return [nearest, *(list(drops) for drops in both)]


def whole_drops(wanted: list[float], grow: float = 1.5) -> list[int]:
    """Whole drops for wanted (fractional) drops, with the smallest ratio error; every part gets at least one.

    Scales the recipe up by at most `grow`, or so far that the smallest part is a whole drop, but never more than
    threefold: a part of a thousandth of a drop is one drop in a ratio that is off, and the error says so.
    """
    start = min(max(1.0, 1.0 / min(wanted)), MOST_SCALE_UP)
    aim, scales = sum(wanted), {start}
    for w in wanted:
        low, high = math.ceil(w * start * LEAST_OF_CUP), int(w * start * grow)
        counts = range(max(low, 1), high + 1, max((high - low) // MOST_TRIED, 1))
        # Between whole counts too: only there can this part be rounded either way.
        scales |= {count / w for count in counts} | {(count - 0.5) / w for count in counts}
    best: tuple[float, list[int]] | None = None
    for scale in sorted(scales):
        for drops in _roundings([w * scale for w in wanted]):
            total = sum(drops)
            if total < aim * start * LEAST_OF_CUP and min(drops) > 1:
                continue
            error = max(abs(d / total - w / aim) / (w / aim) for d, w in zip(drops, wanted, strict=True))
            if best is None or error < best[0] - 0.004:  # a larger cup has to be worth it
                best = (error, drops)
    assert best is not None
    return best[1]


def ratio_words(mix: Mix) -> str:
    """A mix as people say it: `1 : 2`, or `4 : 1 drops`."""
    words = " : ".join(f"{p.amount:g}" for p in mix.parts)
    unit = mix.parts[0].unit
    return words if unit is Unit.PARTS else f"{words} {unit.value}"
