"""A chipping medium left unsealed re-opens under later water: decals, clay, cement, a wet clear."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, Kind, Method, capital
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import LIGHT_PASS, Finding, Reads, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    medium = s.medium
    if medium is None:
        return
    wet = s.landing.rub > LIGHT_PASS or s.landing.method is Method.PLACE
    yield MECHANISM.found(
        Kind.DAMAGE,
        0.45 if wet else 0.15,
        "re-opens",
        lambda: (
            f"{capital(medium.layer.words)} is still live under the colour: water gets in at every chip and it lets "
            "go again."
        ),
        "When it is dry, seal it with mist coats of a solvent clear; that ends the chipping for good.",
        layer=medium.at,
    )


MECHANISM = Mechanism(
    id="live_medium",
    says="Water gets to a chipping medium that no clear has sealed, and it lets go again.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a solvent clear misted over the medium",
    check=Check(
        "Touch a wet bud to a chip in a hidden spot and wait a minute: the colour round it does not move.",
        "Mist a solvent clear over it, in light passes, and try again.",
    ),
    scrap=Scrap(60, "Nothing lets go under the wet bud.", "The colour slides."),
    fault=NoFault("a medium that lets go is foreseen; afterwards one chips on"),
    reads=Reads.MEDIUM,
    explains=True,
    cost=260,
)
