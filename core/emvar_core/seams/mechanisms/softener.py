"""A strong decal softener on paint with no clear over it can bite it."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, Kind, SolventFamily, Use
from ..checks import SPIRIT, Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..situation import Finding, Situation

STRONG_FROM = 0.05
STRONG = (SolventFamily.GLYCOL_ETHER, SolventFamily.SLOW_ESTER, SolventFamily.FAST_ESTER)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not landing.is_for(Use.MARKING) or layer.material is None:
        return
    if sum(landing.shares.get(f, 0.0) for f in STRONG) < STRONG_FROM:
        return
    if layer.is_for(Use.CLEAR) or layer.is_film(FilmClass.OXIDISING, FilmClass.CROSSLINKED):
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        0.4,
        "bites",
        lambda: f"A strong decal softener on {layer.words}, with no clear over it, can bite the paint.",
        "A gloss clear first, or a mild softener and patience.",
    )


MECHANISM = Mechanism(
    id="softener",
    says="A strong softener bites bare paint.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a clear over the paint or a mild softener",
    check=Check(
        "Leave a drop of the softener on a hidden spot for half an hour, wipe it off: no mark, no colour on the bud.",
        SPIRIT.if_fails,
    ),
    scrap=Scrap(60, "Half an hour under a drop leaves no mark.", "A mark, a soft spot, colour on the bud."),
    fault=("wrinkle.flood_decal",),
    cost=170,
)
