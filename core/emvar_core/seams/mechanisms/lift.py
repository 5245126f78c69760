"""What has not cross-linked yet comes off again in its own spirit when it is rubbed."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Basis, Contact, Edge, Event, FilmClass, Kind
from ..attack import PULLS, basis_of, reached_through
from ..checks import through_dry
from ..mechanism import ALL_CONTACTS, Course, Mechanism, Scrap, films
from ..reach import Reached, attacked, bite_um
from ..severity import CROSSED, FAINT
from ..situation import SPARSE, Finding, Layer, Reads, Situation

STARVED_LOOSE = 0.45  # of a heavily thinned oil that never binds well (assumption: spirit re-opens it for weeks)
OPENS_UM = 2.0  # depth at which a young film moves
WATERED = 0.5
BLENDS = 0.15  # at most, of marks of one paint that are set into each other while they are open
BENEATH = 0.5  # of it at a film that lies deeper (assumption)
THIN_UM, WIPED_THIN = 2.0, 0.5  # of a filter or a thinned wash (assumption)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    for r in attacked(s, at_min, edge):
        if r.layer.is_film(FilmClass.OXIDISING):
            yield from _at(s, r, at_min, edge)


def _at(s: Situation, r: Reached, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, power = r.layer, r.power
    assert layer.system is not None and power is not None
    degree = layer.degree(at_min, edge)
    strength, basis, rests = power.power, *basis_of(power)
    depth = min(bite_um(power.log_d, r.seconds) / OPENS_UM, 1.0)
    opens = layer.system.water_opens_until
    young = 1 - degree / opens if opens is not None and s.landing.water >= WATERED else 0.0
    if young > strength * depth:
        strength, depth, basis = young, 1.0, Basis.RULE
        rests = "a water-mixable oil re-opens with water while it is young"
    loose = 1 - degree
    if layer.starved:
        loose = max(loose, STARVED_LOOSE)
        rests += "; thinned so far that it is starved of binder"
    severity = strength * loose * s.landing.rub * PULLS * (1.0 if r.at == s.index else BENEATH) * depth
    if layer.film_um < THIN_UM:  # what goes over so thin a film hides what it takes along; wiping takes half of it
        severity *= max(layer.film_um / THIN_UM, 0.0 if s.landing.contact is Contact.LAY else WIPED_THIN)
    if layer.is_mark and s.landing.contact is Contact.LAY and s.landing.coverage < SPARSE:
        severity = min(severity, BLENDS if _meant_to_blend(s, layer, at_min, edge) else CROSSED)
    if severity < FAINT:
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        severity,
        "lifts",
        lambda: (
            f"The {s.landing.carrier_words} re-opens {layer.words}, and the work pulls it up.{reached_through(s, r.at)}"
        ),
        "Give it a day, or a clear coat of another system between the two.",
        basis,
        rests,
        layer=r.at,
    )


def _meant_to_blend(s: Situation, layer: Layer, at_min: float, edge: Edge) -> bool:
    """Whether oil goes into oil that is still open: that is how tones are drawn into each other."""
    return s.landing.system is layer.system and not layer.past(Event.TOUCH, at_min, edge)


MECHANISM = Mechanism(
    id="lift",
    says="Young alkyd or oil re-opens in its own spirit, and rubbing takes it along.",
    on=ALL_CONTACTS,
    course=Course.EASES,
    judge=judge,
    acts_on=films(FilmClass.OXIDISING),
    would_change="more time, a drier tool, or a clear of another system between",
    check=through_dry,
    scrap=Scrap(
        60, "What lies below keeps its edge; the bud stays clean of it.", "Colour of the lower coat on the bud."
    ),
    fault=("wrinkle.half_cured", "bleed.dissolved"),
    reads=Reads.REACHED,
    explains=True,
    cost=82,
)
