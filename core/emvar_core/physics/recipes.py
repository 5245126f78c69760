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
    """What to add to a cup in hand: mL of which of the two, or nothing."""

    add: str
    ml: float
    sentence: str


def corrected(paint_ml: float, thinner_ml: float, wanted_paint: float, wanted_thinner: float) -> Correction:
    """What brings a cup of paint and thinner to a ratio, by adding only. Raises Impossible for an empty cup.

    It is right as it is where the thinner that it lacks, or has too much, is below half a percent of the cup.
    """
    if paint_ml + thinner_ml <= 0 or wanted_paint <= 0 or wanted_thinner < 0:
        raise Impossible("the cup is empty, or the ratio is none")
    more_thinner = paint_ml * wanted_thinner / wanted_paint - thinner_ml
    if abs(more_thinner) < 0.005 * (paint_ml + thinner_ml):
        return Correction("", 0.0, "It is right as it is.")
    if more_thinner > 0:
        return Correction("thinner", more_thinner, f"Too thick: add {more_thinner:.2f} mL of thinner.")
    if wanted_thinner == 0:
        raise Impossible("thinner cannot be taken out again: begin anew with neat paint")
    more_paint = thinner_ml * wanted_paint / wanted_thinner - paint_ml
    return Correction("paint", more_paint, f"Too thin: add {more_paint:.2f} mL of paint.")


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
    """One strength of a wash from one bottle: wash to thinner in whole drops, its darkness 0–1 and its range."""

    use: str
    wash_drops: int
    thinner_drops: int
    strength: float
    darkness: float
    range: tuple[float, float]
    error_pct: float


# Strength as a share of wash in the mix, and how thick it lies there in µm wet; common practice and assumption.
LADDER: tuple[tuple[str, float, float], ...] = (
    ("deep lines", 1.0, 40.0),
    ("fasteners", 0.6, 30.0),
    ("shallow welds", 0.25, 25.0),
    ("speckle", 0.35, 20.0),
    ("grime", 0.12, 15.0),
)
HIDING_UM = 2.0  # dry film of a wash's pigment in binder that takes 63 % of the light away (assumption, ×÷2)


def darkness(wet_um: float, solids: float, pigment: float) -> float:
    """How much darker a film makes a light ground, 0–1: 1 − e^(−dry film of solids × pigment share / hiding film).

    >>> round(darkness(10, 0.1, 0.2), 2)
    0.25
    """
    return 1 - math.exp(-wet_um * solids * pigment / (HIDING_UM * 0.35))


def ladder(wash_solids: float, pigment: float, wash_drop_ml: float, thinner_drop_ml: float, ml: float) -> list[Rung]:
    """One bottle of wash at several strengths, each for `ml`, in whole drops."""
    rungs = []
    for use, strength, wet_um in LADDER:
        if strength >= 1:
            drops, error = (max(round(ml / wash_drop_ml), 1), 0), 0.0
        else:
            s = poured([strength, 1 - strength], [wash_drop_ml, thinner_drop_ml], need_ml=ml)
            drops, error = (s.drops[0], s.drops[1]), s.error_pct
        dark = [darkness(wet_um * f, wash_solids * strength, pigment) for f in (0.5, 1.0, 2.0)]
        rungs.append(
            Rung(use, drops[0], drops[1], strength, round(dark[1], 3), (round(dark[0], 3), round(dark[2], 3)), error)
        )
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
