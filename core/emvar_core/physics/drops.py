"""Whole drops for a recipe: never less than is needed, never more than was asked for, the ratio as near as drops
allow.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from ..errors import Impossible

Grid = NDArray[np.float64]
GROWN, GROWN_MOST = 1.5, 3.0  # of what is needed, that may be mixed for the ratio's sake; where drops are coarse
WORTH = 0.004  # of a share: by how much the ratio has to get better for a larger, or a less full, cup
FAR_OFF = 0.08  # of a share, from which whole drops do not hold a recipe (no dropper is better than a twentieth)
MOST_SCALES = 1200
LARGER, BEST_KEPT, ROUNDS = 12.0, 24, 5
PRE_DILUTE = 9.0  # parts of thinner to one, in which what is scarce is diluted first


@dataclass(frozen=True)
class Scaled:
    """A recipe in millilitres and whole drops, with the largest relative error of a part's share, percent.

    `helps`: what would hold the ratio where whole drops do not, or what is missing; empty where nothing is.
    """

    ml: tuple[float, ...]
    drops: tuple[int, ...]
    error_pct: float
    helps: str = ""


def poured(
    parts: list[float], sizes_ml: list[float], *, need_ml: float = 0.0, most_ml: float | None = None,
    most_drops: int | None = None, cup_ml: float = math.inf,
) -> Scaled:  # fmt: skip
    """A recipe (parts by volume) in whole drops of each liquid's own size.

    `need_ml` is needed at least, of which a cup of `cup_ml` holds more than enough. A cup of `most_ml` and `most_drops`
    in all are never passed, where they were asked for: then as much as they hold. Within that the smallest error of a
    share, to 0.4 %, and of these what is nearest to what is needed, or fills the cup best. Raises Impossible for a part
    of nothing, or where not even a drop of each fits.

    >>> poured([3, 2], [0.05, 0.05], most_drops=12).drops
    (6, 4)
    >>> poured([1, 2], [0.05, 0.025], need_ml=1.0).drops
    (7, 28)
    """
    if not parts or min(parts) <= 0 or (need_ml <= 0 and most_ml is None and most_drops is None):
        raise Impossible("every part and the total have to be more than nothing")
    asked = most_ml is not None or most_drops is not None
    whole = sum(parts)
    shares = np.array(parts) / whole
    sizes = np.array(sizes_ml)
    least, top = need_ml, most_ml if most_ml is not None else math.inf
    if not asked:
        top = min(GROWN * need_ml, cup_ml)
    if most_drops is not None:
        top = min(top, most_drops * float(sizes.max()))
    found = _best(shares, sizes, least, top, most_drops, fill=asked and need_ml <= 0)
    if not asked and (found is None or found[1] > FAR_OFF):
        wider = min(max(GROWN_MOST * need_ml, float(sizes.sum())), cup_ml)
        found = _best(shares, sizes, least, wider, None, fill=False) or found
    if found is None and need_ml > 0:
        found = _best(shares, sizes, 0.0, top, most_drops, fill=True)  # the cup is smaller than what is needed
    if found is None:
        raise Impossible("that is less than one drop of each part")
    drops, error = found
    ml = [float(n * d) for n, d in zip(drops, sizes_ml, strict=True)]
    return Scaled(
        tuple(round(v, 4) for v in ml),
        tuple(int(n) for n in drops),
        round(error * 100, 2),
        _helps(shares, sizes, error, sum(ml), need_ml),
    )


def held(parts: list[float], sizes_ml: list[float], at: int, count: int) -> Scaled:
    """A recipe with so many drops of one part, and of the others the nearest whole drops.

    >>> held([1, 2], [0.05, 0.025], 0, 3).drops
    (3, 12)
    """
    if min(parts) <= 0 or count < 1:
        raise Impossible("every part and the total have to be more than nothing")
    of_one = count * sizes_ml[at] / parts[at]
    drops = [max(1, round(of_one * p / d)) for p, d in zip(parts, sizes_ml, strict=True)]
    sizes, shares = np.array(sizes_ml), np.array(parts) / sum(parts)
    error = float(error_of(np.array(drops, dtype=float), sizes, shares))
    ml = [n * d for n, d in zip(drops, sizes_ml, strict=True)]
    helps = _helps(shares, sizes, error, sum(ml), 0.0)
    return Scaled(tuple(round(v, 4) for v in ml), tuple(drops), round(error * 100, 2), helps)


def error_of(drops: Grid, sizes: Grid, shares: Grid) -> Grid:
    """The largest relative error of a part's share, for rows of drops."""
    ml = drops * sizes
    return np.asarray((np.abs(ml / ml.sum(axis=-1, keepdims=True) - shares) / shares).max(axis=-1))


