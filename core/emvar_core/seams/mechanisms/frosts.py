"""Matt clear that lies thick, wet or in damp air whitens in recesses."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, Kind, Method, Sheen, Use
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..severity import CAUTION_FROM
from ..situation import Finding, Reads, Situation

THICK_PASS_UM, DAMP_RH_PCT, EACH = 12.0, 75.0, 0.15
FLOODED = (Method.WET_SPRAY, Method.BRUSH, Method.FLOOD)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    landing = s.landing
    if s.index != 0 or not landing.is_for(Use.CLEAR) or landing.sheen is not Sheen.MATT:
        return
    pass_um = landing.film_um / max(landing.passes, 1)
    causes = [pass_um > THICK_PASS_UM, landing.air.rh_pct > DAMP_RH_PCT, landing.method in FLOODED]
    severity = EACH * sum(causes)
    if severity < CAUTION_FROM:
        return
    yield MECHANISM.found(
        Kind.LOOK,
        severity,
        "frosts",
        "Matt clear that is thick, wet or laid in damp air frosts white in recesses.",
        "Stir all of the matting agent up; thin passes in dry air. Rescue: thin gloss or satin, then matt again.",
    )


MECHANISM = Mechanism(
    id="frosts",
    says="Matting agent gathers white in recesses where a matt clear lies thick, wet or damp.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="thinner passes, drier air, a well-stirred clear",
    check=Check(
        "Mist one pass over a scrap with a panel line and let it dry: no white in the line.",
        "Stir on, thin it more, and wait for drier air.",
    ),
    scrap=Scrap(60, "Even and without white in the lines, dry.", "White in a recess or at an edge."),
    fault=("white_bloom.frost",),
    reads=Reads.AIR,
    cost=180,
)
