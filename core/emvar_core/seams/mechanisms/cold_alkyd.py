"""In the cold alkyd and oil take up oxygen so slowly that they stay soft for a long time."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Basis, Edge, FilmClass, Kind
from ..checks import RECOAT_OXIDISING
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..situation import Finding, Reads, Situation

WARM_ENOUGH_C = 10.0


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    landing = s.landing
    if s.index != 0 or landing.system is None or landing.system.film is not FilmClass.OXIDISING:
        return
    temp = landing.air.temp_c
    if temp >= WARM_ENOUGH_C:
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        0.3,
        "stays soft",
        lambda: f"At {temp:.0f} °C alkyd and oil take up oxygen so slowly that they stay soft for a long time.",
        "Dry it in a warm, light room; do not go on before a thumbnail in a hidden spot says so.",
        Basis.MODEL,
        "Arrhenius rate of hardening at this temperature",
    )


MECHANISM = Mechanism(
    id="cold_alkyd",
    says="Alkyd and oil hardly harden in the cold.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a warm, light room",
    check=RECOAT_OXIDISING,
    scrap=Scrap(4320, "Dry to the touch after three days in this air.", "Still tacky."),
    fault=("tacky.slow_cure",),
    reads=Reads.AIR,
    cost=230,
)
