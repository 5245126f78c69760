"""Oxidising films: the half-cured band swells and wrinkles; it peaks between wet and hard and falls slowly."""

from __future__ import annotations

from collections.abc import Iterator

from ...physics.blend import LACQUERED
from ...physics.hardening import network
from ...vocabulary import Edge, Event, FilmClass, Kind, Method
from ..attack import basis_of, reached_through
from ..checks import through_dry
from ..mechanism import ALL_CONTACTS, Course, Mechanism, Scrap, films
from ..reach import Reached, attacked
from ..severity import CROSSED, FAINT
from ..situation import SPARSE, Finding, Reads, Situation

# Thinner than this it smears rather than wrinkles, and the less so the less there is of it (assumption).
THIN_UM, LEAST_SWOLLEN, THINS = 4.0, 0.1, 1.5
HOT_WIDENS = 3.0  # how much longer hot solvent finds it half hardened (assumption)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    for r in attacked(s, at_min, edge):
        if r.layer.is_film(FilmClass.OXIDISING):
            yield from _at(s, r, at_min, edge)


def _at(s: Situation, r: Reached, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, power = r.layer, r.power
    assert layer.system is not None and power is not None
    swollen = min(r.share, s.landing.liquid_um / max(layer.film_um, 0.5), 1.0)
    if power.power * swollen < FAINT:
        return
    degree = layer.degree(at_min, edge)
    likeliest = layer.degree(at_min, Edge.BEST)
    own = s.landing.system is layer.system
    if own and layer.drying is not None and layer.drying.takes_own_coat(at_min, edge is Edge.LATE):
        return
    if own and s.landing.hot < LACQUERED and layer.past(Event.RECOAT, at_min, edge):
        return  # its own next coat waits for that event and no longer
    # The bump has a peak, so the careful view is the worst of the range, not its slow end.
    hot = 1 + HOT_WIDENS * s.landing.hot
    bump = max(half_cured(degree, hot), half_cured(likeliest, hot))
    if network(degree) < 0.5 < network(likeliest):
        bump = 1.0
    severity = power.power * swollen * bump
    if layer.film_um < THIN_UM:
        severity *= LEAST_SWOLLEN + (1 - LEAST_SWOLLEN) * (layer.film_um / THIN_UM) ** THINS
    if layer.is_mark and (s.landing.method is Method.MIST or s.landing.coverage < SPARSE):
        severity = min(severity, CROSSED)
    if severity < FAINT:
        return
    basis, rests = basis_of(power)
    what = "it wrinkles and lifts" if layer.film_um >= THIN_UM else "it crazes and smears"
    yield MECHANISM.found(
        Kind.DAMAGE,
        severity,
        "wrinkles",
        lambda: (
            f"The {s.landing.carrier_words} gets into {layer.words} and swells it while it is half hardened: {what}."
            f"{reached_through(s, r.at)}"
        ),
        "Let it harden through, use a carrier that leaves it alone, or put a clear of another system between.",
        basis,
        lambda: f"{rests}; hardened to {degree:.2f} of 1",
        layer=r.at,
    )


def half_cured(degree: float, hot: float) -> float:
    """The bump 0–1 over the closing of the network: zero when wet or hard, one in between; `hot` ≥ 1 widens it."""
    degree = network(degree)

    def bump(x: float) -> float:
        return float((4 * x * (1 - x)) ** 1.5)

    late = degree**hot
    if degree > 0.5 > late:
        return 1.0
    return max(bump(degree), bump(late)) if degree > 0.5 else bump(degree)


MECHANISM = Mechanism(
    id="wrinkle",
    says="A solvent swells a half-hardened alkyd or oil, which wrinkles and lifts.",
    on=ALL_CONTACTS,
    course=Course.PEAKS,
    judge=judge,
    acts_on=films(FilmClass.OXIDISING),
    would_change="more or less hardening by then, a milder thinner, a drier pass, or the paint's own recoat figures",
    check=through_dry,
    scrap=Scrap(1440, "Flat after a day, and a thumbnail leaves no mark.", "Any wrinkle, lifting or softening."),
    fault=("wrinkle.half_cured", "wrinkle.own_recoat"),
    reads=Reads.REACHED,
    explains=True,
    cost=80,
)
