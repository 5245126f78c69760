"""How thick a mix is: solvents by the Refutas blending index, paint by binder and pigment, flow cups to mm²/s.

A resin solution thickens exponentially with its binder (`System.thickening`, per volume fraction; assumption, ±50 %);
pigment by Krieger–Dougherty over that medium. A dispersion goes by Krieger–Dougherty alone, its particles counted
larger than they are since they swell and are thickened. The two are never used on the same solids: docs/models.md §5.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from ..materials import Coat, FilmClass, Knowledge
from . import Blend, Cup

MAX_PACKING = 0.64  # random close packing of spheres; general literature, from memory
INTRINSIC = 2.5  # Einstein
UNCERTAIN = 1.5  # the computed figure may be this many times too high or too low
DISPERSION_SWELL = 1.95  # fitted to one point: a bottle of water-borne colour pours like yoghurt, about 500 mPa·s
PIGMENT_SHARE = {"primer": 0.4, "colour": 0.25, "clear": 0.02, "effect": 0.35, "paste": 0.5, "medium": 0.0}
PIGMENT_SHARE |= {"putty": 0.6, "fixer": 0.0, "marking": 0.0, "rubbed": 0.5}
MATT_EXTRA = 0.1


class FlowCup(StrEnum):
    """Flow cups; valid ranges in seconds are refused outside (`CUPS`)."""

    ISO_3 = "iso_3"
    ISO_4 = "iso_4"
    ISO_5 = "iso_5"
    ISO_6 = "iso_6"
    D1200_4 = "d1200_4"
    D4212_1 = "d4212_1"
    D4212_2 = "d4212_2"
    D4212_3 = "d4212_3"
    DIN_4 = "din_4"


@dataclass(frozen=True)
class CupFormula:
    """ν = a·t − b/t, or a·(t − b) for the linear cups; ν in mm²/s, t in s, valid from `low` to `high` seconds."""

    name: str
    a: float
    b: float
    linear: bool
    low: float
    high: float
    source: str


ISO = "ISO 2431 (from memory)"
D4212 = "ASTM D4212 (from memory)"
CUPS: dict[FlowCup, CupFormula] = {
    FlowCup.ISO_3: CupFormula("ISO cup, 3 mm", 0.443, 200, False, 30, 100, ISO),
    FlowCup.ISO_4: CupFormula("ISO cup, 4 mm", 1.37, 200, False, 30, 100, ISO),
    FlowCup.ISO_5: CupFormula("ISO cup, 5 mm", 3.28, 220, False, 30, 100, ISO),
    FlowCup.ISO_6: CupFormula("ISO cup, 6 mm", 6.90, 570, False, 30, 100, ISO),
    FlowCup.D1200_4: CupFormula("ASTM D1200 cup, no. 4", 3.85, 4.49, True, 20, 105, "ASTM D1200 (from memory)"),
    FlowCup.D4212_1: CupFormula("ASTM D4212 cup, no. 1", 1.1, 29, True, 35, 80, D4212),
    FlowCup.D4212_2: CupFormula("ASTM D4212 cup, no. 2", 3.5, 14, True, 20, 80, D4212),
    FlowCup.D4212_3: CupFormula("ASTM D4212 cup, no. 3", 11.7, 7.5, True, 20, 80, D4212),
    FlowCup.DIN_4: CupFormula("DIN cup, 4 mm", 4.57, 452, False, 25, 150, "DIN 53211 (from memory)"),
}


class OutOfRange(ValueError):
    """A reading outside the range in which a formula holds; says the range and what would do."""


def kinematic_mm2_s(cup: FlowCup, seconds: float) -> float:
    """Kinematic viscosity in mm²/s from a flow cup's time in seconds.

    Raises OutOfRange outside the cup's valid range. Example: ISO 4 mm, 60 s → 1.37·60 − 200/60 = 78.9 mm²/s.
    """
    f = CUPS[cup]
    if not f.low <= seconds <= f.high:
        raise OutOfRange(
            f"{f.name} holds from {f.low:g} to {f.high:g} s, not at {seconds:g} s; use a "
            f"{'smaller' if seconds < f.low else 'larger'} hole"
        )
    return f.a * (seconds - f.b) if f.linear else f.a * seconds - f.b / seconds


def cup_seconds(cup: FlowCup, nu_mm2_s: float) -> float:
    """The inverse: seconds for a kinematic viscosity. Raises OutOfRange where the cup does not reach it."""
    f = CUPS[cup]
    seconds = nu_mm2_s / f.a + f.b if f.linear else (nu_mm2_s + math.sqrt(nu_mm2_s**2 + 4 * f.a * f.b)) / (2 * f.a)
    if not f.low <= seconds <= f.high:
        least, most = kinematic_mm2_s(cup, f.low), kinematic_mm2_s(cup, f.high)
        raise OutOfRange(f"{f.name} reaches {least:.0f} to {most:.0f} mm²/s, not {nu_mm2_s:.3g}")
    return seconds


@dataclass(frozen=True)
class DripCup:
    """A home-made drip cup, ν = a·t − b/t, fitted to liquids of known viscosity."""

    a: float
    b: float

    def kinematic_mm2_s(self, seconds: float) -> float:
        """mm²/s from this cup's seconds. Raises OutOfRange where the fit gives nothing."""
        nu = self.a * seconds - self.b / seconds
        if seconds <= 0 or nu <= 0:
            raise OutOfRange(f"{seconds:g} s is shorter than this cup takes for any liquid; time it again")
        return nu


