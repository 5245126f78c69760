"""Spirit that stays on bare metallic paint floats its flakes, and creeps under the film of a bare decal."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Edge, FilmClass, Kind, Method, Trait
from ..checks import Check
from ..mechanism import LAY, WORK, Course, Mechanism, NoFault, Scrap, contacts, films
from ..situation import Finding, Situation

SPIRITED = 0.5
STAYS = (Method.WASH, Method.FLOOD, Method.WET_WIPE, Method.SCRUB)
FLAKES, CREEPS = 0.3, 0.22  # a caution each: many do it and get away with it


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.spirit < SPIRITED or landing.method not in STAYS:
        return
    if layer.has(Trait.METALLIC) and layer.film is FilmClass.EVAPORATING:
        yield MECHANISM.found(
            Kind.LOOK,
            FLAKES,
            "dulls",
            lambda: f"Spirit that stays on bare {layer.words} floats flakes up, and wiping takes them: it goes grey.",
            "A thin gloss clear over the metal first, or a wash carried by water.",
            why=PRACTICE,
        )
    if layer.film is FilmClass.DECAL:
        yield MECHANISM.found(
            Kind.LOOK,
            CREEPS,
            "creeps under",
            lambda: f"Spirit creeps under the edge of bare {layer.words} and leaves it dark, or lifts it.",
            "A clear over the decals first; or keep the wash off their edges.",
            why=PRACTICE,
        )


MECHANISM = Mechanism(
    id="floats",
    says="Spirit floats the flakes of bare metallic paint and creeps under bare decals.",
    on=contacts(LAY, WORK),
    course=Course.NEVER,
    judge=judge,
    acts_on=films(FilmClass.EVAPORATING, FilmClass.DECAL),
    would_change="a clear between, a drier brush, or a wash carried by water",
    check=Check(
        "Lay a drop of spirit on a hidden spot, wait ten minutes and wipe it: nothing on the bud, no dark edge.",
        "Mist a clear over it first.",
    ),
    scrap=Scrap(
        60, "The bud stays clean and the metal bright; no dark edge at the decal.", "Silver on the bud, a dark edge."
    ),
    fault=NoFault("it is seen at once, and told before"),
    cost=141,
)
