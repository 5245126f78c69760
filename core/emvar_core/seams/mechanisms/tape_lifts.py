"""Tape on paint that holds badly: on bare plastic, or on polished metal lacquer."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, FittingAction, Kind, Trait, Use, capital
from ..checks import TAPE
from ..mechanism import TOUCH, Course, Mechanism, Scrap, contacts
from ..situation import Finding, Reads, Situation

LOW_TACK, NO_TACK = 0.3, 0.1


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.action is not FittingAction.MASK:
        return
    tack = landing.touch.tack if landing.touch is not None else LOW_TACK
    if tack <= NO_TACK or layer.system is None:
        return
    below = s.next
    unprimed = below is not None and below.substrate is not None and layer.material is not None
    if layer.has(Trait.METALLIC) and not layer.is_porous:
        why = f"{capital(layer.words)} is fragile: tape may lift it at any age."
    elif layer.is_film(FilmClass.WATER_SOLUBLE):
        why = f"{capital(layer.words)} has little strength of its own: tape pulls it apart at any age."
    elif unprimed and layer.is_film(FilmClass.DISPERSION) and not layer.is_for(Use.PRIMER):
        why = f"{capital(layer.words)} lies on bare material without a primer: tape lifts it."
    else:
        return
    yield MECHANISM.found(
        Kind.HOLD,
        0.3 + 0.25 * (tack - LOW_TACK),
        "lifts",
        why,
        "Take most of its tack off on your hand, mask over a clear, and peel it back on itself within the day.",
    )


MECHANISM = Mechanism(
    id="tape_lifts",
    says="Tape lifts paint that holds badly, at any age.",
    on=contacts(TOUCH),
    course=Course.NEVER,
    judge=judge,
    would_change="less tack, a clear over it, or a primer below",
    check=TAPE,
    scrap=Scrap(60, "Tape stuck there for an hour lifts nothing.", "A flake, or an edge that stands up."),
    fault=("lifted_edge.tape_soft",),
    reads=Reads.NEXT,
    cost=310,
)
