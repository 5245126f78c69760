"""Salt that was not brushed out draws water through the film above it, which blisters."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Basis, Edge, FilmClass, Kind, SystemRole, Use
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Layer, Reads, Situation

BLISTERS = 0.45  # how grave, 0–1 (ours): it may take weeks, and nothing mends it
LEAST = 0.01  # of the zone, below which what is left of it is dust


def salty(layer: Layer) -> bool:
    """Whether salt grains lie there."""
    if layer.system is None or layer.coverage < LEAST:
        return False
    return layer.is_film(FilmClass.WATER_SOLUBLE) and layer.system.is_a(SystemRole.NO_FILM)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    if not s.landing.is_for(Use.CLEAR, Use.PRIMER, Use.MARKING):
        return  # thin colours go over the grains on purpose
    at = next((i for i, layer in enumerate(s.layers) if salty(layer)), None)
    if at is None:
        return
    salt = s.layers[at]
    yield MECHANISM.found(
        Kind.DAMAGE,
        BLISTERS,
        "blisters",
        lambda: f"{salt.words} is still there: soluble salt under a film draws water through it, and it blisters.",
        "Brush every grain out, then wipe with a damp bud and let it dry.",
        Basis.RULE,
        "soluble salts under coatings blister them (from memory, after ISO 8502-9)",
        layer=at,
    )


MECHANISM = Mechanism(
    id="salt_left",
    says="Salt grains are left under a film.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="salt that is brushed out and wiped off",
    check=Check("Draw a damp dark cloth over it: no grain, no white edge when it dries.", "Brush and wipe once more."),
    scrap=Scrap(2880, "Flat after two days in a damp box.", "Blisters or a white edge."),
    fault=NoFault("blisters of salt come weeks later and look like nothing that is asked about here"),
    reads=Reads.STACK,
    explains=True,
    cost=265,
)
