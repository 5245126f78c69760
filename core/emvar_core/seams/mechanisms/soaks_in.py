"""Wood, card and plaster drink the first coat; what is thin soaks in and swells or stains them."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import BaseSurface, Edge, Kind, Trait, Use, capital
from ..bare import bare
from ..checks import Check
from ..mechanism import BARE, LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import WATERY, Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not bare(s, BaseSurface.POROUS) or not landing.wet or (layer.substrate and layer.substrate.closed_cells):
        return
    if landing.has(Trait.SOAKS):
        return  # that is what a stain is for
    if landing.is_for(Use.PRIMER, Use.PASTE, Use.PUTTY):
        return
    swells = " and swells it" if landing.water >= WATERY else ""
    yield MECHANISM.found(
        Kind.LOOK,
        0.3,
        "soaks in",
        lambda: f"{capital(layer.words)} drinks what goes on first: it soaks in{swells}, and dries patchy.",
        "Seal it first: a primer, a putty, or a thin coat of clear or white glue, sanded.",
    )


MECHANISM = Mechanism(
    id="soaks_in",
    says="A bare base that drinks takes the first coat in.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    acts_on=BARE,
    would_change="a sealed base",
    check=Check("A drop of water stands on it and does not sink in.", "Seal it once more."),
    scrap=Scrap(120, "The coat dries even.", "It dries in patches, or fibres stand up."),
    fault=NoFault("a patchy first coat on a bare base is foreseen"),
    cost=200,
)
