"""Below its film-forming temperature a water-borne film stays powdery or cracks."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Basis, Edge, Kind
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..severity import CAUTION_FROM, CLASH_FROM
from ..situation import Finding, Reads, Situation

# A caution below that much, a clash from the middle of the film-forming range down, and at most so grave.
WARM_ENOUGH_C, COLDEST = 15.0, 0.6


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    landing = s.landing
    if landing.system is None or landing.system.mfft_c is None or landing.air.temp_c >= WARM_ENOUGH_C:
        return
    temp, middle = landing.air.temp_c, sum(landing.system.mfft_c) / 2
    cold = CAUTION_FROM + (CLASH_FROM - CAUTION_FROM) * (WARM_ENOUGH_C - temp) / (WARM_ENOUGH_C - middle)
    yield MECHANISM.found(
        Kind.HOLD,
        min(cold, COLDEST),
        "stays powdery",
        lambda: f"At {temp:.0f} °C a water-borne film may not fuse: it stays powdery or cracks.",
        f"Warm the bench and the paint to {WARM_ENOUGH_C:.0f} °C or more before spraying.",
        Basis.PRACTICE,
        f"film-forming temperatures of 0–20 °C by paint; {PRACTICE}",
    )


MECHANISM = Mechanism(
    id="cold",
    says="In the cold the particles of a water-borne paint do not fuse.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a warmer bench and warmer paint",
    check=Check(
        "Rub a dry bud over a hidden spot once it is dry: no powder on it.",
        "Warm the room at once; within the hour it may still fuse.",
    ),
    scrap=Scrap(240, "Tight and smooth; a damp bud stays clean.", "It rubs off as powder, or shows fine cracks."),
    fault=("white_bloom.not_fused", "crack.thick_water"),
    reads=Reads.AIR,
    cost=220,
)
