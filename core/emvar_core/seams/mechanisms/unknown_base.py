"""Nothing is known of what the model is made of."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import BaseSurface, Basis, Edge, Kind
from ..bare import bare
from ..checks import BUD
from ..mechanism import BARE, BUD_SCRAP, LAY, Course, Mechanism, NoFault, contacts
from ..situation import Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    if not bare(s, BaseSurface.UNKNOWN):
        return
    yield MECHANISM.found(
        Kind.HOLD,
        0.3,
        "unknown",
        "What lies at the bottom is not known, so nothing says that this holds on it or spares it.",
        "Try the carrier on a hidden spot, and a piece of tape on the dry coat the day after.",
        Basis.UNKNOWN,
    )


MECHANISM = Mechanism(
    id="unknown_base",
    says="Nothing is known of the bare material.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    acts_on=BARE,
    would_change="a bud test of a hidden spot, or knowing what it is",
    check=BUD,
    scrap=BUD_SCRAP,
    fault=NoFault("an unknown material is asked about before, not after"),
    explains=True,
    cost=103,
)
