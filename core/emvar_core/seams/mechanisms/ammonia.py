"""Ammonia softens acrylics: that of liquid mask young water-borne films, that of glass cleaner any that it lies on."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Edge, FilmClass, Kind
from ..checks import TAPE
from ..mechanism import TOUCH, WORK, Course, Mechanism, Scrap, contacts, films
from ..severity import FAINT, WORST
from ..situation import Finding, Landing, Situation

ALKALI, HARD_BEARS, SOAKS_S, LIES = 0.9, 0.4, 300.0, 0.4  # of glass cleaner on acrylics, rubbed or left (assumption)
CAREFUL = 1.2  # of the time that the mask asks for, at the careful edge


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.alkaline:
        yield from _cleaned(s, at_min, edge)
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


def _cleaned(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Glass cleaner: the acrylics of water and of alcohol carry acid groups, which ammonia takes into the water."""
    layer, landing = s.layer, s.landing
    acid = layer.film is FilmClass.EVAPORATING and layer.system is not None and not layer.system.spheres
    if layer.drying is None or not (acid or layer.is_film(FilmClass.DISPERSION, FilmClass.DECAL)):
        return
    soft = 1 - HARD_BEARS * layer.degree(at_min, edge)
    severity = min(ALKALI * soft * (landing.rub + min(landing.wet_s / SOAKS_S, 1.0) * LIES), WORST)
    if severity < FAINT:
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        severity,
        "softens",
        lambda: f"The ammonia in it softens {layer.words}, and the {_by(landing)} takes it off.",
        "Use water, or spirit where it leaves the paint alone; keep cleaner for the airbrush.",
        why=f"acrylics that dry from water and alcohol bear no alkali; {PRACTICE}",
    )


def _by(landing: Landing) -> str:
    return "rubbing" if landing.rub > LIES else "wet"


MECHANISM = Mechanism(
    id="ammonia",
    says="Ammonia, of a liquid mask or a cleaner, softens acrylic paint.",
    on=contacts(WORK, TOUCH),
    course=Course.EASES,
    judge=judge,
    acts_on=films(FilmClass.DISPERSION, FilmClass.WATER_SOLUBLE, FilmClass.DECAL, FilmClass.EVAPORATING),
    would_change="a day more, or tape",
    check=TAPE,
    scrap=Scrap(720, "The mask peels off whole and the paint is as it was.", "The paint is dull, soft or comes along."),
    fault=("lifted_edge.tape_soft",),
    cost=65,
)
