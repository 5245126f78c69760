"""Plasticiser from soft vinyl softens alkyd and oil for ever, also through a thin coat."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import BaseSurface, Basis, Edge, FilmClass, Kind
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..severity import SLIGHT
from ..situation import Finding, Reads, Situation

WATER_BORNE = 0.5
HELD_BACK = ((10.0, 0.7), (25.0, 0.35))  # severity under so many µm of cover
STILL = 0.15  # and under more


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    base, landing = s.base, s.landing
    if base is None or base.surface is not BaseSurface.VINYL or landing.system is None or s.index != 0:
        return
    if landing.system.film in (FilmClass.LOOSE, FilmClass.RUBBED, FilmClass.DECAL):
        return
    if landing.system.film is FilmClass.OXIDISING:
        severity = next((grave for um, grave in HELD_BACK if s.cover_um < um), STILL)
        why = "Plasticiser from the soft vinyl keeps alkyd and oil soft: it never dries through."
        advice = "Isolate the vinyl with a water-borne primer on every face, and paint it with water-borne colour."
        kind, word = Kind.DAMAGE, "never dries"
    elif s.layer.substrate is not None:
        severity = 0.25 if landing.water >= WATER_BORNE else 0.45
        why = "Soft vinyl moves and gives off plasticiser: paint on it cracks, peels or turns sticky."
        advice = "Use an elastic water-borne coat, thin, on washed vinyl."
        kind, word = Kind.HOLD, "peels"
    else:
        return
    if severity < SLIGHT:
        return
    yield MECHANISM.found(kind, severity, word, why, advice, Basis.RULE, layer=s.base_at)


MECHANISM = Mechanism(
    id="vinyl",
    says="Soft vinyl gives off plasticiser, which keeps alkyd and oil soft.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a water-borne primer on every face",
    check=Check(
        "Wrap a strip of white paper round the part overnight: it stays dry, without a greasy mark.",
        "Wash it, isolate it with a water-borne primer on every face, and use water-borne colour.",
    ),
    scrap=Scrap(10080, "Hard and dry after a week on a piece of the same vinyl.", "It is soft or sticky."),
    fault=("lifted_edge.no_hold", "tacky.plasticiser"),
    reads=Reads.BASE | Reads.COVER,
    explains=True,
    cost=110,
)