def calibrated(points: list[tuple[float, float]]) -> DripCup:
    """A drip cup from (seconds, mm²/s) of at least two liquids, by least squares on ν/t = a − b/t².

    Water is 1.00 mm²/s at 20 °C; sugar syrups of 40 and 50 % by weight about 5.3 and 12.6 (6.2 and 15.4 mPa·s over 1.18
    and 1.23 g/mL; CRC Handbook, from memory). Raises OutOfRange for fewer than two different times.
    """
    if len({t for t, _ in points}) < 2 or any(t <= 0 or nu <= 0 for t, nu in points):
        raise OutOfRange("a drip cup needs two liquids that take different times: water and a sugar syrup")
    xs, ys = [1 / t**2 for t, _ in points], [nu / t for t, nu in points]
    mx, my = sum(xs) / len(xs), sum(ys) / len(ys)
    slope = sum((x - mx) * (y - my) for x, y in zip(xs, ys, strict=True)) / sum((x - mx) ** 2 for x in xs)
    return DripCup(a=my - slope * mx, b=-slope)


# --- solvents ----------------------------------------------------------------------------------------------


def blending_index(nu_mm2_s: float) -> float:
    """Refutas viscosity blending index of a liquid (Maples; ASTM D7152 describes the family; from memory)."""
    return 14.534 * math.log(math.log(nu_mm2_s + 0.8)) + 10.975


def from_index(vbi: float) -> float:
    """Kinematic viscosity in mm²/s from a blending index."""
    return math.exp(math.exp((vbi - 10.975) / 14.534)) - 0.8


def carrier_mpas(k: Knowledge, blend: Blend) -> float:
    """Viscosity of a blend of solvents at 20 °C, mPa·s, mass-weighted by the blending index.

    Below 0.25 mm²/s the index has no value and such parts are taken at 0.25. Alcohol with water is thicker than either;
    the index gives the line between them, up to three times too low.
    """
    if not blend.parts:
        return 1.0
    masses = [(share * k.solvents[s].density_g_ml, k.solvents[s]) for s, share in blend.parts]
    whole = sum(m for m, _ in masses)
    vbi = sum(m / whole * blending_index(max(s.viscosity_mpas / s.density_g_ml, 0.25)) for m, s in masses)
    density = 1 / sum(m / whole / s.density_g_ml for m, s in masses)
    return from_index(vbi) * density


