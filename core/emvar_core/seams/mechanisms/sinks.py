"""Putty that has not shrunk through sinks under a hot wet coat."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, Kind, Use, capital
from ..checks import RECOAT
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..severity import SLIGHT
from ..situation import Finding, Situation

WETTED, HOT = 0.3, 0.9  # severity on putty that has not dried at all, and more by the share of hot solvent (assumption)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not layer.is_for(Use.PUTTY):
        return
    severity = (1 - layer.degree(at_min, edge)) * (WETTED + HOT * landing.hot)
    if severity < SLIGHT:
        return
    yield MECHANISM.found(
        Kind.LOOK,
        severity,
        "sinks",
        lambda: f"{capital(layer.words)} has not shrunk through: it sinks under the coat and the seam shows again.",
        "Give the putty days, sand it, and mist the first coat over it.",
    )


MECHANISM = Mechanism(
    id="sinks",
    says="Putty goes on shrinking under the coat that hides it.",
    on=contacts(LAY),
    course=Course.EASES,
    judge=judge,
    would_change="days for the putty to shrink",
    check=RECOAT,
    scrap=Scrap(2880, "The filled seam is as flat after two days as when it was sanded.", "The line of it shows."),
    fault=NoFault("a sunken seam is no fault of a coat's look that is asked about here"),
    cost=70,
)
