"""Dry pigment finds no hold on a gloss coat, unless its tack holds it."""

from __future__ import annotations

from collections.abc import Iterator

from ...physics.hardening import TACK_DEGREE
from ...vocabulary import Edge, FilmClass, Kind, Sheen
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.system is None or landing.system.film is not FilmClass.LOOSE:
        return
    if layer.sheen is not Sheen.GLOSS or layer.system is None:
        return
    if layer.is_film(FilmClass.OXIDISING) and layer.degree(at_min, edge) < TACK_DEGREE:
        return  # tack holds it
    yield MECHANISM.found(
        Kind.HOLD,
        0.35,
        "slides off",
        lambda: f"Dry pigment finds no hold on gloss {layer.words}.",
        "A matt clear first, or bind the pigment.",
    )


MECHANISM = Mechanism(
    id="no_grip",
    says="Loose pigment slides off gloss.",
    on=contacts(LAY),
    course=Course.WORSENS,
    judge=judge,
    would_change="a matt clear first, a tacky coat, or a binder",
    check=Check(
        "Brush a little pigment into a hidden corner and blow across it: it stays.",
        "Mist a matt clear, or run spirit or fixer into it.",
    ),
    scrap=Scrap(30, "It stays where it was put when the scrap is turned over and tapped.", "It falls or slides."),
    fault=NoFault("pigment that does not hold is seen at once, and asked about by nobody"),
    cost=60,
)
