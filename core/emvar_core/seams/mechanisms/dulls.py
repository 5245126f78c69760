"""Clear coats kill the shine of rubbed metal and turn polished-metal lacquer grey."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, Kind, Sheen, Trait, Use
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not layer.has(Trait.METALLIC) or landing.has(Trait.METALLIC):
        return
    if not landing.is_for(Use.CLEAR, Use.COLOUR, Use.FIXER, Use.MEDIUM):
        return
    rubbed = layer.is_film(FilmClass.RUBBED)
    matt = landing.sheen is Sheen.MATT
    yield MECHANISM.found(
        Kind.LOOK,
        0.45 if rubbed else 0.4 if matt else 0.22,
        "dulls",
        lambda: (
            f"A coat over {layer.words} kills its shine."
            if rubbed
            else f"{'Matt' if matt else 'A'} clear over {layer.words} turns it grey."
        ),
        "Put metal on after the last clear, or keep the clear off it.",
    )


MECHANISM = Mechanism(
    id="dulls",
    says="A coat over a metal finish takes its shine.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="metal after the last clear, or no clear over it",
    check=Check(
        "Mist the clear on a scrap of the metal and compare it with the bare one under the bench light.",
        "Mask the metal, or put it on after the clear.",
    ),
    scrap=Scrap(120, "It shines as it did.", "It is grey or flat."),
    fault=NoFault("dulled metal is seen at once, and told before"),
    cost=140,
)
