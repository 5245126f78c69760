"""Bare plastic by solvent family and how long it stays wet; solubility alone misleads here."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, BaseSurface, Basis, Edge, FittingAction, Kind
from ..attack import reached_through
from ..checks import Check
from ..mechanism import ALL_CONTACTS, BARE, Course, Mechanism, Scrap
from ..reach import Reached, attacked, crazing_severity
from ..severity import FAINT
from ..situation import Finding, Reads, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    for r in attacked(s, at_min, edge):
        if r.layer.system is not None:
            continue
        if _joins(s, r):
            continue
        severity = crazing_severity(s, r)
        if severity < FAINT:
            continue
        yield MECHANISM.found(
            Kind.DAMAGE,
            severity,
            "crazes",
            lambda r=r: (  # type: ignore[misc]
                f"The {s.landing.carrier_words} attacks {r.layer.words}: it crazes and loses its detail."
                f"{reached_through(s, r.at)}"
            ),
            "Thin with a mild levelling thinner, or mist the first coats on and let each flash off.",
            Basis.RULE,
            f"rule by solvent family and wet time; {PRACTICE}",
            layer=r.at,
        )


def _joins(s: Situation, r: Reached) -> bool:
    """Whether it is cement on bare plastic, which is what cement is for; not so on clear parts, nor on foam."""
    bare = r.layer.substrate
    if s.landing.action is not FittingAction.GLUE or r.at > 0 or bare is None:
        return False
    return not bare.clear and bare.surface is not BaseSurface.POROUS


MECHANISM = Mechanism(
    id="craze",
    says="A solvent crazes the bare plastic that it gets to.",
    on=ALL_CONTACTS,
    course=Course.EASES,
    judge=judge,
    acts_on=BARE,
    would_change="a milder thinner, a drier pass, or a trial on the sprue",
    check=Check(
        "A drop of it on the sprue, or inside the part, held to the light after an hour: no haze.",
        "Use a milder thinner, or mist the first coats on.",
    ),
    scrap=Scrap(120, "No haze, no crackle, edges as sharp as before, held to the light.", "Any dulling or crackle."),
    fault=("crack.plastic", "fogged.solvent"),
    reads=Reads.REACHED,
    explains=True,
    cost=84,
)
