"""An oxidised film does not dissolve any more, but hot solvents that stay on it swell it at any age."""

from __future__ import annotations

from collections.abc import Iterator

from ...physics.hansen import SWELLS
from ...vocabulary import Basis, Edge, FilmClass, Kind
from ..attack import reached_through
from ..checks import through_dry
from ..mechanism import ALL_CONTACTS, Course, Mechanism, Scrap, films
from ..reach import Reached, attacked
from ..severity import FAINT
from ..situation import Finding, Reads, Situation

SOAKS_S = 120


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    for r in attacked(s, at_min, edge):
        if r.layer.is_film(FilmClass.OXIDISING):
            yield from _at(s, r)


def _at(s: Situation, r: Reached) -> Iterator[Finding]:
    assert r.power is not None
    swollen = min(r.share, s.landing.liquid_um / max(r.layer.film_um, 0.5), 1.0)
    wet = min(s.landing.wet_s / SOAKS_S, 1.0)
    severity = SWELLS * r.power.power * s.landing.hot * swollen * wet * s.landing.pools
    if severity < FAINT:
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        severity,
        "swells",
        lambda: (
            f"The {s.landing.carrier_words} swells even hardened {r.layer.words} while it is wet."
            f"{reached_through(s, r.at)}"
        ),
        "Mist it on and let each pass flash off, or use a milder thinner.",
        Basis.RULE,
        "cross-linked films swell in hot solvents and go back; how much is an assumption",
        layer=r.at,
    )


MECHANISM = Mechanism(
    id="swell",
    says="Hot solvents swell even a hardened oxidised film while they stay on it.",
    on=ALL_CONTACTS,
    course=Course.EASES,
    judge=judge,
    acts_on=films(FilmClass.OXIDISING),
    would_change="a milder thinner or drier passes",
    check=through_dry,
    scrap=Scrap(1440, "Flat after a day.", "Any swelling that stays."),
    fault=("wrinkle.half_cured",),
    reads=Reads.REACHED,
    cost=81,
)
