"""Polished-metal lacquer looks grey on anything but gloss."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, Kind, Sheen, Trait
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not landing.has(Trait.METALLIC) or landing.system is None or landing.system.film is FilmClass.RUBBED:
        return
    if layer.sheen is Sheen.GLOSS or layer.system is None:
        return
    yield MECHANISM.found(
        Kind.LOOK,
        0.35,
        "looks grey",
        lambda: f"Polished-metal lacquer on {layer.sheen.value if layer.sheen else 'matt'} {layer.words} looks grey.",
        "Lay a flawless, cured gloss black first, and mist the metal on.",
    )


MECHANISM = Mechanism(
    id="grey_metal",
    says="A polished-metal lacquer shows the ground that it lies on.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a flawless, cured gloss black below",
    check=Check(
        "Look along the ground against a lamp: no grain, no dust, the reflection sharp.",
        "Level it with fine abrasive and lay one more gloss coat.",
    ),
    scrap=Scrap(60, "It mirrors the lamp.", "It looks like grey paint."),
    fault=NoFault("grey metal is seen at once, and told before"),
    cost=150,
)
