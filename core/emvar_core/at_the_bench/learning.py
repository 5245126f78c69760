"""What observations teach: a log-normal factor per paint, pooled through its system, updated by Bayes' rule.

An observation is ln(observed ÷ expected). A paint's own factor scatters about its system's, and that about what ships:

    θ_system ~ N(0, SYSTEM_SD²),  θ_paint | θ_system ~ N(θ_system, PAINT_SD²),  y | θ_paint ~ N(θ_paint, σ²)

so that little data moves little, and a first observation of one paint moves its kin a little too. A single wild value
does not run away with it: with probability WILD a value says nothing (a flat density over WILD_SPAN), so that its pull
fades the further off it lies. "Still wet at ten minutes" counts as y above a bound, "dry when I looked" as y below one.
There is no closed form with these, so the posterior is summed on a grid, exactly within its step. Without wild values
and bounds it is the conjugate normal posterior (checked in the tests).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..errors import OutOfRange
from ..knowledge.store import MIDDLE_90, RUN_TO_RUN
from ..vocabulary import Model, Word

SYSTEM_SD, PAINT_SD = (
    0.35,
    0.25,
)  # ln units: practice figures are good to about ×÷1.5 a system, ×÷1.3 a paint (assumption)
SIGMA = {"drying": RUN_TO_RUN, "viscosity": 0.12, "pace": 0.25, "coats": 0.2}  # of one observation (assumption)
WILD, WILD_SPAN = 0.05, 4.0
EDGE, STEP = 2.4, 0.02

Vector = NDArray[np.float64]
GRID: Vector = np.arange(-EDGE, EDGE + STEP / 2, STEP)


class Quantity(Word):
    """What is learned: how slowly a film dries, how thick a mix is, how long hands are on, how many coats it takes."""

    DRYING = "drying"
    VISCOSITY = "viscosity"
    PACE = "pace"
    COATS = "coats"


@dataclass(frozen=True)
class Seen:
    """One observation of a paint: observed ÷ expected, known only to lie above or below it where `bound` says so."""

    paint: str
    system: str
    ratio: float
    bound: str = ""  # "", "above", "below"


class LearntFigure(Model):
    """A factor on what ships, with the middle 90 % of what it may be, and how many observations stand behind it.

    `sd`: of its logarithm. `own`: observations of this very paint; the others are of its system.
    """

    of: str
    quantity: Quantity
    factor: float
    low: float
    high: float
    sd: float
    own: int
    kin: int


def likelihood(seen: Seen, sigma: float, wild: float = WILD, grid: Vector = GRID) -> Vector:
    """How likely an observation is for each factor of the grid. Raises OutOfRange for a ratio that is none."""
    if not seen.ratio > 0 or not math.isfinite(seen.ratio):
        raise OutOfRange("ratio", seen.ratio, 0, math.inf)
    z = (math.log(seen.ratio) - grid) / sigma
    if seen.bound == "above":
        good = _tail(z)
    elif seen.bound == "below":
        good = 1 - _tail(z)
    else:
        good = np.exp(-z * z / 2) / (sigma * math.sqrt(2 * math.pi))
    flat = 0.5 if seen.bound else 1 / WILD_SPAN
    return np.asarray((1 - wild) * good + wild * flat)


def _tail(z: Vector) -> Vector:
    """The share of a normal law above z."""
    return np.array([0.5 * math.erfc(float(v) / math.sqrt(2)) for v in z])


def _normal(sd: float, grid: Vector) -> Vector:
    weights: Vector = np.exp(-((grid / sd) ** 2) / 2)
    whole: Vector = weights / weights.sum()
    return whole


def learn(observations: Iterable[Seen], quantity: Quantity, wild: float = WILD) -> dict[str, LearntFigure]:
    """What is learned of each paint and of each system that was seen. Linear in the observations.

    Worked by hand in the tests: one exact observation of ratio 2 of one paint, without wild values, shifts it to
    2^(w) with w = (SYSTEM_SD² + PAINT_SD²) / (SYSTEM_SD² + PAINT_SD² + σ²).
    """
    sigma = SIGMA[quantity.value]
    by_system: dict[str, dict[str, list[Seen]]] = {}
    for seen in observations:
        by_system.setdefault(seen.system, {}).setdefault(seen.paint, []).append(seen)
    found: dict[str, LearntFigure] = {}
    for system, paints in by_system.items():
        found |= _of_system(system, paints, quantity, sigma, wild)
    return found


def _of_system(
    system: str, paints: dict[str, list[Seen]], quantity: Quantity, sigma: float, wild: float
) -> dict[str, LearntFigure]:
    spread = np.exp(-(((GRID[:, None] - GRID[None, :]) / PAINT_SD) ** 2) / 2)
    spread /= spread.sum(axis=1, keepdims=True)  # rows: given the system's factor, the paint's
    prior = _normal(SYSTEM_SD, GRID)
    told: dict[str, Vector] = {}
    said: dict[str, Vector] = {}
    for paint, seen in paints.items():
        weights = np.ones_like(GRID)
        for one in seen:
            weights = weights * likelihood(one, sigma, wild)
            weights /= weights.max()
        told[paint] = weights
        said[paint] = spread @ weights  # what the paint says of its system
    whole = prior.copy()
    for message in said.values():
        whole = whole * (message / message.max())
    count = sum(len(s) for s in paints.values())
    found = {system: _figure(system, quantity, whole, 0, count)}
    for paint, seen in paints.items():
        others = prior.copy()
        for other, message in said.items():
            if other != paint:
                others = others * (message / message.max())
        mine = told[paint] * (others / others.sum() @ spread)
        own = len(seen)
        found[paint] = _figure(paint, quantity, mine, own, count - own)
    return found


def _figure(of: str, quantity: Quantity, weights: Vector, own: int, kin: int) -> LearntFigure:
    p = weights / weights.sum()
    mean = float((p * GRID).sum())
    sd = math.sqrt(max(float((p * (GRID - mean) ** 2).sum()), 1e-9))
    reach = MIDDLE_90 * sd
    return LearntFigure(
        of=of, quantity=quantity, factor=round(math.exp(mean), 3), low=round(math.exp(mean - reach), 3),
        high=round(math.exp(mean + reach), 3), sd=round(sd, 4), own=own, kin=kin,
    )  # fmt: skip


def prior_words() -> str:
    """How wide the prior is, in words."""
    system, paint = math.exp(MIDDLE_90 * SYSTEM_SD), math.exp(MIDDLE_90 * math.hypot(SYSTEM_SD, PAINT_SD))
    return (
        f"Before anything is observed, nine systems in ten are taken to lie within ×÷{system:.1f} of what ships, "
        f"nine paints in ten within ×÷{paint:.1f}."
    )
