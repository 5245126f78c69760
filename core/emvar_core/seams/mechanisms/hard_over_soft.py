"""A hard, quick film over a soft, slow or thick one cracks even where no solvent attacks."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Basis, Edge, FilmClass, Kind
from ..checks import through_dry
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..severity import SLIGHT, WORST
from ..situation import Finding, Situation

APART = (FilmClass.LOOSE, FilmClass.DECAL, FilmClass.WATER_SOLUBLE)
TOLERATED = 0.35  # difference of hardness that a film bears (assumption)
FULL_UM, GIVES_UM = 6.0, 12.0  # films that are as hard, and give way as far, as they can (assumption)
BY_GAP = 2.5  # severity by what is not borne (assumption)
QUICK = 0.5  # of it over a film that is dry within days (assumption)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, upper = s.layer, s.landing.system
    if upper is None or layer.system is None or layer.drying is None or upper is layer.system:
        return
    if upper.film in APART or layer.is_film(*APART):
        return
    soft = layer.system.hardness * layer.stiffness(at_min, edge)
    gap = upper.hardness * min(s.landing.film_um / FULL_UM, 1) - soft - TOLERATED
    severity = gap * BY_GAP * min(layer.film_um / GIVES_UM, 1) * (1.0 if layer.is_film(FilmClass.OXIDISING) else QUICK)
    if severity < SLIGHT:
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        min(severity, WORST),
        "cracks",
        lambda: f"A hard, quick film over {layer.words}, which is still soft: it cracks as the softer one moves.",
        "Let the lower coat dry through, or top it with something no harder.",
        Basis.RULE,
        "relative hardness of the two films by then (ranking from memory)",
    )


MECHANISM = Mechanism(
    id="hard_over_soft",
    says="A hard film over a softer one cracks as the softer one moves.",
    on=contacts(LAY),
    course=Course.EASES,
    judge=judge,
    would_change="a through-dry lower coat or a softer upper one",
    check=through_dry,
    scrap=Scrap(4320, "No crack after three days, and after a light bend of the scrap.", "Any crack."),
    fault=("crack.hard_over_soft",),
    cost=30,
)
