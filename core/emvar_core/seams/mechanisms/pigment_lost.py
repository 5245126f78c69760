"""A wet coat over loose pigment darkens it, or floats it away."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, Kind, Use
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts, films
from ..situation import LIGHT_PASS, Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not layer.is_loose or landing.wet_s <= 0:
        return
    if landing.system is not None and landing.system.film is FilmClass.RUBBED:
        return
    fixes = landing.is_for(Use.FIXER)
    severity = 0.25 if fixes else 0.35 if landing.rub <= LIGHT_PASS else 0.6
    yield MECHANISM.found(
        Kind.LOOK,
        severity,
        "darkens" if fixes else "vanishes",
        lambda: f"A wet coat over {layer.words} darkens the pigment, or floats it away.",
        "Lay pigment last; if it must be held, touch fixer in from the edge, or mist it and expect it darker.",
    )


MECHANISM = Mechanism(
    id="pigment_lost",
    says="A wet coat takes loose pigment away.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    acts_on=films(FilmClass.LOOSE),
    would_change="a fixer from the edge in place of a coat, or no coat",
    check=Check(
        "Touch one drop to a corner and let it dry: the pigment looks there as beside it.",
        "Leave it uncoated, or lay more pigment than wanted and expect to lose some.",
    ),
    scrap=Scrap(120, "Dry, it looks as it was, and stays under a soft brush.", "It is darker, patchy or gone."),
    fault=("pigment_dark.coat_over", "pigment_dark.fixed", "tide_mark.on_pigment"),
    cost=131,
)
