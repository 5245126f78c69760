"""What mixes with water takes it up from damp air, and a hardener reacts with it: the film clouds or foams."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Basis, Edge, FilmClass, Kind, SolventFamily
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..severity import CAUTION_FROM, CLASH_FROM
from ..situation import SPARSE, Finding, Landing, Reads, Situation

ALCOHOLIC = 0.3  # share of alcohol in the carrier from which it takes up moisture (assumption)
# From what humidity on, %, it is a risk, and from what on nobody lays it; how near to the dew point, K. Common
# practice: alcohol acrylics from 65 to 70 %, two-packs from 75 %; neither above 85 %, nor within 3 K of the dew point.
ALCOHOL_PCT, TWO_PACK_PCT, NEVER_PCT, DEW_K = 68.0, 75.0, 85.0, 3.0
SPOILED = 0.6  # at most so grave, 0–1 (ours): a caution from there on, a clash above that


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    landing, air = s.landing, s.landing.air
    pack = landing.film is FilmClass.CROSSLINKED
    if landing.coverage < SPARSE or not (pack or _alcoholic(landing)):
        return
    near = air.dew_c is not None and air.temp_c - air.dew_c < DEW_K
    from_pct = TWO_PACK_PCT if pack else ALCOHOL_PCT
    if air.rh_pct < from_pct and not near:
        return
    damp = CAUTION_FROM + (CLASH_FROM - CAUTION_FROM) * (air.rh_pct - from_pct) / (NEVER_PCT - from_pct)
    yield MECHANISM.found(
        Kind.LOOK,
        min(max(damp, CLASH_FROM) if near else damp, SPOILED),
        "takes up damp",
        lambda: (
            f"At {air.rh_pct:.0f} % the hardener reacts with moisture: it clouds, foams or stays soft."
            if pack
            else f"At {air.rh_pct:.0f} % its alcohol draws moisture in: it clouds or dries dull."
        ),
        "Wait for drier air, or warm the room; the product's own sheet gives its limit.",
        Basis.PRACTICE,
        PRACTICE,
    )


def _alcoholic(landing: Landing) -> bool:
    if landing.film is not FilmClass.EVAPORATING:
        return False
    return landing.water > 0 and landing.shares.get(SolventFamily.ALCOHOL, 0.0) >= ALCOHOLIC


MECHANISM = Mechanism(
    id="damp_air",
    says="Damp air spoils a coat that takes water up, or whose hardener reacts with it.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="drier or warmer air",
    check=Check(
        "Spray one pass on a scrap of dark plastic in this air: it dries clear within a quarter of an hour.",
        "Wait for a drier evening.",
    ),
    scrap=Scrap(720, "Clear and hard the next day.", "Milky, dull, pin-holed or soft."),
    fault=("white_bloom.blush",),
    reads=Reads.AIR,
    cost=211,
)
