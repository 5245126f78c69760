"""A chipping medium that waited too long for its colour chips harder."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Basis, Edge, FilmClass, Kind, Use, capital
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts, films
from ..situation import Finding, Situation

# Reference minutes that a medium may lie bare: "within hours", at the careful edge and at the best guess.
BARE_MIN = {Edge.EARLY: 2880.0, Edge.BEST: 1440.0, Edge.LATE: 720.0}


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if layer.drying is None or not layer.is_for(Use.MEDIUM) or not landing.is_for(Use.COLOUR):
        return
    if layer.drying.ref_minutes(at_min) < BARE_MIN[edge]:
        return
    yield MECHANISM.found(
        Kind.LOOK,
        0.3,
        "chips harder",
        lambda: f"{capital(layer.words)} has lain bare for long: water opens it slowly, and the chips come harder.",
        "Lay the colour within hours of the medium, or mist a fresh coat of it first.",
        Basis.PRACTICE,
        f"{PRACTICE}: paint within hours",
    )


MECHANISM = Mechanism(
    id="old_medium",
    says="A chipping medium that has lain bare for a day lets go harder.",
    on=contacts(LAY),
    course=Course.WORSENS,
    judge=judge,
    acts_on=films(FilmClass.WATER_SOLUBLE),
    would_change="the colour within hours, or fresh medium",
    check=Check("Touch a damp bud to it where nobody looks: it comes off at once.", "Mist another coat of the medium."),
    scrap=Scrap(60, "The colour over it chips with a damp brush.", "It has to be forced."),
    fault=NoFault("the window of the work says when chips come hard"),
    cost=125,
)
