"""Liquid mask carries ammonia and water, which soften young water-borne films."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, Kind
from ..checks import TAPE
from ..mechanism import TOUCH, Course, Mechanism, Scrap, contacts, films
from ..situation import Finding, Situation

CAREFUL = 1.2  # of the time that the mask asks for, at the careful edge


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.touch is None or not landing.touch.ammonia:
        return
    if layer.drying is None or not layer.is_film(FilmClass.DISPERSION, FilmClass.WATER_SOLUBLE, FilmClass.DECAL):
        return
    needs = (landing.touch.needs_h or 0) * 60 * (CAREFUL if edge is Edge.LATE else 1.0)
    if layer.drying.ref_minutes(at_min) >= needs and not layer.is_film(FilmClass.WATER_SOLUBLE):
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        0.6,
        "softens",
        lambda: f"Liquid mask carries ammonia and water: they soften {layer.words} while it is young.",
        "Give the paint at least a day, try it on scrap, and take the mask off within the day.",
    )


MECHANISM = Mechanism(
    id="ammonia",
    says="The ammonia of a liquid mask softens young water-borne paint.",
    on=contacts(TOUCH),
    course=Course.EASES,
    judge=judge,
    acts_on=films(FilmClass.DISPERSION, FilmClass.WATER_SOLUBLE, FilmClass.DECAL),
    would_change="a day more, or tape",
    check=TAPE,
    scrap=Scrap(720, "The mask peels off whole and the paint is as it was.", "The paint is dull, soft or comes along."),
    fault=("lifted_edge.tape_soft",),
    cost=65,
)
