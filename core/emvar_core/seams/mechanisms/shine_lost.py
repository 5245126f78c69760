"""Wet-looking and greasy spots vanish under a later matt clear."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, Kind, Sheen, Use
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Situation

A_SPOT = 0.45  # coverage up to which a gloss coat is a wet spot, not a ground


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not landing.is_for(Use.CLEAR) or landing.sheen is Sheen.GLOSS or layer.sheen is not Sheen.GLOSS:
        return
    if layer.coverage > A_SPOT or layer.system is None or layer.is_film(FilmClass.DECAL):
        return
    yield MECHANISM.found(
        Kind.LOOK,
        0.3,
        "vanishes",
        lambda: f"The shine of {layer.words} vanishes under a {landing.sheen.value if landing.sheen else ''} clear.",
        "Put wet and greasy spots on after the last clear.",
    )


MECHANISM = Mechanism(
    id="shine_lost",
    says="A dull clear takes the shine of wet spots.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="wet spots after the last clear",
    check=Check(
        "Mist the clear over a scrap with the same shiny spot: it still shines.",
        "Lay the clear first and the wet spots over it.",
    ),
    scrap=Scrap(60, "The spot shines as before.", "It is as dull as what lies round it."),
    fault=NoFault("a shine that is gone is put on again; its loss is foreseen"),
    cost=190,
)
