"""Another coat over hard urethane, two-pack or oil-modified, holds only inside its window or on a scuffed face."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, Kind, Surface, Use, capital
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts, films
from ..situation import Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    glassy = layer.system is not None and layer.system.surface is Surface.GLOSS_URETHANE
    if not glassy or layer.drying is None or layer.scuffed:
        return
    if not landing.is_for(Use.PRIMER, Use.COLOUR, Use.CLEAR):
        return
    if layer.drying.takes_own_coat(at_min, careful=False):
        return
    yield MECHANISM.found(
        Kind.HOLD,
        0.35,
        "peels",
        lambda: f"{capital(layer.words)} is past its recoat window: a new coat lies on it like on glass.",
        "Scuff it with a fine pad and wipe it clean first; the product's own recoat window wins.",
    )


MECHANISM = Mechanism(
    id="unscuffed",
    says="Nothing keys to urethane that has hardened past its recoat window.",
    on=contacts(LAY),
    course=Course.WORSENS,
    judge=judge,
    acts_on=films(FilmClass.CROSSLINKED, FilmClass.OXIDISING),
    would_change="a scuffed face, or a coat inside its recoat window",
    check=Check(
        "Water run over the scuffed face stays in one sheet and nothing on it shines.",
        "Scuff on where it shines or where the water draws back, and wipe it clean.",
    ),
    scrap=Scrap(
        1440, "Tape pressed over a scored cross lifts nothing the day after.", "A flake comes up with the tape."
    ),
    fault=("lifted_edge.no_hold",),
    cost=50,
)
