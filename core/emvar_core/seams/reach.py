"""How deep a carrier goes while it is wet: layer by layer, with what is left of time and liquid."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol

from ..knowledge import Knowledge
from ..physics.hansen import Power, crazing, power_on
from ..vocabulary import BaseSurface, Edge
from .situation import Landing, Layer, Situation

REACH_LAYERS = 6
FRONT_UM_MIN = 6.0
CRAZES_S, CRAZES_UM = 60.0, 20.0  # of a hot solvent on bare plastic, until it is as bad as it gets (assumption)


@dataclass(frozen=True)
class Reach:
    """The figures shown: the share of a layer's thickness that it gets into while wet, and how it acts there, 0–1."""

    layer: int
    share: float
    power: float
    red: float | None


@dataclass(slots=True)
class Reached:
    """A layer that a carrier gets to: power on it (None on the base material), seconds left there, share reached."""

    at: int
    layer: Layer
    power: Power | None
    seconds: float
    share: float
    liquid_um: float = 0.0  # of the carrier that is left there


class Seen(Protocol):
    """What the way down is worked out from: a whole meeting, or one as a mechanism sees it."""

    k: Knowledge
    landing: Landing
    layers: tuple[Layer, ...]
    index: int
    ahead: list[Ahead]  # those looked at so far


# A layer on the way down, as it is at any time: where, itself, the power on it, whether it is loose.
Ahead = tuple[int, Layer, Power | None, bool]


def effective_log_d(power: Power, degree: float) -> float:
    """A young film lets solvent through faster: up to 100 times when fresh (assumption, from memory).

    >>> from emvar_core.vocabulary import Basis
    >>> fresh = Power(1.0, -13.0, 0.9, Basis.MODEL, "")
    >>> effective_log_d(fresh, 0.0), effective_log_d(fresh, 0.9)
    (-11.0, -13.0)
    """
    return power.log_d + 2.0 * max(0.0, 1 - degree / 0.85) * (1 if power.power > 0 else 0)


def front_um_s(power: Power, stiff: float) -> float:
    """How fast a solvent eats into a glassy film, µm/s: a front at a constant speed (Case II), not √t.

    PMMA in butanone at room temperature: about 1 µm/min (from memory of the lithography literature); the resins of
    lacquers are a tenth as long, and six times as quick is assumed. A young film is no glass yet.

    >>> from emvar_core.vocabulary import Basis
    >>> strong = Power(1.0, -11.0, 0.7, Basis.MODEL, "")
    >>> round(60 * front_um_s(strong, 0.95), 2)
    6.0
    """
    return FRONT_UM_MIN / 60 * power.power * 10 ** (2.0 * max(0.0, 1 - stiff / 0.85))


def bite_um(log_d: float, wet_s: float) -> float:
    """Depth in µm that a solvent gets to in a time: √(2·D·t), D in m²/s as log10. Example: −13, 500 s: 10 µm.

    >>> round(bite_um(-13, 500), 6)
    10.0
    """
    return math.sqrt(2 * 10**log_d * wet_s) * 1e6


def reach(s: Situation, at_min: float, edge: Edge) -> list[Reached]:
    """The layers that a carrier gets to from the one that is met on down, at an instant and one edge of the ranges."""
    if s.reached_min != at_min or s.reached_edge is not edge:
        s.reached = _down(s, at_min, edge)
        s.reached_min, s.reached_edge = at_min, edge
    return s.reached


def attacked(s: Situation, at_min: float, edge: Edge) -> list[Reached]:
    """The same, where there is a liquid that stays wet at all."""
    return reach(s, at_min, edge) if s.landing.wet else []


def _ahead(s: Seen, i: int) -> Ahead:
    layer = s.layers[i]
    power = None if layer.system is None else power_on(s.k, s.landing.blend, layer.system)
    ahead = (i, layer, power, layer.is_porous or _has_pores(s, i))
    s.ahead.append(ahead)
    return ahead


CLOSED_UM = 40.0  # of a single coat, from which it closes a base that drinks (assumption; two thinner ones do, too)


def _has_pores(s: Seen, i: int) -> bool:
    """Whether a layer is the only coat on a base that drinks: it sinks in and leaves pores."""
    below = s.layers[i + 1].substrate if i + 1 < len(s.layers) else None
    return below is not None and below.surface is BaseSurface.POROUS and s.layers[i].film_um < CLOSED_UM


def _down(s: Seen, at_min: float, edge: Edge) -> list[Reached]:
    seconds, liquid = s.landing.wet_s, s.landing.liquid_um
    reached: list[Reached] = []
    ahead = s.ahead
    for n in range(min(len(s.layers) - s.index, REACH_LAYERS)):
        i, layer, power, porous = ahead[n] if n < len(ahead) else _ahead(s, s.index + n)
        if power is None:
            reached.append(Reached(i, layer, None, seconds, 1.0 if seconds > 0 else 0.0, liquid))
            break
        if porous:
            reached.append(Reached(i, layer, power, seconds, 1.0, liquid))
            continue
        stiff = layer.stiffness(at_min, edge)
        twice_d = 2e12 * 10 ** effective_log_d(power, stiff)  # µm²/s
        depth = min(math.sqrt(twice_d * seconds), liquid * 3 if power.power > 0 else 0.5)
        through_s = layer.film_um**2 / twice_d
        if layer.system is not None and layer.system.glassy:
            front = front_um_s(power, stiff)
            depth, through_s = min(depth, front * seconds), max(through_s, layer.film_um / max(front, 1e-9))
        share = min(depth / layer.film_um, 1.0)
        reached.append(Reached(i, layer, power, seconds, share, liquid))
        if share < 1.0:
            break
        seconds -= through_s
        liquid -= layer.film_um / 3
        if seconds <= 0 or liquid <= 0:
            break
    return reached


def careful(s: Seen, at_min: float) -> list[Reached]:
    """The layers that it gets to at the careful edge; later, as films harden, it gets to no more."""
    return _down(s, at_min, Edge.LATE)


def crazing_severity(s: Seen, r: Reached) -> float:
    """How much bare plastic crazes where the carrier gets to it: by solvent family, and by what time and liquid
    are left.
    """
    assert r.layer.substrate is not None
    rate = crazing(s.k, s.landing.blend, r.layer.substrate)
    return rate * min(r.seconds / CRAZES_S, 1.0) * min(r.liquid_um / CRAZES_UM, 1.0) * s.landing.pools


def reaches(s: Situation, at_min: float) -> list[Reach]:
    """How deep the carrier goes by the best guess, as it is shown."""
    told_of = []
    for r in reach(s, at_min, Edge.BEST):
        if r.layer.system is None:
            told_of.append(Reach(r.at, round(min(crazing_severity(s, r), 1.0), 3), 1.0, None))
        elif r.power is not None:
            told_of.append(Reach(r.at, round(r.share, 3), round(r.power.power, 3), r.power.red))
    return told_of
