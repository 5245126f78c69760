"""A wash on matt stains everywhere and leaves a ghost when it is wiped."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, FilmClass, Kind, Method, Sheen
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..situation import Finding, Situation

SPIRITED = 0.5  # share of spirit above which a wash creeps
CREEPS, SLURRY = 0.3, 0.22  # how grave it is, 0–1 (ours): spirit creeps further than a slurry of clay
MUCH = 0.2  # of a zone, from which a slurry is a wash that is wiped back (assumption)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.material is None or landing.method is not Method.WASH:
        return
    slurry = landing.system is not None and landing.film is FilmClass.WATER_SOLUBLE and landing.coverage >= MUCH
    if landing.spirit <= SPIRITED and not slurry:
        return
    if layer.sheen is not Sheen.MATT or landing.system is None or landing.system.film is FilmClass.LOOSE:
        return  # powder is meant to grip there
    yield MECHANISM.found(
        Kind.LOOK,
        SLURRY if slurry else CREEPS,
        "stains",
        lambda: f"A wash on matt {layer.words} stains everywhere and leaves a ghost when wiped.",
        "A gloss or satin clear first if the detail alone is wanted.",
    )


MECHANISM = Mechanism(
    id="stains",
    says="A matt film holds the stain of a wash everywhere.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a gloss or satin clear first",
    check=Check(
        "Touch a drop of clean spirit to a hidden spot: it stands or runs along the detail and does not soak in.",
        "Lay a satin or gloss clear over the panel first.",
    ),
    scrap=Scrap(120, "Wiped, the face is as it was beside the detail.", "A shadow stays where it was wiped."),
    fault=("tide_mark.matt_soak", "ghost.matt_below", "no_blend.matt_ground"),
    cost=121,
)
