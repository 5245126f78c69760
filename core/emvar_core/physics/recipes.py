"""Recipes: drop size, meeting a target, correcting a cup in hand, areas, ladders.

Volumes are additive (alcohol with water contracts by 2–4 %). All pure: plain figures in and out.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import Impossible
from .drops import poured

WATER_TENSION_MN_M, WATER_DROP_ML = 72.7, 0.05


def drop_ml(tension_mn_m: float, density_g_ml: float, water_drop_ml: float = WATER_DROP_ML) -> float:
    """Volume of a drop from the same tip, mL: Tate's law, mass ∝ surface tension, so volume ∝ σ/ρ.

    >>> round(drop_ml(22.0, 0.8), 4)
    0.0189
    """
    return water_drop_ml * (tension_mn_m / density_g_ml) / (WATER_TENSION_MN_M / 0.998)


def counted_drop_ml(drops: int, ml: float) -> float:
    """Volume of a drop from counting them into a measure. Raises Impossible for no drops or no volume.

    >>> counted_drop_ml(25, 1.0)
    0.04
    """
    if drops < 1 or ml <= 0:
        raise Impossible("count at least ten drops into a measured millilitre")
    return ml / drops


def combined(weak: float, strong: float, target: float) -> tuple[float, float]:
    """Shares of a weak and a strong mix that give a target strength between them (0–1 each), summing to 1.

    Raises Impossible where the target does not lie between them. Example: 10 % and 40 % to 20 %: two thirds, one third.

    >>> [round(x, 3) for x in combined(0.1, 0.4, 0.2)]
    [0.667, 0.333]
    """
    if not min(weak, strong) - 1e-12 <= target <= max(weak, strong) + 1e-12:
        raise Impossible(f"{target:.0%} lies outside {weak:.0%} to {strong:.0%}: neither mix reaches it")
    if weak == strong:
        return 0.5, 0.5
    share = (target - weak) / (strong - weak)
    return 1 - share, share


def cut_with_water(ml: float, strength: float, target: float) -> float:
    """Water in mL to cut isopropanol from a strength to a target (both by volume, 0–1), before contraction.

    Example: 10 mL of 99 % to 50 % takes 9.8 mL. The result is 2–4 % less than the sum.

    >>> cut_with_water(10, 0.99, 0.5)
    9.8
    """
    if not 0 < target <= strength <= 1:
        raise Impossible(f"{target:.0%} cannot be cut from {strength:.0%}: only a weaker one can")
    return ml * (strength / target - 1)


@dataclass(frozen=True)
class Correction:
    """What to add to a cup in hand: mL of each part, as they were given, and mL that are poured off before."""

    adds: tuple[float, ...]
    pour_off_ml: float

    @property
    def is_right(self) -> bool:
        return not any(self.adds)


NEAR_ENOUGH = 0.005  # of the cup, by which a part may be off


def corrected(
    present_ml: list[float], wanted: list[float], *, left: float = 1.0, most_ml: float = math.inf
) -> Correction:
    """What brings a cup to a recipe, by adding only: the part that there is too much of stays, the others follow.

    `present_ml`: what went in, mL of each part; `wanted`: the recipe by volume; `left` 0–1: how much of it was not yet
    sprayed; `most_ml`: what the cup holds. Where it would not hold the whole, some is poured off first. Right as it is
    where nothing that it lacks comes to half a percent of the cup. Raises Impossible for an empty cup, for a recipe of
    nothing, and where something is in it that the recipe does not know: nothing can be taken out.

    >>> [round(ml, 3) for ml in corrected([2.0, 1.0], [1, 1]).adds]
    [0.0, 1.0]
    >>> [round(ml, 3) for ml in corrected([2.0, 1.0, 0.0], [1, 1, 0.1], left=0.5).adds]
    [0.0, 0.5, 0.1]
    >>> round(corrected([4.0, 0.0], [1, 1], most_ml=6.0).pour_off_ml, 3)
    1.0
    """
    if sum(present_ml) <= 0 or not 0 < left <= 1 or sum(wanted) <= 0 or len(wanted) != len(present_ml):
        raise Impossible("the cup is empty, or the ratio is none")
    if min(wanted) < 0 or min(present_ml) < 0:
        raise Impossible("there is no less than nothing of a part")
    if any(w == 0 and p > NEAR_ENOUGH * sum(present_ml) for p, w in zip(present_ml, wanted, strict=True)):
        raise Impossible("thinner cannot be taken out again: begin anew with neat paint")
    times = max(p / w for p, w in zip(present_ml, wanted, strict=True) if w > 0)
    adds = [max(times * w - p, 0.0) * left for p, w in zip(present_ml, wanted, strict=True)]
    if max(adds) < NEAR_ENOUGH * sum(present_ml) * left:
        return Correction((0.0,) * len(adds), 0.0)
    whole = sum(present_ml) * left + sum(adds)
    kept = min(most_ml / whole, 1.0)
    return Correction(tuple(a * kept for a in adds), sum(present_ml) * left * (1 - kept))


# --- areas -------------------------------------------------------------------------------------------------


def model_area_cm2(length_m: float, beam_m: float, height_m: float, scale: int, fill: float = 0.75) -> float:
    """Painted area of one body from the real thing's size: its box without the bottom, times a fill, over scale².

    `fill` 0.5–1: how much of the box's skin the real skin is (assumption 0.75). cm² on the model.

    >>> round(model_area_cm2(30, 8, 6, 72))
    1007
    """
    if min(length_m, beam_m, height_m) <= 0 or scale < 1 or not 0 < fill <= 3:
        raise Impossible("sizes in metres, a scale of 1 or more, and a fill factor up to 3")
    skin_m2 = length_m * beam_m + 2 * height_m * (length_m + beam_m)
    return skin_m2 * 1e4 / scale**2 * fill


def box_cm2(length_cm: float, width_cm: float, height_cm: float) -> float:
    """All six faces of a box.

    >>> box_cm2(10, 5, 2)
    160
    """
    return 2 * (length_cm * width_cm + length_cm * height_cm + width_cm * height_cm)


def cylinder_cm2(diameter_cm: float, length_cm: float, ends: bool = True) -> float:
    """The mantle of a cylinder, with or without its ends.

    >>> round(cylinder_cm2(2, 5), 1)
    37.7
    """
    return math.pi * diameter_cm * length_cm + (math.pi * diameter_cm**2 / 2 if ends else 0.0)


def true_size_mm(mark_mm: float, scale: int) -> float:
    """What a mark on the model is on the real thing. Example: 0.3 mm at 1:35 is a 10 mm flake.

    >>> true_size_mm(0.3, 35)
    10.5
    """
    return mark_mm * scale


# --- ladder ------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Rung:
    """One strength of a wash from its bottle: whole drops of wash and thinner (None of a paste, which is weighed), the
    grams of it, its darkness 0–1 with its range, the error of the ratio. `step_id`: the step of the plan that uses it.
    """

    use: str
    wash_drops: int | None
    wash_g: float
    thinner_drops: int
    strength: float
    darkness: float
    range: tuple[float, float]
    error_pct: float
    step_id: str | None = None


@dataclass(frozen=True)
class Strength:
    """What a rung is for: how much of the mix is wash, 0–1, and how thick it lies there, µm wet."""

    use: str
    share: float
    wet_um: float
    step_id: str | None = None


@dataclass(frozen=True)
class Wash:
    """What is in the bottle: solids 0–1, pigment's share of them, lightness L* of its colour, density, drops in mL."""

    solids: float
    pigment: float
    lightness: float
    density_g_ml: float
    drop_ml: float
    paste: bool