@cache
def _around(parts: int) -> Grid:
    """Ways of leaving so many parts at the drops below, or raising them."""
    return np.array(list(itertools.product((0, 1), repeat=parts)), dtype=float)


@cache
def _moves(parts: int) -> Grid:
    """A drop more or less of one part, or of two."""
    one = np.vstack([np.eye(parts), -np.eye(parts)])
    two = np.array([a + b for a, b in itertools.combinations(one, 2)]).reshape(-1, parts)
    return np.unique(np.vstack([one, two]), axis=0)


def _best(
    shares: Grid, sizes: Grid, least: float, top: float, most_drops: int | None, *, fill: bool
) -> tuple[Grid, float] | None:
    """The drops within the bounds with the smallest error, and the error 0–1; None where nothing fits."""
    if top < sizes.sum() - 1e-12 or (most_drops is not None and most_drops < len(sizes)):
        return None
    # A small cup is looked at from the first drop on: there one of what is scarce leaves little room for the rest.
    low = max(least * 0.9, top * 0.25) if top > 6 * sizes.sum() else 0.0
    low, high = (low if fill or least > 0 else 0.0), top * 1.1
    marks = [
        np.arange(math.ceil(low * s / d), math.floor(high * s / d) + 1) * d / s
        for s, d in zip(shares, sizes, strict=True)
    ]
    at = np.unique(np.concatenate([*marks, [low, high]]))
    scales = (at[1:] + at[:-1]) / 2
    if len(scales) > MOST_SCALES:
        scales = scales[np.linspace(0, len(scales) - 1, MOST_SCALES).astype(int)]
    below = np.floor(scales[:, None] * shares / sizes)
    drops = np.maximum((below[:, None, :] + _around(len(sizes))).reshape(-1, len(sizes)), 1.0)

    def fitting(cups: Grid) -> tuple[Grid, Grid]:
        ml = (cups * sizes).sum(axis=1)
        fits = (ml >= least - 1e-9) & (ml <= top + 1e-9)
        if most_drops is not None:
            fits &= cups.sum(axis=1) <= most_drops
        return cups[fits], ml[fits]

    drops, total = fitting(drops)
    if not len(drops):
        drops, total = fitting(np.ones((1, len(sizes))))
        if not len(drops):
            return None
    # Rounding finds nearly all; a drop to and fro from the best of them finds the rest.
    for _ in range(ROUNDS):
        error = error_of(drops, sizes, shares)
        kept = np.argsort(error, kind="stable")[:BEST_KEPT]
        near, near_ml = fitting(np.maximum((drops[kept][:, None, :] + _moves(len(sizes))).reshape(-1, len(sizes)), 1.0))
        if not len(near) or error_of(near, sizes, shares).min() >= error.min() - 1e-9:
            break
        drops, total = np.vstack([drops, near]), np.concatenate([total, near_ml])
    error = error_of(drops, sizes, shares)
    good = np.flatnonzero(error <= error.min() + WORTH)
    pick = good[np.argmax(total[good]) if fill else np.argmin(total[good])]
    return drops[pick], float(error[pick])


def _ml(volume: float) -> str:
    return f"{volume:.2g} mL" if volume < 99.5 else f"{volume:.0f} mL"


def _helps(shares: Grid, sizes: Grid, error: float, ml: float, need_ml: float) -> str:
    said = f"That is less than the {_ml(need_ml)} that are needed. " if ml < need_ml - 1e-9 else ""
    if error <= FAR_OFF:
        return said.strip()
    larger = _best(shares, sizes, ml, LARGER * ml, None, fill=False)
    if larger is not None and larger[1] <= FAR_OFF:
        said += f"Whole drops hold this ratio from {_ml(float((larger[0] * sizes).sum()))} on: mix a larger cup, "
    else:
        said += "Whole drops do not hold this ratio: "
    scarce = float((shares / sizes).min() / (shares / sizes).sum())
    weak = "dilute what is scarce one to nine first, " if scarce < 1 / (2 * PRE_DILUTE) else ""
    return said + weak + "or weigh it."
