"""Mould oil or grease on the bare material: a coat crawls away from it."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import BaseSurface, Basis, Edge, Kind
from ..bare import bare
from ..checks import Check
from ..mechanism import BARE, LAY, Course, Mechanism, Scrap, contacts
from ..situation import Finding, Situation

WATER_BORNE = 0.5


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    if not bare(s, BaseSurface.GREASY):
        return
    landing, where = s.landing, s.layer.words
    yield MECHANISM.found(
        Kind.HOLD,
        0.65 if landing.water >= WATER_BORNE else 0.4,
        "crawls",
        lambda: f"Mould oil or grease on {where}: the coat crawls away from it or peels with the first tape.",
        "Wash it with dish soap and a brush, rinse, let it dry, and handle it with gloves.",
        Basis.RULE,
    )


MECHANISM = Mechanism(
    id="crawls",
    says="A coat crawls away from grease and mould oil.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    acts_on=BARE,
    would_change="washing it, and gloves from then on",
    check=Check(
        "Run clean water over the part: it stays in one sheet and draws back nowhere.",
        "Wash it again with dish soap and a brush, and rinse it well.",
    ),
    scrap=Scrap(
        30, "It lies down closed, and low-tack tape lifts nothing the day after.", "Beads, craters, or it peels."
    ),
    fault=("fish_eye.grease", "lifted_edge.no_hold", "wash_beads.slick"),
    cost=100,
)
