"""What a spray loses on the way: each part of the carrier for itself, so that the fast ones are gone and the slow
arrive.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..knowledge import WATER, Knowledge
from ..memory import MEMORY
from ..plan import Air
from ..vocabulary import Method
from .activity import gammas, table
from .blend import Blend
from .evaporation import film_temperature_c, leaving

Grid = NDArray[Any]
DROP_UM = 25.0  # of a usual airbrush (the model of §5 gives 15 to 35)
# Flight time over drop size squared, with the wind of the flight, s/m²: set so that a hot thinner loses what the model
# of the airbrush (§5) says for a usual setting, a fifth from 7 cm, a third from 12, half from 20 and from a can.
EXPOSED = {Method.WET_SPRAY: 1.8e7, Method.SPRAY: 5.4e7, Method.MIST: 1.4e8, Method.CAN: 1.4e8}
# What of a mild levelling thinner arrives then: the shares of `METHODS` mean that.
USUAL = {Method.WET_SPRAY: 0.93, Method.SPRAY: 0.81, Method.MIST: 0.58, Method.CAN: 0.58}
_LANDED = MEMORY.door("what arrives of a carrier", 4_000)


def loss_rates(k: Knowledge, carrier: Blend, drop_um: float, air: Air) -> list[tuple[float, float]]:
    """Each part of a carrier: its share, and its first-order loss in a drop, as m²/s to be divided by d².

    The fast parts leave first and the slow tail stays, which is what retarders are for.
    """
    if not carrier.parts:
        return []
    solvents = [k.solvents[s] for s, _ in carrier.parts]
    shares = [share for _, share in carrier.parts]
    moles = [v * s.density_g_ml / s.molar_mass for v, s in zip(shares, solvents, strict=True)]
    mole = [m / sum(moles) for m in moles]
    delta_mm = drop_um * 1e-3 / 2
    rh = air.rh_pct / 100
    active = [x * g for x, g in zip(mole, gammas(table(k, solvents, air.temp_c), mole), strict=True)]
    temp = film_temperature_c(solvents, active, air.temp_c, rh, delta_mm, drop=True)
    rates = []
    for o, a, share in zip(leaving(solvents, air.temp_c, rh, delta_mm, True), active, shares, strict=True):
        m_s = max(o.net(temp, a), 0.0) / (o.solvent.density_g_ml * 1e3)
        rates.append((share, m_s * 6 * drop_um * 1e-6 / max(share, 1e-6)))
    return rates


@dataclass(frozen=True)
class WaterRates:
    """How water leaves a drop, m²/s to be divided by d²: `first`, beside what is faster; `later`, when that has gone,
    which happens at `faster`. What is faster chills the drop and keeps its water back.
    """

    first: float
    later: float
    faster: float

    def lost(self, exposed: Grid) -> Grid:
        """Share of the water that is lost in a flight of so many s/m² (time over d²).

        The rate goes from the first to the later one as exp(−faster · exposed).
        """
        held = (1 - np.exp(-self.faster * exposed)) / self.faster if self.faster else 0.0
        return np.asarray(1 - np.exp(-(self.later * exposed + (self.first - self.later) * held)))


def water_rates(k: Knowledge, carrier: Blend, drop_um: float, air: Air) -> WaterRates | None:
    """How water leaves a drop of a carrier; None where there is none in it."""
    rates = {s: rate for (s, _), (_, rate) in zip(carrier.parts, loss_rates(k, carrier, drop_um, air), strict=True)}
    if WATER not in rates:
        return None
    first = rates[WATER]
    fast = {s: share for s, share in carrier.parts if rates[s] > first}
    if not fast:
        return WaterRates(first, first, 0.0)
    faster = sum(share * rates[s] for s, share in fast.items()) / sum(fast.values())
    slow = Blend.of({s: share for s, share in carrier.parts if s not in fast})
    later = dict(zip((s for s, _ in slow.parts), loss_rates(k, slow, drop_um, air), strict=True))[WATER][1]
    return WaterRates(first, later, faster)


def landed(k: Knowledge, carrier: Blend, method: Method, air: Air) -> tuple[Blend, float]:
    """What arrives of a carrier, and how much of it against a usual one; all of it where nothing flies.

    >>> from emvar_core.knowledge import knowledge
    >>> k = knowledge()
    >>> hot = Blend.of({"acetone": 1, "butyl_acetate": 1})
    >>> left, share = landed(k, hot, Method.SPRAY, Air(temp_c=20))
    >>> dict(left.parts)["butyl_acetate"] > 0.6, share < 1
    (True, True)
    """
    if method not in EXPOSED or not carrier.parts:
        return carrier, 1.0
    key = (k.signature, carrier, method, round(air.temp_c), round(air.rh_pct))
    return _LANDED.once(key, lambda: _landed(k, carrier, method, air))


def _landed(k: Knowledge, carrier: Blend, method: Method, air: Air) -> tuple[Blend, float]:
    rates = loss_rates(k, carrier, DROP_UM, air)
    left = {
        solvent: share * math.exp(-rate * EXPOSED[method])
        for (solvent, _), (share, rate) in zip(carrier.parts, rates, strict=True)
    }
    whole = sum(left.values())
    return (Blend.of(left), whole / USUAL[method]) if whole > 0 else (carrier, 0.0)
