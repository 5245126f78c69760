"""Loose pigment, rubbed metal and wax come off on fingers and tape until they are sealed."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, FittingAction, Kind, Surface, capital
from ..checks import Check
from ..mechanism import TOUCH, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Situation

HANDS_OFF = (None, FittingAction.INSPECT, FittingAction.UNMASK, FittingAction.WET)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if layer.system is None or landing.action in HANDS_OFF:
        return
    if layer.bound or not (layer.is_porous or layer.system.surface is Surface.WAXY):
        return
    yield MECHANISM.found(
        Kind.HOLD,
        0.6 if layer.is_film(FilmClass.LOOSE) else 0.3,
        "rubs off",
        lambda: f"{capital(layer.words)} is not sealed: fingers and tape take it off.",
        "Touch the model elsewhere, on a stand or a handle; do it before this goes on; or fix it first.",
    )


MECHANISM = Mechanism(
    id="rubs_off",
    says="What is loose or rubbed on comes off on fingers and tape.",
    on=contacts(TOUCH),
    course=Course.NEVER,
    judge=judge,
    would_change="another hold, a fixer, or doing it before",
    check=Check(
        "Draw a dry finger over a hidden spot: it stays clean.",
        "Hold the model by a handle, or fix what is loose first.",
    ),
    scrap=Scrap(30, "A finger and low-tack tape come away clean.", "Powder or shine on the finger or the tape."),
    fault=NoFault("what was rubbed off is put on again; its loss is foreseen"),
    cost=300,
)
