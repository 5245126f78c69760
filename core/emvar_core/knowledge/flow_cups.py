"""Flow cups and home-made drip cups: seconds to kinematic viscosity and back. Readings outside a range are refused.

It stands with the knowledge, since a plan may hold a cup's reading and is refused where the cup does not reach it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

from ..errors import OutOfRange
from ..vocabulary import FlowCup


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
    FlowCup.D1200_2: CupFormula("ASTM D1200 cup, no. 2", 1.44, 18.0, True, 35, 101, "ASTM D1200 (from memory)"),
    FlowCup.D1200_3: CupFormula("ASTM D1200 cup, no. 3", 2.31, 6.58, True, 28, 102, "ASTM D1200 (from memory)"),
    FlowCup.D1200_4: CupFormula("ASTM D1200 cup, no. 4", 3.85, 4.49, True, 20, 105, "ASTM D1200 (from memory)"),
    FlowCup.D4212_1: CupFormula("ASTM D4212 cup, no. 1", 1.1, 29, True, 35, 80, D4212),
    FlowCup.D4212_2: CupFormula("ASTM D4212 cup, no. 2", 3.5, 14, True, 20, 80, D4212),
    FlowCup.D4212_3: CupFormula("ASTM D4212 cup, no. 3", 11.7, 7.5, True, 20, 80, D4212),
    FlowCup.D4212_4: CupFormula("ASTM D4212 cup, no. 4", 14.8, 5, True, 20, 80, D4212),
    FlowCup.D4212_5: CupFormula("ASTM D4212 cup, no. 5", 23.0, 0, True, 20, 80, D4212),
    FlowCup.DIN_4: CupFormula("DIN cup, 4 mm", 4.57, 452, False, 25, 150, "DIN 53211 (from memory)"),
}


def kinematic_mm2_s(cup: FlowCup, seconds: float) -> float:
    """Kinematic viscosity in mm²/s from a flow cup's time in seconds.

    Raises OutOfRange outside the cup's valid range. Example: ISO 4 mm, 60 s → 1.37·60 − 200/60 = 78.9 mm²/s.

    >>> round(kinematic_mm2_s(FlowCup.ISO_4, 60), 1)
    78.9
    """
    f = CUPS[cup]
    if not f.low <= seconds <= f.high:
        raise OutOfRange(
            f"{f.name} holds from {f.low:g} to {f.high:g} s, not at {seconds:g} s; use a "
            f"{'smaller' if seconds < f.low else 'larger'} hole"
        )
    return f.a * (seconds - f.b) if f.linear else f.a * seconds - f.b / seconds


def cup_seconds(cup: FlowCup, nu_mm2_s: float) -> float:
    """The inverse: seconds for a kinematic viscosity. Raises OutOfRange where the cup does not reach it.

    >>> round(cup_seconds(FlowCup.ISO_4, 78.87))
    60
    """
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


# Water, and sugar syrups of 40 and 50 % by weight at 20 °C: 6.2 and 15.4 mPa·s over 1.18 and 1.23 g/mL
# (CRC Handbook, from memory).
CALIBRATION_MM2_S = (1.0, 5.3, 12.6)
# How they thin as they warm: η = η20·exp(B·(1/T − 1/293 K)), B in K from 20 and 30 °C of the same tables (water 1.002
# and
# 0.797 mPa·s, syrups 6.17 and 4.38, 15.4 and 10.1; from memory).
THINS_K = (2034.0, 3045.0, 3748.0)


def calibration_mm2_s(temp_c: float) -> tuple[float, ...]:
    """Water and syrups of 40 and 50 % at a temperature, mm²/s. Five kelvin change a syrup by a seventh.

    >>> [round(nu, 2) for nu in calibration_mm2_s(25)]
    [0.89, 4.45, 10.17]
    """
    colder = 1 / (temp_c + 273.15) - 1 / 293.15
    return tuple(nu * math.exp(b * colder) for nu, b in zip(CALIBRATION_MM2_S, THINS_K, strict=True))


def calibrated(points: list[tuple[float, float]]) -> DripCup:
    """A drip cup from (seconds, mm²/s) of at least two liquids, by least squares on ν/t = a − b/t².

    Raises OutOfRange for fewer than two different times, or times that no cup has (thicker has to take longer).

    >>> cup = calibrated([(10, 1.0), (20, 12.6)])
    >>> round(cup.kinematic_mm2_s(20), 1)
    12.6
    """
    if len({t for t, _ in points}) < 2 or any(t <= 0 or nu <= 0 for t, nu in points):
        raise OutOfRange("a drip cup needs two liquids that take different times: water and a sugar syrup")
    xs, ys = [1 / t**2 for t, _ in points], [nu / t for t, nu in points]
    mx, my = sum(xs) / len(xs), sum(ys) / len(ys)
    slope = sum((x - mx) * (y - my) for x, y in zip(xs, ys, strict=True)) / sum((x - mx) ** 2 for x in xs)
    cup = DripCup(a=my - slope * mx, b=-slope)
    if cup.a <= 0 or any(t1 >= t2 for (t1, _), (t2, _) in pairwise(sorted(points, key=lambda p: p[1]))):
        raise OutOfRange("no cup has these times: the thicker liquid has to take longer")
    if cup.b < 0:
        raise OutOfRange(
            "no cup has these times: a liquid five times as thick takes five times as long at most; time both again"
        )
    return cup
