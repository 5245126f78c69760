"""What nobody knows may be a soft varnish or a half-hardened enamel: judged as the worst that it may be."""

from __future__ import annotations

from collections.abc import Iterator

from ...physics.hansen import power_on
from ...vocabulary import Basis, Edge, FilmClass, Kind
from ..attack import MOSTLY_WATER, PULLS, SOAKS_S, reached_through
from ..checks import BUD, BUD_TEST
from ..mechanism import ALL_CONTACTS, BUD_SCRAP, Course, Mechanism, NoFault, films
from ..reach import Reached, attacked
from ..severity import SLIGHT
from ..situation import Finding, Reads, Situation

WET_S = 20.0  # wet for so long it is opened at its worst (assumption)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    for r in attacked(s, at_min, edge):
        if r.layer.is_film(FilmClass.UNKNOWN):
            yield from _at(s, r)


def _at(s: Situation, r: Reached) -> Iterator[Finding]:
    # It may be one that the rub drags along or the liquid opens by lying there, or one that wrinkles: the worse.
    power = r.power
    assert power is not None
    wet = min(s.landing.wet_s / WET_S, 1.0)
    lies = min(s.landing.wet_s / SOAKS_S, 1.0) if s.landing.water <= MOSTLY_WATER else 0.0
    dragged = power.power * min(PULLS * s.landing.rub + lies, 1.0)
    alkyds = [system for system in s.k.systems.values() if system.film is FilmClass.OXIDISING]
    swollen = max(power_on(s.k, s.landing.blend, alkyd).power for alkyd in alkyds)
    severity = wet * max(dragged, swollen * min(s.landing.liquid_um / max(r.layer.film_um, 0.5), 1.0))
    if severity < SLIGHT:
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        severity,
        "unknown",
        lambda: (
            f"What {r.layer.words} is made of is not known: if it is a soft varnish or a young enamel, the "
            f"{s.landing.carrier_words} ruins it.{reached_through(s, r.at)}"
        ),
        f"{BUD_TEST}.",
        Basis.UNKNOWN,
        lambda: f"nothing known of it; {power.why} decides",
        layer=r.at,
    )


MECHANISM = Mechanism(
    id="unknown_opened",
    says="A carrier may open a layer of which nothing is known.",
    on=ALL_CONTACTS,
    course=Course.EASES,
    judge=judge,
    acts_on=films(FilmClass.UNKNOWN),
    would_change="a bud test of a hidden spot, or knowing what it is",
    check=BUD,
    scrap=BUD_SCRAP,
    fault=NoFault("an unknown layer is asked about before, not after"),
    reads=Reads.REACHED,
    explains=True,
    cost=85,
)
