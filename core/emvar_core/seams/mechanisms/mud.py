"""Rubbed metal over pigment picks it up and turns to mud."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, Kind
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts, films
from ..situation import Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, upper = s.layer, s.landing.system
    if not layer.is_loose or upper is None or upper.film is not FilmClass.RUBBED:
        return
    yield MECHANISM.found(
        Kind.LOOK,
        0.6,
        "turns to mud",
        lambda: f"Rubbed metal over {layer.words} picks the pigment up and turns to mud.",
        "Keep the edges clean: rub metal on bare high spots, and keep pigment away from them.",
    )


MECHANISM = Mechanism(
    id="mud",
    says="Metal rubbed over loose pigment turns to mud.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    acts_on=films(FilmClass.LOOSE),
    would_change="clean high spots, or the metal before the pigment",
    check=Check(
        "Draw a clean bud along the edge: it stays clean.", "Brush the pigment off the edge first, or leave it dull."
    ),
    scrap=Scrap(10, "The edge shines and nothing smears.", "It turns grey and smears."),
    fault=NoFault("mud on an edge is no fault of a coat's look that is asked about here"),
    cost=130,
)
