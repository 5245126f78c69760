"""Paint finds no hold on bare metal without a metal primer."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import BaseSurface, Basis, Edge, Kind, Trait
from ..bare import bare
from ..checks import Check
from ..mechanism import BARE, LAY, Course, Mechanism, Scrap, contacts
from ..situation import Finding, Situation

HOT_CLEANS, SPIRIT_CLEANS = 0.2, 0.5  # shares of solvent that take the last grease along (assumption)
HELD, LOOSE = 0.4, 0.6  # severity with that, and without


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    if not bare(s, BaseSurface.BARE_METAL) or s.landing.has(Trait.KEYS_METAL):
        return
    where = s.layer.words
    holds = s.landing.hot >= HOT_CLEANS or s.landing.spirit >= SPIRIT_CLEANS
    yield MECHANISM.found(
        Kind.HOLD,
        HELD if holds else LOOSE,
        "peels",
        lambda: f"Paint finds no hold on {where}: it chips at the first touch.",
        "Degrease it and lay a metal primer first.",
        Basis.RULE,
    )


MECHANISM = Mechanism(
    id="peels",
    says="Paint finds no hold on bare metal.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    acts_on=BARE,
    would_change="a degreased face and a metal primer",
    check=Check(
        "Score a cross through the dry coat in a hidden spot and pull low-tack tape off it: nothing comes along.",
        "Take the coat off, degrease the metal, and lay a metal primer.",
    ),
    scrap=Scrap(1440, "Tape over a scored cross lifts nothing the day after.", "A flake comes up with the tape."),
    fault=("lifted_edge.no_hold",),
    cost=101,
)
