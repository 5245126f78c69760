"""Foil is thinner than the grain of a satin or matt surface: it shows, and holds the foil by its peaks alone."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Basis, Edge, Kind, Sheen, Trait, Use, capital
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Situation

ON_MATT, ON_SATIN = 0.6, 0.25  # severity (ours)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not (landing.is_for(Use.MARKING) and landing.has(Trait.METALLIC)):
        return
    if layer.sheen is None or layer.sheen is Sheen.GLOSS:
        return
    sheen = layer.sheen.value
    yield MECHANISM.found(
        Kind.LOOK,
        ON_MATT if layer.sheen is Sheen.MATT else ON_SATIN,
        "shows grain",
        lambda: f"{capital(layer.words)} is {sheen}: foil shows every grain of it and holds less well.",
        "Polish it, or lay a gloss clear first.",
        Basis.PRACTICE,
        PRACTICE,
    )


MECHANISM = Mechanism(
    id="shows_grain",
    says="Foil shows every grain of what it lies on.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a polished or glossy surface",
    check=Check(
        "Look along the face against a lamp: its reflection has a sharp edge.",
        "Peel the foil off, take its glue off with naphtha on a bud, and polish.",
    ),
    scrap=Scrap(10, "Bright and even, and it stays down.", "Grain shows, or an edge lifts."),
    fault=NoFault("grain is seen as the foil goes down, and told before"),
    cost=121,
)
