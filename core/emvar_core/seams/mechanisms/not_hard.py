"""Lacquer waits until alkyd is hard, also where the alkyd lies under something that the lacquer gets through."""

from __future__ import annotations

from collections.abc import Iterator

from ...physics.blend import LACQUERED
from ...vocabulary import PRACTICE, Basis, Edge, Event, FilmClass, Kind, capital
from ..attack import reached_through
from ..checks import through_dry
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts, films
from ..reach import attacked
from ..severity import FAINT
from ..situation import Finding, Reads, Situation

FULL_FILM_UM = 8.0  # of alkyd, from which lacquer over it has to wait until it is hard
STAYS_S = 20.0  # wet for so long at a deeper film, it acts there as on top (assumption)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    if s.landing.hot < LACQUERED:
        return
    for r in attacked(s, at_min, edge):
        layer = r.layer
        if not layer.is_film(FilmClass.OXIDISING) or layer.film_um < FULL_FILM_UM or layer.drying is None:
            continue
        if layer.past(Event.HARD, at_min, edge):
            continue
        severity = 0.55 * (1.0 if r.at == s.index else min(r.seconds / STAYS_S, 1.0))
        if severity < FAINT:
            continue
        words = capital(layer.words)
        yield MECHANISM.found(
            Kind.DAMAGE,
            severity,
            "too early",
            lambda words=words, at=r.at: (  # type: ignore[misc]
                f"{words} is not hard: lacquer solvents swell and wrinkle half-hardened alkyd.{reached_through(s, at)}"
            ),
            "Wait; then prove it: a sniff in a closed box, a thumbnail where nobody looks.",
            Basis.PRACTICE,
            f"{PRACTICE} for alkyds, moved by this film and air",
            layer=r.at,
            event=Event.HARD if r.at == s.index else None,
        )


MECHANISM = Mechanism(
    id="not_hard",
    says="Lacquer gets to an alkyd that is not hard yet.",
    on=contacts(LAY),
    course=Course.EASES,
    judge=judge,
    acts_on=films(FilmClass.OXIDISING),
    would_change="time; a drier coat; a thicker or harder barrier between",
    check=through_dry,
    scrap=Scrap(1440, "Flat after a day, and a thumbnail leaves no mark.", "Any wrinkle, lifting or softening."),
    fault=("wrinkle.half_cured",),
    reads=Reads.REACHED,
    cost=79,
)