# Strengths as a share of the step's own mix, and how thick it lies there in µm wet; common practice and assumption.
LADDER: tuple[Strength, ...] = (
    Strength("deep lines", 1.0, 40.0),
    Strength("fasteners", 0.6, 30.0),
    Strength("shallow welds", 0.25, 25.0),
    Strength("speckle", 0.35, 20.0),
    Strength("grime", 0.12, 15.0),
)
FREE_UM = 25.0  # wet, where nobody says what a strength is for
HIDING_UM = 2.0  # dry film of a wash's pigment in binder that takes 63 % of the light away (assumption, ×÷2)


def darkness(wet_um: float, solids: float, pigment: float, lightness: float = 0.0) -> float:
    """How much darker a film makes a light ground, 0–1: 1 − e^(−dry film of solids × pigment share / hiding film).

    `lightness`: L* of its colour, 0–100; a light wash darkens little however thick it lies.

    >>> round(darkness(10, 0.1, 0.2), 2)
    0.25
    """
    return (1 - math.exp(-wet_um * solids * pigment / (HIDING_UM * 0.35))) * (1 - lightness / 100)


def ladder(wash: Wash, thinner_drop_ml: float, ml: float, strengths: tuple[Strength, ...] = LADDER) -> list[Rung]:
    """One bottle of wash at several strengths, each for `ml`, in whole drops; a paste in grams to drops of thinner."""
    rungs = []
    for s in strengths:
        if s.share >= 1:
            drops, error, ml_wash = (max(round(ml / wash.drop_ml), 1), 0), 0.0, ml
        elif wash.paste:
            count = max(math.ceil(ml * (1 - s.share) / thinner_drop_ml), 1)
            drops, error = (0, count), 0.0
            ml_wash = count * thinner_drop_ml * s.share / (1 - s.share)
        else:
            found = poured([s.share, 1 - s.share], [wash.drop_ml, thinner_drop_ml], need_ml=ml)
            drops, error, ml_wash = (found.drops[0], found.drops[1]), found.error_pct, found.ml[0]
        dark = [darkness(s.wet_um * f, wash.solids * s.share, wash.pigment, wash.lightness) for f in (0.5, 1.0, 2.0)]
        rungs.append(
            Rung(
                s.use, None if wash.paste else drops[0], round(ml_wash * wash.density_g_ml, 2), drops[1], s.share,
                round(dark[1], 3), (round(dark[0], 3), round(dark[2], 3)), error, s.step_id,
            )
        )  # fmt: skip
    return rungs


