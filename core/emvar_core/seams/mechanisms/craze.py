"""Bare plastic by solvent family and how long it stays wet; solubility alone misleads here."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, BaseSurface, Basis, Edge, FittingAction, Kind, Use
from ..attack import reached_through
from ..checks import Check
from ..mechanism import ALL_CONTACTS, BARE, Course, Mechanism, Scrap
from ..reach import Reached, attacked, crazing_severity
from ..severity import FAINT
from ..situation import Finding, Reads, Situation

PUTTY_BITES, THICK_PUTTY_UM = 0.4, 500.0  # at most, and from this thickness on (assumption)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    for r in attacked(s, at_min, edge):
        if r.layer.system is not None:
            continue
        if _joins(s, r):
            continue
        severity = crazing_severity(s, r)
        if filled := _fills(s, r):
            severity = min(severity, PUTTY_BITES) * min(s.landing.film_um / THICK_PUTTY_UM, 1.0)
        if severity < FAINT:
            continue
        yield MECHANISM.found(
            Kind.DAMAGE,
            severity,
            "crazes",
            lambda r=r, filled=filled: (  # type: ignore[misc]
                f"The putty's solvent bites into {r.layer.words}; a thick filling keeps it and softens the wall."
                if filled
                else f"The {s.landing.carrier_words} attacks {r.layer.words}: it crazes and loses its detail."
                f"{reached_through(s, r.at)}"
            ),
            "Fill in thin layers, each left to dry overnight."
            if filled
            else "Thin with a mild levelling thinner, or mist the first coats on and let each flash off.",
            Basis.RULE,
            f"rule by solvent family and wet time; {PRACTICE}",
            layer=r.at,
        )


def _joins(s: Situation, r: Reached) -> bool:
    """Whether it is cement on bare plastic, which is what cement is for; not so on clear parts, nor on foam."""
    return s.landing.action is FittingAction.GLUE and _bare(r)


def _fills(s: Situation, r: Reached) -> bool:
    """Whether it is solvent putty on bare plastic, which is what it is for, in thin layers."""
    return s.landing.material is not None and s.landing.material.use is Use.PUTTY and _bare(r)


def _bare(r: Reached) -> bool:
    bare = r.layer.substrate
    return r.at == 0 and bare is not None and not bare.clear and bare.surface is not BaseSurface.POROUS


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