def carrier_density_g_ml(k: Knowledge, blend: Blend) -> float:
    return sum(share * k.solvents[s].density_g_ml for s, share in blend.parts) or 1.0


# --- paint -------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Thickness:
    """Viscosity of a mix, mPa·s, as a best figure and its range; density g/mL. `basis`: model or measured."""

    mpas: float
    low_mpas: float
    high_mpas: float
    density_g_ml: float
    basis: str

    @property
    def mm2_s(self) -> float:
        """Kinematic viscosity, mm²/s."""
        return self.mpas / self.density_g_ml


def pigment_share(coat: Coat) -> float:
    """Share of a coat's solids that is pigment, 0–1 (typical of the use; from memory)."""
    extra = MATT_EXTRA if coat.sheen.value == "matt" and coat.use in ("clear", "colour") else 0.0
    return PIGMENT_SHARE.get(coat.use, 0.25) + extra


def crowding(fraction: float) -> float:
    """Krieger–Dougherty: (1 − φ/φm)^(−[η]·φm), held at 98 % of the packing limit."""
    return float((1 - min(fraction / MAX_PACKING, 0.98)) ** (-INTRINSIC * MAX_PACKING))


def thickness(k: Knowledge, coat: Coat, cup: Cup, temp_c: float = 20.0, taught: float = 1.0) -> Thickness:
    """Viscosity of a mix as it is in the cup. `taught`: what measuring this paint before has shown, as a factor.

    Thinner by 2 % a kelvin when warmer (general literature for light solvents, from memory).
    """
    system = k.systems[coat.system]
    medium = carrier_mpas(k, cup.carrier)
    pigment = cup.volume_solids * pigment_share(coat)
    binder = cup.volume_solids - pigment
    if system.film is FilmClass.DISPERSION:
        raised = crowding(DISPERSION_SWELL * cup.volume_solids)
    else:
        raised = math.exp(min(system.thickening * binder, 25.0)) * crowding(pigment)
    mpas = medium * raised * math.exp(-0.02 * (temp_c - 20)) * taught
    density = carrier_density_g_ml(k, cup.carrier) * (1 - cup.volume_solids) + cup.volume_solids * (
        1.15 + 2.2 * pigment_share(coat)
    )
    return Thickness(mpas, mpas / UNCERTAIN, mpas * UNCERTAIN, density, "computed" if taught == 1.0 else "taught")


def measured(mpas: float, density_g_ml: float) -> Thickness:
    """A measured viscosity: it wins, within 10 %."""
    return Thickness(mpas, mpas * 0.9, mpas * 1.1, density_g_ml, "measured")


# The trade's words as figures, mPa·s at 20 °C: what people compare paint with (from memory).
WORDS: tuple[tuple[str, float, float], ...] = (
    ("water", 0.8, 1.4),
    ("skim milk", 1.4, 2.6),
    ("milk", 2.6, 5.0),
    ("thin cream", 5.0, 25.0),
    ("cream", 25.0, 120.0),
    ("syrup", 120.0, 400.0),
    ("yoghurt", 400.0, 2000.0),
    ("paste", 2000.0, math.inf),
)
AIRBRUSH_READY_MM2_S = (2.0, 20.0)


def like(mpas: float) -> str:
    """What a viscosity is like, in the trade's words."""
    return next((word for word, low, high in WORDS if low <= mpas < high), "water")


def figure_of(word: str) -> tuple[float, float]:
    """The range in mPa·s that a word of the trade stands for. Raises OutOfRange for an unknown word."""
    for name, low, high in WORDS:
        if name == word.strip().lower():
            return low, min(high, 10_000.0)
    raise OutOfRange(f"'{word[:40]}' is no word for it here; known: {', '.join(w for w, *_ in WORDS)}")
