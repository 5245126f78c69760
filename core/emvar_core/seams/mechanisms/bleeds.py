"""Dyes travel into a coat whose solvent opens theirs."""

from __future__ import annotations

from collections.abc import Iterator

from ...physics.hansen import power_on
from ...vocabulary import PRACTICE, Basis, Edge, Kind, Method, Trait
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..severity import SLIGHT
from ..situation import METHODS, Finding, Situation

MISTED = METHODS[Method.MIST].rub
MIST_HALVES = 0.5


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not layer.has(Trait.BLEEDS) or layer.system is None or not landing.blend.parts:
        return
    power = power_on(s.k, landing.blend, layer.system).power
    severity = 0.45 * power * (MIST_HALVES if landing.rub <= MISTED else 1.0)
    if severity < SLIGHT:
        return
    yield MECHANISM.found(
        Kind.LOOK,
        severity,
        "bleeds",
        lambda: f"The dye of {layer.words} comes up into what goes over it and tints it.",
        "Seal it with a water-borne clear first, or paint the light colour before the dye.",
        Basis.PRACTICE,
        f"{PRACTICE}; how far the carrier opens the dyed film",
    )


MECHANISM = Mechanism(
    id="bleeds",
    says="A dye comes up into a coat whose carrier opens the dyed film.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a water-borne clear between",
    check=Check(
        "Press a white bud damp with the carrier on a hidden spot for ten seconds: it stays white.",
        "Seal the dye with a water-borne clear, and try the bud again.",
    ),
    scrap=Scrap(1440, "The light colour stays as it was after a day.", "Any tint."),
    fault=("bleed.dye",),
    cost=160,
)
