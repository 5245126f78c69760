"""An unnamed paint never defaults to harmless for what lies below it."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Basis, Edge, FilmClass, Kind
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.system is None or landing.system.film is not FilmClass.UNKNOWN or layer.is_film(FilmClass.UNKNOWN):
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        0.3,
        "unknown",
        lambda: f"What this paint is made of is not known: nothing says that {layer.words} bears it.",
        "Let a drop dry and bud-test it: that tells the family. Then try it on a scrap of the same build-up.",
        Basis.UNKNOWN,
        "nothing: an unnamed paint is never taken to be harmless",
    )


MECHANISM = Mechanism(
    id="unknown_upper",
    says="Nothing is known of the paint that is laid.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a bud test of a dried drop, or knowing what it is",
    check=Check(
        "Lay a stroke on a hidden spot, touch it with a bud after an hour: it is flat, and only its own colour shows.",
        "Wipe it off at once and bud-test a dried drop; if the test says nothing, use another paint.",
    ),
    scrap=Scrap(1440, "Flat and hard after a day; what lies below is as it was.", "A soft film, or a change below."),
    fault=NoFault("an unknown paint is asked about before, not after"),
    explains=True,
    cost=271,
)