# --- working area ------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Sections:
    """How to split a surface so that each part is worked before it closes."""

    area_cm2: float
    sections: int
    each_cm2: float
    lay_min: float
    sentence: str


def sections(area_cm2: float, opens_min: float, closes_min: float, lay_cm2_min: float, work_cm2_min: float) -> Sections:
    """How much can be laid before the first part of it closes, working in the order of laying.

    Laying an area A takes A/lay; work begins when the first part is open and takes A/work; the last part, laid at
    A/lay, closes at A/lay + closes, and the first at `closes`. Working in order, the part laid at time t is worked at
    max(A/lay, opens) + t·lay/work, which has to be before t + closes. Raises Impossible for a window that never opens.
    """
    if closes_min <= opens_min or min(area_cm2, lay_cm2_min, work_cm2_min) <= 0:
        raise Impossible("the window closes before it opens: nothing can be worked")

    def fits(area: float) -> bool:
        laying, working = area / lay_cm2_min, area / work_cm2_min
        begins = max(laying, opens_min)
        return begins <= closes_min and begins + working <= laying + closes_min

    low, high = 0.0, area_cm2
    if fits(area_cm2):
        most = area_cm2
    else:
        for _ in range(60):
            mid = (low + high) / 2
            low, high = (mid, high) if fits(mid) else (low, mid)
        most = low
    count = max(math.ceil(area_cm2 / max(most, 1e-9) - 1e-9), 1)
    each = area_cm2 / count
    said = (
        f"All {area_cm2:.0f} cm² can be laid, then worked."
        if count == 1
        else f"Split it into {count} parts of about {each:.0f} cm²: lay one, work it, then the next."
    )
    return Sections(area_cm2, count, each, each / lay_cm2_min, said)
