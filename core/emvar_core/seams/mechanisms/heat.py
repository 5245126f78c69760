"""Warm air that softens the plastic: the limit is that of the base material, at the part."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, Kind
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..severity import WORST
from ..situation import Finding, Reads, Situation

PLASTIC_BEARS_C = 45.0  # where the base material is out of sight
SOFT, BY_K = 0.4, 0.02  # severity at the limit, and more of it for each kelvin beyond (assumption)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    heat = s.landing.air.heat_c
    limit = s.base.heat_limit_c if s.base is not None else PLASTIC_BEARS_C
    if s.index != 0 or heat is None or heat <= limit:
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        min(SOFT + BY_K * (heat - limit), WORST),
        "softens",
        lambda: f"{heat:g} °C at the part softens and warps it: {limit:g} °C is the most it bears.",
        "Keep warm air at 40–45 °C at the part, moving, and only once no solvent can be smelt.",
        # Under more coats than are looked at the base stands for itself no longer: told at the seam then.
        layer=s.base_at,
    )


MECHANISM = Mechanism(
    id="heat",
    says="Warm air above what the material bears softens and warps it.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="cooler air at the part, moving",
    check=Check(
        "Hold the back of your hand, or a thermometer, where the part is: it can stay there.",
        "Move the warm air away until it can.",
    ),
    scrap=Scrap(30, "A thin piece of sprue in the same air stays straight.", "It bends or softens."),
    fault=NoFault("a warped part is no fault of a coat"),
    reads=Reads.AIR | Reads.BASE,
    cost=240,
)
